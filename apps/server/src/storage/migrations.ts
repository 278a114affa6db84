import type { MigrationInterface, QueryRunner } from 'typeorm';
import { chainOf, rebuildHere } from './chains';
import { digestOf } from './digest';

/** The first tables. `gen_random_uuid()` is part of PostgreSQL since version 13. */
class Levels1763800000000 implements MigrationInterface {
  name = 'Levels1763800000000';

  async up(runner: QueryRunner): Promise<void> {
    await runner.query(`
      CREATE TABLE levels (
        id uuid PRIMARY KEY DEFAULT gen_random_uuid(),
        name text NOT NULL,
        revision integer NOT NULL CHECK (revision >= 1),
        saved_at timestamptz NOT NULL,
        deleted_at timestamptz
      )`);
    await runner.query(`
      CREATE TABLE revisions (
        level_id uuid NOT NULL REFERENCES levels (id) ON DELETE CASCADE,
        number integer NOT NULL CHECK (number >= 1),
        document json NOT NULL,
        bytes integer NOT NULL,
        saved_at timestamptz NOT NULL,
        PRIMARY KEY (level_id, number)
      )`);
    await runner.query('CREATE INDEX levels_by_time ON levels (saved_at DESC)');
  }

  async down(runner: QueryRunner): Promise<void> {
    await runner.query('DROP TABLE revisions');
    await runner.query('DROP TABLE levels');
  }
}

/** What is stored is known by its digest; revisions can be named, and kept for ever. */
class Keeping1764000000000 implements MigrationInterface {
  name = 'Keeping1764000000000';

  async up(runner: QueryRunner): Promise<void> {
    await runner.query('ALTER TABLE levels ADD COLUMN digest text');
    await runner.query('ALTER TABLE revisions ADD COLUMN name text');
    await runner.query('ALTER TABLE revisions ADD COLUMN kept boolean NOT NULL DEFAULT false');
    // Documents are stored as often as they are edited: a quick compression serves better than a close one.
    const [lz4] = (await runner.query(
      "SELECT 'lz4' = ANY (enumvals) AS there FROM pg_settings WHERE name = 'default_toast_compression'",
    )) as {
      there: boolean;
    }[];
    if (lz4?.there === true) await runner.query('ALTER TABLE revisions ALTER COLUMN document SET COMPRESSION lz4');
    await runner.query('DROP INDEX levels_by_time');
    await runner.query('CREATE INDEX levels_by_time ON levels (saved_at DESC, id DESC)');
  }

  async down(runner: QueryRunner): Promise<void> {
    await runner.query('DROP INDEX levels_by_time');
    await runner.query('CREATE INDEX levels_by_time ON levels (saved_at DESC)');
    await runner.query('ALTER TABLE revisions DROP COLUMN kept');
    await runner.query('ALTER TABLE revisions DROP COLUMN name');
    await runner.query('ALTER TABLE levels DROP COLUMN digest');
  }
}

/**
 * Each revision has the digest of its own document. That of the level said nothing of what a program had stored that wrote none; it stays,
 * and is written, for programs that look for it there.
 */
class Digests1764580000000 implements MigrationInterface {
  name = 'Digests1764580000000';

  async up(runner: QueryRunner): Promise<void> {
    await runner.query('ALTER TABLE revisions ADD COLUMN digest text');
  }

  async down(runner: QueryRunner): Promise<void> {
    await runner.query('ALTER TABLE revisions DROP COLUMN digest');
  }
}

/** A revision may be stored as edits on the one before it. */
class Edits1764600000000 implements MigrationInterface {
  name = 'Edits1764600000000';

  async up(runner: QueryRunner): Promise<void> {
    await runner.query('ALTER TABLE revisions ALTER COLUMN document DROP NOT NULL');
    await runner.query('ALTER TABLE revisions ADD COLUMN edits json, ADD COLUMN batch text, ADD COLUMN summary text');
    await runner.query('ALTER TABLE revisions ADD CONSTRAINT has_content CHECK (document IS NOT NULL OR edits IS NOT NULL)');
  }

  /** Every revision is stored whole again, and known by the digest of its document. */
  async down(runner: QueryRunner): Promise<void> {
    const rows = (await runner.query(
      'SELECT level_id, number FROM revisions WHERE edits IS NOT NULL ORDER BY level_id, number',
    )) as {
      level_id: string;
      number: number;
    }[];
    for (const { level_id: id, number } of rows) {
      const chain = await chainOf(runner.manager, id, number);
      const document = await rebuildHere(chain!);
      await runner.query('UPDATE revisions SET document = $3::json, digest = $4 WHERE level_id = $1 AND number = $2', [
        id,
        number,
        document,
        digestOf(document),
      ]);
    }
    await runner.query('ALTER TABLE revisions DROP CONSTRAINT has_content');
    await runner.query('ALTER TABLE revisions DROP COLUMN edits, DROP COLUMN batch, DROP COLUMN summary');
    await runner.query('ALTER TABLE revisions ALTER COLUMN document SET NOT NULL');
  }
}

/** Every migration, oldest first. What one does is not changed once it has been released. */
export const migrations = [Levels1763800000000, Keeping1764000000000, Digests1764580000000, Edits1764600000000];
