import { chosenRule } from '../state/orders';
import { machineOver } from '../state/plan';
import type { WorldContext, EventContext } from '../state/context';
import { middleOf } from '../physics/spots';
import { ownTransform } from '../state/poses';
import type { MotionPath } from '../state/courses';
import type { KernelEvent, MachineState, VisitorState } from '../state/world';
import { roundTo } from '../../vocabulary/rounding';

/** What was found for one volume and one visitor. */
export interface Sensed {
  volume: number;
  visitor: VisitorState;
  happening: KernelEvent;
}

/** What put the visitor elsewhere; else the motion that moved the volume; else that which carried or pushed the visitor. */
export function causeOf({ plan, state }: WorldContext, visitor: VisitorState, number: number): number | null {
  if (visitor.putBy !== null) return visitor.putBy;
  for (let id = plan.volumes[number]!.movedBy; id !== null;) {
    const own = state.machines.get(id)!;
    if (hasMoved(plan.courses.get(id)!, own)) return own.lastMotion;
    const attachedTo = plan.fixtures.get(id)!.attachedTo;
    id = attachedTo === '' ? null : machineOver(plan, attachedTo);
  }
  return visitor.movedBy;
}

/** Whether a machine's own motion has brought it elsewhere since the last Sense: its clock may run while it stays where it is. */
function hasMoved(course: MotionPath, { clock, sensedClock }: MachineState): boolean {
  if (clock === sensedClock) return false;
  const [now, before] = [ownTransform(course, clock), ownTransform(course, sensedClock)];
  return now.x !== before.x || now.y !== before.y || now.z !== before.z || now.turn !== before.turn;
}

/** Sorts what was found by the house rule: by volume and then visitor, the other way round, or nearest middles first. */
export function inOrder(ctx: EventContext, found: Sensed[]): Sensed[] {
  if (found.length < 2) return found;
  const pairs = chosenRule(ctx.orders, 'pairs');
  const byVolume = (a: Sensed, b: Sensed): number => a.volume - b.volume || a.visitor.order - b.visitor.order;
  if (pairs === 'visitor-then-zone') return found.sort((a, b) => a.visitor.order - b.visitor.order || a.volume - b.volume);
  if (pairs === 'zone-then-visitor') return found.sort(byVolume);
  const apart = new Map(found.map((one) => [one, distance(ctx, one)]));
  return found.sort((a, b) => apart.get(a)! - apart.get(b)! || byVolume(a, b));
}

/** Between the middles of a visitor's body and a volume, in metres, rounded to 1e-9. */
function distance(ctx: WorldContext, { visitor, volume }: Sensed): number {
  const middle = middleOf(ctx, volume);
  const { height } = ctx.plan.visitors[visitor.order]!.shape;
  const dx = visitor.at.x - middle.x;
  const dy = visitor.at.y - middle.y;
  const dz = visitor.at.z + height / 2 - middle.z;
  return roundTo(Math.sqrt(dx * dx + dy * dy + dz * dz), 9);
}
