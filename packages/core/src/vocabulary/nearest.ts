import { distance } from 'fastest-levenshtein';

/** The word of `words` that `given` was probably meant to be, or null if none is close. */
export function nearest(given: string, words: readonly string[]): string | null {
  if (given.length > LONGEST_WORD) return null;
  let best: string | null = null;
  let least = Math.max(2, Math.floor(given.length / 3)) + 0.5;
  for (const word of words) {
    const apart = distance(given.toLowerCase(), word.toLowerCase());
    if (apart < least) {
      best = word;
      least = apart;
    }
  }
  return best;
}

/** What is longer than this was not meant to be any word. */
const LONGEST_WORD = 200;
