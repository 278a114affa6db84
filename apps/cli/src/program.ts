import { readFileSync } from 'node:fs';
import { resolve } from 'node:path';
import { brokenReferences, ledgerText, nameKey, nearest, parseLevelText, rehearse } from '@nettlewick/core';
import type { Fault, Level, Parsed, Walk } from '@nettlewick/core';
import { Command, CommanderError } from 'commander';
import { ledgerTable } from './ledger-table';

/** Where the program reads from and writes to. */
export interface Surroundings {
  /** What relative paths start from. */
  folder: string;
  out(text: string): void;
  err(text: string): void;
}

/** What the program found: nothing wrong, something, or that it could not run. */
const WELL = 0;
const FOUND = 1;
const COULD_NOT = 2;

/** Something that keeps the program from running, in words for the user. */
class CannotRun extends Error {}

/** Runs the command line and gives its exit code: 0 well, 1 found something, 2 could not run. */
export function program(args: readonly string[], surroundings: Surroundings): number {
  let code = WELL;
  const command = commands(surroundings, (found) => (code = found));
  try {
    command.parse([...args], { from: 'user' });
    return code;
  } catch (error) {
    if (error instanceof CommanderError) return error.exitCode === 0 ? WELL : COULD_NOT;
    if (!(error instanceof CannotRun)) throw error;
    surroundings.err(error.message + '\n');
    return COULD_NOT;
  }
}

function commands(surroundings: Surroundings, finish: (code: number) => void): Command {
  const root = new Command('nettlewick')
    .description('Rehearses walks through a level and checks level documents.')
    .exitOverride()
    .showHelpAfterError('(--help shows how it is used)')
    .configureOutput({ writeOut: surroundings.out, writeErr: surroundings.err })
    .addHelpText(
      'after',
      `
Examples:
  nettlewick rehearse demo/nettlewick.level.json --walk "The goose comes to the door"
  nettlewick rehearse demo/nettlewick.level.json --walk morning-round --json
  nettlewick check demo/nettlewick.level.json

Exit codes: 0 well, 1 found something, 2 could not run.`,
    );
  root
    .command('rehearse')
    .description('runs a walk through a level and prints the ledger: what fired, in which order, and what was held')
    .argument('<file>', 'a level document')
    .requiredOption('-w, --walk <name>', 'the name or the id of the walk')
    .option('--json', 'print JSON lines, one entry a line, instead of a table')
    .action((file: string, options: { walk: string; json?: true }) => finish(rehearseFile(surroundings, file, options)));
  root
    .command('check')
    .description('checks a level document and prints each fault with its place (a JSON pointer)')
    .argument('<file>', 'a level document')
    .option('--json', 'print JSON lines, one fault a line')
    .action((file: string, options: { json?: true }) => finish(checkFile(surroundings, file, options)));
  return root;
}

function rehearseFile(surroundings: Surroundings, file: string, options: { walk: string; json?: true }): number {
  const parsed = read(surroundings, file);
  if (!parsed.ok) throw new CannotRun(`${file} cannot be rehearsed:\n${faultLines(parsed.faults)}`);
  const { level } = parsed;
  const { entries } = rehearse(level, findWalk(level, options.walk));
  surroundings.out(options.json === true ? ledgerText(entries) : ledgerTable(level, entries));
  const broken = brokenReferences(level);
  if (broken.length > 0)
    surroundings.err(`Note: ${broken.length} broken reference${broken.length === 1 ? '' : 's'}; "check" lists them.\n`);
  return entries.some((entry) => entry.kind === 'runaway') ? FOUND : WELL;
}

function checkFile(surroundings: Surroundings, file: string, options: { json?: true }): number {
  const parsed = read(surroundings, file);
  const faults: Fault[] = parsed.ok
    ? brokenReferences(parsed.level).map((snag) => ({ path: snag.path, message: `${snag.reason} ${snag.mend}` }))
    : parsed.faults;
  if (options.json === true) surroundings.out(faults.map((fault) => JSON.stringify(fault) + '\n').join(''));
  else if (faults.length > 0) surroundings.out(faultLines(faults) + '\n');
  if (options.json !== true)
    surroundings.out(
      faults.length === 0 ? `${file}: no faults\n` : `${file}: ${faults.length} fault${faults.length === 1 ? '' : 's'}\n`,
    );
  return faults.length === 0 ? WELL : FOUND;
}

function faultLines(faults: readonly Fault[]): string {
  return faults.map((fault) => `${fault.path === '' ? '(the whole document)' : fault.path}: ${fault.message}`).join('\n');
}

function read({ folder }: Surroundings, file: string): Parsed {
  let text: string;
  try {
    text = readFileSync(resolve(folder, file), 'utf8');
  } catch (error) {
    throw new CannotRun(`${file} cannot be read: ${error instanceof Error ? error.message : String(error)}`);
  }
  return parseLevelText(text);
}

function findWalk(level: Level, wanted: string): Walk {
  const found =
    level.walks.find((walk) => walk.id === wanted) ?? level.walks.find((walk) => nameKey(walk.name) === nameKey(wanted));
  if (found !== undefined) return found;
  const names = level.walks.map((walk) => walk.name.trim());
  const meant = nearest(wanted, names);
  const list = names.length === 0 ? 'The level has no walks.' : `Its walks are:\n${names.map((name) => `  ${name}`).join('\n')}`;
  throw new CannotRun(`There is no walk "${wanted}"${meant === null ? '' : ` (did you mean "${meant}"?)`}. ${list}`);
}
