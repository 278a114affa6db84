import {
  changesInWords,
  compareLedgers,
  coverageOf,
  explain,
  explainStep,
  explainUnmet,
  findFixes,
  jsonPatchOf,
  matrixOf,
  nameOf,
  oneLine,
  firstDifference,
  percentage,
  rehearse,
  ticksOf,
  whoeverItIs,
  whyNotAt,
  withProvenRemedies,
} from '@nettlewick/core';
import type { Covered, HouseRules, Ledger, Level, Walk } from '@nettlewick/core';
import { CliError, EXIT_FINDINGS, EXIT_OK, findThing, findWalk, wholeLevel } from './documents';
import type { CliIo } from './documents';

export interface OverWalks {
  walk?: string;
  json?: true;
}

function runsOf(level: Level, wanted: string | undefined): Map<string, Ledger> {
  const walks = wanted === undefined ? level.walks : [findWalk(level, wanted)];
  return new Map(walks.map((walk) => [walk.id, rehearse(level, walk).ledger]));
}

/** What sets off against what acts. */
export function matrixFile(surroundings: CliIo, file: string, options: OverWalks & { by?: string }): number {
  const level = wholeLevel(surroundings, file);
  const name = (id: string): string => (id === whoeverItIs ? id : nameOf(level, id).trim());
  const only = options.by === undefined ? undefined : findThing(level, options.by, ['visitors']);
  for (const { from, raised, unwired, cells } of matrixOf(level, runsOf(level, options.walk), only).rows) {
    if (unwired) {
      const says = `${name(from)}: nothing is wired to it, and it was reached ${raised} ${raised === 1 ? 'time' : 'times'}`;
      surroundings.out(options.json === true ? `${JSON.stringify({ from, to: null, raised })}\n` : `${oneLine(says)}\n`);
    }
    for (const [to, { chains, acts, fired, first, held, by }] of cells) {
      const came =
        fired > 0 ? `fired ${fired} ${fired === 1 ? 'time' : 'times'}` : held.length > 0 ? 'never fired' : 'never tried';
      const holding = held.map(({ reason, times }) => `, held ${times}× (${reason})`).join('');
      const whose = by.map(({ who }) => (who === null ? 'nobody' : name(who))).join(', ');
      const through = chains.length === 0 ? 'by itself' : chains.map(name).join(', ');
      surroundings.out(
        options.json === true
          ? `${JSON.stringify({ from, to, chains, fired, first, held, acts, by })}\n`
          : `${oneLine(`${name(from)} → ${name(to)}: ${came}${holding}${whose === '' ? '' : ` by ${whose}`} [${through}]`)}\n`,
      );
    }
  }
  return EXIT_OK;
}

/** Which of several causes a gate stands before. */
function causeSaid(level: Level, { kind, thing, cause }: Covered): string {
  if (kind !== 'gate') return '';
  if (cause === null) return ' (started by a step)';
  const { causes } = level.chains.find(({ id }) => id === thing)!;
  return causes.length === 1 ? '' : ` (cause ${causes.findIndex(({ id }) => id === cause) + 1})`;
}

/** What no walk has tried. */
export function coverageFile(surroundings: CliIo, file: string, options: OverWalks & { atLeast?: number }): number {
  const level = wholeLevel(surroundings, file);
  const covered = coverageOf(level, runsOf(level, options.walk));
  const share = percentage(covered);
  for (const one of covered) {
    if (options.json === true) surroundings.out(`${JSON.stringify(one)}\n`);
    else if (!one.tried)
      surroundings.out(
        `${oneLine(`not tried: ${one.kind} ${nameOf(level, one.thing).trim()} ${one.part}`.trimEnd())}${causeSaid(level, one)}\n`,
      );
  }
  if (options.json !== true) surroundings.out(`${share.toFixed(1)} % of ${covered.length} covered\n`);
  return options.atLeast !== undefined && share < options.atLeast ? EXIT_FINDINGS : EXIT_OK;
}

export interface CompareOptions {
  walk: string;
  walkAfter?: string;
  seed: number;
  seedAfter?: number;
  rule: Partial<HouseRules>;
  ruleAfter: Partial<HouseRules>;
  json?: true;
}

/** How a walk differs between two documents, or two walks, seeds or sets of house rules. */
export function compareFiles(surroundings: CliIo, one: string, other: string, options: CompareOptions): number {
  const [before, after] = [wholeLevel(surroundings, one), wholeLevel(surroundings, other)];
  const { walk, walkAfter, seed, seedAfter, rule, ruleAfter } = options;
  const first = rehearse(before, findWalk(before, walk), { seed, rules: rule }).ledger;
  const second = rehearse(after, findWalk(after, walkAfter ?? walk), {
    seed: seedAfter ?? seed,
    rules: { ...rule, ...ruleAfter },
  }).ledger;
  const found = compareLedgers(first, second);
  const name = (id: string): string => nameOf(after, id);
  for (const { says } of changesInWords(found, name))
    surroundings.out(options.json === true ? `${JSON.stringify({ says })}\n` : `${oneLine(says)}\n`);
  if (found.reordered > 0) {
    const says = `${found.reordered} ${found.reordered === 1 ? 'entry comes' : 'entries come'} in another order`;
    surroundings.out(options.json === true ? `${JSON.stringify({ says })}\n` : `${says}\n`);
  }
  if (options.json === true) return found.first === null ? EXIT_OK : EXIT_FINDINGS;
  const parting = firstDifference(found, first, second, name);
  if (parting === null) surroundings.out('no differences\n');
  else {
    const said = (text: string | null): string => (text === null ? 'nothing more' : `“${text}”`);
    const since = parting.since === null ? '' : `, after “${parting.since}”`;
    surroundings.out(
      `${oneLine(`first difference at ${parting.seconds.toFixed(2)} s${since}: the first says ${said(parting.before)}, the second ${said(parting.after)}`)}\n`,
    );
  }
  return found.first === null ? EXIT_OK : EXIT_FINDINGS;
}

export interface WhyOptions {
  walk: string;
  step?: number;
  at?: number;
  json?: true;
  seed: number;
  rule: Partial<HouseRules>;
}

/** Why nothing happened at a thing, a step of a chain, or a moment; without any of these, why each expectation is not met that is not. */
export function whyFile(surroundings: CliIo, file: string, wanted: string | undefined, options: WhyOptions): number {
  const level = wholeLevel(surroundings, file);
  const walk = findWalk(level, options.walk);
  const { at, step } = options;
  if (wanted !== undefined && at !== undefined) throw new CliError('Give either a thing or a moment (--at).');
  const id = wanted === undefined ? '' : findThing(level, wanted, step === undefined ? undefined : ['chains']);
  const stepId = step === undefined ? undefined : level.chains.find((chain) => chain.id === id)?.steps[step - 1]?.id;
  if (step !== undefined && stepId === undefined) throw new CliError(`The chain has no step ${step}.`);
  const run = rehearse(level, walk, { seed: options.seed, rules: options.rule });
  // With another seed or other rules, what was tried would be another run.
  const isOwn = options.seed === 0 && Object.keys(options.rule).length === 0;
  const found =
    at !== undefined
      ? whyNotAt(level, run, ticksOf(at, run.rate))
      : wanted === undefined
        ? explainUnmet(level, run, isOwn)
        : stepId === undefined
          ? explain(level, run, id)
          : explainStep(level, run, id, stepId);
  if (wanted === undefined && at === undefined && found.length === 0 && options.json !== true) surroundings.out(allMet(walk));
  const reasons = isOwn ? withProvenRemedies(level, run, found) : found.map((one) => ({ ...one, mend: '', edit: null }));
  for (const { says, entries, mend, edit } of reasons)
    surroundings.out(
      options.json === true
        ? `${JSON.stringify({ says, entries, mend, ...(edit === null ? {} : { patch: jsonPatchOf(level, edit) }) })}\n`
        : `${oneLine(`${says}${entries.length === 0 ? '' : ` [entry ${entries.slice(0, 4).join(', ')}]`}${mend === '' ? '' : ` ${mend}`}`)}\n`,
    );
  return EXIT_OK;
}

function allMet(walk: Walk): string {
  return walk.expectations.length === 0 ? 'nothing is expected of this walk\n' : 'every expectation of this walk is met\n';
}

export interface FixOptions {
  walk: string;
  json?: true;
  tries?: number;
}

/** The best fixes for what was expected of a walk and is not met, each tried on a copy of the level over all walks. */
export function fixFile(surroundings: CliIo, file: string, options: FixOptions): number {
  const level = wholeLevel(surroundings, file);
  const walk = findWalk(level, options.walk);
  const unmet = rehearse(level, walk).expectations.filter(({ passed }) => !passed);
  if (unmet.length === 0) {
    if (options.json !== true) surroundings.out(allMet(walk));
    return EXIT_OK;
  }
  const search = findFixes(level, walk.id, options.tries === undefined ? {} : { tries: options.tries });
  let next = search.next();
  for (; next.done !== true; next = search.next())
    if (next.value % 100 === 0) surroundings.progress?.(`${next.value} small edits tried`);
  surroundings.progress?.(null);
  const fixes = next.value;
  if (options.json === true) {
    for (const { says, thing, edit, meets, left, changes } of fixes)
      surroundings.out(`${JSON.stringify({ says, thing, patch: jsonPatchOf(level, edit), meets, left, changes })}\n`);
    return EXIT_FINDINGS;
  }
  for (const { says, meets, left, changes } of fixes) {
    const more = left === 0 ? 'every expectation is met' : `${meets.length} more met, ${left} not`;
    surroundings.out(`${oneLine(`${says} Then ${more}.`)}\n`);
    for (const { says: told } of changes) for (const one of told) surroundings.out(`  ${oneLine(one)}\n`);
  }
  if (fixes.length === 0) surroundings.out('no small edit meets what is expected\n');
  return EXIT_FINDINGS;
}
