import { lengthOf, steepest, travelOf, travelSeconds } from '../../kinds/fixtures';
import type { Machine } from '../../kinds/fixtures';
import type { Vector } from '../../vocabulary/quantities';
import { direction } from '../../space/headings';
import type { Footprint } from '../../space/grid';
import { ticksOf } from '../../vocabulary/ticks';

/** A position along a machine's way: how far it is displaced, and how far turned about its pivot. */
export interface Keyframe {
  by: Vector;
  turn: number;
}

/** The way of a machine: its positions, and the ticks from each to the next. */
export interface Course {
  machine: Machine;
  frames: Keyframe[];
  ticks: number[];
  pivot: { x: number; y: number };
  starts: number;
  /** The volumes that move with it, itself first, in order. */
  group: number[];
  /** All ground that its group ever covers, by room. */
  reach: Map<string, Footprint>;
  /** How far anything of its group moves in a tick by its motion, at most, in metres. */
  fastest: number;
}

/** What each machine's own motion is: a door has two positions, an elevator its stops, a mover its keyframes. */
export function courseOf(machine: Machine, rate: number): Course {
  const still = { x: 0, y: 0, z: 0 };
  const course = { machine, group: [], reach: new Map<string, Footprint>(), fastest: 0 };
  switch (machine.kind) {
    case 'door': {
      const side = machine.swing.hinge === 'west' ? -machine.size.x / 2 : machine.size.x / 2;
      const { cos, sin } = direction(machine.heading);
      const pivot = { x: machine.at.x + side * cos, y: machine.at.y + side * sin };
      const turn = machine.manner === 'swing' ? machine.swing.degrees : 0;
      const frames = [
        { by: still, turn: 0 },
        { by: travelOf(machine), turn },
      ];
      return { ...course, frames, ticks: [ticksOf(travelSeconds(machine), rate)], pivot, starts: machine.open ? 1 : 0 };
    }
    case 'elevator': {
      const { stops, timing } = machine;
      const ticks = stops.slice(1).map((stop, at) => {
        const before = stops[at]!;
        const length = lengthOf({ x: stop.x - before.x, y: stop.y - before.y, z: stop.z - before.z });
        return ticksOf(timing.by === 'seconds' ? timing.seconds : length / timing.speed, rate);
      });
      return { ...course, frames: stops.map((by) => ({ by, turn: 0 })), ticks, pivot: machine.at, starts: machine.startsAt - 1 };
    }
    case 'mover': {
      const frames = [{ by: still, turn: 0 }, ...machine.keyframes.map(({ by, turn }) => ({ by, turn }))];
      return {
        ...course,
        frames,
        ticks: machine.keyframes.map((one) => ticksOf(one.seconds, rate)),
        pivot: machine.at,
        starts: 0,
      };
    }
  }
}

/** All the ground that something covers when it is moved along a course. */
export function reachedBy({ frames, pivot }: Course, { west, south, east, north }: Footprint): Footprint {
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
export function fastestOf({ machine, frames, ticks, pivot, reach }: Course): number {
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
