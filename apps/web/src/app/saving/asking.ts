import { takenAhead } from '../../ahead';
import { PROBLEM_TYPE, problem as problemSchema } from '@nettlewick/contract';
import type { Problem } from '@nettlewick/contract';

/** An answer of the server: what was asked for, or why not. `offline` means that no sensible answer came at all. */
export type Answer<T> =
  { ok: true; value: T } | { ok: false; offline: true; detail: string } | { ok: false; offline: false; problem: Problem };

export interface Schema<T> {
  parse(value: unknown): T;
}

/** What went wrong, in a sentence for the user. */
export function failureText(answer: { ok: false } & Answer<unknown>): string {
  if (answer.ok) return '';
  return answer.offline ? answer.detail : `${answer.problem.title}. ${answer.problem.detail ?? ''}`;
}

/** Asks the server, and reads its answer by a schema. */
export async function ask<T>(
  schema: Schema<T>,
  path: string,
  request: { method?: string; body?: unknown; revision?: number } = {},
): Promise<Answer<T>> {
  // The service worker keeps the page; what is asked of the server is not its business.
  const headers: Record<string, string> = { 'ngsw-bypass': 'true' };
  if (request.body !== undefined) headers['content-type'] = 'application/json';
  if (request.revision !== undefined) headers['if-match'] = `"${request.revision}"`;
  let response: Response;
  let text: string;
  try {
    const ahead = request.method === undefined && request.body === undefined ? takenAhead(path) : undefined;
    response = await (ahead ??
      fetch(path, {
        method: request.method ?? 'GET',
        headers,
        body: request.body === undefined ? undefined : JSON.stringify(request.body),
      }));
    text = await response.text();
  } catch {
    return { ok: false, offline: true, detail: 'The server does not answer.' };
  }
  if (response.ok) {
    try {
      return { ok: true, value: schema.parse(text === '' ? null : JSON.parse(text)) };
    } catch {
      return {
        ok: false,
        offline: true,
        detail: 'The server’s answer is not understood; it may be of another version than this page. Reload the page.',
      };
    }
  }
  const problem = readProblem(response, text);
  if (problem === null || problem.status >= 500)
    return { ok: false, offline: true, detail: problem?.detail ?? `The server answered ${response.status}.` };
  return { ok: false, offline: false, problem };
}

function readProblem(response: Response, text: string): Problem | null {
  if (!(response.headers.get('content-type') ?? '').startsWith(PROBLEM_TYPE)) return null;
  try {
    return problemSchema.parse(JSON.parse(text));
  } catch {
    return null;
  }
}
