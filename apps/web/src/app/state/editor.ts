import { Injectable, computed, inject } from '@angular/core';
import { patchState, signalState } from '@ngrx/signals';
import {
  add,
  change,
  collections,
  fragmentOf,
  pasted,
  editPhrase,
  anyone,
  areAlike,
  expressions,
  freeName,
  groupOf,
  levelShape,
  lookup,
  nameOf,
  nameTakenBy,
  parseThing,
  pointer,
  references,
  remove,
  same,
  shownNumber,
  direction,
  keysOf,
  valueAt,
  wordOf,
  withValue,
} from '@nettlewick/core';
import type {
  Copies,
  Cause,
  CauseEvent,
  Chain,
  Collection,
  Edit,
  Found,
  Level,
  Place,
  Walk,
  Route,
  Slot,
  Thing,
  Vector,
} from '@nettlewick/core';
import { customAlphabet } from 'nanoid';
import { LevelStore } from './level-store';

const untouched: ReadonlyMap<string, Thing> = new Map();
type Fields = Record<string, unknown>;

/** Stands for the level itself where the id of a thing is asked for. */
export const THE_LEVEL = '';
/** Stands for all things in hand, where the id of one is asked for. */
export const THE_SELECTION = '*';

const shortId = customAlphabet('0123456789abcdefghijklmnopqrstuvwxyz', 10);

function tidied(metres: number): number {
  return Math.round(metres * 100) / 100 + 0;
}

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
    return `${prefix}-${shortId()}`;
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

  /** The name of another thing of the level that a name is easily taken for; null if there is none. */
  nameLike(thing: string, name: string): string | null {
    const level = this.level();
    for (const collection of collections)
      for (const other of level[collection])
        if (other.id !== thing && areAlike(name, other.name.trim())) return other.name.trim();
    return null;
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

  /** Takes a thing in hand that was pressed, with its group: with `more` beside what is in hand, or out of it; alone what was not in hand yet. */
  take(thing: string, more: boolean): void {
    const now = this.selection();
    const together = groupOf(this.level(), thing);
    const others = now.filter((id) => !together.includes(id));
    if (more) this.select(...(now.includes(thing) ? others : [...others, ...together]));
    else if (!now.includes(thing)) this.select(...together);
  }

  /** The things of some kinds, in listing order, as a list offers them. */
  offered(accepts: readonly string[]): { value: string; label: string }[] {
    const level = this.level();
    return collections.flatMap((collection) =>
      (level[collection] as Thing[])
        .filter((thing) => accepts.includes(wordOf(collection, thing)))
        .map(({ id, name }) => ({ value: id, label: name.trim() })),
    );
  }

  /**
   * Gives one value of a thing, by its path with dots. What the document does not allow is not done; then the answer says
   * why, in a sentence for the user.
   */
  set(id: string, path: string, value: unknown, gesture?: string): string | null {
    return this.setAll(id, [{ path, value }], undefined, gesture);
  }

  /** Gives several values of a thing in one step of undo, after another edit if there is one; answers as `set` does. */
  setAll(id: string, values: readonly { path: string; value: unknown }[], before?: Edit, gesture?: string): string | null {
    if (id === THE_LEVEL) return this.setLevel(values);
    if (id === THE_SELECTION) return this.setSelected(values, before);
    const found = this.find(id);
    if (found === undefined) return 'This thing is no longer in the level.';
    const name = values.find(({ path }) => path === '/name')?.value;
    if (name !== undefined) {
      const taken = nameTakenBy(this.level(), String(name), id);
      if (taken !== null) return `“${taken.trim()}” is already in use. Names must be unique in a level (case is ignored).`;
    }
    const wanted = values.reduce((thing, { path, value }) => withValue(thing, path, value), found.thing);
    if (before === undefined && values.every(({ path, value }) => Object.is(valueAt(found.thing, path), value))) return null;
    const parsed = parseThing(found.collection, wanted);
    if (!parsed.ok) return parsed.faults[0]?.message ?? 'This value is not allowed here.';
    const fields = [...new Set(values.map(({ path }) => keysOf(path)[0] ?? ''))];
    const after = Object.fromEntries(fields.map((field) => [field, (parsed.thing as unknown as Fields)[field]]));
    const own = change(found.collection, found.thing, after as Partial<Thing>);
    this.edit(before === undefined ? own : { kind: 'all', label: 'make', edits: [before, own] }, gesture);
    if (found.collection === 'walks') this.sayIfOutside(found.thing as Walk, values);
    return null;
  }

  /** Says of a point of a walk that was given that it lies outside of its room. */
  private sayIfOutside(before: Walk, values: readonly { path: string }[]): void {
    const walk = this.level().walks.find(({ id }) => id === before.id);
    for (const { path } of values) {
      const [routes, r, , i, to] = keysOf(path);
      if (walk === undefined || routes !== 'routes' || to !== 'to') continue;
      const route = walk.routes[Number(r)];
      const one = route?.instructions[Number(i)];
      if (route === undefined || one?.do !== 'go-to' || one.to.of !== '') continue;
      const home = one.to.room === '' ? this.level().visitors.find(({ id }) => id === route.visitor)?.room : one.to.room;
      const room = this.level().rooms.find(({ id }) => id === home);
      if (room === undefined) continue;
      const { west, east, south, north } = room.extents;
      if (one.to.x >= west && one.to.x <= east && one.to.y >= south && one.to.y <= north) continue;
      this.say(
        `Point ${Number(i) + 1} is outside of ${room.name.trim()}, which reaches from ${west} to ${east} m east and from ${south} to ${north} m north. Nobody gets there.`,
      );
    }
  }

  /** Gives all things in hand the same values in one step of undo: all of them, or none. */
  private setSelected(values: readonly { path: string; value: unknown }[], before?: Edit): string | null {
    const edits: Edit[] = before === undefined ? [] : [before];
    for (const { collection, thing } of this.selected()) {
      const parsed = parseThing(
        collection,
        values.reduce((now, { path, value }) => withValue(now, path, value), thing),
      );
      if (!parsed.ok) return `${thing.name.trim()}: ${parsed.faults[0]?.message ?? 'this value is not allowed here.'}`;
      const fields = [...new Set(values.map(({ path }) => keysOf(path)[0] ?? ''))];
      const after = Object.fromEntries(fields.map((field) => [field, (parsed.thing as unknown as Fields)[field]]));
      if (fields.some((field) => !same((thing as unknown as Fields)[field], after[field])))
        edits.push(change(collection, thing, after as Partial<Thing>));
    }
    if (edits.length > 0) this.edit({ kind: 'all', label: `change ${edits.length} things`, edits });
    return null;
  }

  /** Gives values of the level as a whole; answers as `set` does. */
  private setLevel(values: readonly { path: string; value: unknown }[]): string | null {
    const level = this.level();
    const fields = [...new Set(values.map(({ path }) => keysOf(path)[0] as keyof typeof levelShape.shape))];
    const before: Fields = {};
    const after: Fields = {};
    for (const field of fields) {
      const own = values.filter(({ path }) => keysOf(path)[0] === field);
      const wanted = own.reduce<unknown>(
        (now, one) => withValue(now, pointer(keysOf(one.path).slice(1)), one.value),
        level[field],
      );
      const read = levelShape.shape[field].safeParse(wanted);
      if (!read.success) return read.error.issues[0]?.message ?? 'This value is not allowed here.';
      if (same(read.data, level[field])) continue;
      before[field] = level[field];
      after[field] = read.data;
    }
    if (Object.keys(after).length > 0) this.edit({ kind: 'level', before, after });
    return null;
  }

  freeName(wanted: string): string {
    return freeName(this.level(), wanted);
  }

  /** A chain that does nothing yet. */
  newChain(id: string, name: string, causes: Cause[]): Chain {
    return {
      id,
      name: this.freeName(name),
      enabled: true,
      causes,
      guard: '',
      whileRunning: 'ignore',
      delay: 0,
      givesUp: false,
      steps: [],
    };
  }

  /** The units of the level that values of a unit may be typed in: how many of that one of them is. */
  ownUnits(unit: string): Record<string, number> {
    const { length, time } = this.level().units;
    const ticks = { tick: 1 / this.level().rate, ticks: 1 / this.level().rate };
    if (unit === 'm') return length === null ? {} : { [length.name]: length.metres };
    if (unit === 's') return time === null ? ticks : { ...ticks, [time.name]: time.seconds };
    return {};
  }

  /** A value in the level's own unit, if it has one: "96 u". */
  inOwnUnit(slot: Slot): string {
    if (slot.input.kind !== 'number' || slot.value === null) return '';
    const { length, time } = this.level().units;
    const own = slot.input.unit === 'm' ? length : slot.input.unit === 's' ? time : null;
    if (own === null) return '';
    const one = 'metres' in own ? own.metres : own.seconds;
    return `${Number((shownNumber(slot) / one).toPrecision(6))} ${own.name}`;
  }

  /**
   * A place moved to a point of a room: counted from what it is counted from. `who` is whose place it is. It is as high as before where
   * the point has no height, and where it is counted from the ground.
   */
  placeAt(now: Place, at: { x: number; y: number; z?: number }, room: string, who: string): Place {
    const to = { x: tidied(at.x), y: tidied(at.y) };
    const up = now.height === 'datum' ? at.z : undefined;
    const from = this.find(now.of)?.thing as { at: Vector; heading?: number } | undefined;
    if (from === undefined) {
      const own = this.find(who)?.thing as { room?: string } | undefined;
      const ground = this.level().rooms.find((one) => one.id === room)?.ground ?? 0;
      return {
        ...now,
        ...to,
        z: up === undefined ? (now.z === 0 ? ground : now.z) : tidied(up),
        room: own?.room === room ? '' : room,
      };
    }
    const by = { x: at.x - from.at.x, y: at.y - from.at.y };
    const z = up === undefined ? now.z : tidied(up - from.at.z);
    if (now.axes === 'room') return { ...now, x: tidied(by.x), y: tidied(by.y), z };
    const { cos, sin } = direction(from.heading ?? 0);
    return { ...now, z, x: tidied(by.x * cos + by.y * sin), y: tidied(by.y * cos - by.x * sin) };
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
      this.say(`Could not delete ${name}: a level needs at least one room. Add another room first.`);
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
    this.say(this.stillReferring(before, level, ids));
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
