import type { Level } from '../../document/level';
import type { CompiledLevel } from './plan';

/** What of the state of visitors a level can read at all: nothing else of it decides anything. */
export interface Reads {
  /** Whether anything depends on where visitors face. */
  headings: boolean;
  /** The props of which it is asked who held them last. */
  holders: ReadonlySet<string>;
}

const known = new WeakMap<CompiledLevel, Reads>();

/** What a level can read, found once. */
export function readsOf(plan: CompiledLevel): Reads {
  let reads = known.get(plan);
  if (reads === undefined) {
    reads = { headings: readsHeadings(plan.level), holders: new Set(holdersOf(plan.level)) };
    known.set(plan, reads);
  }
  return reads;
}

/** Places along the axes of a visitor, velocities that turn with it, and conditions read headings. */
function readsHeadings(level: Level): boolean {
  return /"axes":"own"|"velocity":"turn"|\bheading\s*\(/.test(JSON.stringify(level));
}

function holdersOf({ chains }: Level): string[] {
  return chains.flatMap(({ steps }) =>
    steps.flatMap((step) => ('who' in step && step.who.by === 'holder' ? [step.who.prop] : [])),
  );
}
