import type { Vector } from '../vocabulary/quantities';

/**
 * Where something was, tick by tick, kept as the corners of its way: between two corners it moves evenly. `values` holds
 * `width` numbers for each tick in `ticks`.
 */
export interface Track {
  width: number;
  ticks: number[];
  values: number[];
}

/**
 * The ways of everything that moved: visitors in metres (x, y, z), machines by their clock (0 the first of their positions,
 * 1 the second, and so on); and the rooms that visitors came into, `null` while out of play.
 */
export interface Tracks {
  visitors: Map<string, Track>;
  doors: Map<string, Track>;
  rooms: Map<string, { tick: number; room: string | null }[]>;
}

/**
 * Notes where something is at a tick. Ticks come in ascending order; the same tick again replaces what was noted. Since the
 * last note it has moved evenly if `evenly` is set, else it stood still until the tick before.
 */
export function note(tracks: Map<string, Track>, id: string, tick: number, values: readonly number[], evenly = false): void {
  let track = tracks.get(id);
  if (track === undefined) {
    track = { width: values.length, ticks: [], values: [] };
    tracks.set(id, track);
  }
  const { ticks, width } = track;
  let last = ticks.length - 1;
  if (last >= 0 && ticks[last] === tick) {
    // What is replaced was even with the ticks before it, so the one right before it becomes a corner.
    const before = last >= 1 && ticks[last - 1]! < tick - 1 ? valuesAt(track, tick - 1) : null;
    ticks.pop();
    track.values.length -= width;
    last -= 1;
    if (before !== null) {
      ticks.push(tick - 1);
      track.values.push(...before);
      last += 1;
    }
  }
  if (last >= 0 && ticks[last]! < tick - 1 && !evenly) {
    ticks.push(tick - 1);
    for (let i = 0; i < width; i++) track.values.push(track.values[last * width + i]!);
    last += 1;
  }
  // A corner that lies evenly between its neighbours is no corner.
  if (last >= 1 && isEven(track, last, tick, values)) {
    ticks.pop();
    track.values.length -= width;
  }
  ticks.push(tick);
  for (let i = 0; i < width; i++) track.values.push(values[i]!);
}

function isEven(track: Track, last: number, tick: number, values: readonly number[]): boolean {
  const { ticks, width } = track;
  const before = ticks[last - 1]!;
  const share = (ticks[last]! - before) / (tick - before);
  for (let i = 0; i < width; i++) {
    const a = track.values[(last - 1) * width + i]!;
    const b = track.values[last * width + i]!;
    if (Math.abs(a + (values[i]! - a) * share - b) >= 1e-7) return false;
  }
  return true;
}

/** The values of a track at a tick: before its first corner those of the first, after its last those of the last. */
export function valuesAt(track: Track, tick: number): number[] {
  const { ticks, values, width } = track;
  const corner = (at: number): number[] => values.slice(at * width, (at + 1) * width);
  let low = 0;
  let high = ticks.length - 1;
  if (tick <= ticks[0]!) return corner(0);
  if (tick >= ticks[high]!) return corner(high);
  while (high - low > 1) {
    const middle = (low + high) >> 1;
    if (ticks[middle]! <= tick) low = middle;
    else high = middle;
  }
  const share = (tick - ticks[low]!) / (ticks[high]! - ticks[low]!);
  const a = corner(low);
  const b = corner(high);
  return a.map((value, i) => value + (b[i]! - value) * share);
}

/** The ways as they were up to a tick, as tracks of their own, which can be gone on with from there. */
export function tracksUpTo({ visitors, doors, rooms }: Tracks, tick: number): Tracks {
  const cut = (tracks: Tracks['visitors']): Tracks['visitors'] =>
    new Map(
      [...tracks].map(([id, track]) => {
        const kept = track.ticks.findIndex((one) => one >= tick);
        if (kept < 0) return [id, { width: track.width, ticks: [...track.ticks], values: [...track.values] }];
        const values = [...track.values.slice(0, kept * track.width), ...valuesAt(track, tick)];
        return [id, { width: track.width, ticks: [...track.ticks.slice(0, kept), tick], values }];
      }),
    );
  const stays = [...rooms].map(([id, all]) => [id, all.filter((stay) => stay.tick <= tick)] as const);
  return { visitors: cut(visitors), doors: cut(doors), rooms: new Map(stays) };
}

export function vectorOf(values: readonly number[]): Vector {
  return { x: values[0]!, y: values[1]!, z: values[2]! };
}
