import { createHmac, randomBytes, timingSafeEqual } from 'node:crypto';
import { chmodSync, existsSync, readFileSync, statSync, writeFileSync } from 'node:fs';
import { wrongSetting } from './settings';

/** How often the file is looked at, in milliseconds. */
const LOOKS = 1000;

/** The secret of this installation. It is made when it is first asked for; only its owner can read the file. */
export class Secret {
  private value: string;
  private changed: number;
  private looked: number;
  /** A name of loopback that nobody can guess, the same from one start to the next: sessions in a browser are bound to it. */
  readonly hostName: string;

  /** Throws WrongSettings if the file cannot be used. */
  constructor(
    readonly file: string,
    private readonly now: () => number = Date.now,
  ) {
    try {
      this.value = kept(file, /^[\w-]{32,}$/, () => randomBytes(32).toString('base64url'));
      // Labels of names are written in small letters.
      this.hostName = `${kept(`${file}.host`, /^[\da-f]{32}$/, () => randomBytes(16).toString('hex'))}.localhost`;
      this.changed = statSync(file).mtimeMs;
    } catch (error) {
      throw wrongSetting(
        'SECRET_FILE',
        file,
        `${error instanceof Error ? error.message : String(error)}. It takes a file that holds a secret, or can be made`,
      );
    }
    this.looked = now();
  }

  /** Whether this is the secret. */
  is(given: string): boolean {
    const [a, b] = [Buffer.from(given), Buffer.from(this.current())];
    return a.length === b.length && timingSafeEqual(a, b);
  }

  /** What stands for a text as long as the secret is what it is now. */
  sign(text: string): string {
    return createHmac('sha256', this.current()).update(text).digest('base64url');
  }

  /** The secret as it is now: whoever writes another into the file ends all sessions. */
  current(): string {
    if (this.now() - this.looked < LOOKS) return this.value;
    this.looked = this.now();
    try {
      const { mtimeMs } = statSync(this.file);
      if (mtimeMs !== this.changed) {
        const text = readFileSync(this.file, 'utf8').trim();
        if (/^[\w-]{32,}$/.test(text)) [this.value, this.changed] = [text, mtimeMs];
      }
    } catch {
      // A file that is gone leaves what was read last; the next start makes a new one.
    }
    return this.value;
  }
}

/** What a file of one's own keeps, made if it is not there. */
function kept(file: string, pattern: RegExp, make: () => string): string {
  if (existsSync(file)) {
    const text = readFileSync(file, 'utf8').trim();
    if (pattern.test(text)) {
      // Only what is ours is made ours alone.
      chmodSync(file, 0o600);
      return text;
    }
    throw new Error(
      'it does not hold what it has to: 32 or more letters, digits, hyphens and underscores. If it is meant for this, delete it to have one made',
    );
  }
  const made = make();
  writeFileSync(file, made + '\n', { mode: 0o600, flag: 'wx' });
  return made;
}
