import { fork } from 'node:child_process';
import { once } from 'node:events';
import { join } from 'node:path';
import { bundle } from './bundle';
import { root } from './paths';

export interface ServerProcess {
  address: string;
  /** The address that lets one in: it carries the secret, where one is asked for. */
  entrance: string;
  pid: number;
  /** Resolves with the exit code when the server has ended, however that came about. */
  ended: Promise<number | null>;
  /** Ends it in order. */
  stop(): Promise<void>;
  /** Ends it without warning. */
  kill(): Promise<void>;
}

/** The server ended while it was starting; it has said why itself. */
export class CannotServe extends Error {
  override name = 'CannotServe';
  constructor(readonly code: number | null) {
    super(`The server ended while it was starting (exit code ${code}); what it said stands above.`);
  }
}

/** Runs the server as a process of its own and waits until it answers. */
export async function startServer(environment: Record<string, string>): Promise<ServerProcess> {
  const folder = await bundle('apps/server', ['src/main.ts', 'src/reading/reader.worker.ts', 'src/editing/edits.worker.ts']);
  const child = fork(join(folder, 'main.mjs'), [], {
    execArgv: ['--enable-source-maps'],
    cwd: root,
    env: { ...process.env, ...environment },
    stdio: ['ignore', 'inherit', 'inherit', 'ipc'],
    detached: true,
  });
  const ended = new Promise<number | null>((resolve) => child.once('exit', (code) => resolve(code)));
  const { address, entrance } = await Promise.race([
    once(child, 'message').then(([message]) => message as { address: string; entrance: string }),
    ended.then((code) => {
      throw new CannotServe(code);
    }),
  ]);
  return {
    address,
    entrance,
    pid: child.pid!,
    ended,
    stop: async () => {
      child.kill('SIGTERM');
      await ended;
    },
    kill: async () => {
      child.kill('SIGKILL');
      await ended;
    },
  };
}
