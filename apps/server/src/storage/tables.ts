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

/** A revision of a level. None is ever changed, but for its name and whether it is kept. */
export interface RevisionRow {
  levelId: string;
  number: number;
  /** The document as it was sent: of type json, not jsonb, which would reorder its fields. Null where edits are stored alone. */
  document: Level | null;
  /** What was changed since the revision before, and of whose edits it took the place; null if a whole document was saved. */
  edits: { edits: Edit[]; overwritten?: unknown[] } | null;
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

// The tables are made by the migrations; a test compares what they made with what is declared here.

export const levels = new EntitySchema<LevelRow>({
  name: 'Level',
  tableName: 'levels',
  columns: {
    id: { type: 'uuid', primary: true, generated: 'uuid', primaryKeyConstraintName: 'levels_pkey' },
    name: { type: 'text' },
    revision: { type: 'integer' },
    savedAt: { name: 'saved_at', type: 'timestamptz' },
    deletedAt: { name: 'deleted_at', type: 'timestamptz', nullable: true },
    digest: { type: 'text', nullable: true },
  },
  checks: [{ name: 'levels_revision_check', expression: 'revision >= 1' }],
  // From the newest to the oldest, which cannot be said here.
  indices: [{ name: 'levels_by_time', columns: ['savedAt', 'id'], synchronize: false }],
});

export const revisions = new EntitySchema<RevisionRow>({
  name: 'Revision',
  tableName: 'revisions',
  columns: {
    levelId: { name: 'level_id', type: 'uuid', primary: true, primaryKeyConstraintName: 'revisions_pkey' },
    number: { type: 'integer', primary: true, primaryKeyConstraintName: 'revisions_pkey' },
    // These are large, and only read where they are selected by name.
    document: { type: 'json', nullable: true, select: false },
    edits: { type: 'json', nullable: true, select: false },
    batch: { type: 'text', nullable: true },
    summary: { type: 'text', nullable: true },
    bytes: { type: 'integer' },
    savedAt: { name: 'saved_at', type: 'timestamptz' },
    name: { type: 'text', nullable: true },
    kept: { type: 'boolean', default: false },
    digest: { type: 'text', nullable: true },
  },
  foreignKeys: [
    {
      name: 'revisions_level_id_fkey',
      target: () => levels,
      columnNames: ['levelId'],
      referencedColumnNames: ['id'],
      onDelete: 'CASCADE',
    },
  ],
  checks: [
    { name: 'revisions_number_check', expression: 'number >= 1' },
    { name: 'has_content', expression: 'document IS NOT NULL OR edits IS NOT NULL' },
  ],
});
