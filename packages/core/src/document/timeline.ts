import { kindOfFixture } from '../kinds/fixtures';
import type { Fixture } from '../kinds/fixtures';
import { kindOfStep } from '../kinds/steps';
import type { Chain } from './chains';
import type { Level } from './level';
import { lookup } from './lookup';
import { targetsOf } from './targets';

/** Where a step stands on its chain's time ruler, in seconds from the chain's start. */
export interface Span {
  step: string;
  /** When its turn comes, before its delay. */
  turn: number;
  start: number;
  end: number;
}

/**
 * The steps of a chain on a time ruler, each as long as it takes if nothing turns it back or has been done already. What the document cannot
 * tell, such as how long somebody walks, is as long as it `took` once, in seconds by the steps' ids.
 */
export function timeline(level: Level, chain: Chain, took?: ReadonlyMap<string, number>): Span[] {
  const things = lookup(level);
  const travelOf = (id: string): number => {
    const found = things.get(id);
    return found?.collection === 'fixtures' ? secondsOf(found.thing as Fixture) : 0;
  };
  const spans: Span[] = [];
  let latest = 0;
  for (const step of chain.steps) {
    const previous = spans.at(-1);
    const turn = step.start === 'with' && previous !== undefined ? previous.start : latest;
    const start = turn + step.delay;
    // Where all with a tag are meant, it is over when the last of them is.
    const isTagged = 'tagged' in step && step.tagged !== '';
    const travel = isTagged ? () => Math.max(0, ...targetsOf(level, step).map(travelOf)) : travelOf;
    const lasts = kindOfStep(step.kind).lasts(step, travel);
    const end = start + (lasts === 0 ? (took?.get(step.id) ?? 0) : lasts);
    latest = Math.max(latest, end);
    spans.push({ step: step.id, turn, start, end });
  }
  return spans;
}

/** How long a fixture takes from one end to the other (an elevator from one stop to the next), or a cue to play. */
function secondsOf(fixture: Fixture): number {
  return kindOfFixture(fixture.kind).lasts?.(fixture) ?? 0;
}
