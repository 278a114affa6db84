import { collections, parseThing } from '@nettlewick/core';
import type { Collection, Fragment, ClipboardThing } from '@nettlewick/core';
import * as z from 'zod';
import { writePreference, readPreference } from '../state/preferences';

const pieces = z.array(z.object({ collection: z.enum(collections), thing: z.unknown(), place: z.number() }));
const shape = z.object({ things: pieces, beside: pieces.default([]) });

/** Keeps what was copied, for other rooms, levels and windows of this browser. False if nothing can be kept. */
export function writeClipboard(fragment: Fragment): boolean {
  return writePreference('copied', JSON.stringify(fragment));
}

/** What was copied last, as far as it is whole; null if there is nothing. */
export function readClipboard(): Fragment | null {
  try {
    const parsed = shape.safeParse(JSON.parse(readPreference('copied') ?? 'null'));
    if (!parsed.success) return null;
    const fragment = { things: whole(parsed.data.things), beside: whole(parsed.data.beside) };
    return fragment.things.length === 0 ? null : fragment;
  } catch {
    return null;
  }
}

function whole(found: z.infer<typeof pieces>): ClipboardThing[] {
  return found.flatMap(({ collection, thing, place }) => {
    const read = parseThing(collection as Collection, thing);
    return read.ok ? [{ collection: collection as Collection, thing: read.thing, place }] : [];
  });
}
