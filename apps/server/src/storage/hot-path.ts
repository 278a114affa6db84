import type { ClientBase } from 'pg';
import type { DataSource } from 'typeorm';
import { asStorageTrouble } from './trouble';

/** The few statements that every save needs, in SQL of their own: each is one round trip, and planned once for each connection. */
export class HotPath {
  /** Whether the last thing to be stored did not find room. */
  diskFull = false;

  constructor(private readonly source: DataSource) {}

  /** The rows that a statement gives. */
  async rows<R extends object>(sql: string, values: unknown[]): Promise<R[]> {
    const runner = this.source.createQueryRunner();
    try {
      const client = (await runner.connect()) as ClientBase;
      const { rows } = await client.query<R>({ name: statementName(sql), text: sql, values });
      return rows;
    } finally {
      await runner.release();
    }
  }

  /** As `rows`, of what stores something: keeps whether there was room for it. */
  async write<R extends object>(sql: string, values: unknown[]): Promise<R[]> {
    return this.noting(() => this.rows<R>(sql, values));
  }

  /** Stores something; keeps whether there was room for it. */
  async noting<T>(store: () => Promise<T>): Promise<T> {
    try {
      const stored = await store();
      this.diskFull = false;
      return stored;
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
