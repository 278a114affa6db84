import fc from 'fast-check';
import { bodyOf } from '../src/rehearsal/plan';
import { boxAt, ledgerText, overlaps, rehearse, valuesAt, vectorOf } from '../src/index';
import type { Level, Rehearsal } from '../src/index';
import {
  carry,
  cause,
  chain,
  door,
  drop,
  flag,
  goTo,
  levelOf,
  plate,
  sign,
  solid,
  step,
  visitor,
  wait,
  walk,
  zone,
} from './build';
import { naiveRehearsal } from './naive-kernel';

/** Small yards in which anything may happen: everything is within ten metres, so that most of it meets. */
const near = fc.integer({ min: -20, max: 20 }).map((n) => n / 4);
const span = fc.constantFrom(0, 0.1, 0.5, 1.3);
const places = fc.tuple(near, near);
const zones = ['zone-a', 'zone-b', 'zone-c'];
const doors = ['gate', 'curtain'];
const people = ['miller', 'goose', 'sack'];

const anyCause = fc
  .oneof(
    fc.tuple(fc.constantFrom('enter', 'leave'), fc.constantFrom(...zones, 'plate', 'curtain')),
    fc.tuple(fc.constantFrom('press', 'release'), fc.constant('plate')),
    fc.tuple(fc.constantFrom('opened', 'closed'), fc.constantFrom(...doors)),
    fc.tuple(fc.constant('arrived'), fc.constantFrom(...people)),
  )
  .chain(([on, of]) =>
    fc
      .record({
        filter: fc.record({ kinds: fc.subarray(['player', 'creature', 'prop']), anyOf: fc.subarray(['bird', 'flour']) }),
        limit: fc.constantFrom(null, 0, 1, 2),
        cooldown: span,
      })
      .map((more) => cause(on, of, more)),
  );

const anyStep = fc
  .tuple(
    fc.oneof(
      fc.constantFrom(...doors, 'gone').chain((id) => fc.constantFrom({ kind: 'open', door: id }, { kind: 'close', door: id })),
      span.map((seconds) => ({ kind: 'wait', seconds })),
      fc.boolean().map((to) => ({ kind: 'set-flag', flag: 'flag', to })),
      fc.constantFrom('one', 'two').map((text) => ({ kind: 'write-sign', sign: 'board', text })),
      fc.constantFrom({ kind: 'show', fixture: 'gate' }, { kind: 'hide', fixture: 'gate' }),
    ),
    fc.record({ start: fc.constantFrom('after', 'with'), delay: span }),
  )
  .map(([what, when]) => step(what.kind, { ...what, ...when }));

const anyInstruction = fc.oneof(
  { weight: 4, arbitrary: places.map(([x, y]) => goTo(x, y)) },
  { weight: 1, arbitrary: span.map(wait) },
  { weight: 1, arbitrary: fc.constantFrom(carry, drop).map((make) => make('sack')) },
);

const anyLevel: fc.Arbitrary<Level> = fc
  .record({
    rate: fc.constantFrom(1, 10, 60),
    zones: fc.tuple(
      ...zones.map((id) =>
        fc
          .tuple(places, fc.integer({ min: 0, max: 90 }), fc.boolean())
          .map(([[x, y], heading, enabled]) => zone(id, x, y, { id, heading, enabled })),
      ),
    ),
    gate: fc.tuple(places, places, span, fc.constantFrom(null, 0, 0.7)),
    curtain: fc.tuple(places, places, span, fc.boolean()),
    plateAt: places,
    wallAt: places,
    starts: fc.tuple(places, places, places),
    silent: fc.boolean(),
    chains: fc.array(
      fc.tuple(
        fc.array(anyCause, { minLength: 1, maxLength: 3 }),
        fc.array(anyStep, { maxLength: 4 }),
        fc.boolean(),
        fc.boolean(),
      ),
      { maxLength: 5 },
    ),
    routes: fc.tuple(fc.array(anyInstruction, { maxLength: 6 }), fc.array(anyInstruction, { maxLength: 4 })),
  })
  .map((made) =>
    levelOf({
      rate: made.rate,
      zones: made.zones,
      solids: [solid('Wall', ...made.wallAt)],
      fixtures: [
        door('Gate', ...made.gate[0], {
          travel: { x: made.gate[1][0], y: made.gate[1][1], z: 0 },
          timing: { by: 'seconds', seconds: made.gate[2] },
          returnAfter: made.gate[3],
        }),
        door('Curtain', ...made.curtain[0], {
          solid: false,
          open: made.curtain[3],
          travel: { x: made.curtain[1][0], y: made.curtain[1][1], z: 0 },
          timing: { by: 'seconds', seconds: made.curtain[2] },
        }),
        plate('Plate', ...made.plateAt, { threshold: 30 }),
        sign('Board'),
      ],
      flags: [flag('Flag')],
      visitors: [
        visitor('Miller', ...made.starts[0], { speed: 3 }),
        visitor('Goose', ...made.starts[1], { kind: 'creature', tags: ['bird'], speed: 7, raisesOverlaps: !made.silent }),
        visitor('Sack', ...made.starts[2], { kind: 'prop', tags: ['flour'], mass: 30 }),
      ],
      chains: made.chains.map(([causes, steps, guarded, enabled], i) =>
        chain(`Chain ${i}`, causes, steps, { enabled, guard: guarded ? [{ flag: 'flag', is: true }] : [] }),
      ),
      walks: [walk({ miller: made.routes[0], goose: made.routes[1] }, { atMost: 30 })],
    }),
  );

const runs = Number(process.env['PROPERTY_RUNS'] ?? 300);
const holds = (check: (level: Level, rehearsal: Rehearsal) => void): void =>
  fc.assert(
    fc.property(anyLevel, (level) => check(level, rehearse(level, level.walks[0]!))),
    { numRuns: runs },
  );

it('gives the same ledger, byte for byte, for the same level and walk', () => {
  holds((level, { entries }) => {
    const copy = JSON.parse(JSON.stringify(level)) as Level;
    expect(ledgerText(rehearse(copy, copy.walks[0]!).entries)).toBe(ledgerText(entries));
  });
});

it('says entry by entry what a second kernel says, which tests every pair at every tick', () => {
  holds((level, { entries }) => {
    if (entries.some((entry) => entry.kind === 'runaway')) return;
    expect(naiveRehearsal(level, level.walks[0]!)).toEqual(entries);
  });
});

it('names only earlier entries as causes, numbers from 1 without a gap, and never goes back in time', () => {
  holds((_level, { entries }) => {
    entries.forEach((entry, i) => {
      expect(entry.number).toBe(i + 1);
      if (entry.cause !== null) expect(entry.cause).toBeLessThan(entry.number);
      if (i > 0) expect(entry.tick).toBeGreaterThanOrEqual(entries[i - 1]!.tick);
    });
  });
});

it('lets nobody enter a zone without overlapping it', () => {
  holds((level, { entries, tracks }) => {
    for (const entry of entries) {
      const entered = level.zones.find((one) => one.id === entry.what);
      if (entry.kind !== 'enter' || entered === undefined) continue;
      const who = level.visitors.find((one) => one.id === entry.who)!;
      const body = bodyOf(who, vectorOf(valuesAt(tracks.visitors.get(who.id)!, entry.tick)));
      expect(overlaps(body, boxAt(entered.at, entered.shape.size, entered.heading))).toBe(true);
    }
  });
});

it('knows at every tick who is inside which zone, as testing every pair would', () => {
  holds((level, { entries, tracks, ticks }) => {
    if (entries.some((entry) => entry.kind === 'runaway')) return;
    const inside = new Set<string>();
    const wrong: unknown[] = [];
    let next = 0;
    for (let tick = 0; tick <= ticks; tick++) {
      for (; next < entries.length && entries[next]!.tick === tick; next++) {
        const { kind, what, who, chain: inChain, details } = entries[next]!;
        const event = kind === 'held' && inChain === null ? details['event'] : kind;
        if (event === 'enter') inside.add(`${what} ${who}`);
        if (event === 'leave') inside.delete(`${what} ${who}`);
      }
      for (const one of level.zones) {
        for (const who of level.visitors) {
          const body = bodyOf(who, vectorOf(valuesAt(tracks.visitors.get(who.id)!, tick)));
          const is = (grown: number): boolean =>
            overlaps(
              { ...body, halfX: body.halfX + grown, halfY: body.halfY + grown },
              boxAt(one.at, one.shape.size, one.heading),
            );
          // What touches within a micrometre may fall either way: tracks are kept to a tenth of that.
          if (is(1e-6) === is(-1e-6) && inside.has(`${one.id} ${who.id}`) !== is(0)) wrong.push([tick, one.id, who.id]);
        }
      }
    }
    expect(wrong).toEqual([]);
  });
});

it('alternates enters and leaves of each pair, counting those that were held as a whole', () => {
  holds((_level, { entries }) => {
    const inside = new Set<string>();
    for (const { kind, what, who, chain: inChain, details } of entries) {
      const event = kind === 'held' && inChain === null ? details['event'] : kind;
      const pair = `${what} ${who}`;
      if (event === 'enter') {
        expect(inside.has(pair)).toBe(false);
        inside.add(pair);
      } else if (event === 'leave') {
        expect(inside.delete(pair)).toBe(true);
      }
    }
  });
});

it('answers each event for each chain that listens with a start or with one reason', () => {
  holds((level, { entries }) => {
    const ranAway = entries.some((entry) => entry.kind === 'runaway');
    for (const entry of entries) {
      const listening = level.chains.flatMap((one) => one.causes.filter((own) => own.on === entry.kind && own.of === entry.what));
      if (listening.length === 0 || ranAway) continue;
      const answers = entries.filter(
        (other) => other.cause === entry.number && (other.kind === 'chain-started' || other.kind === 'held'),
      );
      expect(answers).toHaveLength(listening.length);
    }
  });
});

it('finishes no more chains than it started, and starts none more often than its limits allow', () => {
  holds((level, { entries }) => {
    for (const one of level.chains) {
      const count = (kind: string): number => entries.filter((entry) => entry.kind === kind && entry.chain === one.id).length;
      expect(count('chain-finished')).toBeLessThanOrEqual(count('chain-started'));
      const most = one.causes.reduce((sum, own) => sum + (own.limit ?? Infinity), 0);
      expect(count('chain-started')).toBeLessThanOrEqual(most);
      if (!one.enabled) expect(count('chain-started')).toBe(0);
    }
  });
});
