import { isUtf8 } from 'node:buffer';
import { readFileSync, writeFileSync } from 'node:fs';
import { resolve } from 'node:path';
import { collections, nameKey, nearest, parseLevelText, oneLine } from '@nettlewick/core';
import type { Collection, Fault, Level, Parsed, Thing, Walk } from '@nettlewick/core';

/** Where the program reads from and writes to. */
export interface CliIo {
  /** What relative paths start from. */
  folder: string;
  out(text: string): void;
  err(text: string): void;
  /** Is told how far long work has come, in a line that is written over by the next; null when it is over. */
  progress?: (line: string | null) => void;
}

/** What the program found: nothing wrong, something, or that it could not run. */
export const EXIT_OK = 0;
export const EXIT_FINDINGS = 1;
export const EXIT_ERROR = 2;

/** Something that keeps the program from running, in words for the user. */
export class CliError extends Error {}

/** A level that is whole, or the reason why it cannot be rehearsed. */
export function wholeLevel(surroundings: CliIo, file: string): Level {
  const parsed = read(surroundings, file);
  if (!parsed.ok) throw new CliError(`${file} cannot be rehearsed:\n${faultLines(parsed.faults)}`);
  return parsed.level;
}

/** A level document from a file. Throws a CliError if there is none. */
export function read(surroundings: CliIo, file: string): Parsed {
  return parseLevelText(textOf(surroundings, file));
}

/** The text of a file. Throws a CliError if there is none. */
export function textOf({ folder }: CliIo, file: string): string {
  let bytes: Buffer;
  try {
    bytes = readFileSync(resolve(folder, file));
  } catch (error) {
    throw new CliError(`${file} cannot be read: ${error instanceof Error ? error.message : String(error)}`);
  }
  // What is put in place of bytes that are no UTF-8 would pass for text.
  if (!isUtf8(bytes)) throw new CliError(`${file} is not UTF-8. Store it as UTF-8, and run this again.`);
  return bytes.toString('utf8');
}

/** A walk by its name or its id. Throws a CliError that names the nearest. */
export function findWalk(level: Level, wanted: string): Walk {
  const found =
    level.walks.find((walk) => walk.id === wanted) ?? level.walks.find((walk) => nameKey(walk.name) === nameKey(wanted));
  if (found !== undefined) return found;
  const names = level.walks.map((walk) => walk.name.trim());
  const meant = nearest(wanted, names);
  throw new CliError(`There is no walk "${wanted}"${meant === null ? '' : ` (did you mean "${meant}"?)`}. ${walkList(level)}`);
}

export function walkList(level: Level): string {
  const names = level.walks.map((walk) => `  ${oneLine(walk.name.trim())}`);
  return names.length === 0 ? 'The level has no walks.' : `Its walks are:\n${names.join('\n')}`;
}

/** The id of a thing by its name or its id, of any collection or of some. Throws a CliError that names the nearest. */
export function findThing(level: Level, wanted: string, among: readonly Collection[] = collections): string {
  const all = among.flatMap((collection) => level[collection] as Thing[]);
  const found = all.find(({ id }) => id === wanted) ?? all.find(({ name }) => nameKey(name) === nameKey(wanted));
  if (found !== undefined) return found.id;
  const meant = nearest(
    wanted,
    all.map(({ name }) => name.trim()),
  );
  const what = among === collections ? 'Nothing' : `None of the ${among.join(' and ')}`;
  throw new CliError(`${what} in the level is called "${wanted}"${meant === null ? '' : ` (did you mean "${meant}"?)`}.`);
}

/** Faults with their places, a line each. */
export function faultLines(faults: readonly Fault[]): string {
  return faults
    .map((fault) => oneLine(`${fault.path === '' ? '(the whole document)' : fault.path}: ${fault.message}`))
    .join('\n');
}

/** Writes a file; a CliError if it cannot be written. */
export function save({ folder }: CliIo, file: string, text: string): void {
  try {
    writeFileSync(resolve(folder, file), text);
  } catch (error) {
    throw new CliError(`${file} cannot be written: ${error instanceof Error ? error.message : String(error)}`);
  }
}
