import { restore } from './changes';
import { markRelocated, face, place, withCarried } from './bodies';
import type { EventContext } from '../state/context';
import { chosenRule } from '../state/orders';
import { wakeUp } from './sleep';
import type { VisitorState } from '../state/world';
import { startWayAnew } from '../state/legs';
import { finishLater, raiseFromStep } from '../state/raising';

/**
 * A visitor has left a room. If it was the last player there and the room is one that starts over, its zones and fixtures are
 * as at the start, and the creatures and props that belong there and are there stand where they began.
 */
export function leaveRoom(ctx: EventContext, leaver: VisitorState, roomId: string, cause: number): void {
  const { plan, state, orders } = ctx;
  const room = plan.rooms.get(roomId);
  if (room === undefined) return;
  const isPlayer = (order: number): boolean => plan.visitors[order]!.visitor.kind === 'player';
  if (!isPlayer(leaver.order)) return;
  if (state.visitors.some((one) => one.inPlay && one.room === roomId && isPlayer(one.order))) return;
  const rule = room.leftEmpty === 'by-house-rule' ? chosenRule(orders, 'roomLeftEmpty') : room.leftEmpty;
  if (rule === 'keeps') return;
  for (const thing of [...plan.level.zones, ...plan.level.fixtures])
    if (thing.room === roomId) finishLater(ctx, restore(ctx, thing.id));
  for (const one of state.visitors) {
    const { visitor } = plan.visitors[one.order]!;
    if (isPlayer(one.order) || one.room !== roomId || visitor.room !== roomId || !one.inPlay || one.carriedBy !== null) continue;
    wakeUp(ctx, one);
    one.flight = null;
    one.push = null;
    face(ctx, one, visitor.heading);
    place(ctx, one, visitor.at);
    withCarried(ctx, one).forEach(markRelocated);
    startWayAnew(one);
  }
  raiseFromStep(ctx, {
    kind: 'changed',
    who: null,
    what: roomId,
    cause,
    details: { field: 'started over', from: false, to: true },
  });
}
