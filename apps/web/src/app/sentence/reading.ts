import type { SlotInput } from '@nettlewick/core';
import { sumOf } from './arithmetic';

type NumberInput = Extract<SlotInput, { kind: 'number' }>;

/**
 * A number as people type it: alone, as a sum, with or without a unit, empty where that means something. `own` are units of the
 * level beside the usual ones.
 */
export function readNumber(
  text: string,
  asked: NumberInput,
  own: Record<string, number> = {},
): { value: number | null } | { wrong: string } {
  const bare = text.trim();
  if (bare === '' || (asked.none !== undefined && bare.toLowerCase() === asked.none)) {
    return asked.none === undefined ? { wrong: `A number is needed, ${bounds(asked)}.` } : { value: null };
  }
  const read = sumOf(bare, asked.unit, own);
  if (read === null) return { wrong: `“${bare}” is not a number or calculation. Enter a number ${bounds(asked)}.` };
  // A sum of decimals is meant as it is written: 0.1 + 0.2 is 0.3.
  const value = Number(read.toPrecision(12));
  if (asked.whole === true && !Number.isInteger(value))
    return { wrong: `${bare} is not a whole number. Type one ${bounds(asked)}.` };
  if (!(value >= asked.min && value <= asked.max)) return { wrong: `${bare} is out of range. Enter a number ${bounds(asked)}.` };
  return { value: value + 0 };
}

/** Tags as people type them: with commas between, each once. */
export function readTags(text: string): string[] {
  return [...new Set(text.split(',').map((tag) => tag.trim()))].filter((tag) => tag !== '');
}

function bounds(asked: NumberInput): string {
  return `from ${asked.min} to ${asked.max}${asked.unit === '' ? '' : ` ${asked.unit}`}`;
}
