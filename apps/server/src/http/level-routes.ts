import { levelId, newLevel, rename } from '@nettlewick/contract';
import { emptyLevel, parseLevel, pointer } from '@nettlewick/core';
import type { Level } from '@nettlewick/core';
import { Router, json } from 'express';
import type { NextFunction, Request, Response } from 'express';
import { BODY_LIMIT } from '@nettlewick/contract';
import type { LevelStore } from '../storage/level-store';
import { refuse, refuseFaults } from './problems';
import { accepted, etagOf } from './revision-headers';

/** List, create, open, rename, delete, recover and save levels, and open their revisions. */
export function levelRoutes(store: LevelStore): Router {
  const routes = Router();
  const body = [requireJson, json({ limit: BODY_LIMIT, strict: false })];

  routes
    .route('/')
    .get(async (request, response) => {
      const deleted = request.query['deleted'] ?? 'false';
      if (deleted !== 'true' && deleted !== 'false') refuse('bad-request', { detail: 'deleted has to be true or false' });
      response.json({ levels: await store.list(deleted === 'true') });
    })
    .post(...body, async (request, response) => {
      const saved = await store.create(levelToCreate(request.body));
      response.status(201).location(`/api/levels/${saved.id}`).set('etag', etagOf(saved.revision)).json(saved);
    })
    .all(notAllowed('GET, POST'));

  routes
    .route('/:id')
    .get(async (request, response) => {
      const id = idOf(request);
      const tag = etagOf(await store.currentRevision(id));
      if (request.get('if-none-match') === tag) {
        response.status(304).set('etag', tag).end();
        return;
      }
      const stored = await store.open(id);
      response.set('etag', etagOf(stored.revision)).json(stored);
    })
    .put(...body, async (request, response) => {
      const id = idOf(request);
      const accepts = accepted(request);
      const level = documentOf(request.body);
      const saved = await store.save(id, accepts, () => Promise.resolve(level));
      response.set('etag', etagOf(saved.revision)).json(saved);
    })
    .patch(...body, async (request, response) => {
      const id = idOf(request);
      const accepts = accepted(request);
      const wanted = rename.safeParse(request.body);
      if (!wanted.success) {
        refuseFaults(wanted.error.issues.map((issue) => ({ path: pointer(issue.path), message: issue.message })));
      }
      const saved = await store.save(id, accepts, async (newest) => ({ ...(await newest()), name: wanted.data.name }));
      response.set('etag', etagOf(saved.revision)).json(saved);
    })
    .delete(async (request, response) => {
      await store.delete(idOf(request));
      response.status(204).end();
    })
    .all(notAllowed('GET, PUT, PATCH, DELETE'));

  routes
    .route('/:id/restore')
    .post(async (request, response) => {
      const saved = await store.restore(idOf(request));
      response.set('etag', etagOf(saved.revision)).json(saved);
    })
    .all(notAllowed('POST'));

  routes
    .route('/:id/revisions')
    .get(async (request, response) => {
      response.json({ revisions: await store.revisions(idOf(request)) });
    })
    .all(notAllowed('GET'));

  routes
    .route('/:id/revisions/:number')
    .get(async (request, response) => {
      const text = String(request.params['number']);
      if (!/^[1-9]\d{0,8}$/.test(text)) refuse('not-found', { detail: 'Revisions are numbered from 1.' });
      const stored = await store.openRevision(idOf(request), Number(text));
      response.set('etag', etagOf(stored.revision)).json(stored);
    })
    .all(notAllowed('GET'));

  return routes;
}

function idOf(request: Request): string {
  const id = levelId.safeParse(request.params['id']);
  return id.success
    ? id.data
    : refuse('not-found', { detail: 'The id of a stored level is a UUID. The list of levels shows what there is.' });
}

function documentOf(body: unknown): Level {
  const parsed = parseLevel(body);
  return parsed.ok ? parsed.level : refuseFaults(parsed.faults);
}

/** The level to create; a document in the request is checked by the core, whose faults say where and why. */
function levelToCreate(body: unknown): Level {
  if (body !== null && typeof body === 'object' && 'level' in body) {
    const [extra] = Object.keys(body).filter((key) => key !== 'level');
    if (extra !== undefined)
      refuseFaults([{ path: pointer([extra]), message: `Unknown field "${extra}" beside "level". Remove it` }]);
    const parsed = parseLevel(body.level);
    return parsed.ok ? parsed.level : refuseFaults(parsed.faults.map((fault) => ({ ...fault, path: '/level' + fault.path })));
  }
  const wanted = newLevel.options[0].safeParse(body);
  if (wanted.success) return emptyLevel(wanted.data.name);
  return refuseFaults(
    wanted.error.issues.map((issue) => ({
      path: pointer(issue.path),
      message: `${issue.message}. Send {"name": …} for an empty level or {"level": …} for a whole document`,
    })),
  );
}

function requireJson(request: Request, _response: Response, next: NextFunction): void {
  if (request.is('application/json') === false) refuse('wrong-media-type', { detail: 'Send Content-Type: application/json.' });
  next();
}

/** Answers every other method; the error handler makes a problem document of it. */
export function notAllowed(methods: string) {
  return (request: Request, response: Response): void => {
    response.set('allow', methods);
    refuse('method-not-allowed', { detail: `${request.method} is not answered here; ${methods} are.` });
  };
}
