import { warningsOf } from '../src/index';
import type { Level } from '../src/index';
import { cause, chain, fixture, levelOf, step, visitor, zone } from './build';

/** A level in which very much hangs on one tag: checks look at each thing, and not at each pair of them. The bench `checks` says how fast. */

const MANY = 1500;
const all = <T>(make: (i: number) => T): T[] => Array.from({ length: MANY }, (_, i) => make(i));
const pad = zone('Pad', 0, 0);

const kinds = ['door', 'elevator', 'barrier'];
const steps = [
  () => step('open', { door: '', tagged: 'all' }),
  () => step('close', { door: '', tagged: 'all' }),
  () => step('hide', { fixture: '', tagged: 'all' }),
  () => step('make-solid', { fixture: '', tagged: 'all' }),
  () => step('send', { elevator: '', stop: 2, tagged: 'all' }),
  () => step('disable', { thing: '', tagged: 'all' }),
];
const withOneTag = (): Level =>
  levelOf({
    zones: [pad],
    visitors: [visitor('Ann', 0, 0)],
    fixtures: all((i) => fixture(kinds[i % 3]!, `Thing ${i}`, i % 40, Math.floor(i / 40), { tags: ['all'] })),
    chains: all((i) => chain(`Chain ${i}`, [cause(i % 2 === 0 ? 'enter' : 'leave', 'pad')], [steps[i % steps.length]!()])),
  });

it('what is found of many at once is told once for each thing, and names no more than some', () => {
  const found = warningsOf(withOneTag());
  const solidFromTheStart = found.filter(({ kind, reason }) => kind === 'there-from-the-start' && reason.includes('solid'));
  expect(new Set(solidFromTheStart.map(({ thing }) => thing)).size).toBe(solidFromTheStart.length);
  expect(solidFromTheStart.length).toBeGreaterThan(300);
  expect(Math.max(...found.map(({ also }) => also.length))).toBeLessThanOrEqual(20);
});
