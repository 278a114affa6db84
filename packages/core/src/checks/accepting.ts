import type { Edit } from '../document/edit';
import type { AcceptedFinding, Level } from '../document/level';
import type { Finding } from './findings';

/** The parts of a finding that identify it. */
type Known = Pick<Finding, 'kind' | 'thing' | 'also' | 'reason'>;

/** Looks up whether a finding was accepted; null if not, or if it was accepted for a different reason. */
export function acceptanceIn(level: Level): (finding: Known) => AcceptedFinding | null {
  const accepted = new Map((level.accepted ?? []).map((one) => [keyOf(one), one]));
  return (finding) => (accepted.size === 0 ? null : (accepted.get(keyOf(recordOf(finding, ''))) ?? null));
}

/** Findings apart from those that were accepted, and these with their notes; both in the order given. */
export function partedByAcceptance<F extends Known>(
  level: Level,
  findings: readonly F[],
): { open: F[]; accepted: { finding: F; note: string }[] } {
  const acceptance = acceptanceIn(level);
  const open: F[] = [];
  const accepted: { finding: F; note: string }[] = [];
  for (const finding of findings) {
    const found = acceptance(finding);
    if (found === null) open.push(finding);
    else accepted.push({ finding, note: found.note });
  }
  return { open, accepted };
}

/** The edit that accepts a finding with a note, replacing an earlier note. */
export function accepting(level: Level, finding: Known, note: string): Edit {
  return listed(level, [...without(level, finding), recordOf(finding, note)]);
}

/** The edit that withdraws an acceptance, so that the finding counts again. */
export function reopening(level: Level, finding: Known): Edit {
  return listed(level, without(level, finding));
}

function without(level: Level, finding: Known): AcceptedFinding[] {
  const key = keyOf(recordOf(finding, ''));
  return (level.accepted ?? []).filter((one) => keyOf(one) !== key);
}

function listed(level: Level, accepted: AcceptedFinding[]): Edit {
  const before = level.accepted === undefined ? {} : { accepted: level.accepted };
  return { kind: 'level', before, after: accepted.length === 0 ? {} : { accepted } };
}

function recordOf({ kind, thing, also, reason }: Known, note: string): AcceptedFinding {
  return { kind, about: [thing, ...also], reason, note };
}

/** Two reasons are the same if they concern the same things and differ only in names. */
function keyOf({ kind, about, reason }: AcceptedFinding): string {
  return JSON.stringify([kind, about, reason.replace(/“[^”]*”/g, '“”')]);
}
