import { Injectable, computed, inject, signal } from '@angular/core';
import {
  add,
  change,
  duplicate,
  editPhrase,
  anyone,
  expressions,
  freeName,
  levelShape,
  lookup,
  nameOf,
  nameTakenBy,
  parseThing,
  references,
  remove,
  same,
  keysOf,
  valueAt,
  withValue,
} from '@nettlewick/core';
import type { Cause, CauseEvent, Collection, Edit, Found, Level, Thing } from '@nettlewick/core';
import { Store } from '@ngrx/store';
import { customAlphabet } from 'nanoid';
import { LevelActions } from '../state/level.actions';
import { studioFeature } from '../state/studio.feature';

const untouched: ReadonlyMap<string, Thing> = new Map();
type Fields = Record<string, unknown>;

/** Stands for the level itself where the id of a thing is asked for. */
export const THE_LEVEL = '';

const shortId = customAlphabet('0123456789abcdefghijklmnopqrstuvwxyz', 10);

/** The open level for those who show and change it. Every change is an edit. */
@Injectable()
export class Editor {
  private readonly store = inject(Store);
  private readonly current = this.store.selectSignal(studioFeature.selectLevel);
  readonly selection = this.store.selectSignal(studioFeature.selectSelection);
  readonly canUndo = this.store.selectSignal(studioFeature.selectCanUndo);
  readonly canRedo = this.store.selectSignal(studioFeature.selectCanRedo);

  private readonly undone = this.store.selectSignal(studioFeature.selectUndo);
  private readonly redone = this.store.selectSignal(studioFeature.selectRedo);
  /** What undo would take back and redo would do again, in few words; empty for nothing. */
  readonly wouldUndo = computed(() => this.said(this.undone().at(-1)));
  readonly wouldRedo = computed(() => this.said(this.redone().at(-1)));

  /** What is to be said of the last thing that was done, or could not be. */
  readonly notice = signal<string | null>(null);

  /** The open level. Only asked for where one is open. */
  readonly level = computed<Level>(() => {
    const level = this.current();
    if (level === null) throw new Error('No level is open');
    return level;
  });

  /** Things as the gesture under way would leave them. The document does not know of them until it is let go. */
  readonly tried = signal<ReadonlyMap<string, Thing>>(untouched);

  /** The selected things, in the order in which they were selected, as a gesture under way would leave them. */
  readonly selected = computed<Found[]>(() => {
    const things = lookup(this.level());
    const tried = this.tried();
    return this.selection().flatMap((id) => {
      const found = things.get(id);
      const instead = tried.get(id);
      return found === undefined ? [] : instead === undefined ? found : { ...found, thing: instead };
    });
  });

  private said(edit: Edit | undefined): string {
    return edit === undefined ? '' : editPhrase(this.level(), edit);
  }

  newId(prefix: string): string {
    return `${prefix}-${shortId()}`;
  }

  nameOf(id: string): string {
    return nameOf(this.level(), id);
  }

  find(id: string): Found | undefined {
    return lookup(this.level()).get(id);
  }

  /** Makes an edit; edits of one gesture become one step of undo. */
  edit(edit: Edit, gesture?: string): void {
    if (edit.kind !== 'remove' && edit.kind !== 'all') this.notice.set(null);
    this.store.dispatch(LevelActions.edit({ edit, gesture }));
  }

  /** Shows what some things would be. */
  tryOut(things: readonly Thing[]): void {
    this.tried.set(new Map(things.map((thing) => [thing.id, thing])));
  }

  /** Makes one edit of what was tried, if it changes anything. */
  keepTried(label: string): void {
    const tried = this.tried();
    if (tried.size === 0) return;
    this.tried.set(untouched);
    const edits = [...tried].flatMap(([id, thing]) => {
      const found = this.find(id);
      if (found === undefined) return [];
      const after = Object.entries(thing).filter(([field, value]) => !same((found.thing as Fields)[field], value));
      return after.length === 0 ? [] : change(found.collection, found.thing, Object.fromEntries(after) as Partial<Thing>);
    });
    if (edits.length > 0) this.edit(edits.length === 1 ? edits[0]! : { kind: 'all', label, edits });
  }

  /** Lets everything be as it is in the document. */
  forgetTried(): void {
    this.tried.set(untouched);
  }

  undo(): void {
    this.notice.set(null);
    this.store.dispatch(LevelActions.undo());
  }

  redo(): void {
    this.store.dispatch(LevelActions.redo());
  }

  select(...ids: string[]): void {
    this.store.dispatch(LevelActions.select({ ids }));
  }

  /**
   * Gives one value of a thing, by its path with dots. What the document does not allow is not done; then the answer says
   * why, in a sentence for the user.
   */
  set(id: string, path: string, value: unknown, gesture?: string): string | null {
    const [field = ''] = keysOf(path);
    if (id === THE_LEVEL) return this.setLevel(field as 'name' | 'rate', value);
    const found = this.find(id);
    if (found === undefined) return 'This thing is not in the level any more.';
    if (path === '/name') {
      const taken = nameTakenBy(this.level(), String(value), id);
      if (taken !== null) return `“${taken.trim()}” is taken already. Names are unique in a level, whatever their capitals.`;
    }
    if (Object.is(valueAt(found.thing, path), value)) return null;
    const parsed = parseThing(found.collection, withValue(found.thing, path, value));
    if (!parsed.ok) return parsed.faults[0]?.message ?? 'This value is not allowed here.';
    this.edit(
      change(found.collection, found.thing, {
        [field]: (parsed.thing as unknown as Record<string, unknown>)[field],
      } as Partial<Thing>),
      gesture,
    );
    return null;
  }

  /** Gives a value of the level as a whole; answers as `set` does. */
  setLevel(field: 'name' | 'rate', value: unknown): string | null {
    const level = this.level();
    const read = levelShape.shape[field].safeParse(value);
    if (!read.success) return read.error.issues[0]?.message ?? 'This value is not allowed here.';
    if (read.data !== level[field])
      this.edit({ kind: 'level', before: { [field]: level[field] }, after: { [field]: read.data } });
    return null;
  }

  add(collection: Collection, thing: Thing): void {
    this.edit(add(this.level(), collection, thing));
  }

  /** A new cause: anyone, as often as it comes. */
  newCause(on: CauseEvent, of: string): Cause {
    return {
      id: this.newId('cause'),
      on,
      of,
      hears: '',
      filter: anyone,
      counts: 'each',
      limit: null,
      cooldown: 0,
      cooldownFor: 'all',
    };
  }

  addFlag(id: string): void {
    const name = freeName(this.level(), 'Flag');
    this.add('flags', { id, name, on: false, per: 'level' });
  }

  /** Deletes things in one step of undo. What still refers to them is said; the last room is not deleted, and it is said why. */
  remove(ids: readonly string[]): void {
    const before = this.level();
    const rooms = before.rooms.filter((room) => !ids.includes(room.id));
    if (rooms.length === 0) {
      const name = before.rooms.at(-1)?.name ?? '';
      this.notice.set(`${name} is the last room of this level, and a level needs one. Make another room first.`);
      return;
    }
    let level = before;
    const edits: Edit[] = [];
    for (const id of ids) {
      const found = lookup(level).get(id);
      if (found === undefined) continue;
      const edit = remove(level, found.collection, id);
      edits.push(edit);
      level = { ...level, [found.collection]: (level[found.collection] as Thing[]).filter((thing) => thing.id !== id) };
    }
    if (edits.length === 0) return;
    this.notice.set(this.stillReferring(before, level, ids));
    this.edit(edits.length === 1 ? edits[0]! : { kind: 'all', label: 'delete', edits });
  }

  /** What of a level refers to things that were deleted from it, in a sentence; null if nothing does. */
  private stillReferring(before: Level, after: Level, ids: readonly string[]): string | null {
    const gone = new Set(ids);
    const asking = expressions(after).filter(({ text }) =>
      ids.some((id) => text.includes(`"${id}"`) || text.includes(`'${id}'`)),
    );
    const from = [...references(after).filter(({ to }) => gone.has(to)), ...asking].map((one) => one.from);
    const names = [...new Set(from)].map((id) => `“${nameOf(after, id).trim()}”`);
    if (names.length === 0) return null;
    const what = ids.length === 1 ? `“${nameOf(before, ids[0]!).trim()}”` : `${ids.length} things`;
    const listed = names.length > 4 ? `${names.slice(0, 4).join(', ')} and ${names.length - 4} more` : names.join(', ');
    return `${what} deleted. ${listed} still ${names.length === 1 ? 'refers' : 'refer'} to ${ids.length === 1 ? 'it' : 'them'}: undo, or mend what Check lists.`;
  }

  /** Copies things beside themselves in one step of undo, and selects the copies. */
  duplicate(ids: readonly string[]): void {
    let level = this.level();
    const edits: Edit[] = [];
    const copies: string[] = [];
    for (const id of ids) {
      const found = lookup(level).get(id);
      if (found === undefined) continue;
      const copy = duplicate(level, found.thing, () => this.newId(found.word), { x: 1, y: -1 });
      const edit = add(level, found.collection, copy);
      edits.push(edit);
      copies.push(copy.id);
      level = { ...level, [found.collection]: [...level[found.collection], copy] };
    }
    if (edits.length === 0) return;
    this.edit(edits.length === 1 ? edits[0]! : { kind: 'all', label: 'duplicate', edits });
    this.select(...copies);
  }
}
