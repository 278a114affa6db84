import { conditionFaults } from './condition-faults';
import { nearest } from '../vocabulary/nearest';
import { keysOf, pointer } from '../vocabulary/paths';
import { article } from '../vocabulary/phrase';
import type { Level } from '../document/level';
import { lookup } from '../document/lookup';
import { eachReference } from '../document/references';
import type { Reference } from '../document/references';

/** Something that a check found: its place, its reason, and a proposed mend. */
export interface DocumentError {
  kind: 'broken-reference' | 'faulty-condition';
  /** JSON pointer (RFC 6901) into the document. */
  path: string;
  /** The thing to look at. */
  thing: string;
  reason: string;
  mend: string;
}

/** Every reference that points at nothing, or at something of the wrong kind. */
export function brokenReferences(level: Level): DocumentError[] {
  const things = lookup(level);
  const found: DocumentError[] = [];
  const near = nearestIn(level);
  eachReference(level, (collection, index, owner, { path, to, role, accepts }) => {
    // What a condition misnames is told by the check of conditions, with the place in its text.
    if (accepts === 'anything') return;
    const target = things.get(to);
    if (target !== undefined && accepts.includes(target.word)) return;
    found.push(broken(level, { from: owner.id, path: pointer([collection, index]) + path, to, role, accepts }, near));
  });
  return found;
}

/** The number of unknown ids that are compared with existing ones. */
const COMPARED = 200;

/** What was probably meant by an id that leads nowhere; each is compared once, and of very many only the first. */
function nearestIn(level: Level): (reference: Reference) => string | null {
  const known = new Map<string, string | null>();
  return (reference) => {
    const key = `${reference.to} ${reference.accepts.join()}`;
    if (!known.has(key)) known.set(key, known.size < COMPARED ? nearest(reference.to, candidates(level, reference)) : null);
    return known.get(key)!;
  };
}

function broken(level: Level, reference: Reference, nearestTo: (reference: Reference) => string | null): DocumentError {
  const things = lookup(level);
  const target = things.get(reference.to);
  const owner = things.get(reference.from);
  const wanted = reference.accepts.map((word) => `${article(word)} ${word}`).join(' or ');
  const ownerText = owner === undefined ? reference.from : `The ${owner.word} “${owner.thing.name.trim()}”`;
  const reason =
    reference.to === ''
      ? `${ownerText}: ${place(reference)} is not set.`
      : target === undefined
        ? `${ownerText}: ${place(reference)} refers to “${reference.to}”, which does not exist.`
        : `${ownerText}: ${place(reference)} refers to the ${target.word} “${target.thing.name.trim()}”; expected ${wanted}.`;
  const near = reference.to === '' ? null : nearestTo(reference);
  const mend =
    near === null
      ? `Choose ${wanted}.`
      : `Choose ${wanted}. Did you mean “${things.get(near)?.thing.name.trim() ?? near}” (${near})?`;
  return { kind: 'broken-reference', path: reference.path, thing: reference.from, reason, mend };
}

function candidates(level: Level, reference: Reference): string[] {
  return [...lookup(level)].filter(([, found]) => reference.accepts.includes(found.word)).map(([id]) => id);
}

function place(reference: Reference): string {
  const keys = keysOf(reference.path);
  const number = (at: number): number => Number(keys[at]) + 1;
  switch (reference.role) {
    case 'room':
      return 'its room';
    case 'attachment':
      return 'what it is attached to';
    case 'fixture':
      return keys.at(-1) === 'counter' ? 'its counter' : 'where it leads';
    case 'cause':
      return `cause ${number(3)}`;
    case 'guard':
      return 'its condition';
    case 'step':
      return `step ${number(3)}`;
    case 'walk':
      if (keys[2] === 'expectations') return `expectation ${number(3)}`;
      return keys.length > 5 ? `instruction ${number(5)} of route ${number(3)}` : `route ${number(3)}`;
  }
}

/** Every expression that cannot be read, or names or compares what it cannot, with the place in its text. */
export function faultyConditions(level: Level): DocumentError[] {
  const things = lookup(level);
  return conditionFaults(level).map(({ expression, fault }) => {
    const owner = things.get(expression.from);
    const ownerText = owner === undefined ? expression.from : `the ${owner.word} “${owner.thing.name.trim()}”`;
    const where = `from character ${fault.from + 1} to ${Math.max(fault.from + 1, fault.to)} of its condition`;
    return {
      kind: 'faulty-condition',
      path: expression.path,
      thing: expression.from,
      reason: `In ${ownerText}, ${where}: ${fault.message}.`,
      mend: 'Fix the condition. Until then it is false.',
    };
  });
}

/** Everything that can be found wrong without rehearsing: broken references, and faulty conditions. */
export function documentErrors(level: Level): DocumentError[] {
  return [...brokenReferences(level), ...faultyConditions(level)];
}
