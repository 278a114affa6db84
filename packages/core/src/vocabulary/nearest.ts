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

/**
 * Whether two different names are easily taken for each other: they differ only by capitals, spaces and hyphens, or by one letter. Names that
 * are told apart by a number are not.
 */
export function areAlike(one: string, other: string): boolean {
  if (one === other || one.length > LONGEST_WORD || other.length > LONGEST_WORD) return false;
  const [a, b] = [bare(one), bare(other)];
  if (a === b) return true;
  return Math.min(a.length, b.length) > 3 && digitsOf(a) === digitsOf(b) && distance(a, b) === 1;
}

function bare(name: string): string {
  return name.toLowerCase().replace(/[\s_-]/g, '');
}

function digitsOf(name: string): string {
  return name.replace(/\D/g, '');
}

/** What is longer than this was not meant to be any word. */
const LONGEST_WORD = 200;
