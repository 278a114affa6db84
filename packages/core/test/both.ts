import { ledgerText } from '../src/index';
import { levelOf, run, told } from './build';
import { naiveRehearsal } from './naive/kernel';
import { textOf } from './naive/world';

/** The lines of a level of which both kernels tell the same, byte for byte. */
export function toldByBoth(parts: Record<string, unknown>, ...kinds: string[]): string[] {
  const { entries } = run(parts);
  const level = levelOf(parts);
  expect(ledgerText(entries)).toBe(textOf(naiveRehearsal(level, level.walks[0]!)));
  return told(entries, ...kinds);
}
