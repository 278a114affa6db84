import { once } from 'node:events';
import { Agent, createServer, request } from 'node:http';
import type { IncomingMessage, RequestListener, Server } from 'node:http';
import type { AddressInfo } from 'node:net';
import { gracefulShutdown } from '../src/http/ending';

let server: Server;
let port: number;
let end: () => Promise<void>;
const agent = new Agent({ keepAlive: true });

async function serving(listener: RequestListener, grace: number): Promise<void> {
  server = createServer(listener);
  end = gracefulShutdown(server, grace);
  server.listen(0, '127.0.0.1');
  await once(server, 'listening');
  ({ port } = server.address() as AddressInfo);
}

/** A save whose body is on its way: it has begun, and is finished when asked. */
async function begun(): Promise<{ finish(): Promise<IncomingMessage>; answered: Promise<IncomingMessage | Error> }> {
  const reached = once(server, 'request');
  const save = request({ port, host: '127.0.0.1', method: 'PUT', agent });
  const answered = new Promise<IncomingMessage | Error>((resolve) => {
    save.once('response', (reply) => resolve(reply.resume()));
    save.once('error', resolve);
  });
  save.write('half ');
  await reached;
  return {
    answered,
    finish: async () => {
      save.end('and half');
      return (await answered) as IncomingMessage;
    },
  };
}

afterEach(() => {
  agent.destroy();
  server.closeAllConnections();
});

it('answers the save that is under way, says that the connection closes, and waits for nothing more', async () => {
  await serving((asked, response) => void asked.resume().once('end', () => response.end('stored')), 60_000);
  const save = await begun();
  const ended = end();
  const refused = request({ port, host: '127.0.0.1', agent: new Agent() });
  const [error] = (await once(
    refused.on('response', () => undefined),
    'error',
  )) as [NodeJS.ErrnoException];
  expect(error.code).toBe('ECONNREFUSED');
  const reply = await save.finish();
  expect([reply.statusCode, reply.headers.connection]).toEqual([200, 'close']);
  await ended;
});

it('does not wait for a connection that is kept although nothing is asked, nor for an answer that had begun before', async () => {
  await serving((asked, response) => {
    response.write('begun');
    asked.resume().once('end', () => response.end());
  }, 60_000);
  const save = await begun();
  await save.answered;
  const ended = end();
  await save.finish();
  await ended;
});

it('gives up those that take longer than the grace', async () => {
  await serving((asked) => void asked.resume(), 50);
  const save = await begun();
  await end();
  expect(await save.answered).toMatchObject({ code: 'ECONNRESET' });
});
