import { once } from 'node:events';
import type { Server, ServerResponse } from 'node:http';

/**
 * How a server ends in order: it takes no new connections, answers what is under way and says with each answer that the
 * connection closes, and ends when the last is closed; those that are left after `grace` milliseconds are closed as they are.
 */
export function gracefulShutdown(server: Server, grace: number): () => Promise<void> {
  const underWay = new Set<ServerResponse>();
  let ending = false;
  const sayClosing = (response: ServerResponse): void => {
    if (!response.headersSent) response.setHeader('connection', 'close');
  };
  server.prependListener('request', (_request, response: ServerResponse) => {
    underWay.add(response);
    response.once('close', () => {
      underWay.delete(response);
      // One whose answer had begun before has not said so.
      if (ending) server.closeIdleConnections();
    });
    if (ending) sayClosing(response);
  });
  return async () => {
    ending = true;
    const closed = once(server, 'close');
    server.close();
    server.closeIdleConnections();
    underWay.forEach(sayClosing);
    // What would go on for ever is over.
    for (const response of underWay)
      if (String(response.getHeader('content-type')).startsWith('text/event-stream')) response.end();
    const impatience = setTimeout(() => server.closeAllConnections(), grace);
    await closed;
    clearTimeout(impatience);
  };
}
