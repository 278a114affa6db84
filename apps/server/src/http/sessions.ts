import { randomBytes } from 'node:crypto';
import { readFileSync, renameSync, writeFileSync } from 'node:fs';
import * as z from 'zod';
import type { Secret } from '../secret';

/** How long a session lasts that is not used, in milliseconds. */
export const SESSION_LASTS = 24 * 3600 * 1000;
/** How often it is noted that a session was used, in milliseconds. */
const NOTED = 10 * 60 * 1000;
/** The most sessions; the least recently used one is dropped. */
const MAX_SESSIONS = 1000;

const noted = z.array(z.strictObject({ of: z.string(), host: z.string(), used: z.number() }));

/** A session of a browser: by which name it calls the server, and when it was used last. */
interface Session {
  host: string;
  used: number;
  /** When it was noted last that it was used. */
  noted: number;
}

/**
 * The sessions that were opened with the secret. What a browser holds is a token that says nothing of the secret; what is kept here,
 * and in a file beside the secret so that a new start ends no session, is a signature of it. So a session ends when it is closed, when
 * it is not used for a day, and when the secret changes.
 */
export class Sessions {
  private readonly known = new Map<string, Session>();
  private readonly file: string;

  constructor(
    private readonly secret: Secret,
    private readonly now: () => number = Date.now,
  ) {
    this.file = `${secret.file}.sessions`;
    try {
      for (const { of, host, used } of noted.parse(JSON.parse(readFileSync(this.file, 'utf8'))))
        this.known.set(of, { host, used, noted: used });
    } catch {
      // None, or none that can be read: whoever had one opens the address anew.
    }
  }

  /** Opens a session for a browser that calls the server by a name; gives its token. */
  open(host: string): string {
    const token = randomBytes(32).toString('base64url');
    const used = this.now();
    this.known.set(this.secret.sign(token), { host, used, noted: used });
    this.note();
    return token;
  }

  /** Whether a token is that of a session under this name; and whether the browser has to be told anew how long it lasts. */
  find(token: string, host: string): { renew: boolean } | null {
    const of = this.secret.sign(token);
    const session = this.known.get(of);
    const now = this.now();
    if (session === undefined || session.host !== host || now - session.used > SESSION_LASTS) return null;
    session.used = now;
    const renew = now - session.noted > NOTED;
    if (renew) {
      session.noted = now;
      this.note();
    }
    return { renew };
  }

  /** Ends a session. */
  end(token: string): void {
    if (this.known.delete(this.secret.sign(token))) this.note();
  }

  private note(): void {
    const last = [...this.known]
      .filter(([, { used }]) => this.now() - used <= SESSION_LASTS)
      .sort(([, a], [, b]) => b.used - a.used);
    for (const [of] of last.splice(MAX_SESSIONS)) this.known.delete(of);
    const making = `${this.file}.${process.pid}`;
    writeFileSync(making, JSON.stringify(last.map(([of, { host, used }]) => ({ of, host, used }))), { mode: 0o600 });
    renameSync(making, this.file);
  }
}
