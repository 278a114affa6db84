import { z } from 'zod';
import { createDocument } from 'zod-openapi';
import * as levels from './levels';
import { PROBLEM_TYPE, problem } from './problem';

const path = { id: levels.levelId };
const page = {
  limit: z
    .string()
    .regex(/^\d{1,4}$/)
    .optional()
    .meta({ description: `how many; ${levels.PAGE.usual} if nothing is said, ${levels.PAGE.most} at most` }),
  after: z.string().optional().meta({ description: 'the "next" of the page before' }),
};
const ifMatch = z.string().meta({ description: 'the ETag of the revision that was changed, for example "7"', example: '"7"' });
const etag = z.string().meta({ description: 'the revision in quotes' });

function json(schema: z.ZodType, description: string, headers?: Record<string, z.ZodType>) {
  return {
    description,
    content: { 'application/json': { schema } },
    ...(headers === undefined ? {} : { headers: z.object(headers) }),
  };
}

/** What any request may be answered with, whatever it asks for. */
const anywhere = [401, 403, 421, 503, 507];

function failures(...statuses: number[]) {
  return Object.fromEntries(
    [...statuses, ...anywhere].map((status) => [
      String(status),
      { description: 'A problem document (RFC 9457)', content: { [PROBLEM_TYPE]: { schema: problem } } },
    ]),
  );
}

function body(schema: z.ZodType) {
  return { content: { 'application/json': { schema } } };
}

/** The interface of the server as an OpenAPI 3.1 document, from the schemas that the server itself checks with. */
export function openApi(): ReturnType<typeof createDocument> {
  return createDocument({
    openapi: '3.1.0',
    info: { title: 'Nettlewick', version: '1', description: 'Levels, their revisions, and the health of the server.' },
    servers: [{ url: '/' }],
    paths: {
      '/api/levels': {
        get: {
          operationId: 'listLevels',
          summary: 'The levels, last saved first; with deleted=true those that can be recovered',
          requestParams: { query: z.object({ deleted: z.enum(['true', 'false']).optional(), ...page }) },
          responses: { '200': json(levels.levelList, 'The levels'), ...failures(400) },
        },
        post: {
          operationId: 'createLevel',
          summary: 'A new level: empty with a name, or from a whole document',
          requestBody: body(levels.newLevel),
          responses: {
            '201': json(levels.saved, 'The level is stored', { etag, location: z.string() }),
            ...failures(400, 413, 415, 422),
          },
        },
      },
      '/api/levels/{id}': {
        get: {
          operationId: 'openLevel',
          summary: 'The newest revision of a level',
          requestParams: { path: z.object(path) },
          responses: {
            '200': json(levels.storedLevel, 'The level', { etag }),
            '304': { description: 'Not changed' },
            ...failures(404),
          },
        },
        put: {
          operationId: 'saveLevel',
          summary: 'Saves a new revision over the one named by If-Match',
          requestParams: { path: z.object(path), header: z.object({ 'if-match': ifMatch }) },
          requestBody: body(levels.level),
          responses: { '200': json(levels.saved, 'Saved', { etag }), ...failures(400, 404, 412, 413, 415, 422, 428) },
        },
        patch: {
          operationId: 'renameLevel',
          summary: 'Saves a new revision that differs in the name of the level alone',
          requestParams: { path: z.object(path), header: z.object({ 'if-match': ifMatch }) },
          requestBody: body(levels.rename),
          responses: { '200': json(levels.saved, 'Renamed', { etag }), ...failures(400, 404, 412, 415, 422, 428) },
        },
        delete: {
          operationId: 'deleteLevel',
          summary: 'Deletes a level; it can be recovered for thirty days at the least',
          requestParams: { path: z.object(path) },
          responses: { '204': { description: 'Deleted' }, ...failures(404) },
        },
      },
      '/api/levels/{id}/restore': {
        post: {
          operationId: 'restoreLevel',
          summary: 'Recovers a deleted level',
          requestParams: { path: z.object(path) },
          responses: { '200': json(levels.saved, 'The level is back', { etag }), ...failures(404) },
        },
      },
      '/api/levels/{id}/events': {
        get: {
          operationId: 'watchLevel',
          summary:
            'Server-sent events: "saved" with the number of each new revision, "present" with how many windows watch, "played" with lines of a play',
          requestParams: { path: z.object(path) },
          responses: {
            '200': {
              description: 'Events, until either side ends them',
              content: { 'text/event-stream': { schema: z.string() } },
            },
            ...failures(404, 503),
          },
        },
      },
      '/api/levels/{id}/play': {
        post: {
          operationId: 'tellPlay',
          summary: 'Lines of a play as a running game has them, for the windows that have the level open; nothing of it is kept',
          requestParams: { path: z.object(path) },
          requestBody: {
            required: true,
            content: {
              'application/x-ndjson': {
                schema: z.string().meta({
                  description: 'JSON lines, each as play-line.schema.json says; up to 1,000 lines and 256 KiB at a time',
                }),
              },
            },
          },
          responses: {
            '202': json(z.object({ windows: z.number().int().min(0) }), 'How many windows hear it'),
            ...failures(400, 404, 413, 415, 422),
          },
        },
      },
      '/api/levels/{id}/revisions': {
        get: {
          operationId: 'listRevisions',
          summary: 'The revisions of a level, newest first',
          requestParams: { path: z.object(path), query: z.object(page) },
          responses: { '200': json(levels.revisionList, 'The revisions'), ...failures(404) },
        },
      },
      '/api/levels/{id}/revisions/{number}': {
        get: {
          operationId: 'openRevision',
          summary: 'One revision of a level',
          requestParams: { path: z.object({ ...path, number: z.string().regex(/^[1-9]\d*$/) }) },
          responses: { '200': json(levels.storedLevel, 'The level as it was', { etag }), ...failures(404, 422) },
        },
        patch: {
          operationId: 'keepRevision',
          summary: 'Names a revision, or keeps it because it was gone back to; such are never thinned out',
          requestParams: { path: z.object({ ...path, number: z.string().regex(/^[1-9]\d*$/) }) },
          requestBody: body(levels.keepRevision),
          responses: { '200': json(levels.revision, 'The revision'), ...failures(400, 404, 415, 422) },
        },
      },
      '/healthz': {
        get: {
          operationId: 'health',
          summary: 'Whether the server and its database answer',
          responses: { '200': json(levels.health, 'Both answer'), '503': json(levels.health, 'The database does not') },
        },
      },
    },
  });
}
