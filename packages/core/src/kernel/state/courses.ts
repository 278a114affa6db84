import { lengthOf, motionOf, steepest } from '../../kinds/fixtures';
import type { Machine, Position } from '../../kinds/fixtures';
import type { Footprint } from '../../space/grid';
import { ticksOf } from '../../vocabulary/ticks';

/** The way of a machine: its positions, and the ticks from each to the next. */
export interface MotionPath {
  machine: Machine;
  frames: Position[];
  ticks: number[];
  pivot: { x: number; y: number };
  starts: number;
  /** The volumes that move with it, itself first, in order. */
  group: number[];
  /** All ground that its group ever covers, by room. */
  reach: Map<string, Footprint>;
  /** How far anything of its group moves in a tick by its motion, at most, in metres. */
  fastest: number;
  /** Whether it goes straight up and down only; and whether it does so evenly, all the way. */
  isUpright: boolean;
  isEven: boolean;
}

/** What a machine's own motion is, by its kind. */
export function courseOf(machine: Machine, rate: number): MotionPath {
  const motion = motionOf(machine);
  const frames = motion.positions(machine);
  return {
    machine,
    group: [],
    reach: new Map<string, Footprint>(),
    fastest: 0,
    frames,
    isUpright: frames.every(({ by, turn }) => turn === 0 && by.x === frames[0]!.by.x && by.y === frames[0]!.by.y),
    isEven: frames.length === 2 && machine.easing === 'even',
    ticks: motion.seconds(machine).map((seconds) => ticksOf(seconds, rate)),
    pivot: motion.pivot(machine),
    starts: motion.starts(machine),
  };
}

/** All the ground that something covers when it is moved along a course. */
export function reachedBy({ frames, pivot }: MotionPath, { west, south, east, north }: Footprint): Footprint {
  const xs = frames.map((frame) => frame.by.x);
  const ys = frames.map((frame) => frame.by.y);
  let own: Footprint = { west, south, east, north };
  if (frames.some((frame) => frame.turn !== 0)) {
    // However it is turned about its own middle while that goes about the pivot: a crossing is looked for as it was turned before.
    const dx = (west + east) / 2 - pivot.x;
    const dy = (south + north) / 2 - pivot.y;
    const half = Math.sqrt((east - west) * (east - west) + (north - south) * (north - south)) / 2;
    const far = Math.sqrt(dx * dx + dy * dy) + half;
    own = { west: pivot.x - far, south: pivot.y - far, east: pivot.x + far, north: pivot.y + far };
  }
  return {
    west: own.west + Math.min(...xs),
    south: own.south + Math.min(...ys),
    east: own.east + Math.max(...xs),
    north: own.north + Math.max(...ys),
  };
}

/** How far anything of a machine's group moves in a tick at most: by the shift of its keyframe, and along an arc if it turns. */
export function fastestOf({ machine, frames, ticks, pivot, reach }: MotionPath): number {
  let far = 0;
  for (const { west, south, east, north } of reach.values()) {
    const dx = Math.max(Math.abs(west - pivot.x), Math.abs(east - pivot.x));
    const dy = Math.max(Math.abs(south - pivot.y), Math.abs(north - pivot.y));
    far = Math.max(far, Math.sqrt(dx * dx + dy * dy));
  }
  const steps = ticks.map((between, i) => {
    const [a, b] = [frames[i]!, frames[i + 1]!];
    const shift = lengthOf({ x: b.by.x - a.by.x, y: b.by.y - a.by.y, z: b.by.z - a.by.z });
    return between === 0 ? Infinity : (shift + (far * Math.abs(b.turn - a.turn) * Math.PI) / 180) / between;
  });
  return Math.max(0, ...steps) * steepest(machine.easing);
}
