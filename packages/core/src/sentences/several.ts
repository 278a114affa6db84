import type { Found } from '../document/lookup';
import type { Slot } from '../vocabulary/phrase';
import { paragraphs } from './things';

/**
 * The values that several things have in common, to be given to all of them at once: by their paths, each with the value of the
 * first; `various` where they are not the same. Names, rooms and whole places are left out.
 */
export function sharedSlots(things: readonly Found[]): Slot[] {
  const [first, ...others] = things.map(({ collection, thing }) => slotsOf(collection, thing));
  if (first === undefined) return [];
  return [...first.values()].flatMap((slot) => {
    const own = others.map((slots) => slots.get(slot.path));
    if (!own.every((one) => one !== undefined && one.label === slot.label && alike(one, slot))) return [];
    const various = own.some((one) => JSON.stringify(one!.value) !== JSON.stringify(slot.value));
    return [various ? { ...slot, various } : slot];
  });
}

function slotsOf(collection: Found['collection'], thing: Found['thing']): Map<string, Slot> {
  const asked = new Set(['/tags', '/attachedTo', '/group']);
  const all = paragraphs(collection, thing, asked).flatMap(({ phrases }) => phrases.flat());
  return new Map(
    all.flatMap((part) =>
      typeof part === 'string' || part.input.kind === 'place' || part.path === '/room' ? [] : [[part.path, part]],
    ),
  );
}

/** Whether two values are asked for in the same way. */
function alike({ input: a }: Slot, { input: b }: Slot): boolean {
  if (a.kind !== b.kind) return false;
  return (
    a.kind !== 'number' || b.kind !== 'number' || (a.unit === b.unit && a.min === b.min && a.max === b.max && a.sign === b.sign)
  );
}
