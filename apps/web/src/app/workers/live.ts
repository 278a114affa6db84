import { Live } from '@nettlewick/core';
import type { Route, Steering, kernel } from '@nettlewick/core';
import { LevelReplica } from './level-copy';

type Told = kernel.WorldListener;

/** What was told since it was asked last, in order, each as the listener that is told is called. */
export interface LiveUpdate {
  tick: number;
  ranAway: boolean;
  /** What the visitor in hand could use, pick up or put down. */
  handy: kernel.Reachable;
  entries: Parameters<Told['entry']>[];
  poses: Parameters<Told['pose']>[];
  rooms: Parameters<Told['room']>[];
}

/** The number of entries after which an update ends with its tick, so that the page can show it within a frame. */
const ENTRIES_PER_UPDATE = 1000;

/** Where a rehearsal runs that is walked as it runs: on a thread of its own, so that no rehearsal of a walk is in its way. */
export class LiveWalkWorker extends LevelReplica {
  private live: Live | null = null;
  private heard: Omit<LiveUpdate, 'tick' | 'ranAway' | 'handy'> = nothingHeard();

  private visitor = '';

  /** Begins anew, at the beginning of a walk, with a visitor in hand. */
  begin(id: string, visitor: string): LiveUpdate {
    const walk = this.level.walks.find((one) => one.id === id);
    if (walk === undefined) throw new Error('This walk is not in the level any more.');
    this.heard = nothingHeard();
    this.visitor = visitor;
    this.live = new Live(this.level, walk, {
      entry: (...told) => void this.heard.entries.push(told),
      pose: (...told) => void this.heard.poses.push(told),
      room: (...told) => void this.heard.rooms.push(told),
    });
    return this.sinceThen();
  }

  /** Steers, and runs until a tick; less far, where so much happens that the page could not follow. */
  advance(to: number, steering: readonly Steering[]): LiveUpdate {
    const live = this.running;
    for (const one of steering) live.steer(one);
    while (live.tick < to && !live.ranAway && this.heard.entries.length < ENTRIES_PER_UPDATE) live.advance(1);
    return this.sinceThen();
  }

  /** Takes another visitor in hand. */
  take(visitor: string): kernel.Reachable {
    this.visitor = visitor;
    return this.running.handy(visitor);
  }

  /** Goes back to a tick: what came after it is as if it had not been. */
  back(tick: number): LiveUpdate {
    this.running.back(tick);
    return this.sinceThen();
  }

  /** What was walked so far, as the routes of a walk. */
  routes(): Route[] {
    return this.running.routes();
  }

  private get running(): Live {
    if (this.live === null) throw new Error('Nobody walks');
    return this.live;
  }

  private sinceThen(): LiveUpdate {
    const { heard } = this;
    this.heard = nothingHeard();
    return { ...heard, tick: this.running.tick, ranAway: this.running.ranAway, handy: this.running.handy(this.visitor) };
  }
}

function nothingHeard(): Omit<LiveUpdate, 'tick' | 'ranAway' | 'handy'> {
  return { entries: [], poses: [], rooms: [] };
}
