import { editSchema, parseLevel } from '@nettlewick/core';
import type { Edit, Level } from '@nettlewick/core';
import { openDB } from 'idb';
import type { DBSchema, IDBPDatabase } from 'idb';

/** What a tab of this browser keeps of a level: the document with its edits, and whether the server has them. */
export interface Draft {
  levelId: string;
  /** The session of the tab that it belongs to. */
  session: string;
  /** The revision that the document was changed from. */
  revision: number;
  /** The ETag of that revision; drafts of before know none. */
  etag?: string | null;
  level: Level;
  undo: Edit[];
  redo: Edit[];
  unsent: boolean;
  /** The edits that the server has not; null where they are not known, and missing in drafts of before. */
  pending?: Edit[] | null;
  /** What was sent without an answer: by what it is known again, and with how many of those edits. */
  attempts: { key: string; edits: number }[];
  /** When it was kept, in milliseconds since 1970. */
  keptAt: number;
}

interface Schema extends DBSchema {
  shelf: { key: [string, string]; value: Draft };
}

/** The session of drafts that were kept before each tab had its own. */
const BEFORE = 'before';

/**
 * Drafts in the browser's own database, so that neither a closed browser nor a stopped server loses an edit. Each belongs to
 * the session of a tab: tabs on one level do not overwrite each other's.
 */
export class DraftDatabase {
  private database: Promise<IDBPDatabase<Schema> | null>;
  private waiting: Draft | null = null;
  private writing: Promise<boolean> | null = null;

  constructor() {
    const opening = openShelf();
    this.database = Promise.race([opening, new Promise<null>((resolve) => setTimeout(() => resolve(null), OPEN_TIMEOUT_MS))]);
    // One that opens late is used from then on.
    void opening.then((database) => (this.database = Promise.resolve(database)));
  }

  /** Whether the browser lets drafts be kept, and has answered in time. */
  async isOpen(): Promise<boolean> {
    return (await this.database) !== null;
  }

  /** The draft of a level that a session has, or null. One that does not read any more is left where it is and not used. */
  async find(levelId: string, session: string): Promise<Draft | null> {
    const found = await (await this.database)?.get('shelf', [levelId, session]).catch(() => undefined);
    return found === undefined ? null : readable(found);
  }

  /** What others have kept of a level and not sent, the newest first; `gone` says which sessions are over. */
  async leftBehind(levelId: string, gone: (sessions: readonly string[]) => Promise<Set<string>>): Promise<Draft[]> {
    const database = await this.database;
    const keys = (await database?.getAllKeys('shelf').catch(() => [])) ?? [];
    const over = await gone([...new Set(keys.map(([, session]) => session))]);
    const keysLeft = keys.filter(([, session]) => over.has(session));
    const read = await Promise.all(keysLeft.map((key) => database?.get('shelf', key).catch(() => undefined)));
    const left = read.filter((draft) => draft !== undefined);
    // What the server has is done with.
    for (const draft of left) if (!draft.unsent) await this.forget(draft.levelId, draft.session);
    return left
      .filter((draft) => draft.unsent && draft.levelId === levelId)
      .sort((a, b) => b.keptAt - a.keptAt)
      .flatMap((draft) => readable(draft) ?? []);
  }

  /** Keeps a draft; of several in a row only the last is written. False if this browser cannot keep anything. */
  keep(draft: Draft): Promise<boolean> {
    this.waiting = draft;
    this.writing ??= this.writeAll();
    return this.writing;
  }

  async forget(levelId: string, session: string): Promise<void> {
    await this.writing;
    await (await this.database)?.delete('shelf', [levelId, session]).catch(() => undefined);
  }

  private async writeAll(): Promise<boolean> {
    const database = await this.database;
    let kept = database !== null;
    while (this.waiting !== null) {
      const draft = this.waiting;
      this.waiting = null;
      try {
        await database?.put('shelf', draft);
      } catch {
        kept = false;
      }
    }
    this.writing = null;
    return kept;
  }
}

/** The time the browser has to open its database, in milliseconds. Until then it counts as unavailable. */
const OPEN_TIMEOUT_MS = 4000;

/** Opens the browser's own database; null if it has none or lets nobody use it. */
async function openShelf(): Promise<IDBPDatabase<Schema> | null> {
  const opening = openDB<Schema>('nettlewick', 2, {
    upgrade: async (database, from, _to, transaction) => {
      const shelf = database.createObjectStore('shelf', { keyPath: ['levelId', 'session'] });
      if (from !== 1) return;
      const old = transaction.objectStore('drafts' as never) as unknown as { getAll(): Promise<Draft[]> };
      for (const draft of await old.getAll()) await shelf.put({ ...draft, session: BEFORE, keptAt: 0 });
      database.deleteObjectStore('drafts' as never);
    },
  });
  try {
    return await opening;
  } catch {
    return null;
  }
}

/** A draft as the program of today reads it; null if it cannot be read. */
function readable(found: Draft): Draft | null {
  const parsed = parseLevel(found.level);
  if (!parsed.ok) return null;
  // Edits of a document of an older version would not fit the one it was brought forward to.
  const fits = found.level.version === parsed.level.version;
  const undo = editSchema.array().safeParse(fits ? found.undo : []);
  const redo = editSchema.array().safeParse(fits ? found.redo : []);
  const pending = editSchema.array().safeParse(fits ? found.pending : null);
  // Drafts of before knew only fingerprints.
  const attempts = found.attempts.map((one: unknown) =>
    typeof one === 'string' ? { key: one, edits: 0 } : (one as Draft['attempts'][number]),
  );
  return {
    ...found,
    level: parsed.level,
    undo: undo.success ? undo.data : [],
    redo: redo.success ? redo.data : [],
    pending: pending.success ? pending.data : null,
    attempts,
  };
}
