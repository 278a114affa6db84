import { cooldownGate } from './cooldown';
import { disabledGate } from './disabled';
import { enabledGate } from './enabled';
import { filterGate } from './filter';
import type { Gate, GateInput, GateFailure } from './gate';
import { guardGate } from './guard';
import { limitGate } from './limit';
import { runningGate } from './running';
import { silentGate } from './silent';

/** All gates, in the order in which they are tried. */
const gates: readonly Gate[] = [
  disabledGate,
  silentGate,
  filterGate,
  enabledGate,
  limitGate,
  cooldownGate,
  guardGate,
  runningGate,
];

/** The first gate that stays shut, or null if all let through. */
export function firstFailure(passing: GateInput): GateFailure {
  for (const gate of gates) {
    const shut = gate(passing);
    if (shut !== null) return shut;
  }
  return null;
}
