/** What a benchmark found: medians over its runs, in the unit that its name says. */
export interface Finding {
  name: string;
  unit: string;
  ours: number;
  /** What the same machine did in the same run, and what that was. */
  peer: number;
  peerName: string;
  /** How many times better ours is than the peer. */
  ratio: number;
  /** What else was measured on the way, by its name and unit. */
  [more: string]: string | number;
}
