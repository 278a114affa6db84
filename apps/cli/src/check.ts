import {
  acceptanceIn,
  documentErrors,
  findingOf,
  findingsOfWalks,
  jsonPatchOf,
  lookup,
  oneLine,
  provenFindings,
  rehearse,
  warningsOf,
  weights,
} from '@nettlewick/core';
import { sarifLog } from '@nettlewick/core/sarif';
import type { Finding, Level } from '@nettlewick/core';
import { CliError, EXIT_FINDINGS, EXIT_OK, faultLines, read, save, textOf } from './documents';
import type { CliIo } from './documents';

export interface CheckOptions {
  json?: true;
  warnings?: true;
  walks?: true;
  sarif?: string;
  failOn: Finding['weight'];
  baseline?: string;
}

/** A finding with its message, and the note if it was accepted. */
interface Told extends Finding {
  message: string;
  accepted: string | null;
}

/** Checks a document and prints its findings. Gives 1 if any is as severe as `failOn`, not accepted, and not in the baseline. */
export function checkFile(surroundings: CliIo, file: string, options: CheckOptions): number {
  const parsed = read(surroundings, file);
  const level = parsed.ok ? parsed.level : null;
  const found = parsed.ok ? findingsIn(parsed.level, options) : parsed.faults.map(unreadable);
  const acceptance = level === null ? () => null : acceptanceIn(level);
  const told = found.map((one): Told => ({
    ...one,
    message: `${one.reason} ${one.mend}`.trim(),
    accepted: acceptance(one)?.note ?? null,
  }));
  print(surroundings, file, told, options.json === true);
  const known = options.baseline === undefined ? null : baselineOf(surroundings, options.baseline);
  if (options.sarif !== undefined)
    save(surroundings, options.sarif, sarifOf(file, textOf(surroundings, file), told, known, level));
  const least = weights.indexOf(options.failOn);
  const counts = told.filter((one) => one.accepted === null && weights.indexOf(one.weight) <= least);
  return counts.every(({ message }) => known?.has(message) === true) ? EXIT_OK : EXIT_FINDINGS;
}

/** The findings that the options ask for. */
function findingsIn(level: Level, { warnings, walks, sarif, failOn }: CheckOptions): Finding[] {
  const isAsked = warnings === true || walks === true || sarif !== undefined || failOn !== 'fault';
  const found = [...documentErrors(level).map(findingOf), ...(isAsked ? warningsOf(level) : [])];
  if (walks !== true) return found;
  const seen = level.walks.map((walk) => ({ walk, rehearsal: rehearse(level, walk) }));
  return [...provenFindings(level, found), ...findingsOfWalks(level, seen).findings];
}

function unreadable({ path, message }: { path: string; message: string }): Finding {
  return { kind: 'invalid-document', weight: 'fault', thing: '', also: [], path, reason: message, mend: '', edit: null };
}

function print({ out }: CliIo, file: string, told: readonly Told[], asJson: boolean): void {
  const faults = told.filter(({ weight }) => weight === 'fault');
  const others = told.filter(({ weight }) => weight !== 'fault');
  if (asJson) {
    for (const { path, message } of faults) out(`${JSON.stringify({ path, message })}\n`);
    for (const { path, message, weight, kind, accepted } of others)
      out(`${JSON.stringify({ path, message, weight, kind, ...(accepted === null ? {} : { accepted }) })}\n`);
    return;
  }
  if (faults.length > 0) out(`${faultLines(faults)}\n`);
  out(faults.length === 0 ? `${file}: no faults\n` : `${file}: ${faults.length} fault${faults.length === 1 ? '' : 's'}\n`);
  for (const { weight, path, message, accepted } of others)
    out(
      `${oneLine(`${weight} ${path}: ${message}${accepted === null ? '' : ` (accepted${accepted === '' ? '' : `: ${accepted}`})`}`)}\n`,
    );
}

function sarifOf(
  file: string,
  text: string,
  told: readonly Told[],
  known: ReadonlySet<string> | null,
  level: Level | null,
): string {
  const things = level === null ? null : lookup(level);
  const log = sarifLog(
    file,
    text,
    told.map(({ kind, weight, path, message, thing, also, accepted, edit }) => ({
      kind,
      weight,
      path,
      message,
      // A document that cannot be read has no things, only places.
      fingerprint: [kind, thing === '' ? path : thing, ...also].join(' '),
      thing: things?.get(thing)?.thing.name.trim() ?? null,
      accepted,
      isNew: known === null ? null : !known.has(message),
      ...(level === null || edit === null ? {} : { patch: jsonPatchOf(level, edit) }),
    })),
  );
  return `${JSON.stringify(log, null, 2)}\n`;
}

/** The messages in a file printed by `check --json`. Findings are compared by message, because paths change when things are added. */
function baselineOf(surroundings: CliIo, file: string): Set<string> {
  const known = new Set<string>();
  const text = textOf(surroundings, file);
  for (const [at, line] of text.split('\n').entries()) {
    if (line.trim() === '') continue;
    const message = messageIn(line);
    if (message === null) throw new CliError(`${file}, line ${at + 1}, is no line of check --json. Print the baseline anew.`);
    known.add(message);
  }
  return known;
}

function messageIn(line: string): string | null {
  try {
    const { message } = JSON.parse(line) as { message?: unknown };
    return typeof message === 'string' ? message : null;
  } catch {
    return null;
  }
}
