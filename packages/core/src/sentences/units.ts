import type { Level } from '../document/level';
import { shownNumber } from '../vocabulary/phrase';
import type { Slot } from '../vocabulary/phrase';

/** The units that every level knows: for each unit of a value, how much of it one of them is. */
const usual: Readonly<Record<string, Readonly<Record<string, number>>>> = {
  m: { mm: 0.001, cm: 0.01, m: 1, km: 1000, metre: 1, metres: 1, meter: 1, meters: 1 },
  s: { ms: 0.001, s: 1, sec: 1, second: 1, seconds: 1, min: 60, h: 3600 },
  kg: { g: 0.001, kg: 1, t: 1000, kilogram: 1, kilograms: 1 },
  'm/s': { 'm/s': 1, 'km/h': 1 / 3.6 },
  '°': { '°': 1, deg: 1, degree: 1, degrees: 1 },
};

/**
 * The units that a value may be typed in, and how much of its own unit (m, s, m/s, kg or °) each is: the usual ones, and the level's own
 * units of length and time, ticks, and lengths per time.
 */
export function unitsOf(level: Level, unit: string): Record<string, number> {
  return { ...usual[unit], ...ownUnits(level, unit) };
}

function ownUnits({ units: { length, time }, rate }: Level, unit: string): Record<string, number> {
  const lengths = length === null ? {} : { [length.name]: length.metres };
  const times = { tick: 1 / rate, ticks: 1 / rate, ...(time === null ? {} : { [time.name]: time.seconds }) };
  if (unit === 'm') return lengths;
  if (unit === 's') return times;
  if (unit !== 'm/s') return {};
  const [allLengths, allTimes] = [
    { m: 1, ...lengths },
    { s: 1, ...times },
  ].map((one) => Object.entries(one));
  return Object.fromEntries(
    allLengths!.flatMap(([l, metres]) => allTimes!.map(([t, seconds]) => [`${l}/${t}`, metres / seconds])),
  );
}

/** A value in the level's own unit, "96 u"; empty if it has none for it. */
export function inOwnUnit({ units: { length, time } }: Level, slot: Slot): string {
  if (slot.input.kind !== 'number' || slot.value === null) return '';
  const one = { m: length?.metres, s: time?.seconds, 'm/s': length?.metres }[slot.input.unit];
  if (one === undefined) return '';
  const name = { m: length?.name, s: time?.name, 'm/s': `${length?.name}/s` }[slot.input.unit];
  return `${Number((shownNumber(slot) / one).toPrecision(6))} ${name}`;
}
