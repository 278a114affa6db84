import type { stdSerializers } from 'pino';
import type { Logger } from 'pino';
import type { Options } from 'pino-http';

/** What lets somebody in, wherever a request or an answer carries it; an address that carries it is written without it. */
const SECRETS = [
  'req.headers.authorization',
  'req.headers.cookie',
  'req.headers.referer',
  'req.query.key',
  'res.headers["set-cookie"]',
  'res.headers.location',
];

/** How requests are logged: without what lets somebody in. */
export function withoutSecrets(log: Logger): Options {
  return {
    logger: log.child({}, { redact: SECRETS }),
    serializers: {
      req: (request: ReturnType<typeof stdSerializers.req>) => ({
        ...request,
        url: request.url.replace(/([?&]key=)[^&#]*/g, '$1[Redacted]'),
      }),
    },
  };
}
