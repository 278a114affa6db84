/** There was no place in time, or too many waited for one. */
export class NoPlace extends Error {
  override name = 'NoPlace';
}

/** Somebody who waits for a place. */
interface Waiting {
  sender: string;
  size: number;
  since: number;
  enter: () => void;
  giveUp: (error: NoPlace) => void;
  timer: NodeJS.Timeout;
}

/** Who has waited so long is next, however large, in milliseconds. */
const LONG = 6000;

/**
 * Room for so much at once, such as bytes that are held or documents that are read. Who finds none waits: of those who wait the senders
 * take turns, each with its smallest first, unless somebody has waited too long; whoever waits longer than the patience is refused.
 */
export class Places {
  private used = 0;
  private readonly waiting: Waiting[] = [];
  /** Who came last, the latest at the end: their turn is over. */
  private readonly served = new Map<string, number>();
  private turns = 0;

  constructor(
    private readonly total: number,
    private readonly patience: number,
    private readonly most = 512,
  ) {}

  /** Takes a place of a size, at once or in its turn; what is given lets go of it. Throws NoPlace. */
  async take(sender: string, size = 1): Promise<() => void> {
    const needs = Math.min(size, this.total);
    if (this.waiting.length === 0 && this.used + needs <= this.total) this.enter(sender, needs);
    else await this.wait(sender, needs);
    let held = true;
    return () => {
      if (!held) return;
      held = false;
      this.used -= needs;
      this.admit();
    };
  }

  private wait(sender: string, size: number): Promise<void> {
    if (this.waiting.length >= this.most) throw new NoPlace('Too many wait');
    return new Promise((enter, giveUp) => {
      const timer = setTimeout(() => {
        this.waiting.splice(this.waiting.indexOf(one), 1);
        giveUp(new NoPlace('It took too long until there was room'));
      }, this.patience);
      const one: Waiting = { sender, size, since: Date.now(), enter, giveUp, timer };
      this.waiting.push(one);
    });
  }

  private enter(sender: string, size: number): void {
    this.used += size;
    this.turns += 1;
    this.served.delete(sender);
    this.served.set(sender, this.turns);
    if (this.served.size > 1000) this.served.delete(this.served.keys().next().value!);
  }

  private admit(): void {
    for (let next = this.next(); next !== null && this.used + next.size <= this.total; next = this.next()) {
      this.waiting.splice(this.waiting.indexOf(next), 1);
      clearTimeout(next.timer);
      this.enter(next.sender, next.size);
      next.enter();
    }
  }

  private next(): Waiting | null {
    const [first] = this.waiting;
    if (first === undefined) return null;
    if (Date.now() - first.since > LONG) return first;
    return this.waiting.reduce((best, one) => (this.before(one, best) ? one : best));
  }

  /** Whether one who waits comes before another: whose sender was served longest ago, then who is smaller, then who came first. */
  private before(one: Waiting, other: Waiting): boolean {
    const turn = (waiting: Waiting): number => this.served.get(waiting.sender) ?? 0;
    return turn(one) < turn(other) || (turn(one) === turn(other) && one.size < other.size);
  }
}
