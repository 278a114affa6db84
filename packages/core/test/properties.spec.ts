import { said } from './build';
import fc from 'fast-check';
import {
  BOX,
  bodyAt,
  ledgerText,
  overlaps,
  parseLevelText,
  rehearse,
  valuesAt,
  vectorOf,
  warningsOf,
  zoneAt,
} from '../src/index';
import type { Entry, Level, Rehearsal } from '../src/index';
import { anyLevel } from './any-level';

const runs = Number(process.env['PROPERTY_RUNS'] ?? 300);
const seed = 7;
/** The same levels in every run, so that a run can be repeated; PROPERTY_SEED asks for others. */
const among = Number(process.env['PROPERTY_SEED'] ?? 20_261_123);

let rehearsed: { level: Level; rehearsal: Rehearsal }[] = [];
beforeAll(() => {
  // Each is rehearsed once, whatever is asked of it.
  rehearsed = fc
    .sample(anyLevel, { numRuns: runs, seed: among })
    .map((level) => ({ level, rehearsal: rehearse(level, level.walks[0]!, { seed }) }));
}, 900_000);

function holds(check: (level: Level, rehearsal: Rehearsal) => void): void {
  for (const { level, rehearsal } of rehearsed) {
    try {
      check(level, rehearsal);
    } catch (error) {
      throw new Error(`In the level ${JSON.stringify(level)}`, { cause: error });
    }
  }
}
const ranAway = (entries: readonly Entry[]): boolean => entries.some((entry) => entry.kind === 'runaway');

it('says the same when it looks at everything in every tick', () => {
  holds((level, { entries }) => {
    const all = rehearse(level, level.walks[0]!, { seed, everyTick: true });
    expect(ledgerText(all.entries)).toBe(ledgerText(entries));
  });
});

it('gives the same ledger, byte for byte, for the same level and walk, also read back from a document', () => {
  holds((level, { entries }) => {
    const read = parseLevelText(JSON.stringify(level));
    if (!read.ok) throw new Error(JSON.stringify(read.faults));
    const copy = read.level;
    expect(ledgerText(rehearse(copy, copy.walks[0]!, { seed }).entries)).toBe(ledgerText(entries));
  });
});

it('names only earlier entries as causes, numbers from 1 without a gap, and never goes back in time', () => {
  holds((_level, { entries }) => {
    const error = entries.filter(
      ({ number, cause, tick }, i) =>
        number !== i + 1 || (cause !== null && cause >= number) || (i > 0 && tick < entries[i - 1]!.tick),
    );
    expect(error).toEqual([]);
  });
});

it('knows at every tick who is inside which standing zone, as testing every pair would', () => {
  holds((level, { entries, tracks, ticks }) => {
    if (ranAway(entries)) return;
    const standing = level.zones.filter((zone) => zone.attachedTo === '');
    const inside = new Set<string>();
    const error: unknown[] = [];
    let next = 0;
    for (let tick = 0; tick <= ticks; tick++) {
      // A teleport moves its visitor after Sense, which finds out about it in the next tick.
      const put = new Set<string | null>();
      for (; next < entries.length && entries[next]!.tick === tick; next++) {
        const { kind, what, who, chain, details } = entries[next]!;
        const event = kind === 'held' && chain === null ? details['event'] : kind;
        if (event === 'enter' || event === 'arrived-inside') inside.add(`${what} ${who}`);
        if (event === 'leave') inside.delete(`${what} ${who}`);
        if (['teleported', 'warped', 'left-behind', 'removed', 'spawned', 'changed', 'use'].includes(kind))
          put.add(what).add('sack');
      }
      for (const zone of standing) {
        for (const visitor of level.visitors) {
          if (put.has(visitor.id) || put.has(zone.room)) continue;
          const room = tracks.rooms.get(visitor.id)!.findLast((stay) => stay.tick <= tick)!.room;
          const body = bodyAt(visitor.body, vectorOf(valuesAt(tracks.visitors.get(visitor.id)!, tick)));
          const is = (grown: number): boolean => {
            const wider = {
              ...body,
              halfX: body.halfX + grown,
              halfY: body.halfY + grown,
              z: body.z - grown,
              height: body.height + 2 * grown,
            };
            return room === zone.room && overlaps(wider, zoneAt(zone.shape, zone.at, zone.heading));
          };
          // What touches within a micrometre may fall either way: tracks are kept to a tenth of that.
          if (is(1e-6) === is(-1e-6) && inside.has(`${zone.id} ${visitor.id}`) !== is(0)) error.push([tick, zone.id, visitor.id]);
        }
      }
    }
    expect(error).toEqual([]);
  });
});

it('alternates enters and leaves of each pair, counting those that were held as a whole', () => {
  holds((_level, { entries }) => {
    const inside = new Map<string, number>();
    const balanced = (): void => {
      const error = [...inside].filter(([, count]) => count !== 0 && count !== 1);
      if (error.length > 0) expect(error).toEqual([]);
    };
    let at = 0;
    for (const { tick, kind, what, who, chain, details } of entries) {
      // Within a tick a leave that waits in the queue is written after the quiet arrival that overtakes it.
      if (tick !== at) balanced();
      at = tick;
      const event = kind === 'held' && chain === null ? details['event'] : kind;
      const pair = `${what} ${who}`;
      // What a passage refuses has been entered all the same.
      const refused =
        kind === 'held' &&
        chain === null &&
        ('part' in details || ('reason' in details && (details.reason === 'impossible' || details.reason === 'cooling')));
      if (('enabled' in details && details.enabled === true) || refused) continue;
      if (event === 'enter' || event === 'arrived-inside') inside.set(pair, (inside.get(pair) ?? 0) + 1);
      else if (event === 'leave') inside.set(pair, (inside.get(pair) ?? 0) - 1);
    }
    balanced();
  });
});

it('answers each event for each chain that listens with a start or with one reason', () => {
  holds((level, { entries }) => {
    if (ranAway(entries)) return;
    for (const entry of entries) {
      const what = entry.kind === 'chain-finished' ? entry.chain : entry.what;
      const listening = level.chains.flatMap((one) => one.causes.filter((own) => own.on === entry.kind && own.of === what));
      if (listening.length === 0) continue;
      const answers = entries.filter(
        ({ cause, kind, details, chain }) =>
          cause === entry.number &&
          chain !== null &&
          (kind === 'chain-started' || (kind === 'held' && details['event'] === entry.kind)),
      );
      // One that was queued is answered twice: it was held, and later it starts.
      const queued = answers.filter((answer) => said(answer)['queued'] === true).length;
      const starts = answers.filter((answer) => answer.kind === 'chain-started').length;
      expect(answers.length).toBeGreaterThanOrEqual(listening.length);
      expect(answers.length - Math.min(queued, starts)).toBeLessThanOrEqual(listening.length);
    }
  });
});

it('starts no chain more often than its limits allow, and finishes none that it has not started', () => {
  holds((level, { entries }) => {
    const count = (kind: string, chain: string): number =>
      entries.filter((entry) => entry.kind === kind && entry.chain === chain).length;
    for (const one of level.chains) {
      expect(count('chain-finished', one.id)).toBeLessThanOrEqual(count('chain-started', one.id));
      const stepped = level.chains.some((other) =>
        other.steps.some((step) => (step.kind === 'start-chain' || step.kind === 'reset-chain') && step.chain === one.id),
      );
      const most = one.causes.reduce((sum, own) => sum + (own.limit ?? Infinity), 0);
      if (!stepped) expect(count('chain-started', one.id)).toBeLessThanOrEqual(most);
    }
  });
});

it('is made of boxes, pillars and balls alike', () => {
  const forms = new Set(
    fc
      .sample(anyLevel, { numRuns: 50, seed: among })
      .flatMap((level) => level.zones.map((zone) => zoneAt(zone.shape, zone.at, 0).form)),
  );
  expect(forms).toEqual(new Set([BOX, 1, 2]));
});

it('what Check says can never happen does not happen', () => {
  let told = 0;
  holds((level, { entries }) => {
    for (const warning of warningsOf(level)) {
      const [, list = '', at = '', part = '', which = ''] = warning.path.split('/');
      if (list === 'zones' && warning.kind === 'nobody-can-be-in') {
        told += 1;
        expect(entries.filter(({ kind, what }) => kind === 'enter' && what === warning.thing)).toEqual([]);
      }
      if (list !== 'chains' || part !== 'causes') continue;
      const chain = level.chains[Number(at)]!;
      const { on, of } = chain.causes[Number(which)]!;
      const raised = (one: Entry): boolean => one.kind === on && one.what === of;
      if (warning.kind === 'never-raised') {
        told += 1;
        expect([warning.reason, entries.filter(raised)]).toEqual([warning.reason, []]);
      }
      if (['nobody-passes', 'nobody-owns', 'never-may-start'].includes(warning.kind)) {
        // What another cause of the chain hears as well starts it rightly.
        if (chain.causes.filter((cause) => cause.on === on && cause.of === of).length > 1) continue;
        told += 1;
        const started = entries.filter(
          (one) => one.kind === 'start' && one.chain === chain.id && one.cause !== null && raised(entries[one.cause - 1]!),
        );
        expect([warning.reason, started]).toEqual([warning.reason, []]);
      }
    }
  });
  expect(told).toBeGreaterThan(runs / 3);
});
