import fc from 'fast-check';
import { add, apply, change, collections, createThing, remove } from '../src/index';
import type { Edit, Level, Thing } from '../src/index';

/** Edits as several people make them: of few things, with few names, so that they get in each other's way. */

const names = ['Sluice', 'sluice ', 'Gate', 'Weir', 'Gate 2'];

/** An edit that fits a level, by numbers that are drawn; null where there is nothing to edit. `own`: who makes it. */
function editOf(level: Level, own: string, [what, which, how]: readonly [number, number, number]): Edit | null {
  const things = collections.flatMap((collection) => (level[collection] as Thing[]).map((thing) => ({ collection, thing })));
  const picked = things[which % Math.max(1, things.length)];
  if (picked === undefined) return null;
  const { collection, thing } = picked;
  const others = level.fixtures.map(({ id }) => id);
  switch (what % 8) {
    case 0:
      return collection === 'rooms' ? null : remove(level, collection, thing.id);
    case 1:
      return change(collection, thing, { name: names[how % names.length]! });
    case 2:
      return 'at' in thing ? change(collection, thing, { at: { x: how, y: 1, z: 0 } } as Partial<Thing>) : null;
    case 3:
      return {
        kind: 'move',
        collection,
        id: thing.id,
        from: level[collection].indexOf(thing as never),
        to: how % level[collection].length,
      };
    case 4: {
      const made = createThing(level, how % 2 === 0 ? 'door' : 'zone', `${own}-${which}-${how}`, level.rooms[0]!.id, {
        x: how,
        y: 0,
        z: 0,
      });
      return add(level, how % 2 === 0 ? 'fixtures' : 'zones', { ...made, name: names[how % names.length]! });
    }
    case 5:
      return { kind: 'level', before: { rate: level.rate }, after: { rate: 30 + (how % 4) * 10 } };
    case 6:
      return collection === 'fixtures'
        ? change(collection, thing, { attachedTo: others[how % others.length]! } as Partial<Thing>)
        : null;
    default:
      return change('rooms', level.rooms[0]!, { extents: { ...level.rooms[0]!.extents, east: 20 + (how % 9) } });
  }
}

/** Numbers of which `editsOf` makes edits. */
export const anyNumbers = fc.array(fc.tuple(fc.nat(63), fc.nat(63), fc.nat(63)), { maxLength: 6 });

/** Edits that fit a level, one after the other; with `isValid` only those that leave it so. */
export function editsOf(
  level: Level,
  own: string,
  numbers: readonly (readonly [number, number, number])[],
  isValid: (level: Level) => boolean,
): Edit[] {
  const edits: Edit[] = [];
  let now = level;
  for (const three of numbers) {
    const edit = editOf(now, own, three);
    const made = edit === null ? null : apply(now, edit);
    if (made === null || !made.ok || !isValid(made.level)) continue;
    edits.push(edit!);
    now = made.level;
  }
  return edits;
}
