import { openApi } from '@nettlewick/contract/openapi';
import compression from 'compression';
import express from 'express';
import type { Express } from 'express';
import type { Logger } from 'pino';
import { pinoHttp } from 'pino-http';
import type { LevelStore } from '../storage/level-store';
import { levelRoutes, notAllowed } from './level-routes';
import { answerProblems, refuse } from './problems';
import { studio } from './studio';

/** The whole server: the studio, the levels, and what describes and watches them. */
export function application(store: LevelStore, log: Logger, studioFolder: string): Express {
  const app = express();
  app.disable('x-powered-by');
  app.set('etag', false);
  app.use(
    pinoHttp({
      logger: log,
      customLogLevel: (_request, response, error) => (error !== undefined || response.statusCode >= 500 ? 'error' : 'debug'),
    }),
  );
  app.use(compression());
  app.use(studio(studioFolder));
  app
    .route('/healthz')
    .get(async (request, response) => {
      try {
        await store.answers();
        response.json({ status: 'ok' });
      } catch (error) {
        request.log.error({ err: error }, 'the database does not answer');
        response.status(503).json({ status: 'database does not answer' });
      }
    })
    .all(notAllowed('GET'));
  const described = openApi();
  app.get('/api/openapi.json', (_request, response) => void response.json(described));
  app.use('/api', (_request, response, next) => {
    response.set('cache-control', 'no-cache');
    next();
  });
  app.use('/api/levels', levelRoutes(store));
  app.use((request) => refuse('not-found', { detail: `Nothing answers at ${request.path}. /api/openapi.json lists what does.` }));
  app.use(answerProblems);
  return app;
}
