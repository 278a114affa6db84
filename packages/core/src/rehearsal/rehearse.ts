import { Conditions } from '../conditions/conditions';
import type { Level } from '../document/level';
import type { HouseRules } from '../vocabulary/rules';
import type { Walk } from '../document/walks';
import { answersOf } from '../kernel/answers';
import { answerExpectations } from '../reading/expectations';
import type { Answered } from '../reading/expectations';
import { drain, drainNow } from '../kernel/queue/items';
import { variations } from '../kernel/jitter';
import { Ledger } from '../ledger/ledger';
import type { Details, Entry } from '../ledger/ledger';
import { advanceMachines, bringMachinesUp, goOn, noticeRiders } from '../kernel/motion/machines';
import { moveVisitors, stand } from '../kernel/bodies/moving';
import { noteRoom } from '../kernel/bodies/people';
import { planOf } from '../kernel/plan';
import { nextDue, somethingComes, takeDue, write } from '../kernel/rehearsing';
import type { Rehearsing } from '../kernel/rehearsing';
import { Runaway, cycleOf } from '../kernel/queue/runaway';
import { sense } from '../kernel/sensing/sense';
import { disturb, locate, nextWake, settleDown } from '../kernel/sleeping/sleep';
import { startingState } from '../kernel/state';
import { ticksOf } from '../vocabulary/ticks';
import { note } from '../ledger/tracks';
import type { Tracks } from '../ledger/tracks';
import { evaluateWatches, takeWatches } from '../kernel/chains/watching';

/** What came of a rehearsal, as plain data. */
export interface Rehearsed {
  walk: string;
  rate: number;
  /** The last tick. */
  ticks: number;
  readonly entries: Entry[];
  tracks: Tracks;
  /** What became of the walk's expectations, in listing order. */
  expectations: Answered[];
}

/** What came of a rehearsal, with its ledger; the list of entries is made when it is first asked for. */
export interface Rehearsal extends Rehearsed {
  ledger: Ledger;
}

export interface RehearseOptions {
  /** House rules other than those of the level. */
  rules?: Partial<HouseRules>;
  /** What the walk's jitter is drawn from; 0 unless given. */
  seed?: number;
  /** Look at everything in every tick, also where nothing can happen. The ledger is the same. */
  everyTick?: boolean;
}

/**
 * Runs a walk through a level and keeps the ledger. Pure: the same level, walk, rules and seed give the same ledger, byte
 * for byte.
 *
 * It ends when nothing is left that could happen, when every visitor that still has something to do is held up for good,
 * when the walk's time is up, or when a tick runs away.
 */
export function rehearse(level: Level, walk: Walk, options: RehearseOptions = {}): Rehearsal {
  const rehearsing = begin(level, walk, options);
  const { state, ledger, tracks } = rehearsing;
  const last = ticksOf(walk.atMost, level.rate);
  let over: Details | null = tickZero(rehearsing);
  while (over === null) {
    const coming = options.everyTick === true ? Infinity : Math.min(nextWake(rehearsing), nextDue(rehearsing));
    // Where nothing is to come, the very next tick finds that it is over.
    const next = coming === Infinity ? 0 : Math.min(last, coming);
    const passedOver = next > state.tick + 1;
    if (options.everyTick === true) disturb(rehearsing, null);
    state.tick = Math.max(state.tick + 1, next);
    over = oneTick(rehearsing, passedOver) ?? whetherOver(rehearsing, last);
  }
  state.visitors.forEach((visitor) => locate(rehearsing, visitor));
  write(rehearsing, { kind: 'end', details: over });
  const expectations = answerExpectations(rehearsing);
  let entries: Entry[] | null = null;
  return {
    walk: walk.id,
    rate: level.rate,
    ticks: state.tick,
    ledger,
    tracks,
    expectations,
    get entries() {
      return (entries ??= [...ledger]);
    },
  };
}

function begin(level: Level, walk: Walk, { rules, seed = 0 }: RehearseOptions): Rehearsing {
  const plan = planOf(level, rules);
  const tracks: Tracks = { visitors: new Map(), doors: new Map(), rooms: new Map() };
  const rehearsing: Rehearsing = {
    plan,
    walk,
    state: startingState(plan),
    ledger: new Ledger(level.rate),
    tracks,
    conditions: new Conditions(plan.things, (asked, ids) => answer(asked, ids)),
    hand: null,
    asked: new Map(),
    drainNow: (event, after) => drainNow(rehearsing, event, after),
  };
  const answer = answersOf(rehearsing);
  const { state } = rehearsing;
  const varied = variations(walk, seed, level.rate);
  walk.routes.forEach((route, number) => {
    const order = plan.visitorOf.get(route.visitor);
    if (order === undefined || route.instructions.length === 0) return;
    const { delay, speed } = varied[number]!;
    const own = plan.visitors[order]!.visitor.speed * speed;
    state.visitors[order]!.route = {
      number,
      at: delay > 0 ? -1 : 0,
      speed: own,
      begun: false,
      waiting: delay > 0 ? delay : null,
      going: null,
    };
  });
  return rehearsing;
}

/** Tick 0: the starting state is there, and Sense finds who starts inside of what. */
function tickZero(rehearsing: Rehearsing): Details | null {
  const { state, plan, tracks } = rehearsing;
  const start = write(rehearsing, { kind: 'start', what: rehearsing.walk.id });
  for (const visitor of state.visitors) {
    if (visitor.inPlay) stand(rehearsing, visitor);
    note(tracks.visitors, visitor.id, 0, [visitor.at.x, visitor.at.y, visitor.at.z]);
    noteRoom(rehearsing, visitor);
  }
  for (const [id, machine] of state.machines) note(tracks.doors, id, 0, [machine.clock]);
  takeWatches(rehearsing);
  return unlessRunaway(rehearsing, () => {
    for (const [id, { machine, frames }] of plan.courses)
      if (machine.kind === 'mover' && machine.running) goOn(rehearsing, id, frames.length - 1, start, null);
    state.turn = state.visitors.length;
    noticeRiders(rehearsing);
    sense(rehearsing);
    drainAndWatch(rehearsing);
    settleDown(rehearsing);
  });
}

/** One tick in its phases. Gives why the rehearsal is over if the tick ran away. */
function oneTick(rehearsing: Rehearsing, passedOver: boolean): Details | null {
  const { state } = rehearsing;
  state.itemsThisTick = 0;
  state.turn = -1;
  return unlessRunaway(rehearsing, () => {
    if (passedOver) bringMachinesUp(rehearsing);

    // Due: what was scheduled for this tick, in the order in which it was scheduled.
    const due = takeDue(rehearsing);
    if (due.length > 0) {
      for (const item of due) state.queue.push(item);
      drainAndWatch(rehearsing);
    }

    // Move: machines in motion, then visitors.
    advanceMachines(rehearsing);
    moveVisitors(rehearsing);
    noticeRiders(rehearsing);

    // Sense: overlaps of the new poses, then the plates weigh. Then Watch.
    sense(rehearsing);
    drainAndWatch(rehearsing);
    settleDown(rehearsing);
  });
}

function drainAndWatch(rehearsing: Rehearsing): void {
  do drain(rehearsing);
  while (evaluateWatches(rehearsing));
}

function unlessRunaway(rehearsing: Rehearsing, phases: () => void): Details | null {
  try {
    phases();
    return null;
  } catch (error) {
    if (!(error instanceof Runaway)) throw error;
  }
  const { ledger, state } = rehearsing;
  const cycle = cycleOf(ledger);
  write(rehearsing, { kind: 'runaway', cause: ledger.length, details: { items: state.itemsThisTick - 1, cycle } });
  return { reason: 'runaway' };
}

/** Why nothing more can happen after this tick, or null if something can. */
function whetherOver({ state, walk }: Rehearsing, last: number): Details | null {
  const over = state.tick >= last ? { reason: 'time is up' } : null;
  if (state.inMotion.size > 0 || state.queue.length > 0) return over;
  const busy: string[] = [];
  for (const visitor of state.visitors) {
    // The next Sense has still to find out about who was put elsewhere.
    if (visitor.jumped) return over;
    if (!visitor.inPlay) continue;
    const { route, forced } = visitor;
    if (visitor.flight !== null || visitor.push !== null) return over;
    if (forced === null && (route === null || route.at >= walk.routes[route.number]!.instructions.length)) continue;
    const heldUp = visitor.carriedBy !== null || (forced === null && visitor.held);
    if (!heldUp && (forced?.going ?? route!.going)?.blocked !== true) return over;
    busy.push(visitor.id);
  }
  if (somethingComes(state)) return over;
  if (busy.length === 0) return { reason: 'settled' };
  return { reason: 'stuck', who: busy };
}
