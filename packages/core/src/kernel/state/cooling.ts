import { kindOfFixture } from '../../kinds/fixtures';
import type { Fixture } from '../../kinds/fixtures';
import type { Taking } from '../../kinds/fixtures/fixture-kind';
import { ticksOf } from '../../vocabulary/ticks';
import type { CompiledLevel } from './plan';

/** The tick from which a passage takes somebody again; `key` is its id, and the visitor's where it pauses for each. */
export function cooledAt(plan: CompiledLevel, key: string, since: number): number {
  return since + pauseOf(plan, key);
}

/** For how many ticks a passage takes nobody after it has taken somebody. */
export function pauseOf({ fixtures, level }: CompiledLevel, key: string): number {
  return ticksOf(takingOf(fixtures.get(key.split(' ')[0]!)!).cooldown, level.rate);
}

/** How a passage takes those whom it lets pass. */
export function takingOf(passage: Fixture): Taking {
  return kindOfFixture(passage.kind).takes!(passage);
}
