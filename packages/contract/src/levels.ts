import { levelShape, nameSchema } from '@nettlewick/core';
import { z } from 'zod';

/** The id that the server gives a stored level. */
export const levelId = z.uuid().meta({ description: 'id of a stored level' });

export const level = levelShape.meta({ id: 'Level' });

/** One line of the list of levels. */
export const levelSummary = z
  .strictObject({
    id: levelId,
    name: nameSchema,
    revision: z.number().int().min(1),
    savedAt: z.iso.datetime(),
    deletedAt: z.iso.datetime().nullable(),
  })
  .meta({ id: 'LevelSummary' });
export type LevelSummary = z.infer<typeof levelSummary>;

export const levelList = z.strictObject({ levels: z.array(levelSummary) }).meta({ id: 'LevelList' });

/** A level as it is stored: the document, and which revision of it this is. */
export const storedLevel = z
  .strictObject({ id: levelId, revision: z.number().int().min(1), savedAt: z.iso.datetime(), level })
  .meta({ id: 'StoredLevel' });
export type StoredLevel = z.infer<typeof storedLevel>;

/** What a save answers: the number of the new revision. */
export const saved = z
  .strictObject({ id: levelId, revision: z.number().int().min(1), savedAt: z.iso.datetime() })
  .meta({ id: 'Saved' });
export type Saved = z.infer<typeof saved>;

/** A new level: an empty one with a name, or a whole document. */
export const newLevel = z.union([z.strictObject({ name: nameSchema }), z.strictObject({ level })]).meta({ id: 'NewLevel' });

export const rename = z.strictObject({ name: nameSchema }).meta({ id: 'Rename' });

export const revision = z
  .strictObject({ number: z.number().int().min(1), savedAt: z.iso.datetime(), bytes: z.number().int().min(0) })
  .meta({ id: 'Revision' });
export type Revision = z.infer<typeof revision>;

export const revisionList = z.strictObject({ revisions: z.array(revision) }).meta({ id: 'RevisionList' });

export const health = z.strictObject({ status: z.enum(['ok', 'database does not answer']) }).meta({ id: 'Health' });
