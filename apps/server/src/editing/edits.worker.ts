import { EDITS, editBatch, rename } from '@nettlewick/contract';
import { EditableLevel, editPhrase, leavesOf, parseLevelText, pointer } from '@nettlewick/core';
import type { Edit, Fault, Level } from '@nettlewick/core';
import { nesting } from '../reading/nesting';
import { digestOf } from '../storage/digest';
import { textAfter } from '../storage/chains';
import type { Chain } from '../storage/chains';
import type { EditsResult, ToMake, ToRebuild } from './editing-thread';

/** Edits levels in a thread of its own, and holds those that were edited last. */

/** Far deeper than any valid edit is nested. */
const MAX_NESTING = 200;
/** After so many revisions the whole document is stored again; or when their edits are as long as half of it. */
const FULL_EVERY = 50;
/** How much is held, as the length of the documents; one is held however long it is. */
const HELD = 48 * 1024 * 1024;
/** The number of edits described for a revision. */
const DESCRIBED = 3;
/** The longest description, in characters. */
const SUMMARY = 300;

interface Held {
  level: EditableLevel;
  /** The digest of the revision. */
  digest: string;
  /** About how long its document is, in bytes. */
  size: number;
  /** How many revisions, and how many bytes of edits, there are since the whole document was stored. */
  since: { revisions: number; bytes: number };
}

/** The one that was edited last comes last. */
const held = new Map<string, Held>();
const decoder = new TextDecoder('utf-8', { fatal: true });

export default function work(asked: ToMake | ToRebuild): EditsResult | string {
  return 'edits' in asked ? textAfter(asked) : make(asked);
}

function make({ id, base, body, stored }: ToMake): EditsResult {
  const wanted = read(body);
  if ('ok' in wanted) return wanted;
  const one = stored === undefined ? holding(id, base) : take(id, base, stored);
  if (one === null) return { ok: false, unknown: true, batch: wanted.batch };
  if ('ok' in one) return one;
  const edits = wanted.edits ?? [{ kind: 'level', before: { name: one.level.level.name }, after: { name: wanted.name } }];
  const before = one.level.level;
  const made = one.level.edit(edits);
  if (!made.ok) return made;
  const level = one.level.level;
  const text = JSON.stringify({ edits: made.edits, overwritten: wanted.overwritten });
  const based = one.digest;
  one.digest = digestOf(`${based}${text}`);
  one.size = Math.max(0, one.size + growth(made.edits));
  one.since = { revisions: one.since.revisions + 1, bytes: one.since.bytes + text.length };
  const isFull = one.since.revisions >= FULL_EVERY || one.since.bytes > one.size / 2 + 4096;
  if (isFull) one.since = { revisions: 0, bytes: 0 };
  const document = isFull ? JSON.stringify(level) : null;
  if (document !== null) one.size = Buffer.byteLength(document);
  return {
    ok: true,
    base: based,
    digest: one.digest,
    name: level.name,
    edits: text,
    batch: wanted.batch,
    summary: summaryOf(before, level, edits),
    document,
    size: one.size,
  };
}

type Wanted = { batch: string | null; overwritten: object[] } & (
  { edits: Edit[]; name?: undefined } | { edits: null; name: string }
);

/** What a request wants; or what is wrong with it. */
function read(body: Uint8Array): Wanted | Extract<EditsResult, { ok: false }> {
  let value: unknown;
  try {
    const text = decoder.decode(body);
    if (nesting(body, MAX_NESTING) > MAX_NESTING)
      return faulty([{ path: '', message: `It is nested more than ${MAX_NESTING} times` }]);
    value = JSON.parse(text);
  } catch (error) {
    return { ok: false, notJson: error instanceof SyntaxError ? 'The body of this request is no JSON' : 'It is not UTF-8' };
  }
  if (value !== null && typeof value === 'object' && 'name' in value) {
    const wanted = rename.safeParse(value);
    return wanted.success
      ? { batch: null, overwritten: [], edits: null, name: wanted.data.name }
      : faulty(faultsIn(wanted.error));
  }
  const wanted = editBatch.safeParse(value);
  if (!wanted.success) return faulty(faultsIn(wanted.error));
  const { batch, edits, overwritten } = wanted.data;
  const count = edits.reduce((sum, edit) => sum + leavesOf(edit).length, 0);
  if (count <= EDITS.most) return { batch, edits, overwritten };
  const message = `These are ${count} edits, and one request has at most ${EDITS.most}. Save the whole document instead`;
  return faulty([{ path: '/edits', message }]);
}

function faultsIn(error: { issues: { path: PropertyKey[]; message: string }[] }): Fault[] {
  return error.issues.map((issue) => ({ path: pointer(issue.path), message: issue.message }));
}

function faulty(faults: Fault[]): { ok: false; faults: Fault[] } {
  return { ok: false, faults };
}

/** The level that is held, if it is at this revision. `base`: the beginning of its digest. */
function holding(id: string, base: string): Held | null {
  const one = held.get(id);
  if (one === undefined || !one.digest.startsWith(base)) return null;
  held.delete(id);
  held.set(id, one);
  return one;
}

/** Holds a level as it is stored. */
function take(id: string, digest: string, chain: Chain): Held | Extract<EditsResult, { broken: true }> {
  const { document, edits } = chain;
  const text = textAfter(chain);
  const parsed = parseLevelText(text);
  if (!parsed.ok) return { ok: false, broken: true, faults: parsed.faults };
  const isOfNow = (JSON.parse(document) as Level).version === parsed.level.version;
  const one: Held = {
    level: new EditableLevel(parsed.level),
    digest,
    size: text.length,
    // What comes on top of a document of another version is of today's: the whole of it is stored first.
    since: isOfNow
      ? { revisions: edits.length, bytes: edits.reduce((sum, { length }) => sum + length, 0) }
      : { revisions: Infinity, bytes: 0 },
  };
  held.delete(id);
  held.set(id, one);
  let all = [...held.values()].reduce((sum, { size }) => sum + size, 0);
  for (const [other, { size }] of held) {
    if (all <= HELD || other === id) break;
    held.delete(other);
    all -= size;
  }
  return one;
}

/** By how many bytes a document grows with edits. */
function growth(edits: readonly Edit[]): number {
  const length = (value: unknown): number => JSON.stringify(value).length;
  return edits.flatMap(leavesOf).reduce((sum, edit) => {
    if (edit.kind === 'add') return sum + length(edit.thing);
    if (edit.kind === 'remove') return sum - length(edit.thing);
    return edit.kind === 'change' || edit.kind === 'level' ? sum + length(edit.after) - length(edit.before) : sum;
  }, 0);
}

/** What edits did, in words. */
function summaryOf(before: Level, after: Level, edits: readonly Edit[]): string {
  const said = edits.slice(0, DESCRIBED).map((edit) => editPhrase(edit.kind === 'remove' ? before : after, edit));
  const more = edits.length - said.length;
  const text = [...new Set(said)].join('; ') + (more > 0 ? `; and ${more} more` : '');
  const short = text.length <= SUMMARY ? text : `${text.slice(0, SUMMARY - 1)}…`;
  return short.charAt(0).toUpperCase() + short.slice(1);
}
