import { isBodied, kindOfFixture } from '../../kinds/fixtures';
import type { Bodied } from '../../kinds/fixtures';
import type { Instruction } from '../../document/people';
import { gap } from '../../space/overlap';
import { markRelocated, bodyOf, face, place, withCarried } from './bodies';
import { shapeOf } from '../state/poses';
import { startWayAnew } from '../state/legs';
import type { WorldContext, ReportingContext } from '../state/context';
import { carrierOf, locate, stepInOrAway, wakeUp } from './sleep';
import type { VisitorState } from '../state/world';
import type { Use, HeldDetails } from '../../ledger/entry';
import { raise, touch, write } from '../state/raising';
import { carriedPosition } from '../state/positions';

/** The greatest gap between two bodies for picking up, or for using a thing without a reach of its own, in metres. */
const DEFAULT_REACH_M = 1;

type Handling = Exclude<Instruction, { do: 'go-to' | 'wait' }>;

/** What a visitor does in one tick without going anywhere. */
export function handle(ctx: ReportingContext, visitor: VisitorState, instruction: Handling): void {
  switch (instruction.do) {
    case 'turn':
      face(ctx, visitor, instruction.heading);
      break;
    case 'use':
      use(ctx, visitor, instruction.fixture);
      break;
    case 'carry':
      pickUp(ctx, visitor, instruction.prop);
      break;
    case 'drop':
      if (holds(ctx, visitor, instruction.do, instruction.prop)) putDown(ctx, visitor, instruction.prop);
      break;
    case 'throw':
      if (holds(ctx, visitor, instruction.do, instruction.prop)) hurl(ctx, visitor, instruction);
      break;
  }
}

/** Why something is not used. */
type NotUsed = Omit<OutOfReach, 'use'> | { reason: 'not-carried' };
type OutOfReach = Extract<HeldDetails, { reason: 'out-of-reach' }>;

function used(ctx: WorldContext, visitor: VisitorState, what: string, how: Use): void {
  const after = how === 'use' ? ({ answer: 'used' } as const) : undefined;
  raise(ctx, { kind: 'use', who: visitor.id, what, cause: null, details: { use: how } }, after);
}

function held(ctx: ReportingContext, visitor: VisitorState, what: string, use: Use, why: NotUsed): void {
  write(ctx, { kind: 'held', who: visitor.id, what, details: { event: 'use', use, ...why } });
}

function use(ctx: ReportingContext, visitor: VisitorState, id: string): void {
  const { plan, state } = ctx;
  const fixture = plan.fixtures.get(id);
  if (fixture === undefined || !isBodied(fixture)) {
    held(ctx, visitor, id, 'use', {
      reason: 'out-of-reach',
      problem: fixture === undefined ? 'no such fixture' : 'it has no body',
    });
    return;
  }
  const reach = reachOf(fixture);
  const far = gap(bodyOf(ctx, visitor), shapeOf(plan, state, plan.volumeOf.get(id)!));
  if (fixture.room === visitor.room && far <= reach) used(ctx, visitor, id, 'use');
  else held(ctx, visitor, id, 'use', { reason: 'out-of-reach', metres: millimetres(far), reach });
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
export function reachableBy(ctx: ReportingContext, visitor: VisitorState): Reachable {
  const { plan, state } = ctx;
  const carries = visitor.carries.map((order) => state.visitors[order]!.id);
  if (!visitor.inPlay) return { uses: [], props: [], carries };
  const body = bodyOf(ctx, visitor);
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
    locate(ctx, one);
    const far = gap(body, bodyOf(ctx, one));
    if (far <= DEFAULT_REACH_M) props.push({ id: one.id, far });
  }
  const nearest = (some: { id: string; far: number }[]): string[] => some.sort((a, b) => a.far - b.far).map(({ id }) => id);
  return { uses: nearest(uses), props: nearest(props), carries };
}

function pickUp(ctx: ReportingContext, visitor: VisitorState, propId: string): void {
  const { plan, state } = ctx;
  const order = plan.visitorOf.get(propId);
  const no = (details: Omit<OutOfReach, 'use' | 'reason'>): void =>
    held(ctx, visitor, propId, 'carry', { reason: 'out-of-reach', ...details });
  if (order === undefined || propId === visitor.id) return no({ problem: 'no such prop' });
  const prop = state.visitors[order]!;
  if (prop.carriedBy !== null) return no({ carriedBy: state.visitors[prop.carriedBy]!.id });
  if (carrierOf(ctx, visitor) === prop) return no({ carriedBy: propId });
  locate(ctx, prop);
  const far = gap(bodyOf(ctx, visitor), bodyOf(ctx, prop));
  if (!prop.inPlay || prop.room !== visitor.room) return no({ problem: 'it is not here' });
  if (far > DEFAULT_REACH_M) return no({ metres: millimetres(far), reach: DEFAULT_REACH_M });
  wakeUp(ctx, prop);
  prop.carriedBy = visitor.order;
  prop.lastHolder = visitor.id;
  prop.support = null;
  prop.flight = null;
  prop.push = null;
  visitor.carries.push(order);
  visitor.marks = null;
  place(ctx, prop, carriedPosition(ctx.plan, visitor.order, visitor.at));
  withCarried(ctx, prop).forEach(markRelocated);
  touch(ctx, 'visitors');
  weighAnew(ctx);
  stepInOrAway(ctx, prop, prop.room);
  used(ctx, visitor, propId, 'carry');
}

function holds(ctx: ReportingContext, visitor: VisitorState, how: 'drop' | 'throw', propId: string): boolean {
  const order = ctx.plan.visitorOf.get(propId);
  if (order !== undefined && ctx.state.visitors[order]!.carriedBy === visitor.order) return true;
  held(ctx, visitor, propId, how, { reason: 'not-carried' });
  return false;
}

/** Puts a prop down at its carrier's feet. */
function putDown(ctx: ReportingContext, visitor: VisitorState, propId: string): void {
  const prop = detachProp(ctx, visitor, propId);
  place(ctx, prop, { ...visitor.at });
  withCarried(ctx, prop).forEach(markRelocated);
  prop.support = visitor.support;
  startWayAnew(prop);
  used(ctx, visitor, propId, 'drop');
}

/** Throws a prop out of the arms: it flies from there, from the next tick on. */
function hurl(ctx: ReportingContext, visitor: VisitorState, { prop: propId, velocity }: Handling & { do: 'throw' }): void {
  const prop = detachProp(ctx, visitor, propId);
  prop.flight = {
    from: prop.at,
    velocity,
    begun: ctx.state.tick,
    thrown: { by: visitor.id, cause: null },
    pushedBy: null,
  };
  startWayAnew(prop);
  const event = { kind: 'use', who: visitor.id, what: propId, cause: null, details: { use: 'throw' } } as const;
  raise(ctx, event, { thrown: propId });
}

/** Takes a prop out of its carrier's arms. */
export function detachProp(ctx: ReportingContext, carrier: VisitorState, propId: string): VisitorState {
  const { plan, state } = ctx;
  const prop = state.visitors[plan.visitorOf.get(propId)!]!;
  wakeUp(ctx, prop);
  prop.asOf = state.turn < 0 ? state.tick - 1 : state.tick;
  prop.carriedBy = null;
  markRelocated(prop);
  carrier.carries = carrier.carries.filter((order) => order !== prop.order);
  carrier.marks = null;
  touch(ctx, 'visitors');
  weighAnew(ctx);
  stepInOrAway(ctx, prop, prop.room);
  return prop;
}

/** What is carried weighs with its carrier, so loads have changed though nobody has entered or left. */
function weighAnew(ctx: WorldContext): void {
  ctx.state.weigh = true;
  touch(ctx, 'inside');
}

function millimetres(metres: number): number {
  return Math.round(metres * 1000) / 1000;
}
