import { Injectable } from '@angular/core';
import type { Saved } from '@nettlewick/contract';
import type { Finding, Level } from '@nettlewick/core';
import type { Keeping } from '../workers/keeping';
import { Mirrored } from '../workers/mirrored';
import { startKeeping } from '../workers/start';
import type { Started } from '../workers/started';
import type { Answer } from './asking';
import type { Draft } from './shelf';

/** What looks after the open level in a worker, begun anew should it ever break. */
@Injectable({ providedIn: 'root' })
export class Keeper {
  private running: { started: Started<Keeping>; mirror: Mirrored } | null = null;

  findingsOf(level: Level): Promise<Finding[]> {
    return this.ask(level, ({ remote }) => remote.findings());
  }

  /** Keeps a draft; of several in a row only the last is written. False if this browser cannot keep anything. */
  keep({ level, ...draft }: Draft): Promise<boolean> {
    return this.ask(level, ({ remote }) => remote.keep(draft)).catch(() => false);
  }

  /** Holds a level ready to be sent, and gives its fingerprint. */
  prepare(level: Level): Promise<string> {
    return this.ask(level, ({ remote }) => remote.prepare());
  }

  /** Saves what was prepared over `revision`; a stale one is answered with a problem of status 412. */
  save(id: string, revision: number, print: string): Promise<Answer<Saved>> {
    return this.ask(null, ({ remote }) => remote.save(id, revision, print) as Promise<Answer<Saved>>);
  }

  private async ask<T>(level: Level | null, what: (started: Started<Keeping>) => Promise<T>): Promise<T> {
    const running = (this.running ??= this.begin());
    if (level !== null) running.mirror.bring(level);
    try {
      return await Promise.race([what(running.started), running.started.ended]);
    } catch (error) {
      // The next that asks begins with a whole level.
      if (this.running === running) this.running = null;
      running.started.end();
      throw error;
    }
  }

  private begin(): { started: Started<Keeping>; mirror: Mirrored } {
    const running = startKeeping();
    return { started: running, mirror: new Mirrored(running.remote) };
  }
}
