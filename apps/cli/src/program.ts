import {
  MOST_ENTRIES,
  ledgerCsv,
  nameOf,
  reasonOf,
  rehearse,
  documentErrors,
  weights,
  statesVcd,
  oneLine,
  printable,
} from '@nettlewick/core';
import { junitXml } from '@nettlewick/core/junit';
import type { HouseRules, Level, Rehearsal } from '@nettlewick/core';
import { Command, CommanderError, Option } from 'commander';
import { compareFiles, coverageFile, fixFile, matrixFile, whyFile } from './answers';
import type { CompareOptions, FixOptions, OverWalks, WhyOptions } from './answers';
import { checkFile } from './check';
import type { CheckOptions } from './check';
import { EXIT_ERROR, CliError, EXIT_FINDINGS, EXIT_OK, findWalk, save, walkList, wholeLevel } from './documents';
import type { CliIo } from './documents';
import { entryCount, listOfRates, number, percent, runCount, wholeNumber, withRule } from './options';
import { report } from './report';
import { explainLogFile, orderSafetyFile, spreadFile } from './searches';
import type { OfWalk, SpreadOptions } from './searches';
import { printFile, readTextFile } from './wiring';

/** Runs the command line and gives its exit code: 0 well, 1 found something, 2 could not run. */
export function program(args: readonly string[], given: CliIo): number {
  let code = EXIT_OK;
  const surroundings: CliIo = {
    folder: given.folder,
    out: (text) => given.out(printable(text)),
    err: (text) => given.err(printable(text)),
    progress: given.progress,
  };
  const command = commands(surroundings, (found) => (code = found));
  try {
    command.parse([...args], { from: 'user' });
    return code;
  } catch (error) {
    if (error instanceof CommanderError) return error.exitCode === 0 ? EXIT_OK : EXIT_ERROR;
    if (!(error instanceof CliError)) throw error;
    surroundings.err(error.message + '\n');
    return EXIT_ERROR;
  }
}

function commands(surroundings: CliIo, finish: (code: number) => void): Command {
  const root = new Command('nettlewick')
    .description('Rehearses walks through a level and checks level documents.')
    .exitOverride()
    .showHelpAfterError('(run with --help for usage)')
    .configureOutput({ writeOut: surroundings.out, writeErr: surroundings.err })
    .addHelpText(
      'after',
      `
Examples:
  nettlewick rehearse demo/nettlewick.level.json --walk "The goose comes to the door"
  nettlewick rehearse demo/nettlewick.level.json --walk morning-round --json
  nettlewick rehearse demo/nettlewick.level.json --all --junit expectations.xml
  nettlewick rehearse demo/nettlewick.level.json --walk morning-round --rule draining=immediate
  nettlewick why demo/nettlewick.level.json "Mill door" --walk "The goose comes to the door"
  nettlewick order-safety demo/nettlewick.level.json --walk morning-round
  nettlewick spread demo/nettlewick.level.json --walk morning-round --rates 15,30,60
  nettlewick check demo/nettlewick.level.json

Exit codes: 0 success, 1 problems found (error, endless loop, failed expectation), 2 could not run.`,
    );
  root
    .command('rehearse')
    .description('runs a walk through a level and prints the ledger: what fired, in which order, and what was held')
    .argument('<file>', 'a level document')
    .option('-w, --walk <name>', 'the name or the id of the walk')
    .option('--all', 'rehearse all walks and print only expectation results')
    .option('--json', 'print JSON lines, one entry a line, instead of a table')
    .option('--junit <file>', 'write what became of the expectations as JUnit XML')
    .option('--csv <file>', 'write the ledger of the walk as CSV')
    .option('--vcd <file>', 'write the states of the walk over time as a value change dump (IEEE 1364)')
    .option('--most <number>', 'end the rehearsal after the tick in which it has so many entries', entryCount, MOST_ENTRIES)
    .option('--seed <number>', 'random seed for the walk’s jitter', wholeNumber, 0)
    .option('--rule <name=value>', 'override a house rule (repeatable)', withRule, {})
    .action((file: string, options: RehearseOptions) => finish(rehearseFile(surroundings, file, options)));
  root
    .command('why')
    .description('explains why a thing did not fire, nothing fired at a moment, or what is expected of a walk is not met')
    .argument('<file>', 'a level document')
    .argument(
      '[thing]',
      'the name or the id of a chain, a zone, a fixture or a visitor; none with --at, nor for what is expected',
    )
    .requiredOption('-w, --walk <name>', 'the name or the id of the walk')
    .option('--step <number>', 'of a chain, only the step at this place, from 1', wholeNumber)
    .option('--at <seconds>', 'ask about a moment of the walk in place of a thing', number(0, 1e6))
    .option('--json', 'print JSON lines, one reason a line')
    .option('--seed <number>', 'random seed for the walk’s jitter', wholeNumber, 0)
    .option('--rule <name=value>', 'override a house rule (repeatable)', withRule, {})
    .action((file: string, thing: string | undefined, options: WhyOptions) =>
      finish(whyFile(surroundings, file, thing, options)),
    );
  root
    .command('fix')
    .description('finds small edits with which the expectations of a walk are met that are not, each tried over all walks')
    .argument('<file>', 'a level document')
    .requiredOption('-w, --walk <name>', 'the name or the id of the walk')
    .option('--tries <number>', 'try so many edits at the most', wholeNumber)
    .option('--json', 'print JSON lines, one fix a line, with its JSON Patch')
    .action((file: string, options: FixOptions) => finish(fixFile(surroundings, file, options)));
  root
    .command('matrix')
    .description('prints the trigger/target matrix for all walks or one')
    .argument('<file>', 'a level document')
    .option('-w, --walk <name>', 'the name or the id of one walk')
    .option('--by <visitor>', 'the name or the id of one visitor: only what it did is counted')
    .option('--json', 'print JSON lines, one pair a line')
    .action((file: string, options: OverWalks & { by?: string }) => finish(matrixFile(surroundings, file, options)));
  root
    .command('coverage')
    .description('prints what no walk has tried: zones, chains, steps, and both answers of each gate')
    .argument('<file>', 'a level document')
    .option('-w, --walk <name>', 'the name or the id of one walk')
    .option('--json', 'print JSON lines, one thing to try a line')
    .option('--at-least <percentage>', 'exit with code 1 below this coverage', percent)
    .action((file: string, options: OverWalks & { atLeast?: number }) => finish(coverageFile(surroundings, file, options)));
  root
    .command('compare')
    .description(
      'compares how a walk runs in two level documents: what fires no longer, what is new, what comes earlier or later',
    )
    .argument('<before>', 'a level document')
    .argument('<after>', 'the level document to compare with')
    .requiredOption('-w, --walk <name>', 'the name or the id of the walk')
    .option('--walk-after <name>', 'another walk for the second')
    .option('--seed <number>', 'random seed for the walk’s jitter', wholeNumber, 0)
    .option('--seed-after <number>', 'another seed for the second', wholeNumber)
    .option('--rule <name=value>', 'override a house rule (repeatable)', withRule, {})
    .option('--rule-after <name=value>', 'a house rule for the second only; may be given again', withRule, {})
    .option('--json', 'print JSON lines, one difference a line')
    .action((before: string, after: string, options: CompareOptions) =>
      finish(compareFiles(surroundings, before, after, options)),
    );
  root
    .command('order-safety')
    .description('tries a walk under every set of house rules and prints which orders and outcomes depend on them')
    .argument('<file>', 'a level document')
    .requiredOption('-w, --walk <name>', 'the name or the id of the walk')
    .option('--json', 'print JSON lines, one dependence a line')
    .action((file: string, options: OfWalk) => finish(orderSafetyFile(surroundings, file, options)));
  root
    .command('spread')
    .description('runs a walk many times, varied from seeds, and prints when chains start and what is missed')
    .argument('<file>', 'a level document')
    .requiredOption('-w, --walk <name>', 'the name or the id of the walk')
    .option('--runs <number>', 'how many runs', runCount, 1000)
    .option('--start <seconds>', 'maximum start delay, in seconds', number(0, 3600), 0.5)
    .option('--speed <part>', 'maximum speed change, as a fraction', number(0, 0.9), 0.2)
    .option('--path <metres>', 'maximum waypoint offset, in metres', number(0, 100), 0)
    .option('--rates <list>', 'ticks a second that are tried, such as 15,30,60; those of the level unless given', listOfRates)
    .option('--json', 'print JSON lines')
    .action((file: string, options: SpreadOptions) => finish(spreadFile(surroundings, file, options)));
  root
    .command('explain-log')
    .description('replays a play log through the level and reports which house rules match it')
    .argument('<file>', 'a level document')
    .argument('<log>', 'JSON lines or CSV, as docs/play-log.md says')
    .option('--json', 'print JSON lines, one pair a line, the verdict last')
    .action((file: string, log: string, options: { json?: true }) => finish(explainLogFile(surroundings, file, log, options)));
  root
    .command('print')
    .description('prints the wiring of a level as text: facts, signals, watches and chains in plain sentences')
    .argument('<file>', 'a level document')
    .action((file: string) => finish(printFile(surroundings, file)));
  root
    .command('read')
    .description('reads wiring as text into a level document, where things are known by their names, and says what has changed')
    .argument('<text>', 'a text as print gives it, or a part of one')
    .requiredOption('--into <file>', 'the level document that is changed; it is left as it is if the text has a fault')
    .option('--dry-run', 'say what would change, and change nothing')
    .action((text: string, options: { into: string; dryRun?: true }) => finish(readTextFile(surroundings, text, options)));
  root
    .command('check')
    .description('checks a level document and prints each fault with its place (a JSON pointer)')
    .argument('<file>', 'a level document')
    .option('--json', 'print JSON lines, one fault a line')
    .option('--warnings', 'also print warnings and remarks')
    .option(
      '--walks',
      'also rehearse all walks, and print what they show: unmet expectations, who is stuck or falls, what never starts',
    )
    .option('--sarif <file>', 'write all that is found as a SARIF 2.1.0 log')
    .addOption(
      new Option('--fail-on <weight>', 'the least that gives exit code 1; warnings and remarks are printed then, too')
        .choices(weights)
        .default('fault'),
    )
    .option('--baseline <file>', 'what check --json printed before: what is in it gives no exit code 1')
    .action((file: string, options: CheckOptions) => finish(checkFile(surroundings, file, options)));
  return root;
}

interface RehearseOptions {
  walk?: string;
  all?: true;
  json?: true;
  junit?: string;
  csv?: string;
  vcd?: string;
  seed: number;
  most: number;
  rule: Partial<HouseRules>;
}

function rehearseFile(surroundings: CliIo, file: string, options: RehearseOptions): number {
  const level = wholeLevel(surroundings, file);
  if (options.all !== true && options.walk === undefined)
    throw new CliError(`Name a walk with --walk, or rehearse all with --all. ${walkList(level)}`);
  noteSnags(surroundings, level);
  const walks = options.all === true ? level.walks : [findWalk(level, options.walk!)];
  const { seed, most, rule: rules } = options;
  const rehearsed = walks.map((walk) => {
    const progress = (tick: number, last: number, entries: number): void =>
      surroundings.progress?.(
        `${oneLine(walk.name.trim())}: ${Math.round(tick / level.rate)} s of ${Math.round(last / level.rate)} s, ${entries} entries`,
      );
    return { walk, rehearsal: rehearse(level, walk, { seed, most, rules, progress }) };
  });
  surroundings.progress?.(null);
  for (const { walk, rehearsal } of rehearsed)
    if (endOf(rehearsal) === 'too many entries')
      surroundings.err(
        oneLine(
          `${walk.name.trim()}: ended at ${(rehearsal.ticks / level.rate).toFixed(1)} s, with more than ${most} entries; --most asks for more`,
        ) + '\n',
      );
  for (const one of rehearsed) report(surroundings, level, one, { ledger: options.all !== true, json: options.json === true });
  const [only] = rehearsed;
  if ((options.csv !== undefined || options.vcd !== undefined) && options.all === true)
    throw new CliError('--csv and --vcd are of one walk: name it with --walk.');
  if (options.csv !== undefined)
    save(
      surroundings,
      options.csv,
      ledgerCsv(only!.rehearsal.ledger, (id) => nameOf(level, id).trim()),
    );
  if (options.vcd !== undefined) save(surroundings, options.vcd, statesVcd(level, only!.rehearsal));
  if (options.junit !== undefined) save(surroundings, options.junit, junitXml(level, rehearsed));
  const well = rehearsed.every(({ rehearsal }) => {
    const cameToAnEnd = !['runaway', 'too many entries'].includes(endOf(rehearsal) ?? '');
    return cameToAnEnd && rehearsal.expectations.every((one) => one.passed);
  });
  return well ? EXIT_OK : EXIT_FINDINGS;
}

/** Why a rehearsal ended. */
function endOf({ ledger }: Rehearsal): string | null {
  return reasonOf(ledger.at(ledger.length)!);
}

/** Names the first snags of a level on standard error, and says how many more there are. */
function noteSnags({ err }: CliIo, level: Level): void {
  const snags = documentErrors(level);
  if (snags.length === 0) return;
  const named = snags.slice(0, SNAGS_NAMED).map(({ path, reason }) => `  ${oneLine(`${path}: ${reason}`)}\n`);
  const more = snags.length - named.length;
  const rest = more > 0 ? `  and ${more} more; "check" lists them all\n` : '';
  err(`Note: ${snags.length} problem${snags.length === 1 ? '' : 's'} in the level:\n${named.join('')}${rest}`);
}

const SNAGS_NAMED = 3;
