import type { NewEntry } from '../../ledger/entry';

/** Receives entries and poses as they happen: a ledger, tracks or an interface. */
export interface WorldListener {
  /** An entry with its number, counted from 1 in each world, and its tick. */
  entry(number: number, tick: number, writing: NewEntry): void;
  /**
   * Where a visitor (metres: x, y, z) or a machine (its clock) is at a tick. Since it was told of last it has moved evenly if
   * `evenly` is set, else it stood still until the tick before.
   */
  pose(of: 'visitors' | 'machines', id: string, tick: number, values: readonly number[], evenly: boolean): void;
  /** The room that a visitor has come into; null when it is out of play. */
  room(visitor: string, tick: number, room: string | null): void;
}

/** Tells nobody. */
export const noopListener: WorldListener = { entry: () => undefined, pose: () => undefined, room: () => undefined };
