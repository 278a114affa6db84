import type { Instruction } from '../../document/people';
import { cause, fromNow, ifRead, keyedOf, leftOut, listOfAll, orNull, part, restoredOf, same, set, token } from './fields';
import type { Field, Fields } from './fields';
import { placeNow } from './positions';
import { waiterFields } from './run-fields';
import type { CompiledLevel } from './plan';
import type { Flight, RouteState, ToldWalk, VisitorState, WalkProgress, World } from './world';

/** How visitors start, are copied, and enter the key of a world. */

/** A visitor before the first tick. */
export function startingVisitor({ visitor }: CompiledLevel['visitors'][number], order: number): VisitorState {
  return {
    order,
    id: visitor.id,
    at: visitor.at,
    room: visitor.room,
    heading: visitor.heading,
    inPlay: visitor.inPlay,
    held: false,
    carriedBy: null,
    carries: [],
    lastHolder: null,
    support: null,
    flight: null,
    push: null,
    forced: null,
    route: null,
    sensedAt: visitor.at,
    jumped: true,
    putBy: null,
    movedBy: null,
    rides: [],
    wish: null,
    within: new Map(),
    touching: new Set(),
    asOf: 0,
    marks: null,
    rest: null,
  };
}

/** A visitor as of the tick of its world: for a sleeping one, the time since its last tick is made up for. */
export function asOfNow(plan: CompiledLevel, world: World, one: VisitorState): VisitorState {
  const behind = Math.max(0, world.tick - one.asOf);
  const { forced, route } = one;
  const at = placeNow(plan, world, one);
  const goesNowhere = behind === 0 || one.flight !== null || one.carriedBy !== null || !one.inPlay;
  if (goesNowhere) return { ...one, at };
  const goesOnBy = (going: WalkProgress | null): WalkProgress | null =>
    going && { ...going, done: going.blocked ? going.done : going.done + behind };
  if (forced !== null) return { ...one, at, forced: { ...forced, going: goesOnBy(forced.going) } };
  if (one.held || route === null) return { ...one, at };
  const waiting = route.waiting === null || route.going !== null ? route.waiting : route.waiting - behind;
  return { ...one, at, route: { ...route, going: goesOnBy(route.going), waiting } };
}

const going: Fields<WalkProgress> = {
  // What is behind it it does not walk again.
  points: {
    why: 'What is behind it is left out.',
    key: (points, _seen, { next }) => points.slice(next),
    restore: (keyed) => keyed as WalkProgress['points'],
  },
  next: token('The corners are counted from it on.'),
  from: same(),
  distance: same(),
  speed: same(),
  ticks: same(),
  done: same(),
  blocked: same(),
};

/** The entry number given to a walk set by a step, in a world restored from its key. Passages use the same number. */
export const RESTORED_WALK_ENTRY = 2;

const forced: Fields<ToldWalk> = {
  going: orNull(part(going)),
  to: {
    why: 'Where it has a way, that ends there.',
    key: (to, _seen, { going: way }) => (way === null ? to : 0),
    restore: (keyed, _from, owner) => (keyed === 0 ? owner.going!.points.at(-1)! : (keyed as ToldWalk['to'])),
  },
  speed: same(),
  triggeredBy: same(),
  // A passage recognises the walk it ordered by it: see `take` in item-fields.ts.
  cause: token('It is compared with that of what a passage waits for.', RESTORED_WALK_ENTRY),
  waiters: listOfAll(part(waiterFields)),
};

const instructionKeys = new WeakMap<Instruction, string>();

/** What an instruction says, whatever its id. */
function instructionKey(instruction: Instruction): string {
  let key = instructionKeys.get(instruction);
  if (key === undefined) {
    key = JSON.stringify({ ...instruction, id: '' });
    instructionKeys.set(instruction, key);
  }
  return key;
}

const route: Fields<RouteState> = {
  instructions: {
    why: 'What is done is left out.',
    key: (instructions, _seen, { at }) => instructions.slice(Math.max(0, at)).map(instructionKey),
    restore: (keyed) => (keyed as string[]).map((one) => JSON.parse(one) as Instruction),
  },
  // A start that comes later, or the first of what is left.
  at: {
    why: 'Instructions are counted from the first that is left.',
    key: (at) => at < 0,
    restore: (keyed) => (keyed === true ? -1 : 0),
  },
  speed: same(),
  begun: same(),
  waiting: same(),
  going: orNull(part(going)),
};

/** A route that is finished is like none, but for a speed of its own. */
const routeOrNone: Field<VisitorState, RouteState | null> = {
  why: 'A route that is finished is left out.',
  of: route as Fields<never>,
  copy: (value) => orNull(part(route)).copy!(value),
  key: (value, seen, { order }) => {
    if (value === null) return null;
    if (value.at < value.instructions.length) return keyedOf(route, value, seen);
    return value.speed === seen.plan.visitors[order]!.visitor.speed ? null : value.speed;
  },
  restore: (keyed, from) => {
    if (typeof keyed !== 'number') return keyed === null ? null : restoredOf(route, keyed, from);
    return { instructions: [], at: 0, speed: keyed, begun: false, waiting: null, going: null };
  },
};

const thrown: Fields<NonNullable<Flight['thrown']>> = { by: same(), cause: cause(1) };

const flight: Fields<Flight> = {
  from: same(),
  velocity: same(),
  begun: fromNow(),
  thrown: orNull(part(thrown)),
  pushedBy: cause(null),
};

const push: Fields<NonNullable<VisitorState['push']>> = { x: same(), y: same(), ticks: same(), cause: cause(1) };

/** Every field of a visitor that was brought to the tick of its world by `asOfNow`. */
export const visitorFields: Fields<VisitorState> = {
  order: same(),
  id: {
    isCompared: true,
    why: 'The order says who it is.',
    restore: (_keyed, { plan }, { order }) => plan.visitors[order!]!.visitor.id,
  },
  at: { why: 'What is carried is where its carrier has it.', ...same<VisitorState['at']>() },
  room: same(),
  heading: ifRead(
    'Most levels do not ask where anybody faces.',
    ({ reads }) => reads.headings,
    ({ plan }, { order }) => plan.visitors[order!]!.visitor.heading,
  ),
  inPlay: same(),
  held: same(),
  carriedBy: same(),
  carries: { copy: (carries) => carries.slice(), ...same<number[]>() },
  lastHolder: ifRead(
    'It is asked of few props.',
    ({ reads }, { id }) => reads.holders.has(id),
    () => null,
  ),
  support: same(),
  flight: orNull(part(flight)),
  push: orNull(part(push)),
  forced: orNull(part(forced)),
  route: routeOrNone,
  jumped: same(),
  sensedAt: {
    why: 'Who was not put elsewhere was sensed where it is.',
    key: (sensedAt, _seen, { jumped }) => (jumped ? sensedAt : 0),
    restore: (keyed, _from, { at }) => (keyed === 0 ? at! : (keyed as VisitorState['at'])),
  },
  putBy: cause(null),
  movedBy: cause(null),
  rides: { copy: (rides) => rides.slice(), ...same<VisitorState['rides']>() },
  wish: same(),
  within: {
    copy: (within) => new Map(within),
    key: (within) => [...within.keys()].sort((a, b) => a - b),
    restore: (keyed) => new Map((keyed as number[]).map((volume) => [volume, stayIn(volume)])),
  },
  touching: set(),
  asOf: leftOut('Of who sleeps is said where it is now.', ({ tick }) => Math.max(0, tick)),
  marks: leftOut(
    'What is known of a leg ahead is found again.',
    () => null,
    () => null,
  ),
  rest: leftOut('Of who rests is said where it is now.', () => null),
};

/** The number of a stay in a world that is read back: one of its own for each volume. */
export function stayIn(volume: number): number {
  return -(volume + 1);
}
