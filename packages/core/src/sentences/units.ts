import type { Level } from '../document/level';
import { shownNumber } from '../vocabulary/phrase';
import type { Slot } from '../vocabulary/phrase';

/** The units of a level that values in metres (m) or seconds (s) may be typed in: how much of that one of them is. */
export function unitsOf({ units: { length, time }, rate }: Level, unit: string): Record<string, number> {
  const ticks = { tick: 1 / rate, ticks: 1 / rate };
  if (unit === 'm') return length === null ? {} : { [length.name]: length.metres };
  if (unit === 's') return time === null ? ticks : { ...ticks, [time.name]: time.seconds };
  return {};
}

/** A value in the level's own unit, "96 u"; empty if it has none for it. */
export function inOwnUnit({ units: { length, time } }: Level, slot: Slot): string {
  if (slot.input.kind !== 'number' || slot.value === null) return '';
  const own = slot.input.unit === 'm' ? length : slot.input.unit === 's' ? time : null;
  if (own === null) return '';
  const one = 'metres' in own ? own.metres : own.seconds;
  return `${Number((shownNumber(slot) / one).toPrecision(6))} ${own.name}`;
}
