import * as fc from 'fast-check';
import { causeEvents, fixtureNames, stepNames } from '../src/index';
import { anyLevel } from './any-level';

/** What the second kernel is compared on. A kind that no random level has is compared by nobody. */
it('Random levels have every kind of fixture, step and cause: who adds one adds it to any-level.ts, too', () => {
  const seen = new Set<string>();
  for (const { fixtures, chains } of fc.sample(anyLevel, { numRuns: 400, seed: 20_261_201 })) {
    for (const { kind } of fixtures) seen.add(`fixture ${kind}`);
    for (const { causes, steps } of chains) {
      for (const { on } of causes) seen.add(`cause ${on}`);
      for (const { kind } of steps) seen.add(`step ${kind}`);
    }
  }
  const known = [
    ...fixtureNames.map((name) => `fixture ${name}`),
    ...stepNames.map((name) => `step ${name}`),
    ...causeEvents.map((event) => `cause ${event}`),
  ];
  expect(known.filter((one) => !seen.has(one))).toEqual([]);
});
