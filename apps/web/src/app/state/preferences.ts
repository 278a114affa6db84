/** What this browser keeps of one's ways of working; null if it keeps nothing. */
export function readPreference(what: string): string | null {
  try {
    return localStorage.getItem(`nettlewick.${what}`);
  } catch {
    return null;
  }
}

/** Keeps something for the next time. False if this browser keeps nothing. */
export function writePreference(what: string, value: string): boolean {
  try {
    localStorage.setItem(`nettlewick.${what}`, value);
    return true;
  } catch {
    return false;
  }
}
