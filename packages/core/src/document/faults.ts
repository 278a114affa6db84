import { nearest } from '../vocabulary/nearest';
import { pointer } from '../vocabulary/paths';
import type * as z from 'zod';

/** Something wrong with a document: where (JSON pointer, RFC 6901), what, and what to do about it. */
export interface Fault {
  path: string;
  message: string;
}

function meantBy(given: unknown, allowed: readonly string[]): string | null {
  return typeof given === 'string' ? nearest(given, allowed) : null;
}

type Issue = z.core.$ZodIssue;

/** Faults in words, from what the schema found. Of very many only the first are told, and how many more there are. */
export function faultsOf(error: z.ZodError, root: unknown, knownFields: readonly string[]): Fault[] {
  const faults: Fault[] = [];
  const missing = missingFields(error, root);
  let more = 0;
  for (const issue of error.issues) {
    const left = MOST_FAULTS - faults.length;
    if (left > 0) faults.push(...faultsOfIssue(issue, root, knownFields, missing, left));
    const all = issue.code === 'unrecognized_keys' ? issue.keys.length : 1;
    more += Math.max(0, all - left);
  }
  if (more > 0) faults.push({ path: '', message: `${more} more errors not shown. Fix these first` });
  return faults;
}

/** The most errors reported for one document. */
export const MOST_FAULTS = 500;

/** The fields that are missing, with the type that each has to be of, by the place of what misses them. */
function missingFields(error: z.ZodError, root: unknown): Map<string, { name: string; type: string }[]> {
  const missing = new Map<string, { name: string; type: string }[]>();
  for (const issue of error.issues) {
    if (issue.code !== 'invalid_type' || at(root, [...issue.path]) !== undefined) continue;
    const parent = pointer(issue.path.slice(0, -1));
    const one = { name: String(issue.path.at(-1)), type: issue.expected };
    missing.set(parent, [...(missing.get(parent) ?? []), one]);
  }
  return missing;
}

/** Whether a value is of a type as the schema calls it. */
function isOf(value: unknown, type: string): boolean {
  if (type === 'array') return Array.isArray(value);
  if (type === 'object') return typeof value === 'object' && value !== null && !Array.isArray(value);
  return typeof value === (type === 'int' ? 'number' : type);
}

/** `missing`: fields that are missing, by place; `most`: how many unknown fields to tell. */
function faultsOfIssue(
  issue: Issue,
  root: unknown,
  knownFields: readonly string[],
  missing: Map<string, { name: string; type: string }[]>,
  most: number,
): Fault[] {
  const path = pointer(issue.path);
  switch (issue.code) {
    case 'unrecognized_keys':
      return issue.keys.slice(0, most).map((key) => {
        // What is missing beside it, and is of the same shape, was meant rather than a name of some other place.
        const value = at(root, [...issue.path, key]);
        const beside = (missing.get(path) ?? []).filter(({ type }) => isOf(value, type)).map(({ name }) => name);
        const meant = nearest(key, beside) ?? (beside.length === 1 ? beside[0]! : nearest(key, knownFields));
        const hint = meant === null || meant === key ? '' : ` (did you mean "${meant}"?)`;
        return { path: path + pointer([key]), message: `Unknown field ${shown(key)}${hint}. Remove it or correct its name` };
      });
    case 'invalid_union': {
      const given = at(root, [...issue.path]);
      const allowed = 'options' in issue && Array.isArray(issue.options) ? issue.options.map(String) : [];
      if (allowed.length === 0) return [{ path, message: `${shown(given)} is not one of the forms allowed here` }];
      const meant = meantBy(given, allowed);
      return [
        {
          path,
          message: `${shown(given)} is not allowed here${meant === null ? '' : ` (did you mean "${meant}"?)`}. Use one of: ${allowed.join(', ')}`,
        },
      ];
    }
    case 'invalid_value': {
      const given = at(root, [...issue.path]);
      const allowed = issue.values.map(String);
      const meant = meantBy(given, allowed);
      return [
        {
          path,
          message: `${shown(given)} is not allowed here${meant === null ? '' : ` (did you mean "${meant}"?)`}. Use ${allowed.length === 1 ? '' : 'one of: '}${allowed.join(', ')}`,
        },
      ];
    }
    case 'invalid_type': {
      const given = at(root, [...issue.path]);
      if (given === undefined) return [{ path, message: `Required field is missing. Expected ${kindWord(issue.expected)}` }];
      return [{ path, message: `${shown(given)} is not ${kindWord(issue.expected)}${asVector(given, issue.expected)}` }];
    }
    case 'too_small':
      return [
        {
          path,
          message: `${issue.origin === 'array' ? 'Too few' : shown(at(root, [...issue.path]))} is below the minimum, ${String(issue.minimum)}`,
        },
      ];
    case 'too_big':
      return [
        {
          path,
          message:
            issue.origin === 'number' || issue.origin === 'int'
              ? `${shown(at(root, [...issue.path]))} is more than the most allowed, ${String(issue.maximum)}`
              : issue.origin === 'array'
                ? `This list is longer than ${String(issue.maximum)}`
                : `This text is longer than ${String(issue.maximum)} characters`,
        },
      ];
    default:
      return [{ path, message: issue.message }];
  }
}

/** How numbers in a list are written as a point, where an object was asked for. */
function asVector(given: unknown, expected: string): string {
  if (expected !== 'object' || !Array.isArray(given)) return '';
  const [x = 0, y = 0, z = 0] = (given as unknown[]).map((one) => (typeof one === 'number' ? one : 0));
  return `. A point is written {"x": ${x}, "y": ${y}, "z": ${z}}`;
}

function at(root: unknown, path: PropertyKey[]): unknown {
  let here = root;
  for (const key of path) {
    if (here === null || typeof here !== 'object') return undefined;
    here = (here as Record<PropertyKey, unknown>)[key];
  }
  return here;
}

/** A value in a sentence. Lists and objects are not spelled out: they may be long, or deep beyond measure. */
function shown(value: unknown): string {
  if (value === undefined) return 'Nothing';
  if (Number.isNaN(value)) return 'NaN';
  if (Array.isArray(value)) return 'A list';
  if (typeof value === 'object' && value !== null) return 'An object';
  const text = JSON.stringify(typeof value === 'string' ? value.slice(0, 60) : value) ?? String(value);
  return text.length > 60 ? text.slice(0, 57) + '…' : text;
}

function kindWord(expected: string): string {
  const words: Record<string, string> = {
    string: 'a string',
    number: 'a number',
    int: 'a whole number',
    boolean: 'true or false',
    object: 'an object',
    array: 'a list',
    null: 'null',
  };
  return words[expected] ?? expected;
}
