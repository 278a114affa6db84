import { ticksOf } from '../../vocabulary/ticks';
import type { EventContext } from './context';
import { raiseFromStep } from './raising';

/** Says that a cue starts to play; gives for how many ticks it does. */
export function startCue(ctx: EventContext, id: string, cause: number, triggeredBy: string | null): number {
  const { seconds, says } = ctx.plan.cues.get(id)!;
  const { medium, ...spoken } = says;
  const ticks = ticksOf(seconds, ctx.plan.level.rate);
  raiseFromStep(ctx, {
    kind: 'cue-started',
    who: triggeredBy,
    what: id,
    cause,
    details: { medium, ticks, ...spoken },
  });
  return ticks;
}
