import { idsByTag } from '../../conditions/known';
import type { ReadState } from '../../conditions/vocabulary';
import type { VisitorKind } from '../../vocabulary/visitor-kinds';
import type { Plate } from '../../kinds/fixtures';
import { loadOf } from '../sensing/plates';
import { isSolid } from '../state/poses';
import type { KernelContext } from '../state/context';
import { toldHeading } from '../../space/headings';
import { insideOf } from '../state/world';
import type { VisitorState } from '../state/world';
import { factOf } from '../state/facts';

/** Answers what conditions ask of a rehearsal's state. */
export function answersOf(ctx: KernelContext): ReadState {
  const { plan, state } = ctx;
  /** Null where `hand()` stands for a visitor and none triggered anything. */
  const visitor = (id: string): VisitorState | null => state.visitors[plan.visitorOf.get(id) ?? -1] ?? null;
  const inPlay = (kind: VisitorKind): string[] =>
    state.visitors.flatMap((one) => (one.inPlay && plan.visitors[one.order]!.visitor.kind === kind ? [one.id] : []));
  return (asked, [first = '', second = '']) => {
    switch (asked) {
      case 'flag':
      case 'counter':
      case 'text':
        return factOf(ctx, first, ctx.triggeredBy) ?? '';
      case 'flagOf':
      case 'counterOf':
      case 'textOf':
        return factOf(ctx, first, second) ?? '';
      case 'on':
        return state.switches.get(first)!.on;
      case 'pressed':
        return state.pressed.get(first)!;
      case 'load':
        return loadOf(ctx, plan.fixtures.get(first) as Plate);
      case 'open':
        return state.machines.get(first)!.motion === null && state.machines.get(first)!.clock === 1;
      case 'closed':
        return state.machines.get(first)!.motion === null && state.machines.get(first)!.clock === 0;
      case 'stop': {
        const { motion, clock } = state.machines.get(first)!;
        return motion === null && Number.isInteger(clock) ? clock + 1 : 0;
      }
      case 'moving':
        return state.machines.get(first)!.motion !== null;
      case 'shown':
        return state.shown.get(first)!;
      case 'seeThrough':
        return state.seeThrough.has(first);
      case 'solid':
        return isSolid(plan, state, plan.volumeOf.get(first)!);
      case 'enabled':
        return !state.disabled.has(first);
      case 'collected':
        return state.collected.has(first);
      case 'owner':
        return state.owners.get(first) ?? '';
      case 'inside':
        return insideOf(state, plan.volumeOf.get(second)!).has(plan.visitorOf.get(first) ?? -1);
      case 'count':
        return insideOf(state, plan.volumeOf.get(first)!).size;
      case 'inPlay':
        return visitor(first)?.inPlay ?? false;
      case 'room':
        return visitor(first)?.inPlay === true ? visitor(first)!.room : '';
      case 'heading':
        return toldHeading(visitor(first)?.heading ?? 0);
      case 'carrier': {
        const by = visitor(first)?.carriedBy ?? null;
        return by === null ? '' : state.visitors[by]!.id;
      }
      case 'held':
        return visitor(first)?.held ?? false;
      case 'running':
        return state.runs.has(first);
      case 'hand':
        return ctx.triggeredBy ?? '';
      case 'tagged':
        return idsByTag(plan.things).get(first) ?? [];
      case 'visitors': {
        const inside = insideOf(state, plan.volumeOf.get(first)!);
        return state.visitors.flatMap(({ id, order }) => (inside.has(order) ? [id] : []));
      }
      case 'players':
        return inPlay('player');
      case 'creatures':
        return inPlay('creature');
      case 'props':
        return inPlay('prop');
      case 'hasTag':
        return idsByTag(plan.things).get(second)?.includes(first) ?? false;
      case 'kind':
        return plan.visitors[plan.visitorOf.get(first) ?? -1]?.visitor.kind ?? '';
    }
  };
}
