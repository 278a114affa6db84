import { cooldownGate, enabledGate, guardGate, limitGate, runningGate } from './chain-gates';
import { filterGate } from './filter';
import type { Gate, Passing, Shut } from './gate';

/** The gates of a chain in the order in which they are tried. Gates 1 and 2 hold the event itself, before any chain. */
const gates: readonly Gate[] = [filterGate, enabledGate, limitGate, cooldownGate, guardGate, runningGate];

/** The first gate that stays shut, or null if the chain may start. */
export function firstShut(passing: Passing): Shut {
  for (const gate of gates) {
    const shut = gate(passing);
    if (shut !== null) return shut;
  }
  return null;
}
