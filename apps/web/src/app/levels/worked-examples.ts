import { Injectable } from '@angular/core';
import { parseLevelText } from '@nettlewick/core';
import type { Level } from '@nettlewick/core';
import * as z from 'zod';

const listSchema = z.array(
  z.object({
    file: z.string(),
    title: z.string(),
    teaches: z.string(),
    broken: z.array(z.object({ file: z.string(), shows: z.string() })),
  }),
);
export type WorkedExample = z.infer<typeof listSchema>[number];

/** The worked examples that come with the studio: each with what it teaches, and its broken twins. */
@Injectable({ providedIn: 'root' })
export class WorkedExamples {
  /** All of them; none if they cannot be had now. */
  async list(): Promise<WorkedExample[]> {
    const text = await read('examples.json');
    const parsed = listSchema.safeParse(text === null ? null : JSON.parse(text));
    return parsed.success ? parsed.data : [];
  }

  /** The document of one, to be stored as a level of one's own. */
  async open(file: string): Promise<Level | null> {
    const text = await read(file);
    if (text === null) return null;
    const parsed = parseLevelText(text);
    return parsed.ok ? parsed.level : null;
  }
}

async function read(file: string): Promise<string | null> {
  try {
    const reply = await fetch(`worked-examples/${file}`);
    return reply.ok ? await reply.text() : null;
  } catch {
    return null;
  }
}
