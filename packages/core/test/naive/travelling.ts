import type { Fixture, Vector } from '../../src/index';

/** The formulas of a door's travel and of the easings, as the page has them. */

type Door = Extract<Fixture, { kind: 'door' }>;

const length = ({ x, y, z }: Vector): number => Math.sqrt(x * x + y * y + z * z);

/** Where a door goes when it opens, how far it turns, and how many seconds it takes. */
export function courseOfTravel(door: Door): { by: Vector; turn: number; seconds: number } {
  const far = length(door.travel);
  const none = { x: 0, y: 0, z: 0 };
  let by: Vector = none;
  if (door.manner === 'sink') by = { ...none, z: -goes(door, { ...none, z: 1 }, far) };
  if (door.manner === 'rise') by = { ...none, z: goes(door, { ...none, z: 1 }, far) };
  if (door.manner === 'slide') {
    const { x, y, z } = door.travel;
    const along = far === 0 ? none : { x: x / far, y: y / far, z: z / far };
    const way = goes(door, along, far);
    by = door.showing === null ? door.travel : { x: along.x * way, y: along.y * way, z: along.z * way };
  }
  const turn = door.manner === 'swing' ? door.swing.degrees : 0;
  const metres = door.manner === 'swing' ? ((Math.abs(turn) * Math.PI) / 180) * door.size.x : length(by);
  return { by, turn, seconds: door.timing.by === 'seconds' ? door.timing.seconds : metres / door.timing.speed };
}

/** How far it goes along a direction: the length of its travel, or its thickness that way less what is left showing. */
function goes({ showing, size, heading }: Door, along: Vector, far: number): number {
  if (showing === null) return far;
  const angle = (heading * Math.PI) / 180;
  const ahead = Math.abs(along.x * Math.cos(angle) + along.y * Math.sin(angle));
  const aside = Math.abs(along.y * Math.cos(angle) - along.x * Math.sin(angle));
  return Math.max(0, size.x * ahead + size.y * aside + size.z * Math.abs(along.z) - showing);
}

/** How far along its way something is when a part `u` of its time has passed. */
export function eased(easing: 'even' | 'gentle' | 'gathering' | 'slowing', u: number): number {
  const part = Math.min(1, Math.max(0, u));
  if (easing === 'gentle') return 3 * part ** 2 - 2 * part ** 3;
  if (easing === 'gathering') return part ** 2;
  return easing === 'slowing' ? 1 - (1 - part) ** 2 : part;
}
