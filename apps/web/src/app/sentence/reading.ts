import type { SlotInput } from '@nettlewick/core';
import { sumOf } from './arithmetic';

type NumberInput = Extract<SlotInput, { kind: 'number' }>;

/**
 * A number as people type it: alone, as a sum, with or without a unit, empty where that means something. `units` has how many of the
 * value's own unit each is that may be typed.
 */
export function readNumber(
  text: string,
  asked: NumberInput,
  units: Readonly<Record<string, number>> = {},
): { value: number | null } | { error: string } {
  const bare = text.trim();
  if (bare === '' || (asked.none !== undefined && bare.toLowerCase() === asked.none)) {
    return asked.none === undefined ? { error: `A number is needed, ${bounds(asked)}.` } : { value: null };
  }
  const read = sumOf(bare, units);
  const [unit = ''] = /[a-z°][a-z°/]*$/i.exec(bare) ?? [];
  if (read === null && unit !== '' && units[unit] === undefined && sumOf(bare.slice(0, -unit.length), units) !== null)
    return {
      error: `“${bare}” cannot be read: “${unit}” is not a unit ${asked.unit === '' ? 'here. Type a plain number.' : `of this value. Use ${shortUnits(units)}.`}`,
    };
  if (read === null) return { error: `“${bare}” is not a number or calculation. Enter a number ${bounds(asked)}.` };
  // A sum of decimals is meant as it is written: 0.1 + 0.2 is 0.3.
  const value = Number(read.toPrecision(12));
  if (asked.whole === true && !Number.isInteger(value))
    return { error: `${bare} is not a whole number. Type one ${bounds(asked)}.` };
  if (!(value >= asked.min && value <= asked.max)) return { error: `${bare} is out of range. Enter a number ${bounds(asked)}.` };
  return { value: value + 0 };
}

/** Tags as people type them: with commas between, each once. */
export function readTags(text: string): string[] {
  return [...new Set(text.split(',').map((tag) => tag.trim()))].filter((tag) => tag !== '');
}

/** The units without their longer names: “mm, cm, m or km”. */
function shortUnits(units: Readonly<Record<string, number>>): string {
  const byValue = new Map<number, string>();
  for (const [name, value] of Object.entries(units)) if (!byValue.has(value)) byValue.set(value, name);
  const names = [...byValue.values()];
  return names.length < 2 ? names.join() : `${names.slice(0, -1).join(', ')} or ${names.at(-1)!}`;
}

function bounds(asked: NumberInput): string {
  return `from ${asked.min} to ${asked.max}${asked.unit === '' ? '' : ` ${asked.unit}`}`;
}
