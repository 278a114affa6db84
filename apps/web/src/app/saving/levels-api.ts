import { Injectable } from '@angular/core';
import { PAGE, pathOf, routes, sentLevel } from '@nettlewick/contract';
import type { EditsSince, LevelSummary, Revision, Saved, StoredLevel } from '@nettlewick/contract';
import type { Level } from '@nettlewick/core';
import { apiRequest } from '../workers/api-client';
import type { ApiResult } from '../workers/api-client';

/** Up to how many bytes a level is read for a drawing of it. */
const SMALL = 200_000;

/** The server's levels. Nothing here throws: every failure is an answer. */
@Injectable({ providedIn: 'root' })
export class LevelsApi {
  list(deleted = false): Promise<ApiResult<LevelSummary[]>> {
    return allPages(async (after) => {
      const query = { deleted: deleted ? ('true' as const) : ('false' as const), limit: String(PAGE.most), ...after };
      return map(await apiRequest(routes.listLevels, { parts: {}, query }), ({ levels, next }) => ({ lines: levels, next }));
    });
  }

  open(id: string): Promise<ApiResult<StoredLevel>> {
    return apiRequest(routes.openLevel, { parts: { id } }, sentLevel);
  }

  /** A level that is small enough for a drawing in a list; null if it is not, or cannot be had. */
  async small(id: string): Promise<Level | null> {
    const stop = new AbortController();
    try {
      const reply = await fetch(pathOf(routes.openLevel, { id }), { signal: stop.signal });
      const reader = reply.ok ? reply.body?.getReader() : undefined;
      if (reader === undefined) return null;
      const parts: Uint8Array[] = [];
      let bytes = 0;
      for (let part = await reader.read(); !part.done; part = await reader.read()) {
        parts.push(part.value);
        bytes += part.value.length;
        if (bytes > SMALL) {
          stop.abort();
          return null;
        }
      }
      return sentLevel.parse(JSON.parse(await new Blob(parts as BlobPart[]).text())).level;
    } catch {
      return null;
    }
  }

  /** Whether a secret is asked for. */
  session(): Promise<ApiResult<{ asked: boolean }>> {
    return apiRequest(routes.session, { parts: {} });
  }

  /** Ends the session of this browser. */
  logOut(): Promise<ApiResult<null>> {
    return apiRequest(routes.logOut, { parts: {} });
  }

  create(level: Level): Promise<ApiResult<Saved>> {
    return apiRequest(routes.createLevel, { parts: {}, body: { level } });
  }

  rename(id: string, etag: string, name: string): Promise<ApiResult<Saved>> {
    return apiRequest(routes.editLevel, { parts: { id }, body: { name }, etag });
  }

  /** What was saved after a revision, as edits. */
  editsSince(id: string, revision: number): Promise<ApiResult<EditsSince>> {
    return apiRequest(routes.listEdits, { parts: { id }, query: { after: String(revision) } });
  }

  remove(id: string): Promise<ApiResult<null>> {
    return apiRequest(routes.deleteLevel, { parts: { id } });
  }

  restore(id: string): Promise<ApiResult<Saved>> {
    return apiRequest(routes.restoreLevel, { parts: { id } });
  }

  revisions(id: string): Promise<ApiResult<Revision[]>> {
    return allPages(async (after) => {
      const query = { limit: String(PAGE.most), ...after };
      const answer = await apiRequest(routes.listRevisions, { parts: { id }, query });
      return map(answer, ({ revisions, next }) => ({ lines: revisions, next }));
    });
  }

  /** Names a revision, or keeps it because it was gone back to: such are never thinned out. */
  keepRevision(id: string, number: number, wanted: { name?: string | null; kept?: true }): Promise<ApiResult<Revision>> {
    return apiRequest(routes.keepRevision, { parts: { id, number }, body: wanted });
  }

  openRevision(id: string, number: number): Promise<ApiResult<StoredLevel>> {
    return apiRequest(routes.openRevision, { parts: { id, number } }, sentLevel);
  }
}

/** A page of a list, and what asks for the next. */
interface Page<T> {
  lines: T[];
  next: string | null;
}

/** All lines of a list that comes in pages, or the first failure. */
async function allPages<T>(page: (after: { after?: string }) => Promise<ApiResult<Page<T>>>): Promise<ApiResult<T[]>> {
  const lines: T[] = [];
  for (let after: { after?: string } = {}; ;) {
    const answer = await page(after);
    if (!answer.ok) return answer;
    lines.push(...answer.value.lines);
    if (answer.value.next === null) return { ok: true, value: lines };
    after = { after: answer.value.next };
  }
}

function map<T, U>(answer: ApiResult<T>, to: (value: T) => U): ApiResult<U> {
  return answer.ok ? { ok: true, value: to(answer.value) } : answer;
}
