import fc from 'fast-check';
import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import { parseLevelText, rehearse, triggeredChains } from '../src/index';
import type { CauseEvent, Entry, Level } from '../src/index';
import { anyLevel } from './any-level';
import { cause, chain, door, fixture, flag, levelOf, step, visitor, zone } from './build';

const namesOf = (level: Level, id: string): string[] =>
  triggeredChains(
    level,
    level.chains.find((one) => one.id === id)!,
  ).chains.map(
    ({ chain: { name }, depth, starts, isLoop, by }) =>
      `${depth} ${starts} ${by.event ?? 'starts'} ${by.of} -> ${name}${isLoop ? ' again' : ''}`,
  );

it('tells what a chain sets off in turn, however deep, and when at the earliest', () => {
  const level = levelOf({
    visitors: [visitor('Miller', -5, 0)],
    zones: [zone('Spot', 0, 0)],
    fixtures: [
      door('Sluice', 5, 0, { timing: { by: 'seconds', seconds: 2 }, returnAfter: 3 }),
      fixture('cue', 'Bell', 0, 0, { seconds: 1.5 }),
    ],
    flags: [flag('Tide is in')],
    chains: [
      chain('Step up', [cause('enter', 'spot')], [step('open', { door: 'sluice', delay: 0.5 })]),
      chain('Ring', [cause('opened', 'sluice')], [step('cue', { cue: 'bell' })], { delay: 1 }),
      chain('Note', [cause('cue-finished', 'bell')], [step('set-flag', { flag: 'tide-is-in', to: true })]),
      chain('Shut', [cause('closed', 'sluice')], [step('start-chain', { chain: 'step-up' })]),
      chain('Deaf', [cause('enter', 'spot')], []),
    ],
  });
  expect(namesOf(level, 'step-up')).toEqual([
    '1 3.5 opened sluice -> Ring',
    '2 5 cue-finished bell -> Note',
    '1 7.5 closed sluice -> Shut',
    '2 7.5 starts step-up -> Step up again',
  ]);
  expect(namesOf(level, 'deaf')).toEqual([]);
});

it('a flag that a watch asks for, a tag, and the end of a chain lead on too', () => {
  const level = levelOf({
    visitors: [visitor('Miller', -5, 0, { tags: ['village'] })],
    zones: [zone('Spot', 0, 0)],
    fixtures: [door('Left leaf', 5, 0, { tags: ['leaf'] }), door('Right leaf', 8, 0, { tags: ['leaf'] })],
    flags: [flag('Dry')],
    watches: [{ id: 'is-dry', name: 'Is it dry', when: 'flag("dry")' }],
    chains: [
      chain(
        'All',
        [cause('enter', 'spot')],
        [step('open', { door: '', tagged: 'leaf' }), step('set-flag', { flag: 'dry', to: true })],
      ),
      chain('Right', [cause('moving', 'right-leaf')]),
      chain('Dries', [cause('became-true', 'is-dry')]),
      chain('Last', [cause('chain-finished', 'all')], [step('remove', { who: { by: 'tag', tag: 'village' } })]),
      chain('Gone', [cause('removed', 'miller')]),
    ],
  });
  expect(namesOf(level, 'all').map((line) => line.replace(/^(\d) \S+ /, '$1 '))).toEqual([
    '1 moving right-leaf -> Right',
    '1 became-true is-dry -> Dries',
    '1 chain-finished all -> Last',
    '2 removed miller -> Gone',
  ]);
});

it('who listens to a chain being reset is told of', () => {
  const level = levelOf({
    chains: [
      chain('Again', [cause('changed', 'dry')], [step('reset-chain', { chain: 'count' })]),
      chain('Count', [cause('changed', 'dry')]),
      chain('Told', [cause('changed', 'count')]),
    ],
    flags: [flag('Dry')],
  });
  const told = triggeredChains(level, level.chains[0]!).chains.map(({ chain: { name }, by }) => [name, by.event]);
  expect(told).toEqual([['Told', 'changed']]);
});

it('a level in which everything sets off everything is told in part', () => {
  const everybody = Array.from({ length: 12 }, (_, i) =>
    chain(`Chain ${i}`, [cause('changed', 'dry')], [step('set-flag', { flag: 'dry', to: i % 2 === 0 })]),
  );
  const level = levelOf({ flags: [flag('Dry')], chains: everybody });
  const { chains, cut } = triggeredChains(level, level.chains[0]!, 50);
  expect([chains.length, cut]).toEqual([50, true]);
  expect(chains.filter(({ isLoop }) => isLoop).length).toBeGreaterThan(5);
});

/** What visitors do of themselves, or by being somewhere: only a rehearsal knows of it. */
const ofVisitors = new Set<CauseEvent | string>(
  'enter leave dwell bump use on off press release became-true became-false'.split(' '),
);

/** A room starts over when the last visitor has left it. */
const startsOver = ({ kind, details }: Entry): boolean =>
  kind === 'changed' && 'field' in details && details.field === 'started over';

/** The entry of the step that something comes from, if it does so without a visitor in between. */
function stepBehind(entries: readonly Entry[], entry: Entry | undefined): Entry | null {
  if (entry === undefined || ofVisitors.has(entry.kind) || startsOver(entry)) return null;
  return entry.kind === 'step' ? entry : entry.cause === null ? null : stepBehind(entries, entries[entry.cause - 1]);
}

function foretold(level: Level): number {
  let seen = 0;
  for (const walk of level.walks) {
    const { entries } = rehearse(level, walk);
    for (const started of entries) {
      const heard = started.kind === 'chain-started' && started.cause !== null ? entries[started.cause - 1]! : null;
      const from = heard === null ? null : stepBehind(entries, heard);
      if (heard === null || from === null) continue;
      const first = level.chains.find(({ id }) => id === from.chain)!;
      const ends = heard.kind === 'chain-finished';
      const of = ends ? level.chains.find(({ id }) => id === heard.chain)! : first;
      const at = ends ? null : first.steps.findIndex(({ id }) => id === from.step);
      const event = heard.kind === 'step' ? null : heard.kind;
      const told = triggeredChains(level, of, 2000).chains.filter(({ depth }) => depth === 1);
      if (!told.some((one) => one.chain.id === started.chain)) console.log(JSON.stringify([from, heard, first.steps[at ?? 0]]));
      expect(told.map(({ chain: { id }, by }) => [id, by.step, by.event])).toContainEqual([started.chain, at, event]);
      seen += 1;
    }
  }
  return seen;
}

it('what a step did set off in a rehearsal was foretold, on random levels and on the demo', () => {
  let seen = 0;
  fc.assert(
    fc.property(anyLevel, (level) => {
      seen += foretold(level);
    }),
    { numRuns: Number(process.env['PROPERTY_RUNS'] ?? 180), seed: Number(process.env['PROPERTY_SEED'] ?? 20_261_126) },
  );
  expect(seen).toBeGreaterThan(30);
  const demo = parseLevelText(readFileSync(join(__dirname, '../../../demo/nettlewick.level.json'), 'utf8'));
  if (!demo.ok) throw new Error('The demo cannot be read');
  expect(foretold(demo.level)).toBeGreaterThan(0);
});
