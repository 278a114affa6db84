import * as z from 'zod';

/** What a table of kinds must hold of each. */
type Kinds = Record<string, { schema: z.core.$ZodTypeDiscriminable }>;

/** The schema of a thing of any kind of a table, told apart by its field `kind`. */
export function unionOf<T extends Kinds>(table: T): z.ZodDiscriminatedUnion<[T[keyof T]['schema']], 'kind'> {
  return z.discriminatedUnion('kind', Object.values(table).map(({ schema }) => schema) as [T[keyof T]['schema']]);
}
