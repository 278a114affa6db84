import type { SlotInput } from '@nettlewick/core';

type NumberInput = Extract<SlotInput, { kind: 'number' }>;

/** A number as people type it: with a comma or a point, with or without its unit, empty where that means something. */
export function readNumber(text: string, asked: NumberInput): { value: number | null } | { wrong: string } {
  const unit = asked.unit;
  let bare = text.trim().replace(/\u2212/g, '-');
  if (unit !== '' && bare.toLowerCase().endsWith(unit.toLowerCase())) bare = bare.slice(0, -unit.length).trim();
  if (bare === '' || (asked.none !== undefined && bare.toLowerCase() === asked.none)) {
    return asked.none === undefined ? { wrong: `A number is needed, ${bounds(asked)}.` } : { value: null };
  }
  if (!/^[+-]?(\d+([.,]\d*)?|[.,]\d+)(e[+-]?\d+)?$/i.test(bare))
    return { wrong: `“${text.trim()}” is not a number. Type one ${bounds(asked)}.` };
  const value = Number(bare.replace(',', '.'));
  if (asked.whole === true && !Number.isInteger(value))
    return { wrong: `${bare} is not a whole number. Type one ${bounds(asked)}.` };
  if (!(value >= asked.min && value <= asked.max)) return { wrong: `${bare} is out of bounds. Type a number ${bounds(asked)}.` };
  return { value: value + 0 };
}

/** Tags as people type them: with commas between, each once. */
export function readTags(text: string): string[] {
  return [...new Set(text.split(',').map((tag) => tag.trim()))].filter((tag) => tag !== '');
}

function bounds(asked: NumberInput): string {
  return `from ${asked.min} to ${asked.max}${asked.unit === '' ? '' : ` ${asked.unit}`}`;
}
