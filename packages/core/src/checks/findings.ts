import type { Level } from '../document/level';
import { brokenReferences, faultyConditions } from './snag';
import type { DocumentError } from './snag';
import { findWarnings } from './warnings';
import type { Warning } from './warnings';

/** What a check found: a fault does not hold together; a warning is nearly always a mistake; a remark often is meant so. */
export type Finding = Omit<Warning, 'weight'> & { weight: 'fault' | 'warning' | 'remark' };

/** Finds everything that can be found without rehearsing, by weight, check by check: between two it can be interrupted. */
export function* findAll(level: Level): Generator<undefined, Finding[]> {
  const faults: DocumentError[] = [];
  for (const find of [brokenReferences, faultyConditions]) {
    faults.push(...find(level));
    yield;
  }
  const warnings = yield* findWarnings(level);
  return [...faults.map((snag): Finding => ({ ...snag, weight: 'fault', also: [], edit: null })), ...warnings];
}
