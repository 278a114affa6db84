import type { MotionPath } from './courses';
import type { Motion } from './world';

/** Where a motion's clock stands at a tick. Within a billionth of a position it is there. */
export function clockAt(course: MotionPath, motion: Motion, tick: number): number {
  const clock = exactClock(course, motion, tick);
  const nearest = Math.round(clock);
  return Math.abs(clock - nearest) < 1e-9 ? nearest : clock;
}

function exactClock({ ticks: full, frames }: MotionPath, motion: Motion, tick: number): number {
  const gone = tick - motion.startTick;
  if (gone >= motion.ticks) return motion.to;
  if (gone <= 0) return motion.from;
  const fraction = gone / motion.ticks;
  if (frames.length === 2) return motion.from + (motion.to - motion.from) * fraction;
  const way = stretches(full, motion.from, motion.to);
  let left = way.reduce((sum, one) => sum + one.ticks, 0) * fraction;
  for (const { from, to, ticks } of way) {
    if (left < ticks) return from + ((to - from) * left) / ticks;
    left -= ticks;
  }
  return motion.to;
}

/** The parts of a way between two positions, each between two neighbours, with the time it takes in ticks. */
function stretches(full: readonly number[], from: number, to: number): { from: number; to: number; ticks: number }[] {
  const found: { from: number; to: number; ticks: number }[] = [];
  let at = from;
  while (at !== to) {
    const next = to > at ? Math.min(to, Math.floor(at) + 1) : Math.max(to, Math.ceil(at) - 1);
    found.push({
      from: at,
      to: next,
      ticks: Math.abs(next - at) * full[Math.min(Math.floor(Math.min(at, next)), full.length - 1)]!,
    });
    at = next;
  }
  return found;
}

/** How many ticks a machine takes from one position to another. */
export function ticksBetween({ ticks: full }: MotionPath, from: number, to: number): number {
  return Math.ceil(stretches(full, from, to).reduce((sum, one) => sum + one.ticks, 0) - 1e-6);
}

/** The next tick after one at which a motion begins to move, is at a keyframe or has just passed it, or is over. */
export function nextCorner({ ticks: full, frames }: MotionPath, motion: Motion, tick: number): number {
  if (tick < motion.startTick) return motion.startTick;
  const over = motion.startTick + motion.ticks;
  if (frames.length === 2) return over;
  const way = stretches(full, motion.from, motion.to);
  const all = way.reduce((sum, one) => sum + one.ticks, 0);
  let gone = 0;
  for (const { ticks } of way) {
    gone += ticks;
    const corner = motion.startTick + (gone / all) * motion.ticks;
    if (Math.floor(corner) > tick) return Math.floor(corner);
    if (Math.ceil(corner) > tick) return Math.ceil(corner);
  }
  return over;
}
