import type { Vector } from '../../vocabulary/quantities';
import { footprintOfWay } from '../../space/grid';
import type { Grid } from '../../space/grid';
import { moved, reformed } from '../../space/shapes';
import type { Shape } from '../../space/shapes';
import { sweep, sweepOnTheGround } from '../../space/sweep';
import type { Stretch } from '../../space/sweep';
import { legPoint } from '../state/legs';
import { isSolidFor, isThere, shapeOf } from '../state/poses';
import type { WorldContext } from '../state/context';
import type { WalkProgress, WakeTicks, VisitorState } from '../state/world';

/** More than the contact distance of a bump, in metres. */
export const CONTACT_MARGIN_M = 0.02;

/** The next tick of a leg at which anything can change. What is carried is woken with its carrier. */
export function nextMark(ctx: WorldContext, visitor: VisitorState, going: WalkProgress): number {
  const { state } = ctx;
  let { marks } = visitor;
  const old = marks === null || marks.going !== going || marks.leg !== going.next || marks.z !== visitor.at.z;
  if (marks === null || old || marks.until <= going.done) {
    marks = marksOf(ctx, visitor, going);
    visitor.marks = marks;
  }
  const i = going.done + 1;
  let next = marks.until;
  for (const { from, to } of marks.dense) if (to >= i && from < next) next = Math.max(i, from);
  for (const mark of marks.ticks) if (mark >= i && mark < next) next = mark;
  return state.tick + Math.max(1, next - going.done);
}

/** The marks of a leg from where the visitor is on it, as far as it is looked ahead. */
function marksOf(ctx: WorldContext, visitor: VisitorState, going: WalkProgress): WakeTicks {
  const { plan, state } = ctx;
  const begin = going.done;
  const metresATick = going.speed / plan.level.rate;
  const until = Math.min(going.ticks, begin + Math.max(1, Math.ceil(LOOK_AHEAD_M / metresATick)));
  const here = legPoint(plan, going, begin);
  const to = legPoint(plan, going, until);
  const dx = to.x - here.x;
  const dy = to.y - here.y;
  const perTick = metresATick / Math.sqrt(dx * dx + dy * dy);
  const ticks: number[] = [];
  const dense: WakeTicks['dense'] = [];
  const bodies = bodiesOf(ctx, visitor, here);
  bodies.forEach(({ body, of }, place) => {
    const numbers = along(plan.volumeGrids.get(visitor.room), body, dx, dy);
    for (const number of numbers) {
      const shape = shapeOf(plan, state, number);
      if (isSolidFor(plan, state, number, of)) {
        if (place > 0) continue;
        const near = sweepOnTheGround(body, dx, dy, grown(shape));
        const isUnder = shape.z + shape.height <= body.z;
        if (near !== null && (isUnder || shape.z >= body.z + body.height + CONTACT_MARGIN_M)) {
          // It passes over or under it: what it stands on changes, and what it has touched is left.
          mark(ticks, begin, perTick, near);
          const stretch = sweepOnTheGround(body, dx, dy, shape);
          if (stretch !== null) mark(ticks, begin, perTick, stretch);
        } else if (near !== null)
          // All the while that it is near enough to bump.
          dense.push({
            from: begin + Math.floor(near.from / perTick - ROUNDING_TICKS),
            to: begin + Math.ceil(near.to / perTick + ROUNDING_TICKS) + 1,
          });
      } else if (isThere(plan, state, number)) {
        const stretch = sweep(body, dx, dy, 0, shape);
        if (stretch !== null) mark(ticks, begin, perTick, stretch);
      }
    }
    if (place > 0) return;
    for (const number of along(plan.solidGrids.get(visitor.room), body, dx, dy)) {
      const stretch = sweepOnTheGround(body, dx, dy, plan.solids[number]!.shape);
      if (stretch !== null) mark(ticks, begin, perTick, stretch);
    }
  });
  return { going, leg: going.next, z: visitor.at.z, until, ticks, dense };
}

/** The bodies of a visitor and of all it carries, at a point of the ground. */
export function bodiesOf(ctx: WorldContext, visitor: VisitorState, { x, y }: Vector): { body: Shape; of: VisitorState }[] {
  const { order, at, carries } = visitor;
  const own = { body: moved(ctx.plan.visitors[order]!.shape, x, y, at.z), of: visitor };
  if (carries.length === 0) return [own];
  return [own, ...carries.flatMap((carried) => bodiesOf(ctx, ctx.state.visitors[carried]!, { x, y, z: 0 }))];
}

/** Marks the ticks at which a crossing can begin and end. */
function mark(ticks: number[], begin: number, perTick: number, { from, to }: Stretch): void {
  for (let slack = -ROUNDING_TICKS; slack <= ROUNDING_TICKS; slack += 2 * ROUNDING_TICKS) {
    ticks.push(begin + (from === 0 ? 1 : Math.floor(from / perTick + slack) + 1));
    if (to < 1) ticks.push(begin + Math.ceil(to / perTick + slack));
  }
}

/** The numbers in a grid that could meet a body on a straight move, which is looked at piece by piece. */
function along(grid: Grid | undefined, body: Shape, dx: number, dy: number): number[] {
  const found: number[] = [];
  if (grid === undefined) return found;
  grid.begin();
  const pieces = Math.max(1, Math.ceil(Math.max(Math.abs(dx), Math.abs(dy)) / LEG_PIECE_M));
  for (let i = 0; i < pieces; i++) {
    const from = i === 0 ? body : moved(body, body.x + (dx * i) / pieces, body.y + (dy * i) / pieces, body.z);
    grid.findMore(footprintOfWay(from, dx / pieces, dy / pieces, CONTACT_MARGIN_M), found);
  }
  return found;
}

/** The distance that a leg is looked ahead, in metres. */
const LOOK_AHEAD_M = 32;
/** The length of one piece of a leg, in metres. */
const LEG_PIECE_M = 6;

/** More than rounding can shift a crossing by, in ticks. */
const ROUNDING_TICKS = 1e-6;

function grown(shape: Shape): Shape {
  return reformed(shape, shape.form, shape.halfX + CONTACT_MARGIN_M, shape.halfY + CONTACT_MARGIN_M, shape.z, shape.height);
}
