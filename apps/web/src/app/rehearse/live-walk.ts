import { DestroyRef, Injectable, computed, effect, inject, untracked } from '@angular/core';
import { patchState, signalState } from '@ngrx/signals';
import { Ledger, recordingListener, tracksUpTo } from '@nettlewick/core';
import type { Level, Steering, Tracks, kernel } from '@nettlewick/core';
import type { Facing } from '../board/section-view';
import { Editor } from '../state/editor';
import { Rooms } from '../state/rooms';
import type { WorkerClient } from '../workers/client';
import type { LiveUpdate, LiveWalkWorker } from '../workers/live';
import { workerFor } from '../workers/start';
import { Playback } from './playback';
import { RehearsalStore } from './rehearsal-store';
import { Tries } from './tries';

/** Where to a key leads, as the plan is seen: x to the right, y up. Seen from the side, up is away. */
export type Direction = 'west' | 'east' | 'south' | 'north';
const ways: Record<Direction, { x: number; y: number }> = {
  west: { x: -1, y: 0 },
  east: { x: 1, y: 0 },
  south: { x: 0, y: -1 },
  north: { x: 0, y: 1 },
};

/** The most time one frame advances the walk by, in milliseconds, so that nothing happens unseen. */
const STALL_MS = 250;
/** A live walk pauses after each of so many entries: the page cannot show more, and no designer can read it. */
const ENTRIES_PER_PAUSE = 10_000;
const noTracks = (): Tracks => ({ visitors: new Map(), doors: new Map(), rooms: new Map() });
const nothingNear: kernel.Reachable = { uses: [], props: [], carries: [] };

/** The name of a saved live walk. */
const DEFAULT_WALK_NAME = 'Walked by hand';

interface Walking {
  /** Which way the section looks, while it is what is walked in; null for the plan. */
  looks: Facing | null;
  running: boolean;
  /** Who is steered. */
  visitor: string;
  handy: kernel.Reachable;
  ranAway: boolean;
  /** Whether there is a gamepad to walk with. */
  hasPad: boolean;
}
const nobodyWalks: Walking = {
  looks: null,
  running: false,
  visitor: '',
  handy: nothingNear,
  ranAway: false,
  hasPad: false,
};

/**
 * Walks a visitor through the level as it runs: keys steer it, the kernel ticks on a thread of its own at the rate of the level, and
 * the ledger and the ways grow as it does. Each frame asks for the ticks that are due by then; none is left out.
 */
@Injectable()
export class LiveWalk {
  private readonly state = signalState(nobodyWalks);
  readonly looks = this.state.looks;
  readonly running = this.state.running;
  readonly visitor = this.state.visitor;
  readonly handy = this.state.handy;
  readonly ranAway = this.state.ranAway;
  readonly hasPad = this.state.hasPad;
  private readonly editor = inject(Editor);
  private readonly rooms = inject(Rooms);
  private readonly rehearser = inject(RehearsalStore);
  private readonly playback = inject(Playback);
  private readonly tries = inject(Tries);
  private room: WorkerClient<LiveWalkWorker> | null = null;
  private frame = 0;
  private due = 0;
  /** What was asked last, until it is answered. */
  private asked: Promise<void> | null = null;
  private level: Level | null = null;
  private readonly pressed = new Set<Direction>();
  private pad: { x: number; y: number } = { x: 0, y: 0 };
  private steering: Steering[] = [];

  readonly isOn = computed(() => this.rehearser.live() !== null);
  /** Nothing comes after a runaway; from before it there is another way. */
  readonly canGoOn = computed(() => this.isOn() && (!this.ranAway() || this.playback.tick() < this.playback.last()));
  /** Whether what is walked now, or was at last, is kept as a walk. */
  private isKept = false;

  constructor() {
    // Whoever looks elsewhere finds what was walked as a try.
    inject(DestroyRef).onDestroy(() => this.end());
    // What is walked belongs to the level as it was when it began.
    effect(() => {
      const level = this.editor.level();
      if (untracked(this.isOn) && level !== this.level) {
        untracked(() => this.end());
        this.editor.say('Live walk ended because the level changed. You can compare it while this level is open.');
      }
    });
  }

  /** Says which way the section looks, if that is what is walked in. */
  look(looks: Facing | null): void {
    patchState(this.state, { looks });
  }

  /** Takes a visitor by the hand at the start of the walk. */
  async begin(): Promise<void> {
    const walk = this.rehearser.walk();
    const level = this.editor.level();
    const visitor = level.visitors.find(({ kind }) => kind === 'player') ?? level.visitors[0];
    if (walk === null || visitor === undefined) return;
    this.end();
    this.rehearser.lookAt(null);
    this.playback.pause();
    patchState(this.state, { visitor: visitor.id, ranAway: false });
    this.level = level;
    this.isKept = false;
    const room = (this.room = workerFor('live'));
    try {
      const heard = await room.ask(level, (remote) => remote.begin(walk.id, visitor.id));
      if (this.room !== room) return;
      const { rate } = level;
      this.rehearser.walkLive({ walk: walk.id, rate, ticks: 0, ledger: new Ledger(rate), tracks: noTracks(), expectations: [] });
      this.hear(heard);
      this.goOn();
    } catch (error) {
      this.broken(error);
    }
  }

  /** Lets time go on: from the moment that is looked at, if that is an earlier one, and what came after it becomes a try. */
  async goOn(): Promise<void> {
    const { room } = this;
    if (!this.canGoOn() || room === null || this.running()) return;
    this.playback.pause();
    patchState(this.state, { running: true });
    await this.asked;
    const live = this.rehearser.live();
    if (live === null || !this.running()) return;
    const from = this.playback.tick();
    if (from < live.ticks) {
      this.tries.setAside(live);
      this.rehearser.walkLive({
        ...live,
        ticks: from,
        ledger: live.ledger.upTo(from),
        tracks: tracksUpTo(live.tracks, from),
      });
      this.isKept = false;
      patchState(this.state, { ranAway: false });
      try {
        this.hear(await room.ask(null, (remote) => remote.back(from)));
      } catch (error) {
        this.broken(error);
        return;
      }
    }
    if (!this.running()) return;
    this.due = from;
    this.head();
    let before = performance.now();
    const step = (now: number): void => {
      this.due += (Math.min(now - before, STALL_MS) / 1000) * live.rate;
      before = now;
      this.readPad();
      this.advance(Math.floor(this.due));
      this.frame = requestAnimationFrame(step);
    };
    this.frame = requestAnimationFrame(step);
  }

  /** Lets time stand still: any moment so far can be looked at, and gone on from. */
  pause(): void {
    cancelAnimationFrame(this.frame);
    patchState(this.state, { running: false });
    this.pressed.clear();
  }

  toggle(): void {
    if (this.running()) this.pause();
    else void this.goOn();
  }

  /** Ends it: the rehearsal of the walk is looked at again. What was walked stays a try. */
  end(): void {
    const live = this.rehearser.live();
    this.stop();
    if (live !== null && live.ticks > 0 && !this.isKept) this.tries.setAside(live);
    this.rehearser.walkLive(null);
  }

  /** Takes another visitor by the hand; who was held so far stands. */
  async take(visitor: string): Promise<void> {
    this.steering.push({ visitor: this.visitor(), heads: null });
    patchState(this.state, { visitor });
    if (this.running()) this.head();
    if (this.room === null) return;
    try {
      const handy = await this.room.ask(null, (remote) => remote.take(visitor));
      patchState(this.state, { handy });
    } catch (error) {
      this.broken(error);
    }
  }

  /** A key that leads somewhere is pressed, or let go. */
  press(direction: Direction, down: boolean): void {
    if (down === this.pressed.has(direction)) return;
    if (down) this.pressed.add(direction);
    else this.pressed.delete(direction);
    if (this.running()) this.head();
  }

  /** Lets go of all keys: nobody knows any more which are still pressed. */
  letGo(): void {
    if (this.pressed.size === 0) return;
    this.pressed.clear();
    if (this.running()) this.head();
  }

  use(): void {
    const [fixture] = this.handy().uses;
    if (fixture !== undefined) this.tell({ id: 'use', do: 'use', fixture });
  }

  /** Picks up what lies nearest, or puts down what is carried. */
  carry(): void {
    const { carries, props } = this.handy();
    if (carries.length > 0) this.tell({ id: 'drop', do: 'drop', prop: carries.at(-1)! });
    else if (props.length > 0) this.tell({ id: 'carry', do: 'carry', prop: props[0]! });
  }

  /** Throws what is carried the way that was headed last. */
  throw(): void {
    const prop = this.handy().carries.at(-1);
    const { x, y } = this.facing;
    if (prop !== undefined) this.tell({ id: 'throw', do: 'throw', prop, velocity: { x: x * 5, y: y * 5, z: 3 } });
  }

  /** Keeps what was walked as a walk of the level, and shows its rehearsal. Gives its name, or null if it could not be kept. */
  async keep(): Promise<string | null> {
    const live = this.rehearser.live();
    const walk = this.rehearser.walk();
    const { room } = this;
    if (live === null || walk === null || room === null) return null;
    this.pause();
    await this.asked;
    try {
      const routes = await room.ask(null, (remote) => remote.routes());
      const atMost = Math.min(3600, Math.max(walk.atMost, Math.ceil(live.ticks / live.rate) + 10));
      this.tries.setAside(live, this.editor.freeName(DEFAULT_WALK_NAME));
      this.isKept = true;
      this.end();
      const { id, name } = this.editor.addWalk(DEFAULT_WALK_NAME, routes, atMost);
      this.rehearser.choose(id);
      return name;
    } catch (error) {
      this.broken(error);
      return null;
    }
  }

  private facing: { x: number; y: number } = { x: 1, y: 0 };

  private tell(does: Extract<Steering, { does: unknown }>['does']): void {
    this.steering.push({ visitor: this.visitor(), does });
    this.hasten();
  }

  /** Heads where the keys and the pad lead. */
  private head(): void {
    let { x, y } = this.pad;
    for (const direction of this.pressed) {
      x += ways[direction].x;
      y += ways[direction].y;
    }
    [x, y] = seenFrom(this.looks() ?? 'north', x, y);
    const stands = x === 0 && y === 0;
    if (!stands) {
      const length = Math.hypot(x, y);
      this.facing = { x: x / length, y: y / length };
    }
    this.steering.push({ visitor: this.visitor(), heads: stands ? null : { x, y } });
    this.hasten();
  }

  /**
   * Reads the first gamepad, where there is one: its left stick in sixteen directions; its first button uses, its second picks up or puts
   * down, its third throws. One that is taken away lets go.
   */
  private readPad(): void {
    const pad = navigator.getGamepads?.().find((one) => one !== null);
    const isThere = pad !== undefined && pad !== null;
    if (isThere !== this.hasPad()) patchState(this.state, { hasPad: isThere });
    const [x = 0, y = 0] = pad?.axes ?? [];
    const far = Math.hypot(x, y) > 0.35;
    const angle = (Math.round((Math.atan2(-y, x) / Math.PI) * 8) / 8) * Math.PI;
    const to = far
      ? { x: Math.round(Math.cos(angle) * 1000) / 1000, y: Math.round(Math.sin(angle) * 1000) / 1000 }
      : { x: 0, y: 0 };
    if (to.x !== this.pad.x || to.y !== this.pad.y) {
      this.pad = to;
      this.head();
    }
    const does = [() => this.use(), () => this.carry(), () => this.throw()];
    does.forEach((act, at) => {
      const isDown = pad?.buttons[at]?.pressed === true;
      if (isDown && !this.padDown.has(at)) act();
      if (isDown) this.padDown.add(at);
      else this.padDown.delete(at);
    });
  }
  private readonly padDown = new Set<number>();

  /** What is steered is asked for at once, with the tick that comes next: the frame after the key shows it. The clock does not run faster. */
  private hasten(): void {
    if (this.running() && this.steering.length > 0) this.advance(Math.floor(this.due) + 1);
  }

  /** Asks for all ticks up to one; while an answer is waited for, the next is asked for with the frame after it. */
  private advance(to: number): void {
    const { room } = this;
    if (room === null || this.asked !== null) return;
    const steering = this.steering;
    this.steering = [];
    this.asked = room
      .ask(null, (remote) => remote.advance(to, steering))
      .then(
        (heard) => {
          this.asked = null;
          if (this.room !== room) return;
          this.hear(heard);
          this.hasten();
        },
        (error: unknown) => {
          this.asked = null;
          if (this.room === room) this.broken(error);
        },
      );
  }

  /** Writes what was heard into the ledger and the ways, and looks at the last of it. */
  private hear({ tick, ranAway, handy, entries, poses, rooms }: LiveUpdate): void {
    const live = this.rehearser.live();
    if (live === null) return;
    const told = recordingListener(live.ledger, live.tracks);
    for (const one of entries) told.entry(...one);
    for (const one of poses) told.pose(...one);
    for (const one of rooms) told.room(...one);
    patchState(this.state, { handy });
    this.rehearser.walkLive({ ...live, ticks: Math.max(live.ticks, tick) });
    this.playback.follow(tick);
    const where = live.tracks.rooms.get(this.visitor())?.at(-1)?.room ?? null;
    if (where !== null && where !== this.rooms.current()) this.rooms.choose(where);
    if (ranAway) {
      patchState(this.state, { ranAway: true });
      this.pause();
    }
    const before = live.ledger.length - entries.length;
    if (Math.floor(live.ledger.length / ENTRIES_PER_PAUSE) > Math.floor(before / ENTRIES_PER_PAUSE) && this.running()) {
      this.pause();
      this.editor.say(
        `Walking is paused: ${live.ledger.length.toLocaleString('en')} entries so far. Look for what never rests, or go on.`,
      );
    }
    // What could not be followed is not made up for: time goes on from here.
    if (this.running()) this.due = Math.min(this.due, tick + live.rate / 4);
  }

  private stop(): void {
    this.pause();
    this.steering = [];
    this.room?.end();
    this.room = null;
    this.asked = null;
  }

  private broken(error: unknown): void {
    this.end();
    this.editor.say(`Live walk failed: ${error instanceof Error ? error.message : String(error)}`);
  }
}

/** What leads to the right and away, as one looks, in the axes of the room. */
function seenFrom(facing: Facing, right: number, away: number): [x: number, y: number] {
  switch (facing) {
    case 'north':
      return [right, away];
    case 'south':
      return [-right, -away];
    case 'east':
      return [away, -right];
    case 'west':
      return [-away, right];
  }
}
