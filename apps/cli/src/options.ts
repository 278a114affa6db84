import { houseRules, nearest } from '@nettlewick/core';
import type { HouseRules } from '@nettlewick/core';
import { InvalidArgumentError } from 'commander';

/** A whole number from the command line. Throws an InvalidArgumentError for anything else. */
export function wholeNumber(text: string): number {
  if (!/^-?\d{1,9}$/.test(text)) throw new InvalidArgumentError('It has to be a whole number.');
  return Number(text);
}

/** How many entries: 1 to 100,000,000. Throws an InvalidArgumentError for anything else. */
export function entryCount(text: string): number {
  const value = /^\d{1,9}$/.test(text) ? Number(text) : 0;
  if (value < 1 || value > 100_000_000) throw new InvalidArgumentError('It has to be a whole number from 1 to 100,000,000.');
  return value;
}

/** A percentage from the command line. Throws an InvalidArgumentError for anything else. */
export function percent(text: string): number {
  const value = Number(text);
  if (text.trim() === '' || !(value >= 0 && value <= 100)) throw new InvalidArgumentError('It has to be a number from 0 to 100.');
  return value;
}

/** A number in some bounds from the command line. Throws an InvalidArgumentError for anything else. */
export function number(least: number, most: number): (text: string) => number {
  return (text) => {
    const value = Number(text);
    if (text.trim() === '' || !(value >= least && value <= most))
      throw new InvalidArgumentError(`It has to be a number from ${least} to ${most}.`);
    return value;
  };
}

/** How many runs: 1 to 100,000. Throws an InvalidArgumentError for anything else. */
export function runCount(text: string): number {
  const value = wholeNumber(text);
  if (value < 1 || value > 100_000) throw new InvalidArgumentError('It has to be a whole number from 1 to 100,000.');
  return value;
}

/** Ticks a second, several with commas between them. Throws an InvalidArgumentError for anything else. */
export function listOfRates(text: string): number[] {
  return text.split(',').map((one) => {
    const value = Number(one);
    if (!Number.isInteger(value) || value < 1 || value > 240)
      throw new InvalidArgumentError('Rates are whole numbers from 1 to 240, with commas between them.');
    return value;
  });
}

/** Adds a house rule given as name=value. Throws an InvalidArgumentError that names the nearest if there is none such. */
export function withRule(text: string, before: Partial<HouseRules>): Partial<HouseRules> {
  const [name = '', value = ''] = text.split('=', 2);
  const values = new Map(Object.entries(houseRules.shape).map(([rule, schema]) => [rule, schema.unwrap().options as string[]]));
  const known = values.get(name);
  if (known === undefined) throw new InvalidArgumentError(unknown('house rule', name, [...values.keys()]));
  if (!known.includes(value)) throw new InvalidArgumentError(unknown(name, value, known));
  return { ...before, [name]: value };
}

function unknown(what: string, given: string, known: string[]): string {
  const meant = nearest(given, known);
  return `There is no ${what} "${given}"${meant === null ? '' : ` (did you mean "${meant}"?)`}. Use one of: ${known.join(', ')}.`;
}
