import {
  entrySentence,
  explainLog,
  nameOf,
  orderSafety,
  quantile,
  readPlayLog,
  remediesFor,
  rulesInWords,
  spreadOf,
  spreadRuns,
  oneLine,
} from '@nettlewick/core';
import type { Spreading } from '@nettlewick/core';
import { CliError, EXIT_FINDINGS, EXIT_OK, findWalk, textOf, wholeLevel } from './documents';
import type { CliIo } from './documents';

export interface OfWalk {
  walk: string;
  json?: true;
}

/** What of a walk hangs on the house rules. */
export function orderSafetyFile(surroundings: CliIo, file: string, options: OfWalk): number {
  const level = wholeLevel(surroundings, file);
  const found = orderSafety(level, findWalk(level, options.walk));
  for (const one of found.dependences) {
    const { kind, entries, rules, from, to, says, mend } = one;
    const { now, otherwise } = rulesInWords(one);
    surroundings.out(
      options.json === true
        ? `${JSON.stringify({ kind, entries, rules, from, to, says, mend })}\n`
        : `${oneLine(`${kind}: ${says}. Rule: ${now}. Differs with: ${otherwise}. ${mend}`)}\n`,
    );
  }
  for (const { id, label, sets, rules } of found.unsafe)
    surroundings.out(
      options.json === true
        ? `${JSON.stringify({ kind: 'expectation', id, label, sets, rules })}\n`
        : `${oneLine(`expectation: ${label === '' ? id : label}: not met under ${sets} of ${found.sets} sets of rules; ${rules.join(', ')} decides`)}\n`,
    );
  if (options.json !== true && found.collapsed > 0)
    surroundings.out(
      `${found.collapsed} more ${found.collapsed === 1 ? 'difference' : 'differences'} in order without any effect\n`,
    );
  if (options.json !== true)
    surroundings.out(
      `${found.sets} sets of house rules come to ${found.ledgers} ${found.ledgers === 1 ? 'ledger' : 'different ledgers'}\n`,
    );
  return found.dependences.length + found.unsafe.length > 0 ? EXIT_FINDINGS : EXIT_OK;
}

export interface SpreadOptions extends OfWalk {
  runs: number;
  start: number;
  speed: number;
  path: number;
  rates?: number[];
}

/** How firing times spread over varied runs, and what was missed. */
export function spreadFile(surroundings: CliIo, file: string, options: SpreadOptions): number {
  const level = wholeLevel(surroundings, file);
  const walk = findWalk(level, options.walk);
  const by: Spreading = { start: options.start, speed: options.speed, path: options.path, rates: options.rates ?? [level.rate] };
  const seeds = Array.from({ length: options.runs }, (_, seed) => seed);
  const { chains, misses, ranAway } = spreadOf(level, spreadRuns(level, walk, by, seeds));
  const seconds = (value: number): string => value.toFixed(2);
  for (const { chain, times, never } of chains) {
    const [least, early, middle, late, most] = [0, 0.05, 0.5, 0.95, 1].map((part) => quantile(times, part)) as [
      number,
      number,
      number,
      number,
      number,
    ];
    surroundings.out(
      options.json === true
        ? `${JSON.stringify({ kind: 'chain', chain, started: times.length, least, early, middle, late, most, never: never.slice(0, 20) })}\n`
        : `${oneLine(`${nameOf(level, chain).trim()}: started in ${times.length} of ${options.runs} runs, mostly at ${seconds(early)} to ${seconds(late)} s (${seconds(least)} to ${seconds(most)})`)}\n`,
    );
  }
  for (const { what, seeds: missing, atRates, slowest } of misses) {
    const remedies = remediesFor(level, walk, by, what, missing);
    const rates = atRates.map(({ rate, missed, runs }) => `${missed} of ${runs} at ${rate} ticks a second`).join(', ');
    surroundings.out(
      options.json === true
        ? `${JSON.stringify({ kind: 'missed', what, times: missing.length, atRates, slowest, seeds: missing.slice(0, 20), remedies: remedies.map(({ says }) => says) })}\n`
        : `${oneLine(`missed: ${nameOf(level, what).trim()}, in ${missing.length} runs (${rates}), at ${slowest.toFixed(1)} m/s and faster. ${remedies.map(({ says }) => says).join(' Or: ')}`)}\n`,
    );
  }
  for (const seed of ranAway)
    surroundings.out(options.json === true ? `${JSON.stringify({ kind: 'runaway', seed })}\n` : `runaway: with seed ${seed}\n`);
  return misses.length + ranAway.length > 0 ? EXIT_FINDINGS : EXIT_OK;
}

/** What a real play has fired, beside what the level says, and which rules explain it. */
export function explainLogFile(surroundings: CliIo, file: string, log: string, options: { json?: true }): number {
  const level = wholeLevel(surroundings, file);
  const read = readPlayLog(level, textOf(surroundings, log));
  if (!read.ok)
    throw new CliError(read.faults.map(({ line, message }) => oneLine(`${log}: line ${line}: ${message}`)).join('\n'));
  const { rows, first, simplest, sets } = explainLog(level, read.log);
  const name = (id: string): string => nameOf(level, id).trim();
  rows.forEach(({ fired, entry }, at) => {
    if (options.json === true) {
      surroundings.out(
        `${JSON.stringify({ line: fired?.line ?? null, at: fired?.at ?? null, entry, same: fired !== null && entry !== null })}\n`,
      );
      return;
    }
    const played =
      fired === null
        ? '—'
        : `${fired.at.toFixed(3)} s ${fired.kind} ${fired.who === null ? '' : name(fired.who)} ${fired.what === null ? '' : name(fired.what)}`;
    const said = entry === null ? '—' : `${entry.seconds.toFixed(3)} s ${entrySentence(entry, name)}`;
    surroundings.out(`${at === first ? 'first difference: ' : ''}${oneLine(`${played.trim()} | ${said}`)}\n`);
  });
  const [nearest] = simplest;
  const verdict =
    nearest === undefined
      ? 'no set of house rules matches the log'
      : nearest.rules.length === 0
        ? 'the rules of the level explain it'
        : simplest
            .map((one) => `explained where ${one.rules.map((rule) => `${rule}=${one.set[rule]}`).join(' and ')}`)
            .join('\n');
  if (options.json === true)
    surroundings.out(
      `${JSON.stringify({ explainedBy: nearest?.set ?? null, rules: nearest?.rules ?? null, sets, ways: simplest })}\n`,
    );
  else surroundings.out(`${verdict}${sets > simplest.length ? ` (and ${sets - simplest.length} other sets)` : ''}\n`);
  return nearest?.rules.length === 0 ? EXIT_OK : EXIT_FINDINGS;
}
