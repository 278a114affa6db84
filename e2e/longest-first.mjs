/** The suites that take longest, begun first: whichever worker has one of them to the end, the other is not idle meanwhile. */
const LONG = ['faults', 'jobs', 'beyond', 'understand', 'start', 'wire-rehearse'];

const rank = ({ path }) => {
  const at = LONG.findIndex((name) => path.endsWith(`/${name}.e2e.ts`));
  return at < 0 ? LONG.length : at;
};

/** In which order Jest runs them; it would begin with the largest files. */
export default class LongestFirst {
  sort(tests) {
    return [...tests].sort((a, b) => rank(a) - rank(b) || a.path.localeCompare(b.path));
  }

  /** Nothing is kept of how long they took: the order is the same everywhere. */
  cacheResults() {}
}
