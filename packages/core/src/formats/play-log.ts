import papa from 'papaparse';
import * as z from 'zod';
import { jsonFault } from '../document/json-fault';
import { collections } from '../document/level';
import type { Level, Thing } from '../document/level';
import { nearest } from '../vocabulary/nearest';
import { pointer } from '../vocabulary/paths';
import { entryKinds } from '../vocabulary/entries';
import type { EntryKind } from '../vocabulary/entries';
import { metres, nameKey, seconds } from '../vocabulary/quantities';

const at = seconds.max(3600).meta({ description: 'seconds since the play began' });
const name = z.string().min(1).max(200).meta({ description: 'the id or the name of a thing of the level' });

/** Where a visitor was. */
const position = z.strictObject({
  at,
  who: name,
  x: metres,
  y: metres,
  z: metres.optional(),
  room: name.optional().meta({ description: 'the room it was in, if it has come into another' }),
});

/** What the game has fired. */
const fired = z.strictObject({
  at,
  kind: z.enum(entryKinds).meta({ description: 'the kind of entry in the ledger that this is' }),
  who: name.optional(),
  what: name.optional(),
});

/** One line of a log of a play. */
const playLine = z.union([position, fired]).meta({ id: 'PlayLine' });

export interface Position {
  at: number;
  x: number;
  y: number;
  z: number | null;
  room: string | null;
}

export interface Fired {
  at: number;
  kind: EntryKind;
  who: string | null;
  what: string | null;
  /** The line that says it, counted from 1. */
  line: number;
}

/** A log of a real play: where visitors were, and what the game fired, in the order in which it says so. */
export interface PlayLog {
  positions: ReadonlyMap<string, readonly Position[]>;
  fired: readonly Fired[];
  seconds: number;
}

export type ReadLog = { ok: true; log: PlayLog } | { ok: false; faults: { line: number; message: string }[] };

/** So many faults are told; who mends those reads the rest. */
const FAULTS = 50;

/** The JSON Schema of one line of a log. */
export function playLineJsonSchema(): unknown {
  return z.toJSONSchema(playLine, { io: 'input' });
}

/** What is wrong with one line of a log, whatever level it is of: paths into the line, and messages. Empty if nothing is. */
export function playLineFaults(value: unknown): { path: string; message: string }[] {
  const parsed = lineSchema(value).safeParse(value);
  return parsed.success ? [] : parsed.error.issues.map(({ path, message }) => ({ path: pointer(path), message }));
}

/** Whether a line says that something was fired, or else where somebody was: by what has to be there. */
function lineSchema(value: unknown): typeof fired | typeof position {
  return typeof value === 'object' && value !== null && 'kind' in value ? fired : position;
}

/**
 * Reads a log of a play: JSON lines, or CSV with a heading of the same names. Things are named by id or by name. Faults name their
 * line, counted from 1.
 */
export function readPlayLog(level: Level, text: string): ReadLog {
  const faults: { line: number; message: string }[] = [];
  const lines = text.startsWith('\uFEFF') ? text.slice(1) : text;
  const rows = lines.trimStart().startsWith('{') ? jsonRows(lines, faults) : csvRows(lines, faults);
  const ids = idsOf(level);
  const positions = new Map<string, Position[]>();
  const all: Fired[] = [];
  let latest = 0;
  for (const { line, value } of rows) {
    if (faults.length >= FAULTS) break;
    const parsed = lineSchema(value).safeParse(value);
    if (!parsed.success) {
      const [issue] = parsed.error.issues;
      faults.push({ line, message: `${issue!.path.length === 0 ? '' : `${issue!.path.join('.')}: `}${issue!.message}` });
      continue;
    }
    const own = parsed.data as z.infer<typeof position> & Partial<z.infer<typeof fired>>;
    const known = (given: string | undefined, visitorsOnly: boolean): string | null => {
      if (given === undefined) return null;
      const found = (visitorsOnly ? ids.visitors : ids.all).get(nameKey(given));
      if (found !== undefined) return found;
      const meant = nearest(given, [...(visitorsOnly ? ids.visitors : ids.all).keys()]);
      const what = visitorsOnly ? 'visitor' : 'thing';
      faults.push({
        line,
        message: `There is no ${what} “${given}” in this level${meant === null ? '' : ` (did you mean “${meant}”?)`}`,
      });
      return null;
    };
    latest = Math.max(latest, own.at);
    if (own.kind !== undefined) {
      all.push({ at: own.at, kind: own.kind, who: known(own.who, true), what: known(own.what, false), line });
      continue;
    }
    const who = known(own.who, true);
    if (who === null) continue;
    const track = positions.get(who) ?? [];
    positions.set(who, track);
    if (track.length > 0 && own.at <= track.at(-1)!.at) {
      faults.push({
        line,
        message: `Positions of a visitor must be in time order: ${own.at} s is not after ${track.at(-1)!.at} s`,
      });
      continue;
    }
    track.push({ at: own.at, x: own.x, y: own.y, z: own.z ?? null, room: known(own.room, false) });
  }
  if (faults.length === 0 && positions.size === 0)
    faults.push({
      line: 1,
      message: 'The log has no positions. Add lines such as {"at":0,"who":"Miller","x":1,"y":2}',
    });
  return faults.length > 0 ? { ok: false, faults } : { ok: true, log: { positions, fired: all, seconds: latest } };
}

interface Line {
  line: number;
  value: unknown;
}

function jsonRows(text: string, faults: { line: number; message: string }[]): Line[] {
  return text.split('\n').flatMap((own, index): Line[] => {
    if (own.trim() === '' || faults.length >= FAULTS) return [];
    try {
      return [{ line: index + 1, value: JSON.parse(own) as unknown }];
    } catch {
      faults.push({ line: index + 1, message: `Invalid JSON: ${jsonFault(own).replace(/^line 1, /, '')}` });
      return [];
    }
  });
}

const numbers = new Set(['at', 'x', 'y', 'z']);

/** Rows of CSV (RFC 4180); what is empty is not said. */
function csvRows(text: string, faults: { line: number; message: string }[]): Line[] {
  const [heading, ...rows] = papa.parse<string[]>(text.replace(/\r\n?/g, '\n'), { delimiter: ',', newline: '\n' }).data;
  const names = (heading ?? []).map((name) => name.trim());
  const known = ['at', 'who', 'x', 'y', 'z', 'room', 'kind', 'what'];
  const wrong = names.find((name) => !known.includes(name));
  if (!names.includes('at') || wrong !== undefined) {
    faults.push({
      line: 1,
      message:
        wrong === undefined
          ? 'This is neither JSON lines nor CSV with a heading. Begin with: at,who,x,y,z,room,kind,what'
          : `There is no column “${wrong}”. There are: ${known.join(', ')}`,
    });
    return [];
  }
  return rows.flatMap((cells, row): Line[] => {
    if (cells.every((cell) => cell.trim() === '')) return [];
    const value: Record<string, unknown> = {};
    names.forEach((name, column) => {
      const cell = cells[column]?.trim() ?? '';
      if (cell !== '') value[name] = numbers.has(name) && Number.isFinite(Number(cell)) ? Number(cell) : cell;
    });
    return [{ line: row + 2, value }];
  });
}

/** Every thing by its id and its name, in small letters. An id goes before a name. */
/** What the things and the visitors of a level may be called in a log, by their names as they are compared. */
export function idsOf(level: Level): { all: Map<string, string>; visitors: Map<string, string> } {
  const things = collections.flatMap((collection): readonly Thing[] => level[collection]);
  const table = (some: readonly Thing[]): Map<string, string> =>
    new Map([
      ...some.map(({ id, name }): [string, string] => [nameKey(name), id]),
      ...some.map(({ id }): [string, string] => [nameKey(id), id]),
    ]);
  return { all: table(things), visitors: table(level.visitors) };
}
