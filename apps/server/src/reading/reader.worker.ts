import { createHash } from 'node:crypto';
import { LevelReader, emptyLevel, nameSchema, parseLevelText, pointer } from '@nettlewick/core';
import type { Fault } from '@nettlewick/core';
import { z } from 'zod';
import { nesting } from './nesting';
import type { Read, ToRead } from './document-reader';

/** Reads documents in a thread of its own: their nesting first, then their JSON, their schema, and all they are to agree in. */

/** No document of ours is nested more deeply than a few dozen times. */
const DEEPEST = 200;

const reader = new LevelReader();
const decoder = new TextDecoder('utf-8', { fatal: true });
const named = z.strictObject({ name: nameSchema });

export default function read({ what, bytes }: ToRead): Read {
  if (nesting(bytes, DEEPEST) > DEEPEST)
    return { ok: false, faults: [{ path: '', message: `It is nested more than ${DEEPEST} times. No level is` }] };
  let text: string;
  try {
    text = decoder.decode(bytes);
  } catch {
    return { ok: false, notJson: 'It is not UTF-8' };
  }
  let value: unknown;
  try {
    value = JSON.parse(text);
  } catch {
    const parsed = parseLevelText(text);
    return { ok: false, notJson: parsed.ok ? 'It cannot be read' : parsed.faults[0]!.message };
  }
  return what === 'creation' ? created(value) : document(value, '');
}

function document(value: unknown, under: string): Read {
  const found = reader.read(value);
  if (!found.ok) return { ok: false, faults: found.faults.map((fault) => ({ ...fault, path: under + fault.path })) };
  const digest = createHash('sha256').update(found.text).digest('hex');
  return { ok: true, name: found.level.name, text: found.text, digest };
}

/** The level to create: an empty one with a name, or a whole document. */
function created(body: unknown): Read {
  if (body !== null && typeof body === 'object' && 'level' in body) {
    const [extra] = Object.keys(body).filter((key) => key !== 'level');
    if (extra !== undefined)
      return faulty([{ path: pointer([extra]), message: `Unknown field "${extra.slice(0, 60)}" beside "level". Remove it` }]);
    return document(body.level, '/level');
  }
  const wanted = named.safeParse(body);
  if (wanted.success) return document(emptyLevel(wanted.data.name), '');
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
