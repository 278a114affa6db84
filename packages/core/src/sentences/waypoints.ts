import type { Level } from '../document/level';

/** Why nobody gets to a point of a walk, which lies outside of its room; null if it lies inside, or is counted from a thing. */
export function waypointOutside(level: Level, walk: string, route: number, instruction: number): string | null {
  const way = level.walks.find(({ id }) => id === walk)?.routes[route];
  const one = way?.instructions[instruction];
  if (way === undefined || one?.do !== 'go-to' || one.to.of !== '') return null;
  const home = one.to.room === '' ? level.visitors.find(({ id }) => id === way.visitor)?.room : one.to.room;
  const room = level.rooms.find(({ id }) => id === home);
  if (room === undefined) return null;
  const { west, east, south, north } = room.extents;
  if (one.to.x >= west && one.to.x <= east && one.to.y >= south && one.to.y <= north) return null;
  return `Waypoint ${instruction + 1} is outside ${room.name.trim()}, which reaches from ${west} to ${east} m east and from ${south} to ${north} m north. Nobody gets there.`;
}
