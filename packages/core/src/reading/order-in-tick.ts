import type { Entry } from '../ledger/entry';
import type { Ledger } from '../ledger/ledger';
import type { HouseRules } from '../vocabulary/rules';

/** The parts of a tick, in their order (docs/order.md); `outside` for what only begins or ends the ledger. */
type Phase = 'due' | 'move' | 'sense' | 'watch' | 'in turn' | 'outside';

/** An entry among those of its tick: where in the tick it comes from, and the house rule that put it after the one before it. */
export interface InTick {
  entry: Entry;
  phase: Phase;
  /** The rule of the house without which it might come before the one before it; null where nothing but the contract says so. */
  rule: keyof HouseRules | null;
}

const sensed = new Set<Entry['kind']>(['enter', 'leave', 'missed', 'bump', 'press', 'release', 'arrived-inside']);
/** What comes of moving; all else that has no cause in its tick was scheduled. */
const moved = new Set<Entry['kind']>(['arrived', 'opened', 'closed', 'blocked', 'use']);
const overlaps = new Set<Entry['kind']>(['enter', 'leave', 'missed', 'bump']);

/** The entries of a tick in their order, each with the part of the tick that it comes from, and the rule that put it there. */
export function orderInTick(ledger: Ledger, tick: number): InTick[] {
  const own: Entry[] = [];
  for (let number = firstOf(ledger, tick); number <= ledger.length; number++) {
    const entry = ledger.at(number)!;
    if (entry.tick !== tick) break;
    own.push(entry);
  }
  const first = own[0]?.number ?? 0;
  // What is due comes first in a tick: after anything else it is the turn of what waited for that.
  let isLater = false;
  return own.map((entry, at) => {
    const before = own[at - 1];
    let phase = phaseOf(entry, first);
    if (phase === 'due' && isLater) phase = 'in turn';
    isLater ||= phase === 'move' || phase === 'sense' || phase === 'watch';
    return { entry, phase, rule: before === undefined ? null : ruleBetween(before, entry, own, first) };
  });
}

function firstOf(ledger: Ledger, tick: number): number {
  let [low, high] = [1, ledger.length + 1];
  while (low < high) {
    const middle = (low + high) >> 1;
    if (ledger.at(middle)!.tick < tick) low = middle + 1;
    else high = middle;
  }
  return low;
}

function phaseOf({ kind, cause }: Entry, first: number): Phase {
  if (kind === 'start' || kind === 'end' || kind === 'runaway') return 'outside';
  if (kind === 'became-true' || kind === 'became-false') return 'watch';
  // What follows from something of the same tick has its turn in the queue.
  if (cause !== null && cause >= first && !sensed.has(kind)) return 'in turn';
  if (sensed.has(kind)) return 'sense';
  return moved.has(kind) ? 'move' : 'due';
}

/** The house rule that puts one entry after another of its tick; null if none does. */
function ruleBetween(before: Entry, entry: Entry, own: readonly Entry[], first: number): keyof HouseRules | null {
  if (entry.kind === 'became-true' || entry.kind === 'became-false') return 'watches';
  const isListening = (one: Entry): boolean =>
    one.chain !== null && (one.kind === 'chain-started' || (one.kind === 'held' && one.what !== null));
  if (isListening(entry)) {
    // Another chain was tried before it for the same event.
    const other = own.find(
      (one) => one.number < entry.number && one.cause === entry.cause && isListening(one) && one.chain !== entry.chain,
    );
    if (other !== undefined) return 'listeners';
  }
  if (overlaps.has(entry.kind)) {
    const others = own.filter((one) => one.number < entry.number && overlaps.has(one.kind) && one.who !== null);
    const last = others.at(-1);
    if (last === undefined) return null;
    const isLeaving = (one: Entry): boolean => one.kind === 'leave';
    if (isLeaving(last) !== isLeaving(entry) && (last.kind === 'enter' || entry.kind === 'enter')) return 'sameTick';
    return last.kind === entry.kind ? 'pairs' : null;
  }
  // What a step has raised comes when its turn comes, or at once.
  const cause = entry.cause !== null && entry.cause >= first ? own.find((one) => one.number === entry.cause) : undefined;
  return cause?.kind === 'step' && entry.kind !== 'step' && (before.number === cause.number || before.cause !== cause.number)
    ? 'draining'
    : null;
}
