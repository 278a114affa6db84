import { statfs } from 'node:fs/promises';
import { setTimeout as pause } from 'node:timers/promises';
import type { Health } from '@nettlewick/contract';
import type { Logger } from 'pino';
import type { LevelRepository } from '../storage/level-repository';

/** The time the database has to answer, in milliseconds. */
const DATABASE_TIMEOUT_MS = 1000;
/** With less than this left on the disk, in bytes, the database may stop at any save. */
const LEAST_FREE = 64 * 1024 * 1024;

/** Whether the server is ready to store anything. It lives if it answers at all. */
export class HealthCheck {
  private asked: Promise<boolean> | null = null;
  private last = 'ok';

  constructor(
    private readonly store: LevelRepository,
    private readonly dataFolder: string | null,
    private readonly log: Logger,
  ) {}

  async now(): Promise<Health> {
    const free = await this.freeBytes();
    const answers = await this.answers();
    // A database whose disk is full soon answers nothing at all.
    const status = this.isFull(free) ? 'disk full' : !answers ? 'database does not answer' : 'ok';
    if (status !== this.last) this.log.warn({ status }, 'health has changed');
    this.last = status;
    return { status, live: true, ready: status === 'ok', freeBytes: free };
  }

  /** Whether there is no room to store anything. */
  async diskFull(): Promise<boolean> {
    return this.isFull(await this.freeBytes());
  }

  private isFull(free: number | null): boolean {
    return this.store.diskFull || (free !== null && free < LEAST_FREE);
  }

  /** One question at a time, however many ask; whoever asks waits no longer than the patience. */
  private async answers(): Promise<boolean> {
    this.asked ??= this.store
      .answers()
      .then(
        () => true,
        () => false,
      )
      .finally(() => (this.asked = null));
    return Promise.race([this.asked, pause(DATABASE_TIMEOUT_MS, false, { ref: false })]);
  }

  private async freeBytes(): Promise<number | null> {
    if (this.dataFolder === null) return null;
    try {
      const { bavail, bsize } = await Promise.race([
        statfs(this.dataFolder),
        pause(DATABASE_TIMEOUT_MS, null, { ref: false }).then(() => Promise.reject(new Error('slow'))),
      ]);
      return bavail * bsize;
    } catch {
      return null;
    }
  }
}
