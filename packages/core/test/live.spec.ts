import fc from 'fast-check';
import { Ledger, Live, recordingListener, ledgerText, parseLevel, rehearse, tracksUpTo, valuesAt } from '../src/index';
import type { Entry, Level, Steering, Tracks, Walk } from '../src/index';
import { anyLevel } from './any-level';
import { cause, chain, door, endless, fixture, goTo, levelOf, solid, step, visitor, wait, walk, zone } from './build';

/** A rehearsal that is walked as it runs: steered, gone back in, gone on with otherwise, and kept as a walk. */

const runs = Number(process.env['PROPERTY_RUNS'] ?? 60);

/** Somebody who walks, with the ledger and the ways that the studio would show. */
class Player {
  readonly live: Live;
  ledger: Ledger;
  tracks: Tracks = { visitors: new Map(), doors: new Map(), rooms: new Map() };

  constructor(
    readonly level: Level,
    readonly walk: Walk,
  ) {
    this.ledger = new Ledger(level.rate);
    this.live = new Live(level, walk, {
      entry: (...told) => recordingListener(this.ledger, this.tracks).entry(...told),
      pose: (...told) => recordingListener(this.ledger, this.tracks).pose(...told),
      room: (...told) => recordingListener(this.ledger, this.tracks).room(...told),
    });
  }

  back(tick: number): void {
    this.ledger = this.ledger.upTo(tick);
    this.tracks = tracksUpTo(this.tracks, tick);
    this.live.back(tick);
  }

  /** What happened, as text; without what a rehearsal says at its end. */
  get said(): string {
    return ledgerText([...this.ledger].filter(({ kind }) => kind !== 'end'));
  }
}

const anyCase = anyLevel.map((raw) => {
  const parsed = parseLevel(raw);
  if (!parsed.ok) throw new Error(JSON.stringify(parsed.faults));
  return { level: parsed.level, walk: parsed.level.walks[0]! };
});

const anySteering = fc.array(
  fc.record({
    after: fc.integer({ min: 0, max: 40 }),
    who: fc.nat(20),
    toward: fc.option(fc.record({ x: fc.integer({ min: -1, max: 1 }), y: fc.integer({ min: -1, max: 1 }) })),
    does: fc.option(fc.nat(20), { freq: 3 }),
  }),
  { maxLength: 12 },
);

interface Told {
  tick: number;
  steering: Steering;
}

/** Steering for a level: who is meant and what is used are found among what there is. */
function steeringFor(level: Level, told: typeof anySteering extends fc.Arbitrary<infer T> ? T : never): Told[] {
  let tick = 0;
  return told.flatMap(({ after, who, toward, does }): Told[] => {
    tick += after;
    if (level.visitors.length === 0) return [];
    const { id } = level.visitors[who % level.visitors.length]!;
    const fixture = level.fixtures[(does ?? 0) % Math.max(1, level.fixtures.length)];
    if (does !== null && fixture !== undefined)
      return [{ tick, steering: { visitor: id, does: { id: 'use', do: 'use', fixture: fixture.id } } }];
    return [{ tick, steering: { visitor: id, heads: toward === null || (toward.x === 0 && toward.y === 0) ? null : toward } }];
  });
}

function play(player: Player, told: readonly Told[], until: number): void {
  for (const one of told) {
    if (one.tick < player.live.tick || one.tick >= until) continue;
    player.live.advance(one.tick - player.live.tick);
    if (player.live.tick === one.tick) player.live.steer(one.steering);
  }
  player.live.advance(until - player.live.tick);
}

it('says what a rehearsal says when nobody is steered', () => {
  fc.assert(
    fc.property(anyCase, ({ level, walk }) => {
      const whole = rehearse(level, { ...walk, jitter: { start: 0, speed: 0 } });
      const player = new Player(level, walk);
      player.live.advance(whole.ticks);
      expect(player.said).toBe(ledgerText(whole.entries.filter(({ kind }) => kind !== 'end')));
    }),
    { numRuns: runs },
  );
});

it('can be gone back in to any moment, and says the same again when it is steered the same', () => {
  fc.assert(
    fc.property(anyCase, anySteering, fc.integer({ min: 1, max: 300 }), fc.integer({ min: 1, max: 300 }), (one, some, a, b) => {
      const told = steeringFor(one.level, some);
      const until = Math.max(a, b);
      const straight = new Player(one.level, one.walk);
      play(straight, told, until);
      const turned = new Player(one.level, one.walk);
      play(turned, told, until);
      if (turned.live.ranAway) return;
      const to = Math.min(a, b);
      turned.back(to);
      // Who was steered stands now; they head on as they did, in the same tick.
      const heading = new Map<string, Steering>();
      for (const { tick, steering } of told) if ('heads' in steering && tick < to) heading.set(steering.visitor, steering);
      if ([...heading.values()].some((steering) => 'heads' in steering && steering.heads !== null)) {
        // Its way begins anew there, which may be a tick's rounding away: what was before is the same.
        expect(straight.said.startsWith(turned.said)).toBe(true);
        return;
      }
      play(turned, told, until);
      expect(turned.said).toBe(straight.said);
      for (const [id, track] of straight.tracks.visitors)
        for (const at of [0, to, until])
          valuesAt(turned.tracks.visitors.get(id)!, at).forEach((value, i) =>
            expect(value).toBeCloseTo(valuesAt(track, at)[i]!, 6),
          );
    }),
    { numRuns: runs },
  );
});

describe('A designer walks the miller', () => {
  const yard = (): Level =>
    levelOf({
      visitors: [
        visitor('Miller', 0, 0),
        visitor('Goose', 5, 5, { kind: 'creature' }),
        visitor('Sack', 2.5, -1, { kind: 'prop' }),
      ],
      zones: [zone('Step', 4, 0)],
      solids: [solid('Wall', 3, 4, { size: { x: 6, y: 1, z: 2 } })],
      fixtures: [door('Mill door', 8, 0, { size: { x: 0.2, y: 2, z: 2 } }), fixture('switch', 'Crank', 2, 1.2)],
      chains: [chain('Open', [cause('enter', 'step')], [step('open', { door: 'mill-door' })])],
      walks: [walk({ goose: [wait(1), goTo(5, 8)] })],
    });
  const east = { visitor: 'miller', heads: { x: 1, y: 0 } };
  const stop = { visitor: 'miller', heads: null };
  const kinds = (entries: Iterable<Entry>): string[] => [...entries].map(({ kind, who, what }) => `${kind} ${who ?? what ?? ''}`);

  it('into a zone, while the goose goes its own way', () => {
    const player = new Player(yard(), yard().walks[0]!);
    player.live.steer(east);
    player.live.advance(30);
    const ids = kinds(player.ledger);
    expect(ids).toContain('enter miller');
    player.live.steer(stop);
    player.live.advance(40);
    expect(kinds(player.ledger)).toEqual(expect.arrayContaining(['opened miller', 'arrived goose']));
    expect(valuesAt(player.tracks.visitors.get('miller')!, 70)[0]).toBeCloseTo(3, 6);
  });

  it('back out of it, and another way: what had come after is gone', () => {
    const player = new Player(yard(), yard().walks[0]!);
    player.live.steer(east);
    player.live.advance(30);
    player.back(20);
    expect(kinds(player.ledger)).not.toContain('enter miller');
    player.live.advance(30);
    expect(kinds(player.ledger)).not.toContain('enter miller');
    expect(valuesAt(player.tracks.visitors.get('miller')!, 50)[0]).toBeCloseTo(2, 6);
  });

  it('aslant against a wall, along which he goes on', () => {
    const player = new Player(yard(), yard().walks[0]!);
    player.live.steer({ visitor: 'miller', heads: { x: 1, y: 1 } });
    player.live.advance(60);
    const [x, y] = valuesAt(player.tracks.visitors.get('miller')!, 60);
    expect(y).toBeCloseTo(3.25, 4);
    expect(x).toBeGreaterThan(3.5);
    expect(kinds(player.ledger)).toContain('blocked miller');
  });

  it('up to the sack, which he takes, and to the crank, which he uses, while a key is still down', () => {
    const player = new Player(yard(), yard().walks[0]!);
    player.live.steer(east);
    player.live.advance(5);
    expect(player.live.handy('miller')).toEqual({ uses: [], props: [], carries: [] });
    player.live.advance(10);
    expect(player.live.handy('miller')).toEqual({ uses: ['crank'], props: ['sack'], carries: [] });
    player.live.steer({ visitor: 'miller', does: { id: 'take', do: 'carry', prop: 'sack' } });
    player.live.advance(1);
    expect(player.live.handy('miller')).toEqual({ uses: ['crank'], props: [], carries: ['sack'] });
    player.live.advance(4);
    expect(player.live.handy('miller').uses).toEqual(['crank']);
    player.live.steer({ visitor: 'miller', does: { id: 'use', do: 'use', fixture: 'crank' } });
    player.live.advance(5);
    expect(kinds(player.ledger)).toContain('on miller');
    expect(valuesAt(player.tracks.visitors.get('miller')!, 25)[0]).toBeCloseTo(2.3, 6);
  });

  it('and keeps it as a walk that brings about the same', () => {
    const level = yard();
    const player = new Player(level, level.walks[0]!);
    player.live.steer(east);
    player.live.advance(13);
    player.live.steer({ visitor: 'miller', heads: { x: 1, y: 1 } });
    player.live.advance(9);
    player.live.steer(stop);
    player.live.advance(12);
    player.live.steer({ visitor: 'miller', does: { id: 'use', do: 'use', fixture: 'crank' } });
    player.live.advance(3);
    player.live.steer(east);
    player.live.advance(40);
    const routes = player.live.routes();
    const miller = routes.find((route) => route.visitor === 'miller')!;
    expect(miller.instructions.map((one) => one.do)).toEqual(['go-to', 'go-to', 'wait', 'use', 'wait', 'go-to']);
    expect(routes.find((route) => route.visitor === 'goose')).toEqual(level.walks[0]!.routes[0]);
    const kept = rehearse(level, { ...level.walks[0]!, routes });
    const alike = (entries: Iterable<Entry>): string[] =>
      [...entries]
        .filter(({ kind, what }) => kind !== 'end' && !(kind === 'arrived' && what === 'miller'))
        .map((one) => `${one.tick} ${one.kind} ${one.what}`);
    expect(alike(kept.entries.filter(({ tick }) => tick <= player.live.tick))).toEqual(alike(player.ledger));
    // Looking at the routes has changed nothing.
    const before = player.said;
    player.live.advance(10);
    expect(player.said.startsWith(before)).toBe(true);
  });

  it('and is told when there is nobody of that name', () => {
    const player = new Player(yard(), yard().walks[0]!);
    expect(() => player.live.steer({ visitor: 'nobody', heads: null })).toThrow(RangeError);
  });

  it('back from before a runaway, and another way', () => {
    const level = endless({ zones: [zone('Step', 4, 0)], walks: [walk({})] });
    const player = new Player(level, level.walks[0]!);
    player.live.steer(east);
    player.live.advance(60);
    expect(player.live.ranAway).toBe(true);
    player.back(20);
    expect(player.live.ranAway).toBe(false);
    player.live.steer({ visitor: 'miller', heads: { x: 0, y: 1 } });
    player.live.advance(30);
    expect([player.live.tick, player.live.ranAway]).toEqual([50, false]);
  });

  it('nowhere, where no direction is given', () => {
    const player = new Player(yard(), yard().walks[0]!);
    player.live.steer({ visitor: 'miller', heads: { x: 0, y: 0 } });
    player.live.advance(10);
    expect(valuesAt(player.tracks.visitors.get('miller')!, 10)).toEqual([0, 0, 0]);
  });
});
