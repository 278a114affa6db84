import { pointer } from '../vocabulary/paths';
import { nameKey } from '../vocabulary/quantities';
import { same } from '../vocabulary/same';
import { fieldsOf, withFields } from './edit';
import type { Edit, Fields } from './edit';
import { apply, applied, change } from './edits';
import { faultsOf } from './faults';
import type { Fault } from './faults';
import { uniqueKeysOf, collectionWord, collections, isAttachedToItself, levelFields, levelShape, mostOf } from './level';
import type { Collection, Level, LevelField, Thing } from './level';
import { fieldNames, parseThing } from './parse';

/** Edits as they were made, with what the document adds to them; or what is wrong, with paths into the list of edits. */
export type Edited = { ok: true; edits: Edit[] } | { ok: false; faults: Fault[] };

/** A thing, and the list in which it stands. */
interface Standing {
  collection: Collection;
  thing: Thing;
}

/** A thing that is edited: as it will be (null: deleted), and the edit that did it last. */
interface Touched {
  standing: Standing | null;
  at: number;
}

/**
 * A level that takes edits and stays valid. Only what edits touch is read anew, and what could go against it: who has an id or a name,
 * and what is attached to what. The verdict is that of `parseLevel` on the whole.
 */
export class EditableLevel {
  private readonly things = new Map<string, Standing>();
  /** Which thing has taken each id, for itself or for a part of it, and each name. */
  private readonly ids = new Map<string, string>();
  private readonly names = new Map<string, string>();

  /** `level` is valid. */
  constructor(private now: Level) {
    for (const collection of collections)
      for (const thing of now[collection]) {
        this.things.set(thing.id, { collection, thing });
        this.claim(thing);
      }
  }

  get level(): Level {
    return this.now;
  }

  /** Makes all of the edits, in order, or none. */
  edit(wanted: readonly Edit[]): Edited {
    const touched = new Map<string, Touched>();
    const faults: Fault[] = [];
    const edits = [...wanted];
    let level = this.now;
    for (const [at, edit] of wanted.entries()) {
      const error = this.touch(edit, at, touched);
      const made = error === null ? apply(level, edit) : { ok: false as const, reason: error };
      if (!made.ok) return { ok: false, faults: [{ path: pointer(['edits', at]), message: made.reason }] };
      level = made.level;
    }
    for (const [at, edit] of wanted.entries())
      for (const one of leavesOf(edit)) if (one.kind === 'level') faults.push(...faultsOfLevel(one, at));
    for (const [id, { standing, at }] of touched) {
      if (standing === null) continue;
      const read = parseThing(standing.collection, standing.thing);
      if (!read.ok) {
        for (const { path, message } of read.faults)
          faults.push({ path: pointer(['edits', at]), message: `"${id}"${path === '' ? '' : ` ${path}`}: ${message}` });
        continue;
      }
      // Default values that the document adds are an edit of their own, so that repeating the edits gives the same level.
      if (same(read.thing, standing.thing)) continue;
      const filled = Object.entries(read.thing).filter(
        ([field, value]) => !same((standing.thing as unknown as Fields)[field], value),
      );
      const edit = change(standing.collection, standing.thing, Object.fromEntries(filled) as Partial<Thing>);
      edits.push(edit);
      level = applied(level, edit);
      touched.set(id, { standing: { ...standing, thing: read.thing }, at });
    }
    if (faults.length === 0) faults.push(...this.faultsOfTheWhole(touched, level));
    if (faults.length > 0) return { ok: false, faults };
    this.take(touched, level);
    return { ok: true, edits };
  }

  /** Notes what an edit touches; gives why it cannot be made, or null. */
  private touch(edit: Edit, at: number, touched: Map<string, Touched>): string | null {
    for (const one of leavesOf(edit)) {
      if (one.kind === 'level' || one.kind === 'all') continue;
      const { collection } = one;
      const id = 'thing' in one ? one.thing.id : one.id;
      const before = touched.has(id) ? touched.get(id)!.standing : (this.things.get(id) ?? null);
      if (one.kind === 'add') {
        if (before !== null) return `"${id}" is in the level already`;
        touched.set(id, { standing: { collection, thing: one.thing }, at });
        continue;
      }
      if (before === null || before.collection !== collection) return `"${id}" is not among the ${collection} of this level`;
      if (one.kind === 'remove') touched.set(id, { standing: null, at });
      else if (one.kind === 'change') {
        if ('id' in one.after && one.after['id'] !== id) return `"${id}" cannot be given another id`;
        touched.set(id, { standing: { collection, thing: withFields(before.thing, one) }, at });
      }
    }
    return null;
  }

  /** What touched things, each of which is valid, cannot see alone. */
  private faultsOfTheWhole(touched: ReadonlyMap<string, Touched>, level: Level): Fault[] {
    const faults: Fault[] = [];
    const ids = new Map<string, string>();
    const names = new Map<string, string>();
    /** Who has claimed something, of the things that are not touched. */
    const holder = (claims: ReadonlyMap<string, string>, key: string): string | undefined => {
      const found = claims.get(key);
      return found === undefined || touched.has(found) ? undefined : found;
    };
    for (const [id, { standing, at }] of touched) {
      if (standing === null) continue;
      const path = pointer(['edits', at]);
      for (const claim of uniqueKeysOf(standing.thing)) {
        if ((ids.get(claim.id) ?? holder(this.ids, claim.id)) !== undefined)
          faults.push({ path, message: `Duplicate id "${claim.id}". Use a unique id` });
        ids.set(claim.id, id);
        if (claim.name === undefined) continue;
        const key = nameKey(claim.name);
        if ((names.get(key) ?? holder(this.names, key)) !== undefined)
          faults.push({
            path,
            message: `The name "${claim.name.trim()}" is used already (names are compared without case and outer spaces). Choose another`,
          });
        names.set(key, id);
      }
      if (isAttachedToItself(id, (one) => this.carrierOf(one, touched)))
        faults.push({ path, message: 'Attachment cycle: this fixture is attached to itself. Detach one of the fixtures' });
    }
    for (const collection of collections)
      if (level[collection].length > mostOf[collection])
        faults.push({ path: '/edits', message: `A level has at most ${mostOf[collection]} ${collectionWord[collection]}s` });
    return faults;
  }

  /** What a fixture will be attached to. */
  private carrierOf(id: string, touched: ReadonlyMap<string, Touched>): string | undefined {
    const standing = touched.has(id) ? touched.get(id)!.standing : this.things.get(id);
    return standing?.collection === 'fixtures' ? (standing.thing as Level['fixtures'][number]).attachedTo : undefined;
  }

  private take(touched: ReadonlyMap<string, Touched>, level: Level): void {
    for (const id of touched.keys()) {
      const before = this.things.get(id);
      if (before === undefined) continue;
      this.things.delete(id);
      for (const claim of uniqueKeysOf(before.thing)) {
        this.ids.delete(claim.id);
        if (claim.name !== undefined) this.names.delete(nameKey(claim.name));
      }
    }
    for (const [id, { standing }] of touched) {
      if (standing === null) continue;
      this.things.set(id, standing);
      this.claim(standing.thing);
    }
    this.now = level;
  }

  private claim(thing: Thing): void {
    for (const { id, name } of uniqueKeysOf(thing)) {
      this.ids.set(id, thing.id);
      if (name !== undefined) this.names.set(nameKey(name), thing.id);
    }
  }
}

/** The edits of single things and of the level that an edit is made of. */
export function leavesOf(edit: Edit): Edit[] {
  return edit.kind === 'all' ? edit.edits.flatMap(leavesOf) : [edit];
}

/** Faults in the fields of the level that an edit sets or removes. */
function faultsOfLevel(edit: { before: Fields; after: Fields }, at: number): Fault[] {
  return fieldsOf(edit).flatMap((field) => {
    const value = edit.after[field];
    const path = ['edits', at, 'after', field];
    if (!(levelFields as readonly string[]).includes(field))
      return [{ path: pointer(path), message: `"${field}" is no field of the level that an edit can change` }];
    const read = levelShape.shape[field as LevelField].safeParse(value);
    if (read.success) return same(read.data, value) ? [] : [{ path: pointer(path), message: `Send every field of "${field}"` }];
    return faultsOf(read.error, value, fieldNames()).map((fault) => ({ ...fault, path: pointer(path) + fault.path }));
  });
}
