import type { Level } from '../document/level';
import { snagsOf } from './snag';
import { warningsOf } from './warnings';
import type { Warning } from './warnings';

/** What a check found: a fault does not hold together; a warning is nearly always a mistake; a remark often is meant so. */
export type Finding = Omit<Warning, 'weight'> & { weight: 'fault' | 'warning' | 'remark' };

/** Everything that can be found without rehearsing, by weight. */
export function findingsOf(level: Level): Finding[] {
  const faults = snagsOf(level).map((snag): Finding => ({ ...snag, weight: 'fault', also: [], edit: null }));
  return [...faults, ...warningsOf(level)];
}
