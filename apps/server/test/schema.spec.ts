import { DataSource } from 'typeorm';
import { migrations } from '../src/storage/migrations';
import { levels, revisions } from '../src/storage/tables';
import { source, url } from './served';

/** The tables: made by migrations, described by entities. */

/** What a schema has, as PostgreSQL says it: columns, constraints and indices. */
async function made(there: DataSource): Promise<unknown> {
  const columns: unknown = await there.query(
    `SELECT table_name, column_name, data_type, is_nullable, column_default FROM information_schema.columns
      WHERE table_schema = current_schema() AND table_name IN ('levels', 'revisions') ORDER BY 1, 2`,
  );
  const constraints: unknown = await there.query(
    `SELECT conrelid::regclass::text AS of, conname, pg_get_constraintdef(oid) FROM pg_constraint
      WHERE connamespace = current_schema()::regnamespace AND conrelid::regclass::text IN ('levels', 'revisions') ORDER BY 1, 2`,
  );
  const indices: unknown = await there.query(
    `SELECT tablename, indexname, regexp_replace(indexdef, ' ON \\w+\\.', ' ON ') FROM pg_indexes
      WHERE schemaname = current_schema() AND tablename IN ('levels', 'revisions') ORDER BY 1, 2`,
  );
  return { columns, constraints, indices };
}

it('is what the entities say: bringing them together would change nothing', async () => {
  const { upQueries } = await source.driver.createSchemaBuilder().log();
  expect(upQueries.map(({ query }) => query)).toEqual([]);
});

it('is, after each migration is taken back, what it was before it; and after all are, there is nothing', async () => {
  const schema = 'taken_back';
  await source.query(`CREATE SCHEMA ${schema}`);
  const own = await new DataSource({
    type: 'postgres',
    url,
    entities: [levels, revisions],
    migrations,
    extra: { options: `-c search_path=${schema}` },
  }).initialize();
  try {
    const before: unknown[] = [];
    const runner = own.createQueryRunner();
    const all = migrations.map((migration) => new migration());
    for (const migration of all) {
      before.push(await made(own));
      await migration.up(runner);
    }
    const last = await made(own);
    for (const migration of all.toReversed()) {
      await migration.down(runner);
      expect([migration.name, await made(own)]).toEqual([migration.name, before.pop()]);
    }
    for (const migration of all) await migration.up(runner);
    expect(await made(own)).toEqual(last);
    await runner.release();
  } finally {
    await own.destroy();
    await source.query(`DROP SCHEMA ${schema} CASCADE`);
  }
});
