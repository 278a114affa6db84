import { isBodied, kindOfFixture } from '../../kinds/fixtures';
import type { Bodied } from '../../kinds/fixtures';
import type { Instruction } from '../../document/people';
import { gap } from '../../space/overlap';
import { markRelocated, bodyOf, face, place, withCarried } from './bodies';
import { shapeOf } from '../state/poses';
import { startWayAnew } from '../state/legs';
import type { WorldContext, ToldContext } from '../state/context';
import { carrierOf, locate, stepInOrAway, wakeUp } from './sleep';
import type { VisitorState } from '../state/world';
import type { Use, HeldDetails } from '../../ledger/entry';
import { raise, touch, write } from '../state/raising';
import { carriedPosition } from '../state/positions';

/** The greatest gap between two bodies for picking up, or for using a thing without a reach of its own, in metres. */
const DEFAULT_REACH_M = 1;

type Handling = Exclude<Instruction, { do: 'go-to' | 'wait' }>;

/** What a visitor does in one tick without going anywhere. */
export function handle(rehearsing: ToldContext, visitor: VisitorState, instruction: Handling): void {
  switch (instruction.do) {
    case 'turn':
      face(rehearsing, visitor, instruction.heading);
      break;
    case 'use':
      use(rehearsing, visitor, instruction.fixture);
      break;
    case 'carry':
      pickUp(rehearsing, visitor, instruction.prop);
      break;
    case 'drop':
      if (holds(rehearsing, visitor, instruction.do, instruction.prop)) putDown(rehearsing, visitor, instruction.prop);
      break;
    case 'throw':
      if (holds(rehearsing, visitor, instruction.do, instruction.prop)) hurl(rehearsing, visitor, instruction);
      break;
  }
}

/** Why something is not used. */
type NotUsed = Omit<OutOfReach, 'use'> | { reason: 'not-carried' };
type OutOfReach = Extract<HeldDetails, { reason: 'out-of-reach' }>;

function used(rehearsing: WorldContext, visitor: VisitorState, what: string, how: Use): void {
  const after = how === 'use' ? ({ answer: 'used' } as const) : undefined;
  raise(rehearsing, { kind: 'use', who: visitor.id, what, cause: null, details: { use: how } }, after);
}

function held(rehearsing: ToldContext, visitor: VisitorState, what: string, use: Use, why: NotUsed): void {
  write(rehearsing, { kind: 'held', who: visitor.id, what, details: { event: 'use', use, ...why } });
}

function use(rehearsing: ToldContext, visitor: VisitorState, id: string): void {
  const { plan, state } = rehearsing;
  const fixture = plan.fixtures.get(id);
  if (fixture === undefined || !isBodied(fixture)) {
    held(rehearsing, visitor, id, 'use', {
      reason: 'out-of-reach',
      problem: fixture === undefined ? 'no such fixture' : 'it has no body',
    });
    return;
  }
  const reach = reachOf(fixture);
  const far = gap(bodyOf(rehearsing, visitor), shapeOf(plan, state, plan.volumeOf.get(id)!));
  if (fixture.room === visitor.room && far <= reach) used(rehearsing, visitor, id, 'use');
  else held(rehearsing, visitor, id, 'use', { reason: 'out-of-reach', metres: millimetres(far), reach });
}

/** From how far away a fixture is used, in metres. */
function reachOf(fixture: Bodied): number {
  return kindOfFixture(fixture.kind).reach?.(fixture) ?? DEFAULT_REACH_M;
}

/** What a visitor could handle where it stands, the nearest first: what it could use, pick up, and put down. */
export interface Reachable {
  uses: string[];
  props: string[];
  carries: string[];
}

/** What a visitor could handle from where it is: of fixtures, those that answer to being used, or that a chain listens to. */
export function reachableBy(rehearsing: ToldContext, visitor: VisitorState): Reachable {
  const { plan, state } = rehearsing;
  const carries = visitor.carries.map((order) => state.visitors[order]!.id);
  if (!visitor.inPlay) return { uses: [], props: [], carries };
  const body = bodyOf(rehearsing, visitor);
  const heard = plan.listeners.get('use')!;
  const uses: { id: string; far: number }[] = [];
  for (const { id, room, fixture, number } of plan.volumes) {
    if (fixture === null || room !== visitor.room) continue;
    if (kindOfFixture(fixture.kind).used === undefined && !heard.has(id)) continue;
    const far = gap(body, shapeOf(plan, state, number));
    if (far <= reachOf(fixture)) uses.push({ id, far });
  }
  const props: { id: string; far: number }[] = [];
  for (const one of state.visitors) {
    if (plan.visitors[one.order]!.visitor.kind !== 'prop' || one === visitor) continue;
    if (!one.inPlay || one.room !== visitor.room || one.carriedBy !== null) continue;
    locate(rehearsing, one);
    const far = gap(body, bodyOf(rehearsing, one));
    if (far <= DEFAULT_REACH_M) props.push({ id: one.id, far });
  }
  const nearest = (some: { id: string; far: number }[]): string[] => some.sort((a, b) => a.far - b.far).map(({ id }) => id);
  return { uses: nearest(uses), props: nearest(props), carries };
}

function pickUp(rehearsing: ToldContext, visitor: VisitorState, propId: string): void {
  const { plan, state } = rehearsing;
  const order = plan.visitorOf.get(propId);
  const no = (details: Omit<OutOfReach, 'use' | 'reason'>): void =>
    held(rehearsing, visitor, propId, 'carry', { reason: 'out-of-reach', ...details });
  if (order === undefined || propId === visitor.id) return no({ problem: 'no such prop' });
  const prop = state.visitors[order]!;
  if (prop.carriedBy !== null) return no({ carriedBy: state.visitors[prop.carriedBy]!.id });
  if (carrierOf(rehearsing, visitor) === prop) return no({ carriedBy: propId });
  locate(rehearsing, prop);
  const far = gap(bodyOf(rehearsing, visitor), bodyOf(rehearsing, prop));
  if (!prop.inPlay || prop.room !== visitor.room) return no({ problem: 'it is not here' });
  if (far > DEFAULT_REACH_M) return no({ metres: millimetres(far), reach: DEFAULT_REACH_M });
  wakeUp(rehearsing, prop);
  prop.carriedBy = visitor.order;
  prop.lastHolder = visitor.id;
  prop.support = null;
  prop.flight = null;
  prop.push = null;
  visitor.carries.push(order);
  visitor.marks = null;
  place(rehearsing, prop, carriedPosition(rehearsing.plan, visitor.order, visitor.at));
  withCarried(rehearsing, prop).forEach(markRelocated);
  touch(rehearsing, 'visitors');
  weighAnew(rehearsing);
  stepInOrAway(rehearsing, prop, prop.room);
  used(rehearsing, visitor, propId, 'carry');
}

function holds(rehearsing: ToldContext, visitor: VisitorState, how: 'drop' | 'throw', propId: string): boolean {
  const order = rehearsing.plan.visitorOf.get(propId);
  if (order !== undefined && rehearsing.state.visitors[order]!.carriedBy === visitor.order) return true;
  held(rehearsing, visitor, propId, how, { reason: 'not-carried' });
  return false;
}

/** Puts a prop down at its carrier's feet. */
function putDown(rehearsing: ToldContext, visitor: VisitorState, propId: string): void {
  const prop = detachProp(rehearsing, visitor, propId);
  place(rehearsing, prop, { ...visitor.at });
  withCarried(rehearsing, prop).forEach(markRelocated);
  prop.support = visitor.support;
  startWayAnew(prop);
  used(rehearsing, visitor, propId, 'drop');
}

/** Throws a prop out of the arms: it flies from there, from the next tick on. */
function hurl(rehearsing: ToldContext, visitor: VisitorState, { prop: propId, velocity }: Handling & { do: 'throw' }): void {
  const prop = detachProp(rehearsing, visitor, propId);
  prop.flight = {
    from: prop.at,
    velocity,
    begun: rehearsing.state.tick,
    thrown: { by: visitor.id, cause: null },
    pushedBy: null,
  };
  startWayAnew(prop);
  const event = { kind: 'use', who: visitor.id, what: propId, cause: null, details: { use: 'throw' } } as const;
  raise(rehearsing, event, { thrown: propId });
}

/** Takes a prop out of its carrier's arms. */
export function detachProp(rehearsing: ToldContext, carrier: VisitorState, propId: string): VisitorState {
  const { plan, state } = rehearsing;
  const prop = state.visitors[plan.visitorOf.get(propId)!]!;
  wakeUp(rehearsing, prop);
  prop.asOf = state.turn < 0 ? state.tick - 1 : state.tick;
  prop.carriedBy = null;
  markRelocated(prop);
  carrier.carries = carrier.carries.filter((order) => order !== prop.order);
  carrier.marks = null;
  touch(rehearsing, 'visitors');
  weighAnew(rehearsing);
  stepInOrAway(rehearsing, prop, prop.room);
  return prop;
}

/** What is carried weighs with its carrier, so loads have changed though nobody has entered or left. */
function weighAnew(rehearsing: WorldContext): void {
  rehearsing.state.weigh = true;
  touch(rehearsing, 'inside');
}

function millimetres(metres: number): number {
  return Math.round(metres * 1000) / 1000;
}
