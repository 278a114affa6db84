import * as z from 'zod';
import { MOST_FAULTS, faultsOf } from './faults';
import type { Fault } from './faults';
import { jsonFault } from './json-fault';
import { LEVEL_FORMAT, LEVEL_VERSION, collections, levelSchema, levelShape } from './level';
import type { Collection, Level, Thing } from './level';
import { migrate } from './migrations';

export type Parsed = { ok: true; level: Level } | { ok: false; faults: Fault[] };

/** Reads a level document from JSON text. Never throws: what is wrong comes back as faults. */
export function parseLevelText(text: string): Parsed {
  const plain = text.startsWith('\uFEFF') ? text.slice(1) : text;
  let value: unknown;
  try {
    value = JSON.parse(plain);
  } catch {
    return { ok: false, faults: [{ path: '', message: `This is not JSON: ${jsonFault(plain)}` }] };
  }
  return parseLevel(value);
}

/** Checks plain data against the document's schema and fills in what may be left out. Never throws. */
export function parseLevel(value: unknown): Parsed {
  const wrongKind = formatFault(value);
  if (wrongKind !== null) return { ok: false, faults: [wrongKind] };
  const forward = migrate(value as Record<string, unknown>);
  if (!forward.ok) return { ok: false, faults: faultsOf(forward.error, forward.document, fieldNames()) };
  const broken = brokenFromTheStart(forward.document);
  if (broken !== null) {
    const told = faultsOf(broken, forward.document, fieldNames()).slice(0, MOST_FAULTS);
    return {
      ok: false,
      faults: [...told, { path: '', message: `Reading stopped after ${MOST_FAULTS} faults. Mend these first` }],
    };
  }
  const result = levelSchema.safeParse(forward.document);
  if (result.success) return { ok: true, level: result.data };
  return { ok: false, faults: faultsOf(result.error, forward.document, fieldNames()) };
}

/** The number of things validated first. If they have too many errors, the rest is not read. */
const PREVIEWED_THINGS = 1000;

/** The faults of the first things of a document, if there are too many of them to read on; else null. */
function brokenFromTheStart(document: Record<string, unknown>): z.ZodError | null {
  const issues: z.core.$ZodIssue[] = [];
  let looked = 0;
  for (const collection of collections) {
    const things = document[collection];
    if (!Array.isArray(things)) continue;
    const { element } = levelShape.shape[collection].unwrap();
    for (let at = 0; at < things.length && looked < PREVIEWED_THINGS; at++, looked++) {
      const read = element.safeParse(things[at]);
      if (read.success) continue;
      for (const issue of read.error.issues) issues.push({ ...issue, path: [collection, at, ...issue.path] });
      if (issues.length > MOST_FAULTS) return new z.ZodError(issues);
    }
  }
  return null;
}

/** Checks one thing alone, as it would stand in `collection`. */
export function parseThing(collection: Collection, value: unknown): { ok: true; thing: Thing } | { ok: false; faults: Fault[] } {
  const result = levelShape.shape[collection].unwrap().element.safeParse(value);
  if (result.success) return { ok: true, thing: result.data };
  return { ok: false, faults: faultsOf(result.error, value, fieldNames()) };
}

/** The JSON Schema (2020-12) of the level document. */
export function levelJsonSchema(): Record<string, unknown> {
  return {
    ...z.toJSONSchema(levelShape, { target: 'draft-2020-12', io: 'input' }),
    title: 'Nettlewick level',
    description:
      'Beyond this schema: ids are unique in the whole level, and so are names, compared without case and outer spaces; ' +
      'a visitor has at most one route in a walk; the edges of a room lie the right way round.',
  };
}

function formatFault(value: unknown): Fault | null {
  if (value === null || typeof value !== 'object' || Array.isArray(value)) {
    return { path: '', message: 'A level document is a JSON object' };
  }
  const { format, version } = value as { format?: unknown; version?: unknown };
  if (format !== LEVEL_FORMAT) {
    return { path: '/format', message: `"format" has to be "${LEVEL_FORMAT}"; this is not a level document` };
  }
  if (!Number.isInteger(version) || (version as number) < 1) {
    return { path: '/version', message: `"version" has to be a whole number from 1 to ${LEVEL_VERSION}` };
  }
  if ((version as number) > LEVEL_VERSION) {
    return {
      path: '/version',
      message: `This document is of version ${String(version)}, and this program reads versions up to ${LEVEL_VERSION}. Open it with a newer Nettlewick`,
    };
  }
  return null;
}

let names: string[] | undefined;

/** Every field name the document knows, for "did you mean". */
export function fieldNames(): string[] {
  if (names === undefined) {
    const found = new Set<string>();
    const gather = (node: unknown): void => {
      if (node === null || typeof node !== 'object') return;
      for (const [key, inner] of Object.entries(node)) {
        if (key === 'properties' && inner !== null) Object.keys(inner as object).forEach((field) => found.add(field));
        gather(inner);
      }
    };
    gather(z.toJSONSchema(levelShape, { io: 'input' }));
    names = [...found];
  }
  return names;
}
