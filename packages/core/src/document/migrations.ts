import * as z from 'zod';
import { heading, id, name, reference, vector } from '../vocabulary/quantities';

/** What brings a document of one version to the next. Dated, in order; none is ever changed once it has been released. */
export interface Migration {
  from: number;
  on: string;
  why: string;
  /** What the older version asked of what is altered; the rest is for the schema of today. */
  before: z.ZodType;
  apply(document: Record<string, unknown>): Record<string, unknown>;
}

/** A spawn point as rooms listed it, and what it is today. */
const spawn = z.strictObject({ id, name, at: vector, heading: heading.optional() });
const kind = 'spawn-point';

const migrations: readonly Migration[] = [
  {
    from: 1,
    on: '2026-11-23',
    why: 'the guard of a chain is an expression; before, it was a list of flags that had to be on or off',
    before: z.looseObject({
      chains: z
        .array(
          z.looseObject({
            guard: z.array(z.strictObject({ flag: reference, is: z.boolean() })).optional(),
          }),
        )
        .optional(),
    }),
    apply: (document) => ({
      ...document,
      ...(Array.isArray(document['chains']) && { chains: document['chains'].map(withExpression) }),
    }),
  },
  {
    from: 2,
    on: '2026-11-26',
    why: 'fixtures may be half seen through and let some through, passages take their time, visitors may stand in the way, cues may speak; nothing of it where nothing is said',
    before: z.looseObject({}),
    apply: (document) => document,
  },
  {
    from: 3,
    on: '2026-11-26',
    why: 'spawn points are fixtures, to which steps, passages and walks lead; before, rooms listed them, and nothing could name them',
    before: z.looseObject({
      rooms: z.array(z.looseObject({ spawns: z.array(spawn).optional() })).optional(),
      fixtures: z.array(z.unknown()).optional(),
    }),
    apply: ({ rooms = [], fixtures = [], ...document }) => {
      const [before, own] = [rooms as ({ id?: unknown } & Record<string, unknown>)[], fixtures as unknown[]];
      const spawned = before.flatMap((room) =>
        ((room['spawns'] ?? []) as object[]).map((one) => ({ ...one, room: room.id, kind })),
      );
      return {
        ...document,
        rooms: before.map(({ spawns: _spawns, ...room }) => room),
        fixtures: [...own, ...spawned],
      };
    },
  },
];

function withExpression(chain: unknown): unknown {
  if (chain === null || typeof chain !== 'object' || !('guard' in chain) || !Array.isArray(chain.guard)) return chain;
  const tests = chain.guard.map(({ flag, is }: { flag: string; is: boolean }) => `${is ? '' : '!'}flag(${JSON.stringify(flag)})`);
  return { ...chain, guard: tests.join(' && ') };
}

/**
 * The document brought forward step by step, as far as there are migrations for it. The argument stays as it is. One that is
 * not of the shape of its own version is not brought forward: the error says what is wrong with it.
 */
export function migrate(
  document: Record<string, unknown>,
  steps: readonly Migration[] = migrations,
): { ok: true; document: Record<string, unknown> } | { ok: false; error: z.ZodError; document: Record<string, unknown> } {
  let current = document;
  for (const step of steps) {
    if (current['version'] !== step.from) continue;
    const read = step.before.safeParse(current);
    if (!read.success) return { ok: false, error: read.error, document: current };
    current = { ...step.apply(current), version: step.from + 1 };
  }
  return { ok: true, document: current };
}
