import { DataSource } from 'typeorm';
import { migrations } from './migrations';
import { levels, revisions } from './tables';

/** A connection to the database at `url`, with the schema brought up to date by its migrations. */
export async function connect(url: string): Promise<DataSource> {
  const source = new DataSource({
    type: 'postgres',
    url,
    entities: [levels, revisions],
    migrations,
    synchronize: false,
    migrationsTableName: 'migrations',
    migrationsTransactionMode: 'all',
    extra: { connectionTimeoutMillis: 5000, max: 10 },
  });
  await source.initialize();
  await source.runMigrations();
  return source;
}
