import { EDITS, PAGE, levelId, pathOf, routes } from '@nettlewick/contract';
import type { RouteName } from '@nettlewick/contract';
import { playLineFaults, pointer } from '@nettlewick/core';
import type { Request, Response } from 'express';
import type * as z from 'zod';
import type { LevelEdits } from '../editing/level-edits';
import { SMALL } from '../reading/document-reader';
import type { DocumentReader, Read } from '../reading/document-reader';
import type { LevelRepository } from '../storage/level-repository';
import { BrokenDocument } from '../storage/errors';
import type { StoredText } from '../storage/history';
import type { BodyReader } from './bodies';
import { senderOf } from './callers';
import { problemResponse, refuseFaults } from './problems';
import { accepted } from './revision-headers';
import type { Handlers } from './routing';
import { Watchers } from './watchers';

/** List, create, open, rename, delete, recover and save levels, and open, name and keep their revisions. */
export function levelHandlers(
  store: LevelRepository,
  edits: LevelEdits,
  reader: DocumentReader,
  bodies: BodyReader,
): Handlers<Exclude<RouteName, 'health' | 'session' | 'logOut'>> {
  const current = currentDocuments(reader);
  const watchers = new Watchers();
  return {
    async listLevels(request) {
      const deleted = request.query['deleted'] ?? 'false';
      if (deleted !== 'true' && deleted !== 'false')
        problemResponse('bad-request', { detail: 'deleted has to be true or false' });
      return store.list(deleted === 'true', pageOf(request, LEVEL_PLACE));
    },

    async createLevel(request, response) {
      const level = checked(await reader.read('creation', await bodies.receive(request, response), senderOf(request, response)));
      response.locals['slow'] = level.anew && level.bytes.length > SMALL;
      const saved = await store.create(level);
      response.location(pathOf(routes.openLevel, { id: saved.id })).set('etag', saved.etag);
      return saved;
    },

    async openLevel(request, response) {
      const id = idOf(request);
      const { etag: tag } = await store.newest(id);
      if (request.get('if-none-match') === tag) response.status(304).set('etag', tag).end();
      else sendStored(response, await store.history.open(id, current));
      return undefined;
    },

    async saveLevel(request, response) {
      const id = idOf(request);
      const accepts = accepted(request);
      const level = checked(await reader.read('document', await bodies.receive(request, response), senderOf(request, response)));
      response.locals['slow'] = level.anew && level.bytes.length > SMALL;
      const saved = await store.save(id, accepts, level);
      reader.takeBack(level.bytes);
      watchers.saved(id, saved, null);
      response.set('etag', saved.etag);
      return saved;
    },

    async editLevel(request, response) {
      const id = idOf(request);
      const accepts = accepted(request);
      const pieces = await bodies.receive(request, response, EDITS.bytes);
      const made = await edits.save(id, accepts, Buffer.concat(pieces));
      if (!made.ok) {
        if ('notJson' in made) problemResponse('not-json', { detail: `${made.notJson}. Nothing was changed.` });
        refuseFaults(made.faults);
      }
      watchers.saved(id, made.saved, made.edits);
      response.set('etag', made.saved.etag);
      return made.saved;
    },

    async listEdits(request) {
      const { after } = request.query;
      if (typeof after !== 'string' || !/^\d{1,9}$/.test(after))
        problemResponse('bad-request', { detail: 'after has to be the number of a revision' });
      return store.history.since(idOf(request), Number(after));
    },

    async deleteLevel(request) {
      const id = idOf(request);
      await store.delete(id);
      watchers.deleted(id);
      return null;
    },

    async restoreLevel(request, response) {
      const id = idOf(request);
      const saved = await store.restore(id);
      watchers.restored(id, saved.revision);
      response.set('etag', saved.etag);
      return saved;
    },

    async watchLevel(request, response) {
      const id = idOf(request);
      await store.newest(id);
      watchers.watch(id, request, response);
      return undefined;
    },

    async tellPlay(request, response) {
      const id = idOf(request);
      await store.newest(id);
      const lines = await bodies.lines(request, response);
      const faults = lines.flatMap(({ line, value }) =>
        playLineFaults(value).map((fault) => ({ ...fault, path: `/${line - 1}${fault.path}` })),
      );
      if (faults.length > 0) refuseFaults(faults);
      const told = lines.map(({ value }) => value);
      return { windows: watchers.played(id, told) };
    },

    async listRevisions(request) {
      return store.history.list(idOf(request), pageOf(request, REVISION_PLACE));
    },

    async openRevision(request, response) {
      sendStored(response, await store.history.openRevision(idOf(request), numberOf(request), current));
      return undefined;
    },

    async keepRevision(request, response) {
      const wanted = asked(routes.keepRevision.body, await bodies.small(request, response));
      return store.history.keep(idOf(request), numberOf(request), wanted);
    },
  };
}

/** A stored level as JSON, without reading its document anew. */
function sendStored(response: Response, { id, revision, etag, savedAt, text }: StoredText): void {
  const head = JSON.stringify({ id, revision, etag, savedAt });
  response
    .set('etag', etag)
    .type('json')
    .send(`${head.slice(0, -1)},"level":${text}}`);
}

/** How many digests of documents that are known to be good are remembered. */
const REMEMBERED = 2000;

/**
 * Reads a stored document as the program of today does: one of an older version is brought forward, and one that is broken is
 * refused. What was read once is known by its digest.
 */
function currentDocuments(reader: DocumentReader): (text: string, digest: string) => Promise<string> {
  const known = new Set<string>();
  return async (text, digest) => {
    if (known.has(digest)) return text;
    const read = await reader.read('document', [new Uint8Array(Buffer.from(text))]);
    if (!read.ok) throw new BrokenDocument('faults' in read ? read.faults : [{ path: '', message: read.notJson }]);
    if (read.digest !== digest) return Buffer.from(read.bytes).toString();
    if (known.size >= REMEMBERED) known.clear();
    known.add(digest);
    return text;
  };
}

/** A document that was read without a fault; else the request is refused. */
function checked(read: Read): Extract<Read, { ok: true }> {
  if (read.ok) return read;
  if ('notJson' in read) problemResponse('not-json', { detail: `${read.notJson}. Nothing was changed.` });
  return refuseFaults(read.faults);
}

function asked<Z extends z.ZodType>(schema: Z, value: unknown): z.infer<Z> {
  const read = schema.safeParse(value);
  if (read.success) return read.data;
  return refuseFaults(read.error.issues.map((issue) => ({ path: pointer(issue.path), message: issue.message })));
}

/** Where a page of levels ends: the time of its last one, in milliseconds, and its id. */
const LEVEL_PLACE = /^\d{1,14}~[0-9a-f]{8}(-[0-9a-f]{4}){3}-[0-9a-f]{12}$/;
/** Where a page of revisions ends: the number of its last one. */
const REVISION_PLACE = /^[1-9]\d{0,8}$/;

/** Which part of a list is asked for. */
function pageOf(request: Request, place: RegExp): { limit: number; after: string | null } {
  const { limit = String(PAGE.usual), after = null } = request.query;
  const count = typeof limit === 'string' && /^\d{1,4}$/.test(limit) ? Number(limit) : 0;
  if (count < 1 || count > PAGE.most)
    problemResponse('bad-request', { detail: `limit has to be a whole number from 1 to ${PAGE.most}` });
  if (after !== null && (typeof after !== 'string' || !place.test(after)))
    problemResponse('bad-request', { detail: 'after has to be the "next" of the page before' });
  return { limit: count, after };
}

function idOf(request: Request): string {
  const id = levelId.safeParse(request.params['id']);
  return id.success
    ? id.data
    : problemResponse('not-found', { detail: 'The id of a stored level is a UUID. The list of levels shows what there is.' });
}

function numberOf(request: Request): number {
  const text = String(request.params['number']);
  if (!/^[1-9]\d{0,8}$/.test(text)) problemResponse('not-found', { detail: 'Revisions are numbered from 1.' });
  return Number(text);
}
