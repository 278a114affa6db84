import { ticksOf } from '../../vocabulary/ticks';
import type { EventContext } from './context';
import { raiseFromStep } from './raising';

/** Says that a cue starts to play; gives for how many ticks it does. */
export function startCue(rehearsing: EventContext, id: string, cause: number, hand: string | null): number {
  const { seconds, says } = rehearsing.plan.cues.get(id)!;
  const { medium, ...spoken } = says;
  const ticks = ticksOf(seconds, rehearsing.plan.level.rate);
  raiseFromStep(rehearsing, {
    kind: 'cue-started',
    who: hand,
    what: id,
    cause,
    details: { medium, ticks, ...spoken },
  });
  return ticks;
}
