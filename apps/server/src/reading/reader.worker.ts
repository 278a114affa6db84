import { LevelReader, emptyLevel, nameSchema, pointer } from '@nettlewick/core';
import type { Fault } from '@nettlewick/core';
import { move, transferableSymbol, valueSymbol } from 'piscina';
import * as z from 'zod';
import { digestOf } from '../storage/digest';
import { nesting } from './nesting';
import type { Read, ToRead } from './document-reader';

/** Reads documents in a thread of its own: their nesting first, then their JSON, their schema, and all they are to agree in. */

/** Far deeper than any valid document is nested. */
const MAX_NESTING = 200;

const reader = new LevelReader();
const decoder = new TextDecoder('utf-8', { fatal: true, ignoreBOM: true });
const encoder = new TextEncoder();
const named = z.strictObject({ name: nameSchema });

export default function answer(asked: ToRead): unknown {
  const answer = read(asked);
  if (!answer.ok) return answer;
  // The bytes are handed back, not copied.
  return move({ [transferableSymbol]: answer.bytes.buffer, [valueSymbol]: answer });
}

function read({ what, pieces, spare }: ToRead): Read {
  const bytes = joined(pieces, spare);
  let text: string;
  try {
    text = decoder.decode(bytes);
  } catch {
    return { ok: false, notJson: 'It is not UTF-8' };
  }
  const known = what === 'document' ? reader.quick(text) : null;
  if (known !== null) return stored(known, false, known.text === text ? bytes : undefined);
  if (nesting(bytes, MAX_NESTING) > MAX_NESTING)
    return { ok: false, faults: [{ path: '', message: `It is nested more than ${MAX_NESTING} times. No level is` }] };
  return what === 'creation' ? created(text) : document(text);
}

function document(text: string, under = ''): Read {
  const found = reader.read(text);
  if (found.ok) return stored(found, true);
  const [first] = found.faults;
  if (first?.path === '' && first.message.startsWith('This is not JSON')) return { ok: false, notJson: first.message };
  return faulty(found.faults.map((fault) => ({ ...fault, path: under + fault.path })));
}

/** A document as it is stored: as bytes, which are those that were sent if it is stored as it was sent. */
function stored({ name, text }: { name: string; text: string }, anew: boolean, sent?: Uint8Array): Read {
  const bytes = sent ?? encoder.encode(text);
  return { ok: true, name, bytes, digest: digestOf(bytes), anew };
}

/** The bytes of the pieces: in the spare buffer if they fit, else in a new one, in which a somewhat longer document will fit too. */
function joined(pieces: readonly Uint8Array[], spare?: ArrayBuffer): Uint8Array {
  const [only] = pieces;
  if (only !== undefined && pieces.length === 1) return only;
  const size = pieces.reduce((sum, piece) => sum + piece.length, 0);
  const { buffer } =
    spare !== undefined && spare.byteLength >= size ? { buffer: spare } : Buffer.allocUnsafeSlow(size + (size >> 3));
  const bytes = new Uint8Array(buffer, 0, size);
  let at = 0;
  for (const piece of pieces) {
    bytes.set(piece, at);
    at += piece.length;
  }
  return bytes;
}

/** The level to create: an empty one with a name, or a whole document. */
function created(text: string): Read {
  let body: unknown;
  try {
    // A byte order mark may stand before it.
    body = JSON.parse(text.replace(/^\uFEFF/, ''));
  } catch {
    return document(text);
  }
  if (body !== null && typeof body === 'object' && 'level' in body) {
    const [extra] = Object.keys(body).filter((key) => key !== 'level');
    if (extra !== undefined)
      return faulty([{ path: pointer([extra]), message: `Unknown field "${extra.slice(0, 60)}" beside "level". Remove it` }]);
    return document(JSON.stringify(body.level) ?? 'null', '/level');
  }
  const wanted = named.safeParse(body);
  if (wanted.success) return document(JSON.stringify(emptyLevel(wanted.data.name)));
  return faulty(
    wanted.error.issues.map((issue) => ({
      path: pointer(issue.path),
      message: `${issue.message}. Send {"name": …} for an empty level or {"level": …} for a whole document`,
    })),
  );
}

function faulty(faults: Fault[]): Read {
  return { ok: false, faults };
}
