import { z } from 'zod';
import { fixture } from '../fixtures';
import { chain, watch } from './chains';
import { counter, flag, signal, text, visitor } from './people';
import { room, solid, zone } from './places';
import { length, name, nameKey } from './quantities';
import { defaultRules, houseRules } from './rules';
import { walk } from './walks';

export const LEVEL_FORMAT = 'nettlewick-level';
export const LEVEL_VERSION = 2;

/** The level document. Listing order is meaningful everywhere: it is the order in which things are tried. */
export const levelShape = z.strictObject({
  format: z.literal(LEVEL_FORMAT),
  version: z.literal(LEVEL_VERSION),
  name,
  rate: z.number().int().min(1).max(240).default(60).meta({ description: 'ticks a second' }),
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
  rooms: z.array(room).max(1000).default([]),
  solids: z.array(solid).max(100_000).default([]),
  zones: z.array(zone).max(100_000).default([]),
  fixtures: z.array(fixture).max(100_000).default([]),
  flags: z.array(flag).max(10_000).default([]),
  counters: z.array(counter).max(10_000).default([]),
  texts: z.array(text).max(10_000).default([]),
  signals: z.array(signal).max(10_000).default([]),
  visitors: z.array(visitor).max(10_000).default([]),
  chains: z.array(chain).max(100_000).default([]),
  watches: z.array(watch).max(10_000).default([]),
  walks: z.array(walk).max(1000).default([]),
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

/** The document with everything that one list alone cannot see: ids and names used once in the whole level. */
export const levelSchema = levelShape.superRefine((level, context) => {
  const ids = new Map<string, string>();
  const names = new Map<string, string>();
  const claim = (path: (string | number)[], ownId: string, ownName?: string): void => {
    const place = '/' + path.join('/');
    const sameId = ids.get(ownId);
    if (sameId !== undefined) {
      context.addIssue({
        code: 'custom',
        path: [...path, 'id'],
        message: `The id "${ownId}" is used at ${sameId} already. Give this one an id of its own`,
      });
    } else {
      ids.set(ownId, place);
    }
    if (ownName === undefined) return;
    const sameName = names.get(nameKey(ownName));
    if (sameName !== undefined) {
      context.addIssue({
        code: 'custom',
        path: [...path, 'name'],
        message: `The name "${ownName.trim()}" is used at ${sameName} already (names are compared without case and outer spaces). Choose another`,
      });
    } else {
      names.set(nameKey(ownName), place);
    }
  };
  for (const collection of collections) {
    (level[collection] as Thing[]).forEach((thing, index) => {
      claim([collection, index], thing.id, thing.name);
      if ('spawns' in thing) thing.spawns.forEach((spawn, at) => claim([collection, index, 'spawns', at], spawn.id, spawn.name));
      if ('causes' in thing) {
        thing.causes.forEach((cause, at) => claim([collection, index, 'causes', at], cause.id));
        thing.steps.forEach((step, at) => claim([collection, index, 'steps', at], step.id));
      }
      if ('routes' in thing) {
        thing.routes.forEach((route, r) =>
          route.instructions.forEach((one, at) => claim([collection, index, 'routes', r, 'instructions', at], one.id)),
        );
        thing.expectations.forEach((one, at) => claim([collection, index, 'expectations', at], one.id));
      }
    });
  }
  attachmentCycles(level).forEach((index) =>
    context.addIssue({
      code: 'custom',
      path: ['fixtures', index, 'attachedTo'],
      message: 'This fixture is attached to itself, by way of what it is attached to. Detach one of them',
    }),
  );
});

/** The places among the fixtures of those that are attached, over others, to themselves. */
function attachmentCycles({ fixtures }: z.infer<typeof levelShape>): number[] {
  const parents = new Map(fixtures.map((one) => [one.id, one.attachedTo]));
  const free = new Set<string>();
  return fixtures.flatMap((one, index) => {
    const way = new Set<string>();
    let at: string | undefined = one.id;
    while (at !== undefined && at !== '' && !free.has(at) && !way.has(at)) {
      way.add(at);
      at = parents.get(at);
    }
    if (at === one.id && way.has(at)) return [index];
    if (at === undefined || at === '' || free.has(at)) way.forEach((id) => free.add(id));
    return [];
  });
}

/** A level with one empty room, to begin from. */
export function emptyLevel(levelName: string): Level {
  return levelShape.parse({
    format: LEVEL_FORMAT,
    version: LEVEL_VERSION,
    name: levelName,
    rooms: [{ id: 'room-1', name: 'First room', extents: { west: -10, south: -8, east: 10, north: 8 } }],
  });
}
