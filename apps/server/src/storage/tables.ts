import { EntitySchema } from 'typeorm';
import type { Edit, Level } from '@nettlewick/core';

/** A stored level: what lists need. The documents are in its revisions. */
export interface LevelRow {
  id: string;
  name: string;
  revision: number;
  savedAt: Date;
  deletedAt: Date | null;
  /** The digest of a document's text, for programs of before: what is stored is known by that of its revision. */
  digest: string | null;
}

export interface RevisionRow {
  levelId: string;
  number: number;
  /** The document as it was sent: of type json, not jsonb, which would reorder its fields. Null where edits are stored alone. */
  document: Level | null;
  /** What was changed since the revision before; null if a whole document was saved. */
  edits: { edits: Edit[] } | null;
  /** By what its sender knows these edits. */
  batch: string | null;
  /** What they did, in words. */
  summary: string | null;
  /** How long the document is; about, where edits are stored. */
  bytes: number;
  savedAt: Date;
  name: string | null;
  kept: boolean;
  /** The digest of the document's text; null for what was stored by a program that wrote none. */
  digest: string | null;
}

export const levels = new EntitySchema<LevelRow>({
  name: 'Level',
  tableName: 'levels',
  columns: {
    id: { type: 'uuid', primary: true, generated: 'uuid' },
    name: { type: 'text' },
    revision: { type: 'integer' },
    savedAt: { name: 'saved_at', type: 'timestamptz' },
    deletedAt: { name: 'deleted_at', type: 'timestamptz', nullable: true },
    digest: { type: 'text', nullable: true },
  },
});

export const revisions = new EntitySchema<RevisionRow>({
  name: 'Revision',
  tableName: 'revisions',
  columns: {
    levelId: { name: 'level_id', type: 'uuid', primary: true },
    number: { type: 'integer', primary: true },
    document: { type: 'json', nullable: true },
    edits: { type: 'json', nullable: true },
    batch: { type: 'text', nullable: true },
    summary: { type: 'text', nullable: true },
    bytes: { type: 'integer' },
    savedAt: { name: 'saved_at', type: 'timestamptz' },
    name: { type: 'text', nullable: true },
    kept: { type: 'boolean', default: false },
    digest: { type: 'text', nullable: true },
  },
});
