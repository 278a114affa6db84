import type { WorldListener } from '../kernel';
import { cycleOf } from '../ledger/cycle';
import type { Ledger } from '../ledger/ledger';
import { note } from '../ledger/tracks';
import type { Tracks } from '../ledger/tracks';

/** Writes entries to a ledger and poses to tracks. A runaway gets the cycle that the ledger shows. */
export function recordingListener(ledger: Ledger, tracks: Tracks): WorldListener {
  return {
    entry: (_number, at, writing) => {
      const isRunaway = writing.kind === 'runaway';
      ledger.write(at, isRunaway ? { ...writing, details: { ...writing.details, cycle: cycleOf(ledger) } } : writing);
    },
    pose: (of, id, at, values, evenly) => note(of === 'visitors' ? tracks.visitors : tracks.doors, id, at, values, evenly),
    room: (visitor, at, room) => {
      const known = tracks.rooms.get(visitor);
      if (known === undefined) tracks.rooms.set(visitor, [{ tick: at, room }]);
      else known.push({ tick: at, room });
    },
  };
}
