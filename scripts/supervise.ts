import { setTimeout as pause } from 'node:timers/promises';

/** Something that runs until it ends or is stopped. */
export interface Running {
  ended: Promise<unknown>;
  stop(): Promise<void>;
}

/** How many ends within how long are too many, and how long is waited before the first new start, in milliseconds. */
const MOST = 5;
const WITHIN = 60_000;
const FIRST_WAIT = 250;

/**
 * Keeps something running: when it ends by itself it is started again, after a wait that doubles. When it has ended five times
 * within a minute, `gaveUp` is told why. What is started is given to `started` each time.
 */
export class Supervised<R extends Running> {
  private readonly ends: number[] = [];
  private running: Promise<R> | null = null;
  private stopping = false;

  constructor(
    private readonly what: string,
    private readonly start: () => Promise<R>,
    private readonly told: { say(line: string): void; gaveUp(why: string): void },
    private readonly clock: { now(): number; wait(milliseconds: number): Promise<unknown> } = {
      now: () => Date.now(),
      wait: (milliseconds) => pause(milliseconds),
    },
  ) {}

  /** The first start; later ones follow by themselves. */
  async begin(): Promise<R> {
    this.running = this.start();
    const first = await this.running;
    void this.watch(first);
    return first;
  }

  async stop(): Promise<void> {
    this.stopping = true;
    await (await this.running?.catch(() => null))?.stop();
  }

  private async watch(first: R): Promise<void> {
    let now: R | null = first;
    for (;;) {
      if (now !== null) await now.ended;
      if (this.stopping) return;
      this.ends.push(this.clock.now());
      const lately = this.ends.filter((time) => this.clock.now() - time < WITHIN).length;
      if (lately >= MOST) {
        this.told.gaveUp(`${this.what} has ended ${lately} times within a minute; the last lines above say why.`);
        return;
      }
      const wait = FIRST_WAIT * 2 ** (lately - 1);
      this.told.say(`${this.what} exited unexpectedly. Restarting in ${wait / 1000} s.`);
      await this.clock.wait(wait);
      if (this.stopping) return;
      this.running = this.start();
      now = await this.running.catch((error: unknown) => {
        this.told.say(error instanceof Error ? error.message : String(error));
        return null;
      });
    }
  }
}
