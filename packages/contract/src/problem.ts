import * as z from 'zod';

/** Media type of error replies (RFC 9457). */
export const PROBLEM_TYPE = 'application/problem+json';

/** The largest request body, in bytes. */
export const BODY_LIMIT = 16 * 1024 * 1024;

/** The kinds of problem, with the title and the status that each always has. */
export const problems = {
  'not-json': { status: 400, title: 'The request is not JSON' },
  'bad-request': { status: 400, title: 'Bad request' },
  'secret-required': { status: 401, title: 'Secret required' },
  'foreign-origin': { status: 403, title: 'This comes from another site' },
  'not-found': { status: 404, title: 'Not found' },
  'method-not-allowed': { status: 405, title: 'This cannot be done here' },
  'stale-revision': { status: 412, title: 'The level has been saved by someone else since' },
  'too-large': { status: 413, title: 'The document is too large' },
  'wrong-media-type': { status: 415, title: 'The request has to be application/json' },
  'wrong-host': { status: 421, title: 'Host name not allowed' },
  'broken-document': { status: 422, title: 'The stored document has faults' },
  'invalid-document': { status: 422, title: 'The document has faults' },
  'too-many': { status: 429, title: 'There are too many requests' },
  'revision-required': { status: 428, title: 'If-Match header required' },
  busy: { status: 503, title: 'Server busy' },
  'disk-full': { status: 507, title: 'The disk is full' },
  'no-database': { status: 503, title: 'The database does not answer' },
  internal: { status: 500, title: 'The server failed' },
} as const;
export type ProblemName = keyof typeof problems;

/** An error reply (RFC 9457): what went wrong, and for each faulty field where it is (JSON pointer) and what to do. */
export const problem = z
  .object({
    type: z.string().meta({ description: 'urn:nettlewick:problem: and the name of the kind of problem' }),
    title: z.string(),
    status: z.number().int(),
    detail: z.string().optional(),
    instance: z.string().optional(),
    errors: z.array(z.strictObject({ pointer: z.string(), detail: z.string() })).optional(),
    currentRevision: z.number().int().optional().meta({ description: 'with 412: the number of the newest revision' }),
  })
  .meta({ id: 'Problem' });
export type Problem = z.infer<typeof problem>;

/** A problem document of a kind. */
export function problemOf(name: ProblemName, rest: Omit<Partial<Problem>, 'type' | 'title' | 'status'> = {}): Problem {
  return { type: `urn:nettlewick:problem:${name}`, ...problems[name], ...rest };
}
