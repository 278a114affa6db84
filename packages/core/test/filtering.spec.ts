import fc from 'fast-check';
import {
  filterOptions,
  entrySentence,
  everyEntry,
  filtering,
  folding,
  nameOf,
  reasonOf,
  rehearse,
  roundSentence,
  roundsIn,
} from '../src/index';
import type { Entry, FoldedLine, LedgerFilter } from '../src/index';
import { anyLevel } from './any-level';
import { at, cause, chain, door, goTo, levelOf, step, visitor, wait, walk, zone } from './build';

/** A ledger read by what one looks for, and with what comes again and again folded. */

const spot = zone('Spot', 2, 0);
const level = levelOf({
  zones: [spot],
  fixtures: [door('Gate', 9, 0)],
  visitors: [visitor('Ann', 0, 0), visitor('Goose', 0, 0, { kind: 'creature' })],
  chains: [
    chain('Opens', [cause('enter', 'spot', { filter: { kinds: ['player'] }, limit: 1 })], [step('open', { door: 'gate' })]),
  ],
  walks: [
    walk({
      ann: [goTo(2, 0)],
      goose: [wait(2), ...Array.from({ length: 6 }, () => [goTo(2, 0), goTo(-1, 0)]).flat()],
    }),
  ],
});
const ledger = [...rehearse(level, level.walks[0]!).entries];
const sentence = (entry: Entry): string => entrySentence(entry, (id) => id);

/** What work that is done in pieces has found at its end. */
function whole<T>(work: (found: T[]) => Generator<void>): T[] {
  const found: T[] = [];
  for (const pieces = work(found); pieces.next().done !== true;);
  return found;
}
const filtered = (entries: Entry[], filter: LedgerFilter): Entry[] =>
  whole((found: Entry[]) => filtering(entries, filter, sentence, found));
const fold = (entries: Entry[], open: number[] = []): FoldedLine[] =>
  whole((lines: FoldedLine[]) => folding(entries, new Set(open), lines));
const only = (part: Partial<LedgerFilter>): Entry[] => filtered(ledger, { ...everyEntry, ...part });

describe('A filter', () => {
  it('lets pass what is asked for: by whom, of which chain, of which kind, why, in which words, and when', () => {
    expect(only({})).toEqual(ledger);
    expect(only({ kind: 'held' }).map((entry) => reasonOf(entry))).toEqual(Array(6).fill('filtered'));
    expect(only({ visitor: 'ann' }).map(({ kind }) => kind)).toEqual(expect.arrayContaining(['enter', 'opened', 'arrived']));
    expect(only({ visitor: 'goose', chain: 'opens' })).toEqual(only({ kind: 'held' }));
    expect(only({ reason: 'used-up' })).toEqual([]);
    expect(only({ text: 'IS OPEN' }).map(({ kind }) => kind)).toEqual(['opened']);
    expect(only({ from: 10, to: 12 }).every(({ tick }) => tick >= 10 && tick <= 12)).toBe(true);
    expect(filterOptions(ledger)).toMatchObject({ visitors: ['ann', 'goose'], chains: ['opens'], reasons: ['filtered'] });
  });

  it('in any level leaves out nothing that it should not: each entry passes a filter of what it says itself', () => {
    fc.assert(
      fc.property(anyLevel, fc.nat(), (any, which) => {
        const entries = [...rehearse(any, any.walks[0]!).entries];
        const entry = entries[which % entries.length]!;
        const filter: LedgerFilter = {
          about: entry.what ?? '',
          visitor: entry.who ?? '',
          chain: entry.chain ?? '',
          kind: entry.kind,
          reason: reasonOf(entry) ?? '',
          text: sentence(entry).slice(2, 9),
          from: entry.tick,
          to: entry.tick,
        };
        expect(filtered(entries, filter)).toContain(entry);
      }),
      { numRuns: 60 },
    );
  });
});

describe('Repeats', () => {
  it('fold into how often the round came again, and unfold where one asks', () => {
    const goose = only({ visitor: 'goose' });
    const folded = fold(goose);
    const [again] = folded.flatMap((line) => ('again' in line ? [line] : []));
    expect(folded.length).toBeLessThan(goose.length / 2);
    expect(again!.times).toBeGreaterThanOrEqual(4);
    expect(
      fold(
        goose,
        goose.map(({ number }) => number),
      ),
    ).toHaveLength(goose.length);
  });

  it('are named by the things they go through, with how often and how soon: three pads that send one on for ever', () => {
    const pad = (name: string, x: number) => zone(name, x, 0, { shape: { kind: 'box', size: at(1, 1, 2) } });
    const send = (name: string, from: string, x: number) =>
      chain(name, [cause('enter', from)], [step('wait', { seconds: 0.3 }), step('teleport', { to: at(x, 0), arrival: 'loud' })]);
    const looping = levelOf({
      zones: [pad('East pad', 0), pad('West pad', 10), pad('North pad', 20)],
      visitors: [visitor('Ann', 0, 0)],
      chains: [send('First', 'east-pad', 10), send('Second', 'west-pad', 20), send('Third', 'north-pad', 0)],
      walks: [walk({ ann: [wait(30)] }, { atMost: 30 })],
    });
    const { entries } = rehearse(looping, looping.walks[0]!);
    const [round, ...others] = roundsIn([...entries], 5);
    expect(others).toEqual([]);
    const said = roundSentence(round!, (id) => nameOf(looping, id));
    expect(said).toMatch(/^East pad → West pad → North pad → East pad again, \d+ times, every \d(\.\d+)? s, until \d+\.\d+ s$/);
    const [, times, every] = /(\d+) times, every ([\d.]+) s/.exec(said)!.map(Number);
    expect(times! * every!).toBeGreaterThan(25);
    // Each of three waits takes 0.3 s, and what it sends is sensed in the tick after it.
    expect(every).toBeGreaterThanOrEqual(0.9);
    expect(every).toBeLessThan(1.3);
  });

  it('lose nothing: unfolded they are the entries they were, in their order', () => {
    fc.assert(
      fc.property(anyLevel, (any) => {
        const once = [...rehearse(any, any.walks[0]!).entries];
        // Long enough for more than one piece.
        const entries = Array.from({ length: 40 }, () => once).flat();
        const lines = fold(entries);
        expect(lines.flatMap((line) => ('again' in line ? line.again : [line]))).toEqual(entries);
        for (const line of lines) if ('again' in line) expect(line.again.length % line.times).toBe(0);
      }),
      { numRuns: 60 },
    );
  });
});
