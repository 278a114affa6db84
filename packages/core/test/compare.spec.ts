import fc from 'fast-check';
import { changesInWords, compareLedgers, isSameEntry, entryKey, nameOf, rehearse } from '../src/index';
import type { Level } from '../src/index';
import { anyLevel } from './any-level';
import { cause, door, flag, goTo, levelOf, step, visitor, wait, walk, zone } from './build';

interface Settings {
  delay: number;
  kinds: string[];
  limit: number | null;
  speed: number;
}
const usual: Settings = { delay: 0, kinds: [], limit: null, speed: 1 };

const yard = (settings: Partial<Settings> = {}): Level => {
  const { delay, kinds, limit, speed } = { ...usual, ...settings };
  return levelOf({
    visitors: [visitor('Miller', -5, 0, { speed }), visitor('Goose', -5, 2, { kind: 'creature', speed: 1 })],
    zones: [zone('Spot', 0, 0, { shape: { kind: 'box', size: { x: 2, y: 6, z: 2 } } })],
    fixtures: [door('Gate', 5, 0)],
    flags: [flag('Seen')],
    chains: [
      {
        id: 'open-it',
        name: 'Open it',
        causes: [{ ...cause('enter', 'spot', { filter: { kinds }, limit }), id: 'c-1' }],
        steps: [
          { ...step('open', { door: 'gate', delay }), id: 's-1' },
          { ...step('set-flag', { flag: 'seen', to: true }), id: 's-2' },
        ],
      },
    ],
    walks: [walk({ miller: [goTo(0, 0), wait(4)], goose: [wait(9), goTo(0, 2)] })],
  });
};
const compared = (before: Level, after: Level) =>
  compareLedgers(rehearse(before, before.walks[0]!).ledger, rehearse(after, after.walks[0]!).ledger);
const words = (before: Level, after: Level): string[] =>
  changesInWords(compared(before, after), (id) => nameOf(after, id)).map(({ says }) => says);

it('what did not change is not spoken of', () => {
  const { same, missing, added, shifted, first } = compared(yard(), yard());
  expect({ missing, added, shifted, first }).toEqual({ missing: [], added: [], shifted: [], first: null });
  expect(same).toBeGreaterThan(8);
});

it('says what comes later, by how much, and where the two part', () => {
  const said = words(yard(), yard({ delay: 0.5 }));
  expect(said).toContain('Gate is open, 0.5 s later');
  const { first } = compared(yard(), yard({ delay: 0.5 }));
  expect([first?.before?.kind, first?.after?.kind]).toEqual(['step', 'step']);
});

it('two chains tried the other way round are counted as reordered, and part where the first of them starts', () => {
  const twoBells = levelOf({
    visitors: [visitor('Miller', -5, 0)],
    zones: [zone('Spot', 0, 0)],
    flags: [flag('High'), flag('Low')],
    chains: ['High', 'Low'].map((name) => ({
      id: `ring-${name.toLowerCase()}`,
      name: `Ring ${name}`,
      causes: [{ ...cause('enter', 'spot'), id: `c-${name.toLowerCase()}` }],
      steps: [{ ...step('set-flag', { flag: name.toLowerCase(), to: true }), id: `s-${name.toLowerCase()}` }],
    })),
    walks: [walk({ miller: [goTo(0, 0)] })],
  });
  const other = rehearse(twoBells, twoBells.walks[0]!, { rules: { listeners: 'reverse' } }).ledger;
  const own = rehearse(twoBells, twoBells.walks[0]!).ledger;
  const found = compareLedgers(own, other);
  expect([found.missing, found.added, found.shifted]).toEqual([[], [], []]);
  expect(found.reordered).toBeGreaterThan(0);
  expect(found.same + found.reordered).toBe(own.length);
  expect(found.first!.before!.chain).toMatch(/^ring-/);
  // What both have alike before is no difference, though one has an entry more there.
  const late = compareLedgers(rehearse(yard(), yard().walks[0]!).ledger, rehearse(yard({ limit: 0 }), yard().walks[0]!).ledger);
  expect(late.first!.before!.kind).toBe('chain-started');
  expect(late.first!.after!.kind).toBe('held');
});

it('says what fires no longer, and what is held now', () => {
  const said = words(yard(), yard({ kinds: ['creature'] }));
  expect(said.some((one) => one.startsWith('now: “Open it” held for Miller: the filter requires kinds creature'))).toBe(true);
});

it('a level of two rooms, an empty ledger: whatever is compared, each entry is matched once', () => {
  const setting = fc.record({
    delay: fc.constantFrom(0, 0.2, 1),
    kinds: fc.constantFrom<string[]>([], ['player'], ['creature']),
    limit: fc.constantFrom(null, 0, 1),
    speed: fc.constantFrom(0.5, 1, 2),
  });
  fc.assert(
    fc.property(setting, setting, (a, b) => {
      const [one, other] = [yard(a), yard(b)].map((level) => rehearse(level, level.walks[0]!).ledger);
      const found = compareLedgers(one!, other!);
      expect(found.same + found.reordered + found.shifted.length + found.missing.length).toBe(one!.length);
      expect(found.same + found.reordered + found.shifted.length + found.added.length).toBe(other!.length);
      const back = compareLedgers(other!, one!);
      expect(back.missing.length).toBe(found.added.length);
      expect(back.same).toBe(found.same);
      expect(found.first === null).toBe(back.first === null);
    }),
    { numRuns: 60 },
  );
});

it('two entries are the same when their keys are, whichever two of a ledger they are', () => {
  fc.assert(
    fc.property(anyLevel, (level) => {
      const entries = [...rehearse(level, level.walks[0]!).ledger].slice(0, 120);
      const unlike = entries.flatMap((a) => entries.filter((b) => isSameEntry(a, b) !== (entryKey(a) === entryKey(b))));
      expect(unlike).toEqual([]);
    }),
    { numRuns: 25 },
  );
});
