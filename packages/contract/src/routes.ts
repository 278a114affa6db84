import * as z from 'zod';
import * as levels from './levels';

/** One thing that can be asked of the server. The OpenAPI document, the handlers and the client's types are made of these. */
export interface Route {
  method: 'get' | 'post' | 'put' | 'patch' | 'delete';
  /** With the names of its parts in braces. */
  path: string;
  summary: string;
  query?: z.ZodObject;
  /** Whether it names the revision that it goes over in If-Match. */
  over?: true;
  /** What is sent as JSON. */
  body?: z.ZodType;
  /** What is sent as JSON lines, in words. */
  lines?: string;
  /** What is answered as JSON; null for nothing, or for what is no JSON. */
  answer: z.ZodType | null;
  status: 200 | 201 | 202 | 204;
  /** What the answer is, in words. */
  says: string;
  /** What the answer says in its headers. */
  headers?: readonly ('etag' | 'location')[];
  /** Whether it is answered by server-sent events. */
  events?: true;
  /** Whether it may be answered that nothing has changed. */
  unchanged?: true;
  /** What else it may be answered with, as the same JSON: a status, and what it means. */
  otherwise?: { status: number; says: string };
  /** The problems that it may be answered with, beside those of any request; null if it is answered to anybody. */
  failures: readonly number[] | null;
}

const page = {
  limit: z
    .string()
    .regex(/^\d{1,4}$/)
    .optional()
    .meta({ description: `how many; ${levels.PAGE.usual} if nothing is said, ${levels.PAGE.most} at most` }),
  after: z.string().optional().meta({ description: 'the "next" of the page before' }),
};

/** Everything that can be asked of the server, by the name of the operation. */
export const routes = {
  listLevels: {
    method: 'get',
    path: '/api/levels',
    summary: 'The levels, last saved first; with deleted=true those that can be recovered',
    query: z.object({ deleted: z.enum(['true', 'false']).optional(), ...page }),
    answer: levels.levelList,
    status: 200,
    says: 'The levels',
    failures: [400],
  },
  createLevel: {
    method: 'post',
    path: '/api/levels',
    summary: 'A new level: empty with a name, or from a whole document',
    body: levels.newLevel,
    answer: levels.saved,
    status: 201,
    says: 'The level is stored',
    headers: ['etag', 'location'],
    failures: [400, 413, 415, 422],
  },
  openLevel: {
    method: 'get',
    path: '/api/levels/{id}',
    summary: 'The newest revision of a level',
    answer: levels.storedLevel,
    status: 200,
    says: 'The level',
    headers: ['etag'],
    unchanged: true,
    failures: [404],
  },
  saveLevel: {
    method: 'put',
    path: '/api/levels/{id}',
    summary: 'Saves a new revision over the one named by If-Match',
    over: true,
    body: levels.level,
    answer: levels.saved,
    status: 200,
    says: 'Saved',
    headers: ['etag'],
    failures: [400, 404, 412, 413, 415, 422, 428],
  },
  editLevel: {
    method: 'patch',
    path: '/api/levels/{id}',
    summary: 'Saves a new revision: edits on top of the one named by If-Match, or that one with another name',
    over: true,
    body: z.union([levels.editBatch, levels.rename]),
    answer: levels.saved,
    status: 200,
    says: 'Saved',
    headers: ['etag'],
    failures: [400, 404, 412, 413, 415, 422, 428],
  },
  listEdits: {
    method: 'get',
    path: '/api/levels/{id}/edits',
    summary: 'What was saved after a revision, as edits',
    query: z.object({
      after: z
        .string()
        .regex(/^\d{1,9}$/)
        .meta({ description: 'the number of that revision' }),
    }),
    answer: levels.editsSince,
    status: 200,
    says: 'The edits, oldest first',
    failures: [400, 404],
  },
  deleteLevel: {
    method: 'delete',
    path: '/api/levels/{id}',
    summary: 'Deletes a level; it can be recovered for thirty days at the least',
    answer: null,
    status: 204,
    says: 'Deleted',
    failures: [404],
  },
  restoreLevel: {
    method: 'post',
    path: '/api/levels/{id}/restore',
    summary: 'Recovers a deleted level',
    answer: levels.saved,
    status: 200,
    says: 'The level is back',
    headers: ['etag'],
    failures: [404],
  },
  watchLevel: {
    method: 'get',
    path: '/api/levels/{id}/events',
    summary:
      'Server-sent events: "saved" with each new revision and its edits, "deleted" and "restored" of the level, "present" with how many windows watch, "played" with lines of a play',
    answer: null,
    status: 200,
    says: 'Events, until either side ends them',
    events: true,
    failures: [404, 503],
  },
  tellPlay: {
    method: 'post',
    path: '/api/levels/{id}/play',
    summary: 'Lines of a play as a running game has them, for the windows that have the level open; nothing of it is kept',
    lines: 'JSON lines, each as play-line.schema.json says; up to 1,000 lines and 256 KiB at a time',
    answer: z.object({ windows: z.number().int().min(0) }),
    status: 202,
    says: 'How many windows hear it',
    failures: [400, 404, 413, 415, 422],
  },
  listRevisions: {
    method: 'get',
    path: '/api/levels/{id}/revisions',
    summary: 'The revisions of a level, newest first',
    query: z.object(page),
    answer: levels.revisionList,
    status: 200,
    says: 'The revisions',
    failures: [404],
  },
  openRevision: {
    method: 'get',
    path: '/api/levels/{id}/revisions/{number}',
    summary: 'One revision of a level',
    answer: levels.storedLevel,
    status: 200,
    says: 'The level as it was',
    headers: ['etag'],
    failures: [404, 422],
  },
  keepRevision: {
    method: 'patch',
    path: '/api/levels/{id}/revisions/{number}',
    summary: 'Names a revision, or keeps it because it was gone back to; such are never thinned out',
    body: levels.keepRevision,
    answer: levels.revision,
    status: 200,
    says: 'The revision',
    failures: [400, 404, 415, 422],
  },
  session: {
    method: 'get',
    path: '/api/session',
    summary: 'Whether a secret is asked for here; whoever asks is let in',
    answer: levels.session,
    status: 200,
    says: 'Whether it is',
    failures: [],
  },
  logOut: {
    method: 'delete',
    path: '/api/session',
    summary: 'Ends the session of a browser',
    answer: null,
    status: 204,
    says: 'The session is over',
    failures: [],
  },
  health: {
    method: 'get',
    path: '/healthz',
    summary: 'Whether the server and its database answer',
    answer: levels.health,
    status: 200,
    says: 'Both answer',
    otherwise: { status: 503, says: 'The database does not' },
    failures: null,
  },
} as const satisfies Record<string, Route>;

export type Routes = typeof routes;
export type RouteName = keyof Routes;

/** The parts that a path has in braces, each by its name. */
export type PartsOf<Path extends string> = Path extends `${string}{${infer Name}}${infer Rest}`
  ? Record<Name, string | number> & PartsOf<Rest>
  : unknown;

/** What is answered to what is asked; null where nothing is. */
export type AnswerTo<R extends Route> = R['answer'] extends z.ZodType ? z.output<R['answer']> : null;

/** The path of a route, with its parts filled in. */
export function pathOf<R extends Route>({ path }: R, parts: PartsOf<R['path']>): string {
  const given = parts as Record<string, string | number>;
  return path.replace(/\{(\w+)\}/g, (_, name: string) => encodeURIComponent(String(given[name])));
}
