import { acceptanceIn, accepting, provenFindings, applied, invert, parseLevel, reopening, warningsOf } from '../src/index';
import type { Level, Warning } from '../src/index';
import { cause, chain, door, goTo, levelOf, step, visitor, walk, zone } from './build';

/** Fixes of findings are tried over the walks, and findings can be accepted with a note. */

const level = levelOf({
  visitors: [visitor('Cart', -5, 0, { kind: 'prop', speed: 20 })],
  zones: [zone('Line', 0, 0, { shape: { kind: 'box', size: { x: 0.1, y: 2, z: 2 } } })],
  fixtures: [door('Gate', 9, 9)],
  chains: [chain('Opens', [cause('enter', 'line')], [step('open', { door: 'gate' })])],
  walks: [walk({ cart: [goTo(5, 0)] })],
});
const found = (of: Level): Warning => warningsOf(of).find(({ kind }) => kind === 'thinner-than-a-tick')!;
const note = (of: Level): string | null => acceptanceIn(of)(found(of))?.note ?? null;
const accepted = applied(level, accepting(level, found(level), 'Carts may slip by.'));

it('an accepted finding keeps its note in the document, also through a file', () => {
  expect(note(level)).toBeNull();
  expect(note(accepted)).toBe('Carts may slip by.');
  const read = parseLevel(JSON.parse(JSON.stringify(accepted)));
  expect(read.ok && note(read.level)).toBe('Carts may slip by.');
});

it('accepting can be undone, or withdrawn later', () => {
  expect(note(applied(accepted, invert(accepting(level, found(level), 'Carts may slip by.'))))).toBeNull();
  expect(note(applied(accepted, reopening(accepted, found(accepted))))).toBeNull();
});

it('accepting again replaces the note', () => {
  const again = applied(accepted, accepting(accepted, found(accepted), 'They are counted elsewhere.'));
  expect(again.accepted).toHaveLength(1);
  expect(note(again)).toBe('They are counted elsewhere.');
});

it('stays accepted when a thing is renamed or its list changes', () => {
  const renamed = { ...accepted, zones: accepted.zones.map((one) => ({ ...one, name: 'Toll line' })) };
  expect(found(renamed).reason).toContain('Toll line');
  expect(note(renamed)).toBe('Carts may slip by.');
  const shifted = {
    ...accepted,
    chains: [{ ...accepted.chains[0]!, id: 'other', name: 'Other', causes: [], steps: [] }, ...accepted.chains],
  };
  expect(warningsOf(shifted).some((one) => acceptanceIn(shifted)(one) !== null)).toBe(true);
});

it('counts again when its reason changes', () => {
  const thinner = levelOf({
    ...accepted,
    zones: [{ ...accepted.zones[0]!, shape: { kind: 'box', size: { x: 0.05, y: 2, z: 2 } } }],
  });
  expect(found(thinner).kind).toBe(found(level).kind);
  expect(note(thinner)).toBeNull();
});

describe('A fix', () => {
  const counts = (expectations: unknown[]): Level =>
    levelOf({ ...level, walks: [walk({ cart: [goTo(5, 0)] }, { expectations })] });
  const swept = { ...level.zones[0]!, swept: true };
  const opened = { id: 'expected', label: 'the cart opens the gate', expect: 'happens', entry: { kind: 'opened', what: 'gate' } };
  const anybody = (of: Level): Warning => [...provenFindings(of, warningsOf(of))].find(({ kind }) => kind === 'anybody')!;

  it('is offered if it breaks no expectation', () => {
    expect(anybody(counts([])).edit).not.toBeNull();
    const never = { ...opened, expect: 'never' };
    expect(anybody({ ...counts([never]), zones: [swept] }).edit).not.toBeNull();
  });

  it('is not offered if it breaks one, and the finding says which', () => {
    const found = anybody({ ...counts([opened]), zones: [swept] });
    expect(found.edit).toBeNull();
    expect(found.mend).toContain('Then “the cart opens the gate” fails.');
  });
});
