import { Injectable } from '@angular/core';
import { editSchema, parseLevel } from '@nettlewick/core';
import type { Edit, Level } from '@nettlewick/core';
import { openDB } from 'idb';
import type { DBSchema, IDBPDatabase } from 'idb';

/** What this browser keeps of a level: the document with its edits, and whether the server has them. */
export interface Draft {
  levelId: string;
  /** The revision that the document was changed from. */
  revision: number;
  level: Level;
  undo: Edit[];
  redo: Edit[];
  unsent: boolean;
  /** Fingerprints of what was sent without an answer. */
  attempts: string[];
}

interface Shelf extends DBSchema {
  drafts: { key: string; value: Draft };
}

/** Drafts in the browser's own database, so that neither a closed browser nor a stopped server loses an edit. */
@Injectable({ providedIn: 'root' })
export class Drafts {
  private readonly database: Promise<IDBPDatabase<Shelf> | null> = openDB<Shelf>('nettlewick', 1, {
    upgrade: (database) => void database.createObjectStore('drafts', { keyPath: 'levelId' }),
  }).catch(() => null);
  private waiting: Draft | null = null;
  private writing: Promise<boolean> | null = null;

  /** The draft of a level, or null. One that does not read any more is left where it is and not used. */
  async find(levelId: string): Promise<Draft | null> {
    const database = await this.database;
    const found = await database?.get('drafts', levelId).catch(() => undefined);
    if (found === undefined) return null;
    const parsed = parseLevel(found.level);
    if (!parsed.ok) return null;
    // Edits of a document of an older version would not fit the one it was brought forward to.
    const fits = found.level.version === parsed.level.version;
    const undo = editSchema.array().safeParse(fits ? found.undo : []);
    const redo = editSchema.array().safeParse(fits ? found.redo : []);
    return { ...found, level: parsed.level, undo: undo.success ? undo.data : [], redo: redo.success ? redo.data : [] };
  }

  /** Keeps a draft; of several in a row only the last is written. False if this browser cannot keep anything. */
  keep(draft: Draft): Promise<boolean> {
    this.waiting = draft;
    this.writing ??= this.writeAll();
    return this.writing;
  }

  async forget(levelId: string): Promise<void> {
    await this.writing;
    await (await this.database)?.delete('drafts', levelId).catch(() => undefined);
  }

  private async writeAll(): Promise<boolean> {
    const database = await this.database;
    let kept = database !== null;
    while (this.waiting !== null) {
      const draft = this.waiting;
      this.waiting = null;
      try {
        await database?.put('drafts', draft);
      } catch {
        kept = false;
      }
    }
    this.writing = null;
    return kept;
  }
}
