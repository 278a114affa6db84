import { z } from 'zod';
import { faultsOf } from './faults';
import type { Fault } from './faults';
import { jsonFault } from './json-fault';
import { LEVEL_FORMAT, LEVEL_VERSION, collections, faultsOfTheWhole, levelSchema, levelShape, mostOf } from './level';
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
  const result = levelSchema.safeParse(forward.document);
  if (result.success) return { ok: true, level: result.data };
  return { ok: false, faults: faultsOf(result.error, forward.document, fieldNames()) };
}

/**
 * Checks documents of which most is mostly known: what is word for word what it was in a document before is not checked
 * anew. Things are known by their JSON text; of very many, those that were not met lately are forgotten.
 */
export class LevelReader {
  private known = new Map<string, Thing>();
  private before = new Map<string, Thing>();
  private size = 0;

  /** `most`: characters of text to remember at the most, twice over. */
  constructor(private readonly most = 16_000_000) {}

  /** As `parseLevel`; and the document as JSON text, if it is a level. */
  read(value: unknown): { ok: true; level: Level; text: string } | { ok: false; faults: Fault[] } {
    const quick = this.quick(value);
    if (quick !== null) return quick;
    const parsed = parseLevel(value);
    if (!parsed.ok) return parsed;
    for (const collection of collections) for (const thing of parsed.level[collection]) this.keep(JSON.stringify(thing), thing);
    return { ...parsed, text: JSON.stringify(parsed.level) };
  }

  /** A document of today's version, of which only what is new is checked; null if something is wrong, or nothing is known. */
  private quick(value: unknown): { ok: true; level: Level; text: string } | null {
    if (formatFault(value) !== null || (value as { version: number }).version !== LEVEL_VERSION) return null;
    if (this.known.size + this.before.size === 0) return null;
    const document = value as Record<string, unknown>;
    const texts = {} as Record<Collection, string[]>;
    const rest: Record<string, unknown> = { ...document };
    for (const collection of collections) {
      const list = document[collection];
      if (list === undefined) continue;
      if (!Array.isArray(list) || list.length > mostOf[collection]) return null;
      texts[collection] = list.map((one) => JSON.stringify(one) ?? '');
      rest[collection] = list.filter((_one, i) => this.recall(texts[collection][i]!) === undefined);
    }
    const checked = levelShape.safeParse(rest);
    if (!checked.success) return null;
    const parts: string[] = [];
    const level = checked.data as Record<string, unknown> & Level;
    for (const key of Object.keys(level)) {
      const collection = collections.find((one) => one === key);
      if (collection === undefined || texts[collection] === undefined) {
        parts.push(`${JSON.stringify(key)}:${JSON.stringify(level[key])}`);
        continue;
      }
      const fresh = (level[collection] as Thing[]).values();
      const own = texts[collection];
      const list = own.map((text, i) => {
        const found = this.recall(text);
        if (found !== undefined) return found;
        const thing = fresh.next().value!;
        own[i] = JSON.stringify(thing);
        this.keep(own[i], thing);
        return thing;
      });
      (level as Record<string, unknown>)[key] = list;
      parts.push(`${JSON.stringify(key)}:[${own.join(',')}]`);
    }
    return faultsOfTheWhole(level).length > 0 ? null : { ok: true, level, text: `{${parts.join(',')}}` };
  }

  private recall(text: string): Thing | undefined {
    return this.known.get(text) ?? this.before.get(text);
  }

  private keep(text: string, thing: Thing): void {
    if (this.known.has(text)) return;
    this.size += text.length;
    if (this.size > this.most) {
      this.before = this.known;
      this.known = new Map();
      this.size = text.length;
    }
    this.known.set(text, thing);
  }
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
function fieldNames(): string[] {
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
