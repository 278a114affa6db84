import type { Level } from '../document/level';
import { nameOf } from '../document/lookup';
import type { Entry } from '../ledger/entry';
import { entrySentence } from './entries';
import { at, reason } from './reason';
import type { Reason } from './reason';

/** The number of entries listed in a trail of causes. */
const MAX_TRAIL_ENTRIES = 6;

/** How something came about: back from entry to entry to what the walk itself did. */
export function cameAbout(level: Level, entries: readonly Entry[], entry: Entry): Reason {
  const way = [entry];
  for (let cause = entry.cause; cause !== null && way.length < MAX_TRAIL_ENTRIES; cause = way.at(-1)!.cause)
    way.push(entries[cause - 1]!);
  // When it was is said where it was at another time than what is said before it.
  const said = way.map((one, i) => {
    const when = i > 0 && one.tick !== way[i - 1]!.tick ? ` at ${at(one)}` : '';
    return `${entrySentence(one, (id) => nameOf(level, id), level)}${when}`;
  });
  return reason(
    `At ${at(entry)} ${said.join(', because ')}.`,
    way.map(({ number }) => number),
  );
}
