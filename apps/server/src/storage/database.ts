import { DataSource } from 'typeorm';
import type { DataSourceOptions } from 'typeorm';
import { migrations } from './migrations';
import { levels, revisions } from './tables';

/** Nothing asked and no lock holds a connection for longer, in milliseconds. */
const limits = {
  connectionTimeoutMillis: 3000,
  max: 10,
  keepAlive: true,
  statement_timeout: 5000,
  lock_timeout: 1500,
  idle_in_transaction_session_timeout: 10_000,
  query_timeout: 8000,
};

/** A connection to the database at `url`, with the schema brought up to date by its migrations. */
export async function connect(url: string): Promise<DataSource> {
  const common = {
    type: 'postgres',
    url,
    entities: [levels, revisions],
    synchronize: false,
  } satisfies DataSourceOptions;
  // Migrations may take their time.
  const before = new DataSource({ ...common, migrations, migrationsTableName: 'migrations', migrationsTransactionMode: 'all' });
  await before.initialize();
  try {
    await before.runMigrations();
  } finally {
    await before.destroy();
  }
  return new DataSource({ ...common, extra: limits }).initialize();
}
