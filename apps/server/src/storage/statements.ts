import type { Pool } from 'pg';
import type { DataSource } from 'typeorm';
import { asStorageTrouble } from './trouble';

/** Statements as they are sent to the database. */
export class Statements {
  /** Whether the last thing to be stored did not find room. */
  diskFull = false;

  private readonly pool: Pool;

  constructor(readonly source: DataSource) {
    this.pool = (source.driver as unknown as { master: Pool }).master;
  }

  async rows<R>(sql: string, values: unknown[] = []): Promise<R[]> {
    return (await this.source.query(sql, values)) as R[];
  }

  /** As `rows`, of what stores something: keeps whether there was room for it. */
  async write<R = unknown>(sql: string, values: unknown[]): Promise<R[]> {
    try {
      // Prepared once for each connection, under a name of its own: what is stored most often is planned least often.
      const { rows } = await this.pool.query({ name: statementName(sql), text: sql, values });
      this.diskFull = false;
      return rows as R[];
    } catch (error) {
      if (asStorageTrouble(error) === 'disk-full') this.diskFull = true;
      throw error;
    }
  }
}

const statementNames = new Map<string, string>();

/** The name under which a statement is prepared. */
function statementName(sql: string): string {
  let name = statementNames.get(sql);
  if (name === undefined) {
    name = `nettlewick-${statementNames.size + 1}`;
    statementNames.set(sql, name);
  }
  return name;
}
