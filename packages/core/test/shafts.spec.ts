import fc from 'fast-check';
import { kernel, ledgerText, rehearse, valuesAt } from '../src/index';
import type { Level } from '../src/index';
import { at, carry, cause, chain, drop, fixture, goTo, levelOf, plate, solid, step, visitor, wait, walk, zone } from './build';
import { naiveRehearsal } from './naive/kernel';
import { textOf } from './naive/world';

/**
 * Somebody stands on a lift that goes up and down a shaft, past zones, ledges and doors of other machines, alone or with others, and
 * with something in the arms: whoever only stands there is passed over, and what comes of the walk is the same.
 */

const runs = Number(process.env['PROPERTY_RUNS'] ?? 100);
const seed = Number(process.env['PROPERTY_SEED'] ?? 20_261_126);
const quarters = (min: number, max: number): fc.Arbitrary<number> => fc.integer({ min: min * 4, max: max * 4 }).map((n) => n / 4);
const seldom = fc.nat(4).map((n) => n === 0);

const shape = fc.oneof(
  fc.tuple(quarters(0.25, 3), quarters(0.25, 2)).map(([wide, height]) => ({ kind: 'box', size: at(wide, wide, height) })),
  quarters(0.25, 2).map((radius) => ({ kind: 'ball', radius })),
  fc.tuple(quarters(0.25, 2), fc.constantFrom(0.01, 0.25, 1)).map(([radius, height]) => ({ kind: 'pillar', radius, height })),
);
const spot = fc.tuple(quarters(-1.5, 1.5), quarters(-1.5, 1.5), quarters(0, 8)).map(([x, y, z]) => ({ at: at(x, y, z) }));
const anyZone = (name: string) =>
  fc
    .record({
      shape,
      swept: fc.boolean(),
      dwell: fc.constantFrom(null, 0.4),
      attachedTo: fc.constantFrom('', '', '', 'lift', 'crane'),
    })
    .chain((more) => spot.map((where) => zone(name, 0, 0, { ...more, ...where })));

const motion = {
  easing: fc.constantFrom('even', 'gentle', 'gathering', 'slowing'),
  startDelay: fc.constantFrom(0, 0, 0.4),
  inTheWay: fc.constantFrom('stop', 'reverse', 'push'),
  returnAfter: fc.constantFrom(null, 0, 1),
};
const lift = fc
  .record({
    ...motion,
    solid: fc.constant(true),
    timing: fc.oneof(
      fc.constantFrom(1.5, 4, 7).map((seconds) => ({ by: 'seconds', seconds })),
      fc.constantFrom(0.4, 2).map((speed) => ({ by: 'speed', speed })),
    ),
    stops: fc
      .tuple(fc.array(quarters(1, 8), { minLength: 1, maxLength: 2 }), fc.constantFrom(0, 0, 0, 0.5))
      .map(([heights, aside]) => [at(0, 0, 0), ...heights.map((z) => at(aside, 0, z))]),
    startsAt: fc.constantFrom(1, 1, 1, 2),
    whenLeft: fc.constantFrom('stay', 'return'),
    returnWhen: fc.constantFrom('always', 'empty'),
  })
  .map((more) => fixture('elevator', 'Lift', 0, 0, { size: at(2, 2, 0.25), ...more }));
const crane = fc
  .record({
    ...motion,
    at: fc.tuple(quarters(-3, 3), quarters(0, 6)).map(([x, z]) => at(x, 0, z)),
    solid: fc.boolean(),
    keyframes: fc.array(
      fc.record({
        by: fc.tuple(quarters(-2, 2), quarters(-1, 2)).map(([x, z]) => at(x, 0, z)),
        turn: fc.constantFrom(0, 0, 90),
        seconds: fc.constantFrom(0.5, 2),
      }),
      { minLength: 1, maxLength: 2 },
    ),
    atEnd: fc.constantFrom('stay', 'to-and-fro'),
    running: seldom,
    attachedTo: fc.constantFrom('', '', 'lift'),
  })
  .map((more) => fixture('mover', 'Crane', 0, 0, { size: at(1, 1, 0.5), ...more }));
const ledge = (name: string) =>
  fc.tuple(quarters(-1, 1), quarters(0, 8)).map(([x, z]) => solid(name, 0, 0, { size: at(1, 1, 0.25), at: at(x, 0, z) }));
const post = fc
  .record({ solid: fc.boolean(), attachedTo: fc.constantFrom('', 'lift'), size: fc.constantFrom(at(0.25, 3, 1), at(1, 1, 0.5)) })
  .chain((more) => spot.map((where) => fixture('barrier', 'Post', 0, 0, { ...more, ...where })));

const byCause = { by: 'cause' };
const acts = fc.constantFrom(
  () => step('send', { elevator: 'lift', stop: 1 }),
  () => step('send', { elevator: 'lift', stop: 2 }),
  () => step('play', { machine: 'lift', way: 'backwards' }),
  () => step('play', { machine: 'lift', way: 'from-the-start' }),
  () => step('play', { machine: 'crane', way: 'forwards' }),
  () => step('reset', { fixture: 'lift' }),
  () => step('hide', { fixture: 'lift' }),
  () => step('make-passable', { fixture: 'lift' }),
  () => step('make-solid', { fixture: 'post' }),
  () => step('disable', { thing: 'high' }),
  () => step('enable', { thing: 'high', insideEnter: true }),
  () => step('push', { who: byCause, velocity: at(1, 0, 2), seconds: 0.3 }),
  () => step('hold-visitor', { who: byCause }),
  () => step('turn', { who: { by: 'name', visitor: 'miller' }, degrees: 90, facing: null }),
  () => step('walk-visitor', { who: { by: 'name', visitor: 'goose' }, to: { ...at(0.5, 0.5), of: 'miller' } }),
  () => step('teleport', { who: { by: 'name', visitor: 'goose' }, to: { ...at(0.5, 0), of: 'miller' }, arrival: 'loud' }),
  () => step('teleport', { who: { by: 'name', visitor: 'miller' }, to: at(3, 3) }),
  () => step('remove', { who: { by: 'name', visitor: 'goose' } }),
);
const anyChain = (name: string) =>
  fc
    .tuple(
      fc.constantFrom(
        ['enter', 'high'],
        ['enter', 'low'],
        ['leave', 'low'],
        ['moving', 'lift'],
        ['arrived', 'lift'],
        ['press', 'scale'],
      ),
      fc.array(acts, { minLength: 1, maxLength: 2 }),
      fc.constantFrom(0, 0.7, 1.9),
    )
    .map(([[on, of], steps, delay]) =>
      chain(
        name,
        [cause(on!, of!, { limit: 3 })],
        steps.map((make) => make()),
        { delay, whileRunning: 'overlap' },
      ),
    );

let made = 0;
const told = (...some: (() => Record<string, unknown>)[]) =>
  fc.constantFrom(...some).map((make) => ({ ...make(), id: `told-${(made += 1)}` }));
const ofMiller = fc.array(
  told(
    () => wait(0.9),
    () => wait(3),
    () => goTo(0, 0),
    () => goTo(0.5, -0.5),
    () => ({ do: 'carry', prop: 'sack' }),
    () => drop('sack'),
    () => ({ do: 'throw', prop: 'sack', velocity: at(1, 0, 3) }),
  ),
  { maxLength: 6 },
);
const ofGoose = fc.array(
  told(
    () => wait(0.5),
    () => goTo(0, 0.5),
    () => goTo(3, 0),
    () => carry('sack'),
    () => ({ do: 'go-to', to: { ...at(0, 0), of: 'miller' } }),
    () => ({ do: 'go-to', to: { ...at(0, 0), of: 'sack' } }),
  ),
  { maxLength: 4 },
);

const anyShaft: fc.Arbitrary<Level> = fc
  .record({
    zones: fc.tuple(anyZone('High'), anyZone('Low'), anyZone('Middle')),
    solids: fc.tuple(ledge('Ledge'), ledge('Sill')),
    lift,
    crane,
    post,
    blocks: seldom,
    sackBlocks: fc.boolean(),
    gooseAt: fc.constantFrom(at(3, 0), at(0.5, 0.5, 0.25)),
    sackAt: fc.tuple(quarters(-0.5, 0.5), quarters(-0.5, 0.5)),
    chains: fc
      .array(fc.nat(1), { minLength: 2, maxLength: 4 })
      .chain((all) => fc.tuple(...all.map((_one, i) => anyChain(`Chain ${i}`)))),
    ofMiller,
    ofGoose,
    stepHeight: fc.constantFrom(0, 0.3, 0.5),
  })
  .map(({ zones, solids, stepHeight, chains, blocks, sackAt: [x, y], ...one }) =>
    levelOf({
      stepHeight,
      zones,
      solids,
      fixtures: [one.lift, one.crane, one.post, plate('Scale', 0, 0, { threshold: 60, attachedTo: 'lift', at: at(0, 0, 0.25) })],
      visitors: [
        visitor('Goose', 3, 0, {
          at: one.gooseAt,
          kind: 'creature',
          body: { kind: 'pillar', radius: 0.25, height: 0.75 },
          blocks,
        }),
        visitor('Miller', 0, 0, { at: at(0, 0, 0.25) }),
        visitor('Sack', x, y, {
          kind: 'prop',
          blocks: one.sackBlocks,
          at: at(x, y, 0.25),
          body: { kind: 'box', size: at(0.4, 0.4, 0.4) },
        }),
      ],
      // Whatever else comes of it, the lift is sent up at the beginning.
      chains: [chain('Up', [cause('press', 'scale', { limit: 1 })], [step('send', { elevator: 'lift', stop: 2 })]), ...chains],
      walks: [walk({ miller: one.ofMiller, goose: one.ofGoose }, { atMost: 25 })],
    }),
  );

const holds = (check: (level: Level) => void): void => fc.assert(fc.property(anyShaft, check), { numRuns: runs, seed });

it('tells the same ledger as one that looks at everything in every tick, and the same ways', () => {
  let rode = 0;
  holds((level) => {
    const one = rehearse(level, level.walks[0]!);
    const all = rehearse(level, level.walks[0]!, { everyTick: true });
    expect(ledgerText(one.entries)).toBe(ledgerText(all.entries));
    const error: unknown[] = [];
    for (const { id } of level.visitors)
      for (let tick = 0; tick <= one.ticks; tick++) {
        const [a, b] = [valuesAt(one.tracks.visitors.get(id)!, tick), valuesAt(all.tracks.visitors.get(id)!, tick)];
        if (a.some((value, i) => Math.abs(value - b[i]!) > 1e-5)) error.push({ id, tick, a, b });
      }
    expect(error.slice(0, 3)).toEqual([]);
    if (one.entries.some(({ kind, what }) => kind === 'moving' && what === 'lift')) rode += 1;
  });
  expect(rode).toBeGreaterThan(runs / 2);
});

it('tells the same ledger as a second kernel, which looks at every pair in every tick', () => {
  holds((level) => {
    const { entries } = rehearse(level, level.walks[0]!, { seed: 1 });
    if (entries.some(({ kind }) => kind === 'runaway')) return;
    expect(ledgerText(entries)).toBe(textOf(naiveRehearsal(level, level.walks[0]!, { seed: 1 })));
  });
});

it('has the same key at every tick, be it passed over, stepped, or looked at, and copies go on from there', () => {
  const { copy, rulePolicy, stateKey, lookAtAll, noopListener, compileLevel, start, tick } = kernel;
  let rested = 0;
  holds((level) => {
    const plan = compileLevel(level);
    const orders = rulePolicy(level.rules);
    const [stepping, looking] = [start(plan, level.walks[0]!), start(plan, level.walks[0]!)];
    let gone = copy(stepping);
    for (let over = false; !over && stepping.tick < 150;) {
      over = tick(plan, stepping, orders, noopListener) !== null;
      if (looking.tick >= 0) lookAtAll(plan, looking, noopListener);
      tick(plan, looking, orders, noopListener);
      tick(plan, gone, orders, noopListener);
      const [key, ...others] = [stepping, looking, gone].map((world) => stateKey(plan, world));
      const other = others.find((one) => one !== key);
      if (other !== undefined) expect(other).toBe(key);
      if (stepping.visitors.some(({ rest }) => rest !== null)) rested += 1;
      gone = copy(gone);
    }
  });
  // In a good part of these ticks somebody was passed over on the lift.
  expect(rested).toBeGreaterThan(runs * 10);
});
