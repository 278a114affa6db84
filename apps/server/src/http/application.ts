import { openApi } from '@nettlewick/contract/openapi';
import compression from 'compression';
import express from 'express';
import type { Express } from 'express';
import type { Logger } from 'pino';
import { pinoHttp } from 'pino-http';
import type { LevelEdits } from '../editing/level-edits';
import type { DocumentReader } from '../reading/document-reader';
import type { LevelRepository } from '../storage/level-repository';
import { BodyReader } from './bodies';
import { authenticate, endSession, knownHosts, ownOrigin, readableTarget } from './callers';
import { HealthCheck } from './health';
import { levelHandlers } from './level-handlers';
import { costlyWrites, playMessages } from './limits';
import { withoutSecrets } from './logging';
import { answerProblems, problemResponse } from './problems';
import { answering } from './routing';
import { Sessions } from './sessions';
import { secured, studio } from './studio';
import type { Secret } from '../secret';

/** What the server is made of. */
export interface Parts {
  store: LevelRepository;
  edits: LevelEdits;
  reader: DocumentReader;
  log: Logger;
  studioFolder: string;
  /** Names by which it may be called, beside those of loopback. */
  hosts?: readonly string[];
  /** The secret to ask for. */
  secret?: Secret | null;
  dataFolder?: string | null;
}

/** The whole server: the studio, the levels, and what describes and watches them. */
export function application(parts: Parts): Express {
  const { store, edits, reader, log, studioFolder, hosts = [], secret = null, dataFolder = null } = parts;
  const app = express();
  app.disable('x-powered-by');
  app.set('etag', false);
  // What fails is logged where it is answered, once.
  app.use(pinoHttp({ ...withoutSecrets(log), customLogLevel: () => 'debug' }));
  app.use(secured());
  app.use(readableTarget);
  app.use(knownHosts(hosts));
  app.use(ownOrigin);
  const health = new HealthCheck(store, dataFolder, log);
  app.use(
    answering<'health'>({
      async health(_request, response) {
        const found = await health.now();
        response.set('cache-control', 'no-store');
        if (found.ready) return found;
        response.status(503).json(found);
        return undefined;
      },
    }),
  );
  const sessions = secret === null ? null : new Sessions(secret);
  if (secret !== null && sessions !== null) app.use(authenticate(secret, sessions));
  app.use(compression());
  app.use(studio(studioFolder));
  const described = JSON.stringify(openApi());
  app.get('/api/openapi.json', (_request, response) => void response.type('json').send(described));
  app.use('/api', (_request, response, next) => {
    response.set('cache-control', 'no-cache');
    next();
  });
  app.use('/api', costlyWrites());
  app.use(/^\/api\/levels\/[^/]+\/play$/, playMessages());
  app.use(
    answering<'session' | 'logOut'>({
      async session() {
        return { asked: secret !== null };
      },
      async logOut(_request, response) {
        endSession(sessions, response);
        return null;
      },
    }),
  );
  app.use(answering(levelHandlers(store, edits, reader, new BodyReader())));
  app.use((request) =>
    problemResponse('not-found', { detail: `Nothing answers at ${request.path}. /api/openapi.json lists what does.` }),
  );
  app.use(answerProblems(() => health.diskFull()));
  return app;
}
