import { boundsOf, degrees, length, mass, metres, seconds } from './quantities';
import type { Vector } from './quantities';
import { same } from './same';

/**
 * Sentences about a thing whose values can be edited where they stand. The core says what is said and within which
 * bounds; an interface decides how a value looks and is typed.
 */
export type Phrase = (string | Slot)[];

export interface Slot {
  /** Where the value stands in the thing the sentence is about, with dots: `shape.size.x`. */
  path: string;
  /** What the value is, for those who do not see the sentence around it. */
  label: string;
  value: unknown;
  input: SlotInput;
  /** Of several things that have other values: `value` is that of the first. */
  various?: boolean;
}

/**
 * `sign` -1: the value is shown and typed the other way round, as in "sinks 2 m". `along`: a length that is kept as a vector in
 * this direction. `none` is said, and typed, for null.
 */
export type SlotInput =
  | {
      kind: 'number';
      unit: string;
      min: number;
      max: number;
      step: number;
      whole?: boolean;
      none?: string;
      sign?: 1 | -1;
      along?: Vector;
    }
  | { kind: 'text'; max: number }
  | { kind: 'choice'; options: { value: unknown; label: string }[]; byName?: ByName }
  | { kind: 'reference'; accepts: readonly string[]; none?: string; tagged?: Tagged; follows?: Follows }
  | { kind: 'condition'; none: string }
  | { kind: 'tags'; none: string }
  /** One tag. */
  | { kind: 'tag' }
  /** A place as a whole, to be picked where it is. */
  | { kind: 'place' }
  | { kind: 'kinds' };

/** Things that can be chosen by name, too: each stands for `value` with its id at `key`, and may be pressed where it is. */
export interface ByName {
  accepts: readonly string[];
  value: Readonly<Record<string, unknown>>;
  key: string;
}

/** A value at `path` that is set with the reference, by the word of the thing that is chosen; none for other words. */
export interface Follows {
  path: string;
  by: Readonly<Record<string, unknown>>;
}

/** A tag that may stand for the one thing that is named: then all that have it are meant. `path` is where the tag is kept. */
export interface Tagged {
  path: string;
  tag: string;
}

/**
 * Something more that can be said of a thing and is not, because it is as it usually is: in words, with what is then set, by
 * paths, and the value that is to be typed next, if there is one.
 */
export interface Offer {
  label: string;
  sets: { path: string; value: unknown }[];
  next?: string;
}

/** Metres that may be negative: a coordinate or a displacement. */
export function metresSlot(path: string, label: string, value: number): Slot {
  return { path, label, value, input: { kind: 'number', unit: 'm', ...boundsOf(metres), step: 0.1 } };
}

/** A velocity along the three axes: "2 east, 0 north and 1 up each second". */
export function velocityPhrase(path: string, { x, y, z }: Vector): Phrase {
  return [
    metresSlot(`${path}/x`, 'metres a second east', x),
    ' east, ',
    metresSlot(`${path}/y`, 'metres a second north', y),
    ' north and ',
    metresSlot(`${path}/z`, 'metres a second up', z),
    ' up each second',
  ];
}

/** Metres of something that has a size. */
export function lengthSlot(path: string, label: string, value: number): Slot {
  return { path, label, value, input: { kind: 'number', unit: 'm', ...boundsOf(length), step: 0.1 } };
}

export function secondsSlot(path: string, label: string, value: number): Slot {
  return { path, label, value, input: { kind: 'number', unit: 's', ...boundsOf(seconds), step: 0.1 } };
}

export function degreesSlot(path: string, label: string, value: number): Slot {
  return { path, label, value, input: { kind: 'number', unit: '°', ...boundsOf(degrees), step: 15 } };
}

export function massSlot(path: string, label: string, value: number): Slot {
  return { path, label, value, input: { kind: 'number', unit: 'kg', ...boundsOf(mass), step: 1 } };
}

export function choiceSlot<T>(path: string, label: string, value: T, options: { value: T; label: string }[]): Slot {
  return { path, label, value, input: { kind: 'choice', options } };
}

export function referenceSlot(path: string, label: string, value: string, accepts: readonly string[]): Slot {
  return { path, label, value, input: { kind: 'reference', accepts } };
}

/** The sentence as plain text; `nameOf` gives the readable name for an id. */
export function spoken(phrase: Phrase, nameOf: (id: string) => string): string {
  return phrase
    .map((part) => (typeof part === 'string' ? part : slotText(part, nameOf)))
    .join('')
    .replace(/\s+/g, ' ')
    .trim();
}

/** One value of a sentence as text, with its unit. */
export function slotText(slot: Slot, nameOf: (id: string) => string): string {
  const { input, value } = slot;
  switch (input.kind) {
    case 'number':
      if (value === null) return input.none ?? 'none';
      return input.unit === ''
        ? String(shownNumber(slot))
        : `${String(shownNumber(slot))}${input.unit === '°' ? '' : '\u00a0'}${input.unit}`;
    case 'choice':
      return input.options.find((option) => same(option.value, value))?.label ?? String(value);
    case 'reference':
      if (input.tagged !== undefined && input.tagged.tag !== '') return `all tagged ${input.tagged.tag}`;
      return value === '' && input.none !== undefined ? input.none : nameOf(String(value));
    case 'text':
      return `“${String(value)}”`;
    case 'condition':
      return value === '' ? input.none : String(value);
    case 'tags':
      return (value as string[]).length === 0 ? input.none : (value as string[]).join(', ');
    case 'tag':
      return value === '' ? 'no tag yet' : String(value);
    case 'place':
      return '';
    case 'kinds':
      return (value as string[]).length === 0 ? 'anyone' : (value as string[]).join(' or ');
  }
}

/** What is kept for a number that was typed. */
export function keptValue(number: number | null, input: Extract<SlotInput, { kind: 'number' }>): number | Vector | null {
  if (number === null) return null;
  const { along } = input;
  if (along !== undefined) return { x: along.x * number + 0, y: along.y * number + 0, z: along.z * number + 0 };
  return input.sign === -1 ? 0 - number : number;
}

/** "a" or "an" before a word. */
export function article(word: string): string {
  return /^[aeiou]/i.test(word) ? 'an' : 'a';
}

/** A number as it is shown and typed, without the dust of binary fractions: to twelve digits. */
export function shownNumber({ value, input }: Slot): number {
  const shown = Number(Number(value).toPrecision(12));
  return input.kind === 'number' && input.sign === -1 ? 0 - shown : shown;
}
