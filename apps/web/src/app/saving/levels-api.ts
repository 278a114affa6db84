import { Injectable } from '@angular/core';
import {
  PAGE,
  PROBLEM_TYPE,
  levelList,
  problem as problemSchema,
  revision as revisionSchema,
  revisionList,
  saved,
  storedLevel,
} from '@nettlewick/contract';
import type { LevelSummary, Problem, Revision, Saved, StoredLevel } from '@nettlewick/contract';
import type { Level } from '@nettlewick/core';

/** An answer of the server: what was asked for, or why not. `offline` means that no sensible answer came at all. */
export type Answer<T> =
  { ok: true; value: T } | { ok: false; offline: true; detail: string } | { ok: false; offline: false; problem: Problem };

interface Schema<T> {
  parse(value: unknown): T;
}

/** The server's levels. Nothing here throws: every failure is an answer. */
@Injectable({ providedIn: 'root' })
export class LevelsApi {
  list(deleted = false): Promise<Answer<LevelSummary[]>> {
    return allPages((after) =>
      askFor(levelList, `/api/levels?deleted=${deleted}&limit=${PAGE.most}${after}`, ({ levels, next }) => ({
        lines: levels,
        next,
      })),
    );
  }

  open(id: string): Promise<Answer<StoredLevel>> {
    return ask(storedLevel, `/api/levels/${id}`);
  }

  create(level: Level): Promise<Answer<Saved>> {
    return ask(saved, '/api/levels', { method: 'POST', body: { level } });
  }

  /** Saves over `revision`; a stale one is answered with a problem of status 412. */
  save(id: string, revision: number, level: Level): Promise<Answer<Saved>> {
    return ask(saved, `/api/levels/${id}`, { method: 'PUT', body: level, revision });
  }

  rename(id: string, revision: number, name: string): Promise<Answer<Saved>> {
    return ask(saved, `/api/levels/${id}`, { method: 'PATCH', body: { name }, revision });
  }

  remove(id: string): Promise<Answer<null>> {
    return ask(nothing, `/api/levels/${id}`, { method: 'DELETE' });
  }

  restore(id: string): Promise<Answer<Saved>> {
    return ask(saved, `/api/levels/${id}/restore`, { method: 'POST' });
  }

  revisions(id: string): Promise<Answer<Revision[]>> {
    return allPages((after) =>
      askFor(revisionList, `/api/levels/${id}/revisions?limit=${PAGE.most}${after}`, ({ revisions, next }) => ({
        lines: revisions,
        next,
      })),
    );
  }

  /** Names a revision, or keeps it because it was gone back to: such are never thinned out. */
  keepRevision(id: string, number: number, wanted: { name?: string | null; kept?: true }): Promise<Answer<Revision>> {
    return ask(revisionSchema, `/api/levels/${id}/revisions/${number}`, { method: 'PATCH', body: wanted });
  }

  openRevision(id: string, number: number): Promise<Answer<StoredLevel>> {
    return ask(storedLevel, `/api/levels/${id}/revisions/${number}`);
  }
}

/** What went wrong, in a sentence for the user. */
export function failureText(answer: { ok: false } & Answer<unknown>): string {
  if (answer.ok) return '';
  return answer.offline ? answer.detail : `${answer.problem.title}. ${answer.problem.detail ?? ''}`;
}

/** A page of a list, and what asks for the next. */
interface Page<T> {
  lines: T[];
  next: string | null;
}

/** All lines of a list that comes in pages, or the first failure. */
async function allPages<T>(page: (after: string) => Promise<Answer<Page<T>>>): Promise<Answer<T[]>> {
  const lines: T[] = [];
  for (let after = ''; ;) {
    const answer = await page(after);
    if (!answer.ok) return answer;
    lines.push(...answer.value.lines);
    if (answer.value.next === null) return { ok: true, value: lines };
    after = `&after=${encodeURIComponent(answer.value.next)}`;
  }
}

async function askFor<T, U>(schema: Schema<T>, path: string, to: (value: T) => U): Promise<Answer<U>> {
  return map(await ask(schema, path), to);
}

const nothing: Schema<null> = { parse: () => null };

async function ask<T>(
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
    response = await fetch(path, {
      method: request.method ?? 'GET',
      headers,
      body: request.body === undefined ? undefined : JSON.stringify(request.body),
    });
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

function map<T, U>(answer: Answer<T>, to: (value: T) => U): Answer<U> {
  return answer.ok ? { ok: true, value: to(answer.value) } : answer;
}
