import type { Chain } from '../document/chains';
import type { Level } from '../document/level';
import { lookup, nameOf } from '../document/lookup';
import type { Entry } from '../ledger/entry';
import { nearestAt } from './approach';
import type { Run } from './approach';
import { entrySentence } from './entries';
import { at, nothing, quoted, reason, remedyOf, round } from './reason';
import type { Reason } from './reason';

/** The number of items of each kind that are listed for a moment. */
const LISTED_PER_KIND = 4;

/** Why nothing happened at a tick of a run, or what did: what was held, what was under way, and who was near or inside of what. */
export function whyNotAt(level: Level, run: Run, tick: number): Reason[] {
  return new Moment(level, run).of(tick);
}

class Moment {
  private readonly entries: readonly Entry[];

  constructor(
    private readonly level: Level,
    private readonly run: Run,
  ) {
    this.entries = [...run.ledger];
  }

  of(tick: number): Reason[] {
    const now = this.entries.filter((entry) => entry.tick === tick && entry.kind !== 'start' && entry.kind !== 'end');
    const seconds = `${round(tick / this.level.rate)} s`;
    const held = now.filter(({ kind }) => kind === 'held');
    const happened = now.filter(({ kind }) => kind !== 'held');
    const found: Reason[] = [];
    const [first] = happened;
    if (first !== undefined) {
      const more = happened.length === 1 ? '' : `, and ${happened.length - 1} more`;
      found.push(
        reason(
          `At ${seconds} ${this.say(first)}${more}.`,
          happened.map(({ number }) => number),
        ),
      );
    } else if (held.length === 0) found.push(this.nothingAt(tick, seconds));
    for (const entry of held) {
      const chain = lookup(this.level).get(entry.chain ?? '')?.thing as Chain | undefined;
      const remedy = chain === undefined ? nothing : remedyOf(this.level, chain, entry);
      found.push({ ...reason(`Held: ${this.say(entry)}.`, [entry.number]), ...remedy });
    }
    return [...found, ...this.underWay(tick), ...this.insideAt(tick)];
  }

  /** What came before and after a tick at which nothing was written. */
  private nothingAt(tick: number, seconds: string): Reason {
    const before = this.entries.findLast((entry) => entry.tick < tick && entry.kind !== 'start');
    const after = this.entries.find((entry) => entry.tick > tick && entry.kind !== 'end');
    const parts = [
      ...(before === undefined ? [] : [`the last before it, at ${at(before)}: ${this.say(before)}`]),
      ...(after === undefined ? ['nothing comes after it'] : [`the next, at ${at(after)}: ${this.say(after)}`]),
    ];
    return reason(
      `Nothing fired at ${seconds}; ${parts.join('; ')}.`,
      [before, after].flatMap((entry) => entry?.number ?? []),
    );
  }

  /** The chains that had started by a tick and were not over, and what of them comes next. */
  private underWay(tick: number): Reason[] {
    const begun = new Map<string, Entry>();
    for (const entry of this.entries) {
      if (entry.tick > tick) break;
      if (entry.chain === null) continue;
      if (entry.kind === 'chain-started') begun.set(entry.chain, entry);
      else if (entry.kind === 'chain-finished' || entry.kind === 'gave-up') begun.delete(entry.chain);
    }
    return [...begun].slice(0, LISTED_PER_KIND).map(([chain, started]) => {
      const next = this.entries.find(
        (one) => one.tick > tick && one.chain === chain && (one.kind === 'step' || one.kind === 'chain-finished'),
      );
      const then =
        next === undefined
          ? 'no more of its steps run'
          : next.kind === 'step'
            ? `next comes “${this.say(next)}”, at ${at(next)}`
            : `it is over at ${at(next)}`;
      return reason(`${this.name(chain)} had started at ${at(started)}: ${then}.`, [
        started.number,
        ...(next === undefined ? [] : [next.number]),
      ]);
    });
  }

  /** Who was inside of what that is listened to, since when; or, of those inside of nothing, what was nearest. */
  private insideAt(tick: number): Reason[] {
    const inside = new Map<string, Entry>();
    for (const entry of this.entries) {
      if (entry.tick > tick) break;
      const key = `${entry.who} ${entry.what}`;
      if (entry.kind === 'enter' || entry.kind === 'arrived-inside') inside.set(key, entry);
      else if (entry.kind === 'leave') inside.delete(key);
    }
    const within = new Set([...inside.values()].map(({ who }) => who));
    const stays = [...inside.values()].slice(0, LISTED_PER_KIND).map((entry) => {
      const listening = this.level.chains.some(({ causes }) => causes.some(({ on, of }) => of === entry.what && on === 'enter'));
      const since = `${this.name(entry.who!)} was inside of ${this.name(entry.what!)} since ${at(entry)}`;
      return reason(`${since}${listening ? ': entering it fires once, staying does not' : ''}.`, [entry.number]);
    });
    const near = this.level.visitors
      .filter(({ id, kind, inPlay }) => inPlay && kind !== 'prop' && !within.has(id))
      .flatMap((visitor) => nearestAt(this.level, this.run, visitor, tick) ?? [])
      .sort((a, b) => a.metres - b.metres)
      .slice(0, LISTED_PER_KIND)
      .map(({ visitor, of, metres }) => ({
        ...reason(`${this.name(visitor)} was not inside anything. Nearest: ${this.name(of)}, ${round(metres)} m away.`),
        tick,
      }));
    return [...stays, ...near];
  }

  private say(entry: Entry): string {
    return entrySentence(entry, (id) => nameOf(this.level, id), this.level);
  }

  private name(id: string): string {
    return quoted(this.level, id);
  }
}
