import fc from 'fast-check';
import { kernel, parseLevel } from '../src/index';
import type { Level } from '../src/index';
import type { Fields } from '../src/kernel/state/fields';
import { items } from '../src/kernel/state/item-fields';
import { worldFields } from '../src/kernel/state/world-fields';
import { anyLevel } from './any-level';
import { carry, cause, chain, drop, goTo, levelOf, step, visitor, wait, walk, zone } from './build';

/** A world is declared field by field: whatever of it is otherwise shows in its key, or the declaration says why it need not. */

const { copy, fromKey, stateKey, lookAtAll, noopListener, compileLevel, rulePolicy, start, tick } = kernel;
type World = kernel.World;
type Values = Record<string, unknown>;
type Field = Fields<{ any: unknown }>['any'];
const runs = Number(process.env['PROPERTY_RUNS'] ?? 60);

/** A world in the middle of a walk, in which everything has just been looked at; null where it is over before. */
function middleOf(level: Level, ticks: number): World | null {
  const plan = compileLevel(level);
  const world = start(plan, level.walks[0]!);
  const orders = rulePolicy(level.rules);
  for (let i = 0; i < ticks; i++) if (tick(plan, world, orders, noopListener) !== null) return null;
  lookAtAll(plan, world, noopListener);
  return tick(plan, world, orders, noopListener) === null ? world : null;
}

/** Another value of the same kind; undefined where there is none. */
function otherwise(value: unknown): unknown {
  if (typeof value === 'number') return Number.isFinite(value) ? value + 1 : undefined;
  if (typeof value === 'boolean') return !value;
  if (typeof value === 'string') return `${value}x`;
  if (value instanceof Set) return value.size > 0 ? new Set([...(value as Set<unknown>)].slice(1)) : undefined;
  if (value instanceof Map) return value.size > 0 ? new Map([...(value as Map<unknown, unknown>)].slice(1)) : undefined;
  if (Array.isArray(value)) return value.length > 0 ? value.slice(1) : undefined;
  if (value instanceof Float64Array) return value.map((one) => one + 1);
  return value !== null && typeof value === 'object' && 'x' in value ? { ...value, x: (value.x as number) + 1 } : undefined;
}

/** Whether a world has another key, or none because something that others name is not there. */
function isOtherwise(plan: kernel.CompiledLevel, world: World, key: string): boolean {
  try {
    return stateKey(plan, world) !== key;
  } catch {
    return true;
  }
}

interface Part {
  of: string;
  fields: Fields<never>;
  owner: Values;
  /** Whether it may be left out of the key as a whole. */
  mayBeLeftOut: boolean;
}

/** Every part of a world that is declared, with its declaration; the items of the schedule among them. */
function partsOf(world: World, withItems = true): Part[] {
  const parts: Part[] = [];
  const visit = (of: string, fields: Fields<never>, owner: Values, mayBeLeftOut: boolean): void => {
    parts.push({ of, fields, owner, mayBeLeftOut });
    for (const [name, field] of Object.entries(fields as Record<string, Field>)) {
      if (field.of === undefined) continue;
      const value = owner[name];
      const all = value instanceof Map ? [...(value as Map<unknown, unknown>).values()] : [value];
      for (const one of all.flat() as (Values | null)[])
        if (one !== null) visit(name, field.of, one, mayBeLeftOut || field.why !== undefined);
    }
  };
  visit('world', worldFields as unknown as Fields<never>, world as unknown as Values, false);
  // Items are never changed in place: copies share them.
  for (const item of withItems ? [...world.schedule.values()].flat() : [])
    visit(item.do, items[item.do].fields as unknown as Fields<never>, item as unknown as Values, true);
  return parts;
}

it('has another key for every field that is otherwise, or says why it need not', () => {
  /** Of each field, whether the key changed with it in any world; and of those that must change it in some, in which it must. */
  const seen = new Map<string, boolean>();
  const left = new Set<string>();
  fc.assert(
    fc.property(anyLevel, fc.nat(120), (raw, ticks) => {
      const parsed = parseLevel(raw);
      if (!parsed.ok) throw new Error(JSON.stringify(parsed.faults));
      const plan = compileLevel(parsed.level);
      const world = middleOf(parsed.level, ticks);
      if (world === null) return;
      const key = stateKey(plan, world);
      for (const { of, fields, owner, mayBeLeftOut } of partsOf(world))
        for (const [name, field] of Object.entries(fields as Record<string, Field>)) {
          if (field.isCompared === true) continue;
          const [before, other] = [owner[name], otherwise(owner[name])];
          if (other === undefined) continue;
          owner[name] = other;
          const changed = isOtherwise(plan, world, key);
          owner[name] = before;
          const whose = `${of}.${name}`;
          if (field.key === undefined) {
            left.add(whose);
            expect([whose, changed]).toEqual([whose, false]);
          } else {
            seen.set(whose, seen.get(whose) === true || changed);
            if (field.why === undefined && !mayBeLeftOut) expect([whose, changed]).toEqual([whose, true]);
          }
        }
    }),
    { numRuns: runs * 2, endOnFailure: true },
  );
  // Else little was shown.
  expect([...seen.values()].filter(Boolean).length).toBeGreaterThan(50);
  expect(left.size).toBeGreaterThan(15);
});

it('says of every field that is not in the key why', () => {
  const unsaid: string[] = [];
  const visit = (of: string, fields: Fields<never>): void => {
    for (const [name, { key, why, of: parts }] of Object.entries(fields as Record<string, Field>)) {
      if (key === undefined && why === undefined) unsaid.push(`${of}.${name}`);
      if (parts !== undefined) visit(name, parts);
    }
  };
  visit('world', worldFields as unknown as Fields<never>);
  for (const [kind, { fields }] of Object.entries(items)) visit(kind, fields as unknown as Fields<never>);
  expect(unsaid).toEqual([]);
});

describe('A level that does not ask for something', () => {
  const sack = visitor('Sack', 0.8, 0, { kind: 'prop', body: { kind: 'box', size: { x: 0.4, y: 0.4, z: 0.4 } } });
  /** The keys that a level has come to rest with, by the way in which its visitors came there. */
  const keysOf = (
    ways: Partial<Record<string, Parameters<typeof walk>[0][string]>>[],
    chains: Parameters<typeof levelOf>[0]['chains'] = [],
  ): Set<string> => {
    const level = levelOf({
      zones: [zone('Step', 9, 9)],
      visitors: [visitor('Miller', 0, 0), visitor('Alma', 0.8, 0.8), sack],
      chains,
      walks: ways.map((way, at) => walk(way as Parameters<typeof walk>[0], { id: `walk-${at}`, name: `Walk ${at}` })),
    });
    const plan = compileLevel(level);
    return new Set(
      level.walks.map((one) => {
        const world = start(plan, one);
        while (tick(plan, world, rulePolicy(), noopListener) === null);
        return stateKey(plan, world);
      }),
    );
  };

  it('is the same wherever somebody faces, unless a condition asks', () => {
    const turns = [0, 90, 200].map((heading) => ({ miller: [{ id: `turn-${heading}`, do: 'turn', heading }] }));
    expect(keysOf(turns).size).toBe(1);
    const asked = chain('Asks', [cause('enter', 'step')], [step('wait', { seconds: 1 })], { guard: 'heading("miller") == 90.0' });
    expect(keysOf(turns, [asked]).size).toBe(3);
  });

  it('is the same whoever held a prop last, unless a step means its holder', () => {
    const held = [{ miller: [carry('sack'), drop('sack')] }, { alma: [carry('sack'), drop('sack')], miller: [wait(1)] }];
    const where = (key: string): string => JSON.stringify(JSON.parse(key));
    const keys = [...keysOf(held)].map(where);
    // The sack lies where its carrier stood; but for that they would be one.
    expect(keys.length).toBe(2);
    const back = (x: number, y: number) => [goTo(0.8, 0), carry('sack'), goTo(0.4, 0.4), drop('sack'), goTo(x, y)];
    const byEither = [
      { miller: back(0, 0), alma: [wait(9)] },
      { alma: back(0.8, 0.8), miller: [wait(9)] },
    ];
    expect(keysOf(byEither).size).toBe(1);
    const means = chain('Means', [cause('enter', 'step')], [step('turn', { who: { by: 'holder', prop: 'sack' } })]);
    expect(keysOf(byEither, [means]).size).toBe(2);
  });

  it('is the same whether somebody has finished a route or never had one', () => {
    expect(keysOf([{ miller: [wait(0.5)] }, { alma: [wait(0.5)] }, { miller: [wait(2)], alma: [wait(1)] }]).size).toBe(1);
  });
});

it('is copied so that nothing that is changed in place is shared', () => {
  fc.assert(
    fc.property(anyLevel, fc.nat(120), (raw, ticks) => {
      const parsed = parseLevel(raw);
      if (!parsed.ok) return;
      const world = middleOf(parsed.level, ticks);
      if (world === null) return;
      const twins = [world, fromKey(compileLevel(parsed.level), stateKey(compileLevel(parsed.level), world))];
      for (const one of twins) {
        const other = copy(one);
        const copies = partsOf(other, false);
        const shared = partsOf(one, false).flatMap(({ of, owner }, at) => (owner === copies[at]!.owner ? [of] : []));
        expect(shared).toEqual([]);
      }
    }),
    { numRuns: runs },
  );
});
