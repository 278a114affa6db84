import { nearest } from '../vocabulary/nearest';
import { keysOf, valueAt } from '../vocabulary/paths';
import { nameKey } from '../vocabulary/quantities';
import { collections } from './level';
import type { Level } from './level';
import { migrate } from './migrations';
import { fieldNames, parseLevel } from './parse';

/** What was done about one fault: a value left out, or another given to it, or something whole left out. */
export interface Repair {
  /** Where it stood when it was dealt with (JSON pointer). */
  path: string;
  /** What was done, in words. */
  done: string;
  message: string;
}

/** The number of repair rounds before a document counts as unrepairable. */
const MAX_REPAIR_ROUNDS = 200;

/**
 * What can be saved of a broken level document: of each fault the value that is wrong is left out, so that what is usual stands in its
 * place, or else the smallest thing around it; an id or a name that is taken or not allowed gives way to another. A text that breaks
 * off is read as far as it goes. Null if nothing can be saved: it is no level document, or of a later version. Never throws.
 */
export function repairLevel(text: string): { level: Level; lost: Repair[] } | null {
  const lost: Repair[] = [];
  const value = readAsFarAsItGoes(text.startsWith('\uFEFF') ? text.slice(1) : text, lost);
  if (value === null || typeof value !== 'object' || Array.isArray(value)) return null;
  let document = value as Record<string, unknown>;
  const mended = new Mending(document);
  for (let round = 0; round < MAX_REPAIR_ROUNDS; round++) {
    const forward = typeof document['version'] === 'number' ? migrate(document) : null;
    if (forward !== null) document = forward.document;
    const parsed = parseLevel(document);
    if (parsed.ok) return { level: parsed.level, lost };
    // From the last to the first, so that what is left out of a list does not move what is still to be dealt with.
    const faults = parsed.faults.filter(({ path }) => path !== '').reverse();
    if (faults.length === 0 || faults.some(({ path }) => path === '/format' || path === '/version')) return null;
    const dealtWith = new Set<string>();
    for (const { path, message } of faults) {
      if (dealtWith.has(path)) continue;
      dealtWith.add(path);
      const done = mended.mend(document, path);
      if (done !== null) lost.push({ path, done, message });
    }
  }
  return null;
}

/** The value of a JSON text; of one that breaks off, what stands before, with what is open closed. Null if nothing does. */
function readAsFarAsItGoes(text: string, lost: Repair[]): unknown {
  try {
    return JSON.parse(text);
  } catch {
    const whole = closed(text);
    if (whole === null) return null;
    const message = 'The file is truncated or invalid from this point';
    lost.push({ path: '', done: `everything after character ${whole.kept} removed`, message });
    return whole.value;
  }
}

/** The longest beginning of a text that is JSON once its open lists and objects are closed. */
function closed(text: string): { value: unknown; kept: number } | null {
  const open: string[] = [];
  /** The ends of whole values, with what was open then: the last few are enough. */
  const ends: { at: number; open: string }[] = [];
  let inText = false;
  for (let at = 0; at < text.length; at++) {
    const sign = text[at]!;
    if (inText) {
      if (sign === '\\') at += 1;
      else if (sign === '"') inText = false;
      continue;
    }
    if (sign === '"') inText = true;
    else if (sign === '{') open.push('}');
    else if (sign === '[') open.push(']');
    else if (sign === '}' || sign === ']') {
      if (open.pop() !== sign) break;
      ends.push({ at: at + 1, open: open.toReversed().join('') });
    } else if (sign === ',') ends.push({ at, open: open.toReversed().join('') });
  }
  for (let tries = 0; tries < 200 && ends.length > 0; tries++) {
    const end = ends.pop()!;
    try {
      return { value: JSON.parse(text.slice(0, end.at) + end.open), kept: end.at };
    } catch {
      // What stands there is no JSON: one value less.
    }
  }
  return null;
}

class Mending {
  private made = 0;
  private readonly names = new Set<string>();

  constructor(document: Record<string, unknown>) {
    for (const collection of collections) {
      const list = document[collection];
      if (Array.isArray(list)) for (const one of list) this.names.add(nameKey(String((one as { name?: unknown } | null)?.name)));
    }
  }

  /** Does the least about a fault; says what, or null if what was wrong is gone already. */
  mend(document: Record<string, unknown>, path: string): string | null {
    const keys = keysOf(path);
    const key = keys.at(-1)!;
    const holder = valueAt(document, path.slice(0, path.lastIndexOf('/')));
    if (holder === null || typeof holder !== 'object') return null;
    if (Array.isArray(holder)) return this.leaveOut(document, keys);
    const own = holder as Record<string, unknown>;
    if (key === 'id') {
      own['id'] = `saved-${(this.made += 1)}`;
      return 'new id assigned';
    }
    if (key === 'name' && keys.length >= 3) {
      own['name'] = this.freeName(own['name'], keys[0]!);
      return `named “${String(own['name'])}”`;
    }
    if (key in own) {
      const meant = nearest(key, fieldNames());
      if (meant !== null && meant !== key && !(meant in own)) {
        own[meant] = own[key];
        Reflect.deleteProperty(own, key);
        return `taken as “${meant}”`;
      }
      Reflect.deleteProperty(own, key);
      return keys.length === 1 && (collections as readonly string[]).includes(key) ? 'list removed' : 'value removed';
    }
    // It is not there, and cannot be done without.
    return this.leaveOut(document, keys.slice(0, -1));
  }

  /** Leaves out the smallest thing in a list that something is in, or else the value of a field. */
  private leaveOut(document: Record<string, unknown>, keys: readonly string[]): string | null {
    for (let length = keys.length; length > 0; length--) {
      const holder = valueAt(
        document,
        keys.slice(0, length - 1).reduce((path, key) => `${path}/${key}`, ''),
      );
      const key = keys[length - 1]!;
      if (Array.isArray(holder)) {
        const [gone] = holder.splice(Number(key), 1) as [{ name?: unknown } | undefined];
        const name = typeof gone?.name === 'string' ? ` “${gone.name.trim()}”` : '';
        return length === 2 ? `${keys[0]!.replace(/(?<!e)s$|s$/, '')}${name} removed` : 'a part removed';
      }
      if (holder !== null && typeof holder === 'object' && key in holder) {
        Reflect.deleteProperty(holder, key);
        return 'value removed';
      }
    }
    return null;
  }

  private freeName(wanted: unknown, collection: string): string {
    const plain =
      typeof wanted === 'string'
        ? wanted
            .replace(/[\u0000-\u001f\u007f]/g, ' ')
            .trim()
            .slice(0, 70)
        : '';
    const base = plain === '' ? collection.replace(/s$/, '') : plain;
    for (let number = 1; ; number++) {
      const name = number === 1 && base !== wanted ? base : `${base} ${number + 1}`;
      if (this.names.has(nameKey(name))) continue;
      this.names.add(nameKey(name));
      return name;
    }
  }
}
