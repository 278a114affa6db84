/** What an expression came to, and what it read on the way, as `flag("lamp") = true`. */
export interface Verdict {
  holds: boolean;
  read: string[];
}
