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

/** The number of the lock that a server holds while it brings the schema up to date: any that nobody else of this database uses. */
const STARTING = 4_780_001;

/**
 * A connection to the database at `url`, with the schema brought up to date by its migrations. `first` is done before any other server
 * may begin: several that start at once do it one after the other (PostgreSQL, 13.3.5, advisory locks).
 */
export async function connect(
  url: string,
  first: (source: DataSource) => Promise<void> = async () => undefined,
): Promise<DataSource> {
  const common = {
    type: 'postgres',
    url,
    entities: [levels, revisions],
    synchronize: false,
  } satisfies DataSourceOptions;
  // Migrations may take their time.
  const before = new DataSource({ ...common, migrations, migrationsTableName: 'migrations', migrationsTransactionMode: 'all' });
  await before.initialize();
  let source: DataSource | null = null;
  try {
    // The lock belongs to its connection, and goes with it however this ends.
    const holder = before.createQueryRunner();
    await holder.query('SELECT pg_advisory_lock($1)', [STARTING]);
    await before.runMigrations();
    source = await new DataSource({ ...common, extra: limits }).initialize();
    await first(source);
    await holder.query('SELECT pg_advisory_unlock($1)', [STARTING]);
    await holder.release();
    return source;
  } catch (error) {
    await source?.destroy();
    throw error;
  } finally {
    await before.destroy();
  }
}
