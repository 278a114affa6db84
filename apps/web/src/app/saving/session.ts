import { Injectable } from '@angular/core';
import { nanoid } from 'nanoid';

const KEY = 'nettlewick-session';
const lockName = (session: string): string => `nettlewick session ${session}`;

/**
 * The session of this tab: it lasts over reloads, and no other tab has it. A lock that the tab holds while it is open says so
 * to the others (Web Locks API).
 */
@Injectable({ providedIn: 'root' })
export class Session {
  id: Promise<string> = this.claim();
  /** The sessions that this page has had and put aside. */
  private readonly former = new Set<string>();

  /** Goes on under a new id: what is kept under the one of before is left as it is, to be found like that of a closed tab. */
  async renew(): Promise<string> {
    this.former.add(await this.id);
    const id = nanoid();
    this.id = hold(id).then(() => id);
    remember(id);
    return this.id;
  }

  /** Those of some sessions that no open tab has any more. */
  async gone(sessions: readonly string[]): Promise<Set<string>> {
    const held = await locks()
      ?.query()
      .then((found) => found.held ?? [])
      .catch(() => null);
    // Without locks nobody knows whether a tab is open: what it has is its own.
    if (held === undefined || held === null) return new Set();
    const own = await this.id;
    const open = new Set(held.map((lock) => lock.name));
    return new Set(sessions.filter((session) => this.former.has(session) || (session !== own && !open.has(lockName(session)))));
  }

  private async claim(): Promise<string> {
    // A tab that was duplicated has the memory of the other, but not its lock.
    const known = remembered();
    const id = known !== null && (await hold(known)) ? known : nanoid();
    if (id !== known) await hold(id);
    remember(id);
    return id;
  }
}

/** A browser that remembers nothing gives a new session at each reload; its drafts are offered then. */
function remember(id: string): void {
  try {
    sessionStorage.setItem(KEY, id);
  } catch {
    // It goes without.
  }
}

function remembered(): string | null {
  try {
    return sessionStorage.getItem(KEY);
  } catch {
    return null;
  }
}

function locks(): LockManager | undefined {
  try {
    return (navigator as { locks?: LockManager }).locks;
  } catch {
    return undefined;
  }
}

/** Takes the lock of a session for as long as this page is open; false if another tab has it. A browser without locks gives it to all. */
function hold(session: string): Promise<boolean> {
  const manager = locks();
  if (manager === undefined) return Promise.resolve(true);
  return new Promise((resolve) => {
    manager
      .request(lockName(session), { ifAvailable: true }, (lock) => {
        resolve(lock !== null);
        return lock === null ? undefined : new Promise(() => undefined);
      })
      .catch(() => resolve(true));
  });
}
