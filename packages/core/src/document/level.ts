import * as z from 'zod';
import { fixture } from '../kinds/fixtures';
import { chain, watch } from './chains';
import { counter, flag, signal, text, visitor } from './people';
import { room, solid, zone } from './places';
import { id, length, name, nameKey, rate, wording } from '../vocabulary/quantities';
import { defaultRules, houseRules } from '../vocabulary/rules';
import { walk } from './walks';

export const LEVEL_FORMAT = 'nettlewick-level';
export const LEVEL_VERSION = 4;

/** How many things of each kind a level may have. */
export const mostOf = {
  rooms: 1000,
  solids: 100_000,
  zones: 100_000,
  fixtures: 100_000,
  flags: 10_000,
  counters: 10_000,
  texts: 10_000,
  signals: 10_000,
  visitors: 10_000,
  chains: 100_000,
  watches: 10_000,
  walks: 1000,
} as const;

/** A finding that somebody has accepted. It stays accepted while the check gives the same reason, apart from names. */
export const acceptedFinding = z
  .strictObject({
    kind: z.string().min(1).max(60).meta({ description: 'the kind of the finding, as check --json gives it' }),
    about: z.array(id).min(1).max(50).meta({ description: 'the thing it is found at, then the others it is about' }),
    reason: z.string().max(2000).meta({ description: 'what the check said when it was accepted' }),
    note: wording.meta({ description: 'why it is meant so' }),
  })
  .meta({ id: 'AcceptedFinding' });
export type AcceptedFinding = z.infer<typeof acceptedFinding>;

/** The level document. Listing order is meaningful everywhere: it is the order in which things are tried. */
export const levelShape = z.strictObject({
  format: z.literal(LEVEL_FORMAT),
  version: z.literal(LEVEL_VERSION),
  name,
  rate: rate.default(60),
  gravity: z.number().min(0.01).max(1000).default(9.81).meta({ description: 'metres a second squared, downwards' }),
  stepHeight: z.number().min(0).max(100).default(0.5).meta({ description: 'metres that visitors can step up or down' }),
  rules: houseRules.default(defaultRules),
  units: z
    .strictObject({
      length: z
        .strictObject({ name: z.string().min(1).max(20), metres: length })
        .nullable()
        .default(null),
      time: z
        .strictObject({ name: z.string().min(1).max(20), seconds: z.number().min(1e-6).max(86_400) })
        .nullable()
        .default(null),
    })
    .default({ length: null, time: null })
    .meta({ description: 'units in which numbers are shown and typed; the document itself holds metres and seconds' }),
  rooms: z.array(room).max(mostOf.rooms).default([]),
  solids: z.array(solid).max(mostOf.solids).default([]),
  zones: z.array(zone).max(mostOf.zones).default([]),
  fixtures: z.array(fixture).max(mostOf.fixtures).default([]),
  flags: z.array(flag).max(mostOf.flags).default([]),
  counters: z.array(counter).max(mostOf.counters).default([]),
  texts: z.array(text).max(mostOf.texts).default([]),
  signals: z.array(signal).max(mostOf.signals).default([]),
  visitors: z.array(visitor).max(mostOf.visitors).default([]),
  chains: z.array(chain).max(mostOf.chains).default([]),
  watches: z.array(watch).max(mostOf.watches).default([]),
  walks: z.array(walk).max(mostOf.walks).default([]),
  accepted: z
    .array(acceptedFinding)
    .max(10_000)
    .optional()
    .meta({ description: 'findings of checks that are meant so; left out for none' }),
});
export type Level = z.infer<typeof levelShape>;

/** The lists of a level whose members have an id and a name. */
export const collections = [
  'rooms',
  'solids',
  'zones',
  'fixtures',
  'flags',
  'counters',
  'texts',
  'signals',
  'visitors',
  'chains',
  'watches',
  'walks',
] as const;
export type Collection = (typeof collections)[number];
export type Thing = Level[Collection][number];

/** The fields of the level itself, beside its lists and what says that it is one. */
export type LevelField = Exclude<keyof Level, Collection | 'format' | 'version'>;
export const levelFields = Object.keys(levelShape.shape).filter(
  (key): key is LevelField => !['format', 'version', ...collections].includes(key),
);

/** What each list calls one of its members. */
export const collectionWord: Record<Collection, string> = {
  rooms: 'room',
  solids: 'solid',
  zones: 'zone',
  fixtures: 'fixture',
  flags: 'flag',
  counters: 'counter',
  texts: 'text',
  signals: 'signal',
  visitors: 'visitor',
  chains: 'chain',
  watches: 'watch',
  walks: 'walk',
};

/** What is wrong with a level that one thing alone cannot see: a path into the document, and what to do. */
interface WholeFault {
  path: (string | number)[];
  message: string;
}

/** The document with everything that one list alone cannot see: ids and names used once in the whole level. */
export const levelSchema = levelShape.superRefine((level, context) => {
  for (const { path, message } of faultsOfTheWhole(level)) context.addIssue({ code: 'custom', path, message });
});

/** An id that a thing takes for itself or for a part of it, and the name that goes with it; and where in the thing. */
export interface UniqueKey {
  path: (string | number)[];
  id: string;
  name?: string;
}

/** Every id and name that a thing takes. */
export function uniqueKeysOf(thing: Thing): UniqueKey[] {
  const claims: UniqueKey[] = [{ path: [], id: thing.id, name: thing.name }];
  if ('causes' in thing) {
    thing.causes.forEach(({ id }, at) => claims.push({ path: ['causes', at], id }));
    thing.steps.forEach(({ id }, at) => claims.push({ path: ['steps', at], id }));
  }
  if ('routes' in thing) {
    thing.routes.forEach(({ instructions }, route) =>
      instructions.forEach(({ id }, at) => claims.push({ path: ['routes', route, 'instructions', at], id })),
    );
    thing.expectations.forEach(({ id }, at) => claims.push({ path: ['expectations', at], id }));
  }
  return claims;
}

/** What one thing alone cannot see: ids and names that are used twice, and attachments that lead back to where they began. */
function faultsOfTheWhole(level: Level): WholeFault[] {
  const found: WholeFault[] = [];
  const ids = new Map<string, string>();
  const names = new Map<string, string>();
  for (const collection of collections) {
    (level[collection] as Thing[]).forEach((thing, index) => {
      for (const { path: within, id, name: own } of uniqueKeysOf(thing)) {
        const path = [collection, index, ...within];
        const place = '/' + path.join('/');
        const sameId = ids.get(id);
        if (sameId === undefined) ids.set(id, place);
        else {
          const message = `Duplicate id "${id}", also at ${sameId}. Use a unique id`;
          found.push({ path: [...path, 'id'], message });
        }
        if (own === undefined) continue;
        const sameName = names.get(nameKey(own));
        if (sameName === undefined) names.set(nameKey(own), place);
        else {
          const message = `The name "${own.trim()}" is used at ${sameName} already (names are compared without case and outer spaces). Choose another`;
          found.push({ path: [...path, 'name'], message });
        }
      }
    });
  }
  for (const index of attachmentCycles(level.fixtures)) {
    const message = 'Attachment cycle: this fixture is attached to itself. Detach one of the fixtures';
    found.push({ path: ['fixtures', index, 'attachedTo'], message });
  }
  return found;
}

/**
 * The places among the fixtures of those that are attached, over others, to themselves: of each ring. Every fixture is passed
 * once: a way ends where another has been before, and only a way that comes back upon itself has found a ring.
 */
export function attachmentCycles(fixtures: readonly { id: string; attachedTo: string }[]): number[] {
  const places = new Map(fixtures.map((one, index) => [one.id, index]));
  const FRESH = 0;
  const DONE = -1;
  /** The number of the way that has passed each. */
  const passed = new Int32Array(fixtures.length);
  const found: number[] = [];
  for (let start = 0; start < fixtures.length; start++) {
    const way: number[] = [];
    let at: number | undefined = start;
    while (at !== undefined && passed[at] === FRESH) {
      passed[at] = start + 1;
      way.push(at);
      at = places.get(fixtures[at]!.attachedTo);
    }
    if (at !== undefined && passed[at] === start + 1) found.push(...way.slice(way.indexOf(at)));
    for (const one of way) passed[one] = DONE;
  }
  return found.sort((a, b) => a - b);
}

/** Whether a thing is attached, over others, to itself. `carrierOf` gives what each is attached to. */
export function isAttachedToItself(id: string, carrierOf: (id: string) => string | undefined): boolean {
  const passed = new Set<string>();
  for (let at = carrierOf(id); at !== undefined && !passed.has(at); at = carrierOf(at)) {
    if (at === id) return true;
    passed.add(at);
  }
  return false;
}

/** A level with one empty room, to begin from. */
export function emptyLevel(levelName: string): Level {
  return levelShape.parse({
    format: LEVEL_FORMAT,
    version: LEVEL_VERSION,
    name: levelName,
    rooms: [{ id: 'room-1', name: 'First room', extents: { west: -10, south: -8, east: 10, north: 8 } }],
    visitors: [
      {
        id: 'player-1',
        name: 'Player',
        kind: 'player',
        room: 'room-1',
        at: { x: -7, y: 0, z: 0 },
        body: { kind: 'box', size: { x: 0.5, y: 0.5, z: 1.8 } },
        mass: 75,
        speed: 1.5,
      },
    ],
    walks: [{ id: 'walk-1', name: 'First walk', routes: [{ visitor: 'player-1', instructions: [] }] }],
  });
}
