import type { Level } from '../document/level';
import { brokenReferences, faultyConditions } from './document-errors';
import type { DocumentError } from './document-errors';
import { findWarnings } from './warnings';
import type { Warning } from './warnings';

/** What a check found: a fault does not hold together; a warning is nearly always a mistake; a remark often is meant so. */
export type Finding = Omit<Warning, 'weight'> & { weight: (typeof weights)[number] };

/** The weights of findings, the most severe first. */
export const weights = ['fault', 'warning', 'remark'] as const;

/** A document error as a finding. It has no single fix and cannot be accepted. */
export function findingOf(fault: DocumentError): Finding {
  return { ...fault, weight: 'fault', also: [], edit: null };
}

/** Finds everything that can be found without rehearsing, by weight, check by check: between two it can be interrupted. */
export function* findAll(level: Level): Generator<undefined, Finding[]> {
  const faults: DocumentError[] = [];
  for (const find of [brokenReferences, faultyConditions]) {
    faults.push(...find(level));
    yield;
  }
  const warnings = yield* findWarnings(level);
  return [...faults.map(findingOf), ...warnings];
}
