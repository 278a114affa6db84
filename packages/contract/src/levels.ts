import { LEVEL_FORMAT, LEVEL_VERSION, editSchema, levelShape, nameSchema } from '@nettlewick/core';
import type { Level } from '@nettlewick/core';
import * as z from 'zod';

/** The id that the server gives a stored level. */
export const levelId = z.uuid().meta({ description: 'id of a stored level' });

export const level = levelShape.meta({ id: 'Level' });

/** The ETag of a revision, as it is sent in If-Match. */
const etag = z.string().meta({ description: 'the ETag of this revision: what to send in If-Match to change it' });

/** One line of the list of levels. */
export const levelSummary = z
  .strictObject({
    id: levelId,
    name: nameSchema,
    revision: z.number().int().min(1),
    etag,
    savedAt: z.iso.datetime(),
    deletedAt: z.iso.datetime().nullable(),
  })
  .meta({ id: 'LevelSummary' });
export type LevelSummary = z.infer<typeof levelSummary>;

/** How many lines a page of a list has. */
export const PAGE = { usual: 100, most: 500 } as const;

const next = z.string().nullable().meta({ description: 'what to send as "after" for the next page; null on the last' });

export const levelList = z.strictObject({ levels: z.array(levelSummary), next }).meta({ id: 'LevelList' });
export type LevelList = z.infer<typeof levelList>;

/** A level as it is stored: the document, and which revision of it this is. */
export const storedLevel = z
  .strictObject({ id: levelId, revision: z.number().int().min(1), etag, savedAt: z.iso.datetime(), level })
  .meta({ id: 'StoredLevel' });
export type StoredLevel = z.infer<typeof storedLevel>;

/**
 * A level as the server has sent it. It has read the document as a program of this version does, and brought it forward if it had to: whoever
 * is of the same version need not read thousands of things again.
 */
export const sentLevel = z.strictObject({
  ...storedLevel.shape,
  level: z.custom<Level>(
    (value) =>
      typeof value === 'object' &&
      value !== null &&
      'format' in value &&
      value.format === LEVEL_FORMAT &&
      'version' in value &&
      value.version === LEVEL_VERSION,
  ),
});

/** What a save answers: the number of the new revision. */
export const saved = z
  .strictObject({ id: levelId, revision: z.number().int().min(1), etag, savedAt: z.iso.datetime() })
  .meta({ id: 'Saved' });
export type Saved = z.infer<typeof saved>;

/** A new level: an empty one with a name, or a whole document. */
export const newLevel = z.union([z.strictObject({ name: nameSchema }), z.strictObject({ level })]).meta({ id: 'NewLevel' });

export const rename = z.strictObject({ name: nameSchema }).meta({ id: 'Rename' });

/** How many edits one request has at most, those within others counted, and how large it may be. More is a whole document. */
export const EDITS = { most: 500, bytes: 256 * 1024 } as const;

const overwritten = z
  .array(z.strictObject({ id: z.string(), field: z.string() }))
  .max(EDITS.most)
  .meta({ description: 'fields that somebody else had given other values, which were not seen when these edits were made' });

/** Edits on top of a revision. `batch` is chosen by the sender: sent again, the same batch makes no second revision. */
export const editBatch = z
  .strictObject({
    batch: z.string().regex(/^[\w-]{8,40}$/, 'Use 8 to 40 letters, digits, hyphens or underscores'),
    edits: z.array(editSchema).min(1).max(EDITS.most),
    overwritten: overwritten.default([]),
  })
  .meta({ id: 'EditBatch' });

/** What a revision has changed: the edits of which it was made, or null if a whole document was saved. */
const revisionEdits = z.strictObject({
  revision: z.number().int().min(1),
  etag,
  batch: z.string().nullable(),
  edits: z.array(editSchema).nullable(),
  overwritten,
});
export type RevisionEdits = z.infer<typeof revisionEdits>;

/**
 * What was saved after a revision, oldest first; `from`: the ETag of that revision, null if it is not kept any more. `complete` is false
 * where more follows, or something of it is not kept any more.
 */
export const editsSince = z
  .strictObject({ from: etag.nullable(), revisions: z.array(revisionEdits), complete: z.boolean() })
  .meta({ id: 'EditsSince' });
export type EditsSince = z.infer<typeof editsSince>;

/** What windows that watch a level are told of a save; `edits` is null for a whole document, and for very many. */
export const savedEvent = revisionEdits.extend({ overwritten: overwritten.default([]) });

export const revision = z
  .strictObject({
    number: z.number().int().min(1),
    savedAt: z.iso.datetime(),
    bytes: z.number().int().min(0),
    name: nameSchema.nullable(),
    kept: z.boolean().meta({ description: 'whether it was gone back to, and so is kept for ever' }),
    summary: z.string().nullable().meta({ description: 'what its edits did, in words; null if a whole document was saved' }),
  })
  .meta({ id: 'Revision' });
export type Revision = z.infer<typeof revision>;

export const revisionList = z.strictObject({ revisions: z.array(revision), next }).meta({ id: 'RevisionList' });
export type RevisionList = z.infer<typeof revisionList>;

/** Names a revision (null: no more), or keeps it because it was gone back to. Named and kept ones are never thinned out. */
export const keepRevision = z
  .strictObject({ name: nameSchema.nullable().optional(), kept: z.literal(true).optional() })
  .refine((wanted) => wanted.name !== undefined || wanted.kept !== undefined, 'Send a name, or "kept": true')
  .meta({ id: 'KeepRevision' });

/** Whether a secret is asked for, so that there is a session to be ended. */
export const session = z.strictObject({ asked: z.boolean() }).meta({ id: 'Session' });

/** The server lives if it answers; it is ready if it can store something. */
export const health = z
  .strictObject({
    status: z.enum(['ok', 'database does not answer', 'disk full']),
    live: z.literal(true),
    ready: z.boolean(),
    freeBytes: z.number().nullable().meta({ description: 'what is left on the disk of the database, if it is on this machine' }),
  })
  .meta({ id: 'Health' });
export type Health = z.infer<typeof health>;
