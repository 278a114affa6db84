import { Injectable, computed, inject } from '@angular/core';
import { patchState, signalState } from '@ngrx/signals';
import {
  add,
  change,
  deletionOf,
  editPhrase,
  fragmentOf,
  freeName,
  groupOf,
  keysOf,
  lookup,
  nameOf,
  pasted,
  same,
  settingOf,
  settingOfAll,
  settingOfLevel,
  waypointOutside,
} from '@nettlewick/core';
import type { Collection, Copies, Edit, Found, Level, Route, Thing, Value } from '@nettlewick/core';
import { newId } from '../workers/ids';
import { LevelStore } from './level-store';

const untouched: ReadonlyMap<string, Thing> = new Map();
type Fields = Record<string, unknown>;

/** Stands for the level itself where the id of a thing is asked for. */
export const THE_LEVEL = '';
/** Stands for the whole selection, where the id of one thing is expected. */
export const THE_SELECTION = '*';

interface OnTheTable {
  /** Things as the gesture under way would leave them. The document does not know of them until it is let go. */
  tried: ReadonlyMap<string, Thing>;
  /** What is to be said of the last thing that was done, or could not be. */
  notice: string | null;
}

/** The open level for those who show and change it. Every change is an edit. */
@Injectable()
export class Editor {
  private readonly state = signalState<OnTheTable>({ tried: untouched, notice: null });
  readonly tried = this.state.tried;
  readonly notice = this.state.notice;
  private readonly store = inject(LevelStore);
  readonly selection = this.store.selection;
  readonly canUndo = this.store.canUndo;
  readonly canRedo = this.store.canRedo;

  /** What undo would take back and redo would do again, in few words; empty for nothing. */
  readonly wouldUndo = computed(() => this.said(this.store.undo().at(-1)));
  readonly wouldRedo = computed(() => this.said(this.store.redo().at(-1)));

  /** The open level. Only asked for where one is open. */
  readonly level = computed<Level>(() => {
    const level = this.store.level();
    if (level === null) throw new Error('No level is open');
    return level;
  });

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
    return newId(prefix);
  }

  nameOf(id: string): string {
    return nameOf(this.level(), id);
  }

  find(id: string): Found | undefined {
    return lookup(this.level()).get(id);
  }

  /** Says something of what was done, or could not be; null takes back what was said. */
  say(notice: string | null): void {
    patchState(this.state, { notice });
  }

  /** Makes an edit; edits of one gesture become one step of undo. */
  edit(edit: Edit, gesture?: string): void {
    if (edit.kind !== 'remove' && edit.kind !== 'all') this.say(null);
    this.store.edit(edit, gesture);
  }

  /** Shows what some things would be. */
  tryOut(things: readonly Thing[]): void {
    patchState(this.state, { tried: new Map(things.map((thing) => [thing.id, thing])) });
  }

  /** Makes one edit of what was tried, if it changes anything. */
  keepTried(label: string): void {
    const tried = this.tried();
    if (tried.size === 0) return;
    patchState(this.state, { tried: untouched });
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
    patchState(this.state, { tried: untouched });
  }

  undo(): void {
    this.say(null);
    this.store.undoLast();
  }

  redo(): void {
    this.store.redoLast();
  }

  select(...ids: string[]): void {
    this.store.select(ids);
  }

  /** Selects a clicked thing with its group. With `more`, adds them to the selection or removes them from it. */
  take(thing: string, more: boolean): void {
    const now = this.selection();
    const together = groupOf(this.level(), thing);
    const others = now.filter((id) => !together.includes(id));
    if (more) this.select(...(now.includes(thing) ? others : [...others, ...together]));
    else if (!now.includes(thing)) this.select(...together);
  }

  /**
   * Gives one value of a thing, by its path with dots. What the document does not allow is not done; then the answer says
   * why, in a sentence for the user.
   */
  set(id: string, path: string, value: unknown, gesture?: string): string | null {
    return this.setAll(id, [{ path, value }], undefined, gesture);
  }

  /** Gives several values of a thing in one step of undo, after another edit if there is one; answers as `set` does. */
  setAll(id: string, values: readonly Value[], before?: Edit, gesture?: string): string | null {
    const level = this.level();
    const set =
      id === THE_LEVEL
        ? settingOfLevel(level, values)
        : id === THE_SELECTION
          ? settingOfAll(this.selected(), values, before)
          : settingOf(level, id, values, before);
    if (!set.ok) return set.error;
    if (set.edit !== null) this.edit(set.edit, gesture);
    if (this.find(id)?.collection === 'walks') this.sayIfOutside(id, values);
    return null;
  }

  /** Says of a point of a walk that was given that it lies outside of its room. */
  private sayIfOutside(walk: string, values: readonly Value[]): void {
    for (const { path } of values) {
      const [routes, route, , instruction, to] = keysOf(path);
      if (routes !== 'routes' || to !== 'to') continue;
      const outside = waypointOutside(this.level(), walk, Number(route), Number(instruction));
      if (outside !== null) this.say(outside);
    }
  }

  freeName(wanted: string): string {
    return freeName(this.level(), wanted);
  }

  add(collection: Collection, thing: Thing): void {
    this.edit(add(this.level(), collection, thing));
  }

  /** Adds a walk of routes that came from elsewhere, whose instructions get ids of their own, and gives it a free name; answers both. */
  addWalk(wanted: string, from: readonly Route[], atMost = 120): { id: string; name: string } {
    const [id, name] = [this.newId('walk'), this.freeName(wanted)];
    const routes = from.map((route) => ({
      ...route,
      instructions: route.instructions.map((one) => ({ ...one, id: this.newId('go') })),
    }));
    this.add('walks', { id, name, atMost, jitter: { start: 0, speed: 0 }, routes, expectations: [] });
    return { id, name };
  }

  /** Deletes things in one step of undo. What still refers to them is said; the last room is not deleted, and it is said why. */
  remove(ids: readonly string[]): void {
    const deletion = deletionOf(this.level(), ids);
    if (!deletion.ok) this.say(deletion.error);
    else if (deletion.edit !== null) {
      this.say(deletion.said);
      this.edit(deletion.edit);
    }
  }

  /** Copies things beside themselves, without their wiring, in one step of undo, and selects the copies. */
  duplicate(ids: readonly string[]): void {
    this.paste(fragmentOf(this.level(), ids, false));
  }

  /** Puts copies into the level, in one step of undo, and selects what stands on the plan of it. */
  paste(copies: Copies, room?: string): void {
    if (copies.things.length === 0) return;
    const { edit, ids } = pasted(this.level(), copies, (prefix) => this.newId(prefix), { by: { x: 1, y: -1 }, room });
    this.edit(edit);
    const standing = ids.filter((id) => 'at' in (this.find(id)?.thing ?? {}));
    this.select(...(standing.length > 0 ? standing : ids));
  }
}
