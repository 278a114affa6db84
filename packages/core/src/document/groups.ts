import { change } from './edits';
import type { Edit } from './edits';
import type { Collection, Level, Thing } from './level';
import { lookup } from './lookup';

/** What can be of a group: whatever stands on a sheet. */
const grouped = ['zones', 'solids', 'fixtures', 'visitors'] as const;

type Grouped = Thing & { group?: string; room: string };

/** The things that are taken in hand together with one, itself among them, in document order: those of its group in its room. */
export function groupOf(level: Level, id: string): string[] {
  const thing = lookup(level).get(id)?.thing as Partial<Grouped> | undefined;
  const { group, room } = thing ?? {};
  if (group === undefined || group === '') return [id];
  return grouped.flatMap((collection) =>
    (level[collection] as Grouped[]).filter((one) => one.group === group && one.room === room).map((one) => one.id),
  );
}

/** A name for a group that no other has: "Group", "Group 2" and so on. */
export function freeGroup(level: Level, wanted = 'Group'): string {
  const taken = new Set(grouped.flatMap((collection) => (level[collection] as Grouped[]).map(({ group }) => group)));
  for (let number = 1; ; number++) {
    const name = number === 1 ? wanted : `${wanted} ${number}`;
    if (!taken.has(name)) return name;
  }
}

/** The edit that makes things a group, or with '' none; null if there is nothing to do. */
export function groupEdit(level: Level, ids: readonly string[], group: string): Edit | null {
  const edits = ids.flatMap((id): Edit[] => {
    const found = lookup(level).get(id);
    if (found === undefined || !isGrouped(found.collection) || ((found.thing as Grouped).group ?? '') === group) return [];
    return [change(found.collection, found.thing as Grouped, { group })];
  });
  return edits.length === 0 ? null : { kind: 'all', label: group === '' ? 'ungroup' : 'group', edits };
}

function isGrouped(collection: Collection): boolean {
  return (grouped as readonly Collection[]).includes(collection);
}
