import fc from 'fast-check';
import { applied, change, parseLevel, remove, replay } from '../src/index';
import type { Edit, Level } from '../src/index';
import { flag, levelOf, zone } from './build';

/** Two windows that have edited the same revision: what one did is made again upon what the other did. */

const base = levelOf({ zones: [zone('Weir', 0, 0)], flags: [flag('Lit')] });
const added = (level: Level, id: string, name: string): Level =>
  applied(level, { kind: 'add', collection: 'flags', index: 99, thing: { ...base.flags[0]!, id, name } });
const names = (level: Level): string[] => level.flags.map(({ name }) => name);

it('what both have called alike gets another name on our side, whatever its capitals', () => {
  const { level, renamed } = replay(base, added(added(base, 'ours', 'Flag'), 'more', 'Open'), added(base, 'theirs', 'flag'));
  expect(names(level)).toEqual(['Lit', 'Flag 2', 'Open', 'flag']);
  expect(renamed).toEqual([{ id: 'ours', from: 'Flag', to: 'Flag 2' }]);
});

it('also what was there and is called otherwise now, in whatever list the other stands', () => {
  const ours = applied(base, change('zones', base.zones[0]!, { name: 'Sluice' }));
  const { level, renamed } = replay(base, ours, added(base, 'theirs', 'Sluice'));
  expect([level.zones[0]!.name, renamed.map(({ to }) => to)]).toEqual(['Sluice 2', ['Sluice 2']]);
});

it('says what could not be made when the thing is gone, and makes the rest', () => {
  const ours = added(applied(base, change('zones', base.zones[0]!, { name: 'Sluice' })), 'ours', 'Flag');
  const { level, lost } = replay(base, ours, applied(base, remove(base, 'zones', 'weir')));
  expect([lost.map(({ id, why }) => [id, why]), names(level), level.zones]).toEqual([[['weir', 'deleted']], ['Lit', 'Flag'], []]);
});

it('gives a whole level, whatever was added and named on both sides', () => {
  const name = fc.constantFrom('Flag', 'flag', 'Flag 2', 'Flag 3', 'Gate', 'Lit');
  const edits = (side: string): fc.Arbitrary<Edit[]> =>
    fc.array(name, { maxLength: 5 }).map((all) =>
      all.map((one, i): Edit => ({
        kind: 'add',
        collection: 'flags',
        index: i,
        thing: { ...base.flags[0]!, id: `${side}-${i}`, name: one },
      })),
    );
  fc.assert(
    fc.property(edits('a'), edits('b'), (a, b) => {
      const whole = (all: Edit[]): Level | null => {
        const made = all.reduce<Level>(applied, base);
        return parseLevel(made).ok ? made : null;
      };
      const [ours, theirs] = [whole(a), whole(b)];
      fc.pre(ours !== null && theirs !== null);
      const { level } = replay(base, ours!, theirs!);
      expect(parseLevel(level).ok).toBe(true);
      expect(level.flags.length).toBe(1 + a.length + b.length);
    }),
  );
});
