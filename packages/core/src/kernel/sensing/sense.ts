import { kindOfFixture } from '../../kinds/fixtures';
import { footprint, footprintOfWay, meet } from '../../space/grid';
import { overlaps } from '../../space/overlap';
import { anyShape, moved, shifted } from '../../space/shapes';
import type { Shape } from '../../space/shapes';
import { sweep } from '../../space/sweep';
import { findBumps } from './bumps';
import { noteSensed } from '../physics/machines';
import { CONTACT_MARGIN_M } from '../physics/marks';
import { causeOf, inOrder } from './meetings';
import type { Sensed } from './meetings';
import { weigh } from './plates';
import { isPassableFor, isThere, sensedShapeOf, shapeOf } from '../state/poses';
import { chosenRule } from '../state/orders';
import type { WorldContext, ReportingContext, EventContext } from '../state/context';
import type { EventFollowUp, World, VisitorState } from '../state/world';
import { raise, touch, write } from '../state/raising';
import { schedule } from '../state/schedule';

/**
 * Compares the overlaps of now with those of the last Sense, and raises all leaves, then all enters, then those who crossed
 * between two ticks, then bumps, each in the order of the house; then lets the plates weigh. `only` limits it to some visitors,
 * who were put elsewhere.
 */
export function sense(ctx: EventContext, only?: VisitorState[]): void {
  const { state, plan, orders } = ctx;
  const awake = only ?? awakeOnes(ctx);
  const leaves: Sensed[] = [];
  const enters: Sensed[] = [];
  const crossings: Sensed[] = [];
  for (const visitor of awake) {
    const body = plan.visitors[visitor.order]!.shape;
    const { at, sensedAt } = visitor;
    const now = shifted(bodyNow, body, at.x, at.y, at.z);
    const before = sensedAt === at ? now : shifted(bodyBefore, body, sensedAt.x, sensedAt.y, sensedAt.z);
    for (const number of nearby(ctx, visitor, now, before)) {
      const answer = compare(ctx, visitor, number, now, before);
      if (answer === null) continue;
      const happening = {
        kind: answer,
        who: visitor.id,
        what: plan.volumes[number]!.id,
        cause: causeOf(ctx, visitor, number),
        details: {},
      };
      const sensed = { volume: number, visitor, happening };
      (answer === 'leave' ? leaves : answer === 'enter' ? enters : crossings).push(sensed);
    }
  }
  // A house is asked only where its answer can make a difference.
  const entersFirst = leaves.length > 0 && enters.length > 0 && chosenRule(orders, 'sameTick') === 'enters-first';
  inOrder(ctx, leaves);
  inOrder(ctx, enters);
  const begins = state.tick === 0 && only === undefined && enters.length > 0;
  const quiet = begins && chosenRule(orders, 'startsInside') === 'quiet';
  if (!entersFirst) leaves.forEach((one) => leave(ctx, one));
  enters.forEach((one) => {
    beInside(ctx, one.visitor, one.volume);
    if (quiet) sayInside(ctx, one.visitor, one.volume, START_ENTRY);
    else raise(ctx, one.happening, answerOf(ctx, one.volume, 'entered'));
  });
  if (entersFirst) leaves.forEach((one) => leave(ctx, one));
  inOrder(ctx, crossings).forEach((one) => cross(ctx, one));
  const bumps = findBumps(ctx, awake);
  inOrder(ctx, bumps).forEach(({ happening }) => raise(ctx, happening, { answer: 'bumped' }));
  weigh(ctx, leaves, quiet ? [] : enters);
  for (const visitor of awake) {
    // Beside something that has moved, or where it has just been put, the same wish may be a bump in the next tick.
    if (visitor.wish !== null && (visitor.jumped || (state.stirred && isBesideMoved(ctx, visitor))))
      state.again.push(visitor.order);
    visitor.sensedAt = visitor.at;
    visitor.jumped = false;
    visitor.putBy = null;
    visitor.movedBy = null;
    if (visitor.rides.length > 0) visitor.rides.length = 0;
    visitor.wish = null;
  }
  if (only !== undefined) return;
  state.stirred = false;
  state.machines.forEach(noteSensed);
}

/** Where the body that is compared is, and where it was. */
const bodyNow = anyShape();
const bodyBefore = anyShape();

/** The number of the first entry of a ledger. */
const START_ENTRY = 1;

/** Whether a visitor is on the ground that a machine covers which has moved since the last Sense. */
function isBesideMoved({ plan, state }: WorldContext, { order, at, room }: VisitorState): boolean {
  const { shape } = plan.visitors[order]!;
  const where = footprint(moved(shape, at.x, at.y, at.z), CONTACT_MARGIN_M);
  for (const [id, own] of state.machines) {
    if (own.clock === own.sensedClock) continue;
    const reach = plan.courses.get(id)!.reach.get(room);
    if (reach !== undefined && meet(reach, where)) return true;
  }
  return false;
}

/** Those whose turn it was in this tick, and what they carry, in listing order. */
function awakeOnes({ state }: WorldContext): VisitorState[] {
  if (state.tick === 0) return state.visitors;
  const { wakes, visitors, tick } = state;
  for (let order = 0; order < wakes.length; order++) if (wakes[order]! <= tick) rouseCarried(state, visitors[order]!);
  const awake: VisitorState[] = [];
  for (let order = 0; order < wakes.length; order++) if (wakes[order]! <= tick) awake.push(visitors[order]!);
  return awake;
}

function rouseCarried(state: World, { carries }: VisitorState): void {
  for (const order of carries) {
    state.wakes[order] = state.tick;
    rouseCarried(state, state.visitors[order]!);
  }
}

/** The volumes near where a visitor is or passed, and those it is inside of. */
function nearby({ plan }: WorldContext, visitor: VisitorState, now: Shape, before: Shape): number[] {
  const grid = plan.volumeGrids.get(visitor.room);
  const where = footprintOfWay(before, now.x - before.x, now.y - before.y);
  const found = visitor.inPlay && grid !== undefined ? grid.find(where) : [];
  if (visitor.within.size > 0) for (const number of visitor.within.keys()) if (!found.includes(number)) found.push(number);
  return found;
}

/** Whether a visitor has entered or left a volume, or has passed it between two ticks; null if nothing has changed. */
function compare(
  { plan, state }: WorldContext,
  visitor: VisitorState,
  number: number,
  now: Shape,
  before: Shape,
): 'enter' | 'leave' | 'missed' | null {
  const volume = plan.volumes[number]!;
  const was = visitor.within.has(number);
  if (!was && volume.movedBy === null && isFar(now, before, volume.shape)) return null;
  const shape = shapeOf(plan, state, number);
  const there =
    visitor.inPlay && volume.room === visitor.room && isPassableFor(plan, state, number, visitor) && isThere(plan, state, number);
  if (there && overlaps(now, shape)) return was ? null : 'enter';
  if (was) return 'leave';
  if (!there) return null;
  const earlier = volume.movedBy === null ? shape : sensedShapeOf(plan, state, number);
  const dx = now.x - before.x - (shape.x - earlier.x);
  const dy = now.y - before.y - (shape.y - earlier.y);
  const dz = now.z - before.z - (shape.z - earlier.z);
  if (dx === 0 && dy === 0 && dz === 0) return null;
  return sweep(before, dx, dy, dz, earlier) === null ? null : 'missed';
}

/** Whether a move passed surely nowhere near a shape that stands still. */
function isFar(now: Shape, before: Shape, shape: Shape): boolean {
  const reach = now.halfX + now.halfY + shape.halfX + shape.halfY;
  const dx = (now.x + before.x) / 2 - shape.x;
  const dy = (now.y + before.y) / 2 - shape.y;
  const way = Math.abs(now.x - before.x) + Math.abs(now.y - before.y);
  return Math.abs(dx) > reach + way || Math.abs(dy) > reach + way;
}

/** What the fixture itself answers when it has been heard that it was entered or left; nothing, if it is none that does. */
function answerOf({ plan }: WorldContext, number: number, answer: 'entered' | 'left'): EventFollowUp | undefined {
  const { fixture } = plan.volumes[number]!;
  return fixture !== null && kindOfFixture(fixture.kind)[answer] !== undefined ? { answer } : undefined;
}

function leave(ctx: WorldContext, { visitor, volume, happening }: Sensed): void {
  const { state } = ctx;
  visitor.within.delete(volume);
  state.inside.get(volume)!.delete(visitor.order);
  state.weigh = true;
  touch(ctx, 'inside');
  raise(ctx, happening, answerOf(ctx, volume, 'left'));
}

/** Somebody crossed a volume between two ticks: a swept one is entered and left, any other missed. */
function cross(ctx: WorldContext, { volume, happening }: Sensed): void {
  if (!ctx.plan.volumes[volume]!.swept) {
    raise(ctx, happening);
    return;
  }
  const { who, what, cause } = happening;
  const swept = { who, what, cause, details: { swept: true } } as const;
  raise(ctx, { kind: 'enter', ...swept }, answerOf(ctx, volume, 'entered'));
  raise(ctx, { kind: 'leave', ...swept }, answerOf(ctx, volume, 'left'));
}

/** Takes a visitor as inside of a volume from now on: its dwell begins. It fires no enter until it has left. */
export function beInside(ctx: WorldContext, visitor: VisitorState, number: number): void {
  const { state, plan } = ctx;
  state.stays += 1;
  visitor.within.set(number, state.stays);
  const inside = state.inside.get(number);
  if (inside === undefined) state.inside.set(number, new Set([visitor.order]));
  else inside.add(visitor.order);
  state.weigh = true;
  touch(ctx, 'inside');
  const { dwell } = plan.volumes[number]!;
  if (dwell !== null) schedule(ctx, dwell, { do: 'dwell', volume: number, visitor: visitor.order, stay: state.stays });
}

/** Says that a visitor was taken as inside of a volume without entering it. */
export function sayInside(ctx: ReportingContext, visitor: VisitorState, number: number, cause: number): void {
  const { id } = ctx.plan.volumes[number]!;
  if (ctx.plan.countedThings.has(id)) {
    const { insideByEvents } = ctx.state;
    insideByEvents.set(id, (insideByEvents.get(id) ?? new Set()).add(visitor.id));
  }
  write(ctx, { kind: 'arrived-inside', who: visitor.id, what: id, cause });
}

/** The volumes that a visitor overlaps where it is now and is not inside of yet, in order. */
export function newlyInside(ctx: WorldContext, visitor: VisitorState): number[] {
  const { plan, state } = ctx;
  const body = plan.visitors[visitor.order]!.shape;
  const now = moved(body, visitor.at.x, visitor.at.y, visitor.at.z);
  const found = plan.volumeGrids.get(visitor.room)?.find(footprint(now)) ?? [];
  return found
    .sort((a, b) => a - b)
    .filter(
      (number) =>
        !visitor.within.has(number) &&
        isPassableFor(plan, state, number, visitor) &&
        isThere(plan, state, number) &&
        overlaps(now, shapeOf(plan, state, number)),
    );
}
