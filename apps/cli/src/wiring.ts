import { applied, lookup, oneLine, printWiring, readWiring } from '@nettlewick/core';
import type { Level } from '@nettlewick/core';
import { EXIT_FINDINGS, EXIT_OK, save, textOf, wholeLevel } from './documents';
import type { CliIo } from './documents';

/** Prints the wiring of a level as text, as docs/prompt-book.md says. */
export function printFile(surroundings: CliIo, file: string): number {
  surroundings.out(printWiring(wholeLevel(surroundings, file)));
  return EXIT_OK;
}

/** Reads wiring as text into a level document, and says what has changed; the document stays as it is where the text has a fault. */
export function readTextFile(surroundings: CliIo, text: string, { into, dryRun }: { into: string; dryRun?: true }): number {
  const level = wholeLevel(surroundings, into);
  const found = readWiring(textOf(surroundings, text), level, { newId: newIds(level) });
  if (!found.ok) {
    for (const { line, column, message } of found.faults) surroundings.out(`${text}:${line}:${column}: ${oneLine(message)}\n`);
    surroundings.err(`${found.faults.length} ${found.faults.length === 1 ? 'fault' : 'faults'}; ${into} was left as it is.\n`);
    return EXIT_FINDINGS;
  }
  const { added, changed } = found.changes;
  for (const name of added) surroundings.out(`new: ${oneLine(name)}\n`);
  for (const name of changed) surroundings.out(`changed: ${oneLine(name)}\n`);
  if (found.edit === null) {
    surroundings.out('nothing has changed\n');
    return EXIT_OK;
  }
  if (dryRun === true) return EXIT_OK;
  save(surroundings, into, `${JSON.stringify(applied(level, found.edit), null, 2)}\n`);
  return EXIT_OK;
}

/** Ids that no thing of a level has: what they begin with, and a number. The same text gives the same ids. */
function newIds(level: Level): (prefix: string) => string {
  const taken = new Set(lookup(level).keys());
  for (const { causes, steps } of level.chains) for (const { id } of [...causes, ...steps]) taken.add(id);
  let number = 0;
  return (prefix) => {
    do number += 1;
    while (taken.has(`${prefix}-${number}`));
    return `${prefix}-${number}`;
  };
}
