import { DestroyRef, Injectable, computed, effect, inject, linkedSignal, untracked } from '@angular/core';
import { patchState, signalState } from '@ngrx/signals';
import { Ledger, entrySentence, leapsOf, secondsOf, valuesAt, vectorOf } from '@nettlewick/core';
import type { Entry, Point } from '@nettlewick/core';
import { arrow } from '../board/arrow';
import type { Pin } from '../board/pins';
import type { Moment } from '../board/figures';
import { Editor } from '../state/editor';
import { LastViewedMoment } from '../editing/last-look';
import { changingIn, lastUpTo, momentAt } from '../editing/moments';
import { RehearsalStore } from './rehearsal-store';

/** How many pins one moment may have. */
const PINS = 40;

/** A moment of a walk that is gone to as soon as the walk is rehearsed: right after an entry, or a tick where that is 0. */
interface Awaited {
  walk: string;
  entry: number;
  tick: number;
}

/** Where the rehearsal is being looked at: the tick, the entry, and whether it plays. */
@Injectable()
export class Playback {
  private readonly editor = inject(Editor);
  private readonly rehearser = inject(RehearsalStore);
  private readonly state = signalState({ playing: false, speed: 1, awaited: null as Awaited | null });
  readonly playing = this.state.playing;
  readonly speed = this.state.speed;
  readonly awaited = this.state.awaited;
  private readonly shownTick = linkedSignal<{ last: number; walk: string | undefined }, number>({
    source: () => ({ last: this.rehearser.result()?.ticks ?? 0, walk: this.rehearser.result()?.walk }),
    computation: (now, before) =>
      before === undefined || before.source.walk !== now.walk ? 0 : Math.min(before.value, now.last),
  });
  /** The tick that is shown. It stays where it was when the level has been edited, as far as the walk still goes there. */
  readonly tick = this.shownTick.asReadonly();
  private readonly chosenEntry = linkedSignal<unknown, number | null>({ source: this.rehearser.result, computation: () => null });
  /** The entry that was stepped to or clicked; while null, all entries up to the tick have happened. */
  readonly chosen = this.chosenEntry.asReadonly();
  private frame = 0;
  private at = 0;

  readonly last = computed(() => this.rehearser.result()?.ticks ?? 0);
  readonly seconds = computed(() => secondsOf(this.tick(), this.rehearser.result()?.rate ?? 60));
  readonly ledger = computed(() => this.rehearser.result()?.ledger ?? new Ledger(60));
  /** A ledger that is being written grows: its entries are others when it is longer, not whenever it is looked at. */
  private readonly size = computed(() => this.rehearser.result()?.ledger.length ?? 0);
  readonly entries = computed<Entry[]>(() => {
    this.size();
    return [...this.ledger()];
  });
  /** The number of the last entry that has happened by now. */
  readonly now = computed(() => this.chosen() ?? lastUpTo(this.entries(), this.tick()));

  /** All that is ever elsewhere, or looks otherwise, than at the start; the same set for all of a rehearsal. */
  private readonly changing = computed<ReadonlySet<string>>(
    () => {
      const result = this.rehearser.result();
      if (result === null) return new Set();
      return changingIn(this.editor.level(), result, this.entries(), (id) => this.editor.find(id)?.thing);
    },
    { equal: isSameSet },
  );

  /** Where everything is and how it looks at this moment. */
  readonly moment = computed<Moment | null>(() => {
    const result = this.rehearser.result();
    if (result === null) return null;
    return momentAt(result, this.entries(), this.changing(), this.tick(), this.now());
  });

  /** The flags that have changed, as they are now. */
  readonly flags = computed(() => {
    const values = new Map(this.editor.level().flags.map((flag) => [flag.id, flag.on]));
    for (const entry of this.entries()) {
      if (entry.number > this.now()) break;
      if (entry.kind === 'changed' && entry.details.field === 'on' && entry.what !== null)
        values.set(entry.what, entry.details.to === true);
    }
    return [...values].map(([id, on]) => ({ id, name: this.editor.nameOf(id), on }));
  });

  /** Who was put elsewhere at once, and what was thrown. */
  private readonly leaps = computed(() => {
    const result = this.rehearser.result();
    this.size();
    return result === null ? [] : leapsOf(this.editor.level(), result);
  });

  /** Where those who walk have gone, as far as it was in a room; where somebody was put elsewhere, or something was thrown, an arrow. */
  waysIn(room: string): Point[][] {
    const result = this.rehearser.result();
    if (result === null) return [];
    const told = (this.rehearser.walk()?.routes ?? []).map(({ visitor }) => visitor);
    // Who is walked by hand has no route.
    const walking = this.rehearser.live() === null ? told : [...result.tracks.visitors.keys()];
    const leaps = this.leaps().filter((leap) => leap.room === room && (leap.kind === 'thrown' || walking.includes(leap.visitor)));
    const walked = walking.flatMap((visitor) => {
      const track = result.tracks.visitors.get(visitor);
      const stays = result.tracks.rooms.get(visitor) ?? [];
      if (track === undefined) return [];
      return stays.flatMap((stay, i) => {
        if (stay.room !== room) return [];
        const until = stays[i + 1]?.tick ?? result.ticks + 1;
        // Nobody has walked from where it was put elsewhere to there: its way begins anew.
        const put = leaps.filter((leap) => leap.visitor === visitor && leap.tick > stay.tick && leap.tick < until);
        const begins = [stay.tick, ...put.map(({ tick }) => tick)];
        return begins.map((from, part) => {
          const to = begins[part + 1] ?? until;
          const corners = track.ticks.flatMap((tick, at) => (tick > from && tick < to ? [at * track.width] : []));
          return [vectorOf(valuesAt(track, from)), ...corners.map((at) => ({ x: track.values[at]!, y: track.values[at + 1]! }))];
        });
      });
    });
    return [...walked, ...leaps.map(({ from, to }) => arrow(from, to))];
  }

  /** What happens in the tick that is shown, as pins in its order, as far as it was in a room. Too many would be a thicket. */
  pins(room: string, doubtful: ReadonlyMap<number, unknown> = new Map()): Pin[] {
    const now = this.tick();
    const moment = this.moment();
    const last = lastUpTo(this.entries(), now);
    const chosen = this.chosen();
    const entries = this.entries();
    const found: Pin[] = [];
    let first = last;
    while (first > 0 && entries[first - 1]!.tick === now) first--;
    for (let number = first + 1; number <= last && found.length < PINS; number++) {
      if (chosen !== null && number > chosen) break;
      const entry = entries[number - 1]!;
      const at = this.placeOf(entry, moment, room);
      if (at === null) continue;
      const label = `${number - first}: ${entrySentence(entry, (id) => this.editor.nameOf(id), this.editor.level())}`;
      const hangs = doubtful.has(number);
      const text = hangs ? `${number - first} ⇅` : String(number - first);
      found.push({ id: `entry ${number}`, at, text, label: hangs ? `${label}, which depends on a house rule` : label });
    }
    return found;
  }

  /** The entries that led to the chosen one, the nearest first, each where it was seen when it was written; it itself comes first. */
  readonly trail = computed(() => {
    const entries = this.entries();
    const found: { entry: Entry; at: Point; room: string }[] = [];
    for (let number = this.chosen(); number !== null; number = entries[number - 1]?.cause ?? null) {
      const entry = entries[number - 1];
      const spot = entry === undefined ? null : this.spotOf(entry);
      if (spot !== null) found.push({ entry: entry!, ...spot });
    }
    return found;
  });

  /** The way from what a visitor did to the chosen entry, as far as it leads through a room. */
  trailOn(room: string): Point[] {
    const points = this.trail().flatMap((one) => (one.room === room ? [one.at] : []));
    return points.length < 2 ? [] : points;
  }

  /** What led to the chosen entry before this moment, as pins with the numbers of the entries. */
  trailPins(room: string): Pin[] {
    return this.trail()
      .filter((one) => one.room === room && one.entry.tick < this.tick())
      .map(({ entry, at }) => ({
        id: `trail ${entry.number}`,
        at,
        text: `№ ${entry.number}`,
        label: `because ${entrySentence(entry, (id) => this.editor.nameOf(id), this.editor.level())}`,
      }));
  }

  /** Where an entry was seen at its own tick: at the thing it is about, else at its visitor. */
  private spotOf({ what, who, kind, tick }: Entry): { at: Point; room: string } | null {
    const tracks = this.rehearser.result()?.tracks;
    if (kind === 'start' || kind === 'end' || tracks === undefined) return null;
    for (const id of [what, who]) {
      const thing = this.editor.find(id ?? '')?.thing as { id: string; at?: Point; room?: string } | undefined;
      if (thing?.at === undefined) continue;
      const track = tracks.visitors.get(thing.id);
      const room = tracks.rooms.get(thing.id)?.findLast((stay) => stay.tick <= tick)?.room ?? thing.room ?? null;
      return room === null ? null : { at: track === undefined ? thing.at : vectorOf(valuesAt(track, tick)), room };
    }
    return null;
  }

  /** Where an entry is seen: at the thing it is about, else at its visitor. */
  private placeOf({ what, who, kind }: Entry, moment: Moment | null, room: string): Point | null {
    if (kind === 'start' || kind === 'end') return null;
    const thing = this.editor.find(what ?? '')?.thing as { id: string; at?: Point; room?: string } | undefined;
    const standing = thing?.at !== undefined ? thing : (this.editor.find(who ?? '')?.thing as typeof thing);
    if (standing?.at === undefined) return null;
    const inRoom = moment?.rooms.get(standing.id) ?? standing.room;
    return inRoom === room ? (moment?.visitors.get(standing.id) ?? standing.at) : null;
  }

  constructor() {
    const look = inject(LastViewedMoment);
    effect(() => {
      const [awaited, result, walk] = [this.awaited(), this.rehearser.result(), this.rehearser.walk()];
      if (awaited === null || result === null) return;
      // Whoever has chosen another walk meanwhile wants its own moment.
      if (walk?.id === awaited.walk && result.walk !== awaited.walk) return;
      patchState(this.state, { awaited: null });
      if (result.walk !== awaited.walk) return;
      untracked(() => (awaited.entry > 0 ? this.show(awaited.entry) : this.seek(awaited.tick)));
    });
    inject(DestroyRef).onDestroy(() => {
      this.pause();
      look.keep(this.rehearser.result(), this.tick());
    });
  }

  toggle(): void {
    if (this.playing()) this.pause();
    else this.play();
  }

  play(): void {
    if (this.last() === 0) return;
    if (this.tick() >= this.last()) this.shownTick.set(0);
    this.chosenEntry.set(null);
    patchState(this.state, { playing: true });
    this.at = this.tick();
    let before = performance.now();
    const step = (now: number): void => {
      this.at += ((now - before) / 1000) * (this.rehearser.result()?.rate ?? 60) * this.speed();
      before = now;
      this.shownTick.set(Math.min(this.last(), Math.floor(this.at)));
      if (this.tick() >= this.last()) this.pause();
      else this.frame = requestAnimationFrame(step);
    };
    this.frame = requestAnimationFrame(step);
  }

  pause(): void {
    cancelAnimationFrame(this.frame);
    patchState(this.state, { playing: false });
  }

  /** Shows a tick, with everything in it done. */
  seek(tick: number): void {
    this.pause();
    this.chosenEntry.set(null);
    this.shownTick.set(Math.max(0, Math.min(this.last(), Math.round(tick))));
  }

  /** Shows the tick to which a walk by hand has come. */
  follow(tick: number): void {
    this.shownTick.set(tick);
  }

  /** How fast it plays: 1 is as fast as it is. */
  playAt(speed: number): void {
    patchState(this.state, { speed });
  }

  /** Shows a moment of a walk, as soon as that is rehearsed. */
  showIn(walk: string, { entry = 0, tick = 0 }: { entry?: number; tick?: number }): void {
    this.rehearser.choose(walk);
    patchState(this.state, { awaited: { walk, entry, tick } });
  }

  /** Shows the moment right after an entry. */
  show(number: number): void {
    const entry = this.entries()[number - 1];
    if (entry === undefined) return;
    this.pause();
    this.shownTick.set(entry.tick);
    this.chosenEntry.set(number);
  }
}

function isSameSet(a: ReadonlySet<string>, b: ReadonlySet<string>): boolean {
  return a.size === b.size && [...a].every((one) => b.has(one));
}
