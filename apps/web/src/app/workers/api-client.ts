import { takePrefetched } from '../../ahead';
import { PROBLEM_TYPE, pathOf, problem as problemSchema } from '@nettlewick/contract';
import type { AnswerTo, PartsOf, Problem, Route } from '@nettlewick/contract';
import type * as z from 'zod';

/** An answer of the server: what was asked for, or why not. `offline` means that no sensible answer came at all. */
export type ApiResult<T> =
  { ok: true; value: T } | { ok: false; offline: true; detail: string } | { ok: false; offline: false; problem: Problem };

/** What went wrong, in a sentence for the user. */
export function failureText(answer: { ok: false } & ApiResult<unknown>): string {
  if (answer.ok) return '';
  return answer.offline ? answer.detail : `${answer.problem.title}. ${answer.problem.detail ?? ''}`;
}

/** What goes with what is asked: the parts of the path, what is sent, and over which revision, as the route has it. */
type RequestInput<R extends Route> = { parts: PartsOf<R['path']> } & (R extends { over: true } ? { etag: string } : unknown) &
  (R extends { body: z.ZodType } ? { body: z.input<R['body']> } : unknown) &
  (R extends { query: z.ZodType } ? { query?: z.input<R['query']> } : unknown);

/** The time a request may take, in milliseconds. After that the connection counts as dead. */
const TIMEOUT_MS = 60_000;

/** Asks the server by a route of the contract, and reads its answer as the route says, or by another schema that says no less. */
export async function apiRequest<R extends Route>(
  route: R,
  asked: RequestInput<R>,
  answer: z.ZodType<AnswerTo<R>> | null = route.answer as z.ZodType<AnswerTo<R>> | null,
): Promise<ApiResult<AnswerTo<R>>> {
  const request = asked as { parts: PartsOf<R['path']>; query?: Record<string, string>; body?: unknown; etag?: string };
  const query = new URLSearchParams(request.query).toString();
  const path = pathOf(route, request.parts) + (query === '' ? '' : `?${query}`);
  // The service worker keeps the page; what is asked of the server is not its business.
  const headers: Record<string, string> = { 'ngsw-bypass': 'true' };
  if (request.body !== undefined) headers['content-type'] = 'application/json';
  if (request.etag !== undefined) headers['if-match'] = request.etag;
  let response: Response;
  let text: string;
  try {
    const ahead = route.method === 'get' ? takePrefetched(path) : undefined;
    response = await (ahead ??
      fetch(path, {
        method: route.method.toUpperCase(),
        headers,
        body: request.body === undefined ? undefined : JSON.stringify(request.body),
        signal: AbortSignal.timeout(TIMEOUT_MS),
      }));
    text = await response.text();
  } catch {
    return { ok: false, offline: true, detail: 'The server is not responding.' };
  }
  if (response.ok) {
    try {
      return { ok: true, value: (answer === null ? null : answer.parse(JSON.parse(text))) as AnswerTo<R> };
    } catch {
      return {
        ok: false,
        offline: true,
        detail: 'Unexpected response from the server; its version may differ from this page. Reload the page.',
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
