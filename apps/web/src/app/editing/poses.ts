import type { Thing, Vector, Point } from '@nettlewick/core';
import type { Handle } from '../board/handles';
import { tidy } from '@nettlewick/core';

/** A machine's own way, as its document has it: where each of its later positions is, from its own place. */
type Way = Thing & { at: Vector };

/** The positions that can be pulled elsewhere on the plan: key poses, stops, the end of a door that slides; and spots for new key poses. */
export function poseHandles(thing: Thing): Handle[] {
  if (!('at' in thing)) return [];
  const { at } = thing as Way;
  const on = (by: Vector): Point => ({ x: at.x + by.x, y: at.y + by.y });
  if ('keyframes' in thing) {
    let seconds = 0;
    return thing.keyframes.flatMap(({ by, seconds: takes }, i): Handle[] => {
      const before = i === 0 ? at : on(thing.keyframes[i - 1]!.by);
      const here = on(by);
      seconds += takes;
      const time = `${Math.round(seconds * 100) / 100} s`;
      const middle = { x: (before.x + here.x) / 2, y: (before.y + here.y) / 2 };
      const pose: Handle = {
        name: `pose ${i}`,
        at: here,
        text: `${i + 1}`,
        title: `key pose ${i + 1}, at ${time}: drag it along`,
      };
      // Where two poses lie on each other there is no room for another between them.
      const isApart = Math.hypot(here.x - before.x, here.y - before.y) > 0.2;
      return isApart ? [{ name: `between ${i}`, at: middle, title: 'Drag to add a keyframe' }, pose] : [pose];
    });
  }
  if ('stops' in thing) {
    const [first] = thing.stops;
    const isFlat = thing.stops.some(({ x, y }) => x !== first!.x || y !== first!.y);
    if (!isFlat) return [];
    return thing.stops.map((by, i) => ({
      name: `pose ${i}`,
      at: on(by),
      text: `${i + 1}`,
      title: `stop ${i + 1}: drag it along`,
    }));
  }
  if ('travel' in thing && thing.manner === 'slide' && thing.showing === null)
    return [{ name: 'pose 0', at: on(thing.travel), text: '', title: 'Slide end. Drag to move' }];
  return [];
}

/** A thing with one of its positions elsewhere: `to` gives its new place from the old, in metres from its own place. Null if there is no such one. */
export function withPose(thing: Thing, at: number, to: (by: Vector) => Vector): Thing | null {
  if ('keyframes' in thing) {
    const frame = thing.keyframes[at];
    return frame === undefined ? null : { ...thing, keyframes: thing.keyframes.with(at, { ...frame, by: to(frame.by) }) };
  }
  if ('stops' in thing) {
    const stop = thing.stops[at];
    return stop === undefined ? null : { ...thing, stops: thing.stops.with(at, to(stop)) };
  }
  if (!('travel' in thing && 'manner' in thing)) return null;
  const { travel, manner } = thing;
  const upright = manner === 'sink' || manner === 'rise';
  return { ...thing, showing: null, travel: upright ? { ...travel, z: to(travel).z } : to(travel) };
}

/** The last of a thing's positions, which is what its travel ends with. */
export function lastPose(thing: Thing): number {
  return 'keyframes' in thing ? thing.keyframes.length - 1 : 'stops' in thing ? thing.stops.length - 1 : 0;
}

/** A mover with another key pose before one of its own, at a point of the plan; the time there is shared by the way. */
export function withPoseBetween(thing: Thing, at: number, { x, y }: Point): Thing | null {
  if (!('keyframes' in thing)) return null;
  const next = thing.keyframes[at];
  if (next === undefined) return null;
  const before = at === 0 ? { by: { x: 0, y: 0, z: 0 }, turn: 0 } : thing.keyframes[at - 1]!;
  const by = { x: tidy(x - thing.at.x), y: tidy(y - thing.at.y), z: tidy((before.by.z + next.by.z) / 2) };
  const [first, second] = [apart(before.by, by), apart(by, next.by)];
  const share = first + second === 0 ? 0.5 : first / (first + second);
  const seconds = Math.round(next.seconds * share * 1000) / 1000;
  const turn = tidy((before.turn + next.turn) / 2);
  const rest = { ...next, seconds: Math.round((next.seconds - seconds) * 1000) / 1000 };
  return { ...thing, keyframes: thing.keyframes.toSpliced(at, 1, { by, turn, seconds }, rest) };
}

function apart(a: Vector, b: Vector): number {
  return Math.hypot(a.x - b.x, a.y - b.y, a.z - b.z);
}
