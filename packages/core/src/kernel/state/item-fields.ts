import { cause, keyedOf, restoredOf, same, token } from './fields';
import type { Fields, Restoring, Seen } from './fields';
import { chainOfRun, runNumber, waiterOrNone } from './run-fields';
import { stayIn, RESTORED_WALK_ENTRY } from './visitor-fields';
import type { ChainRun, QueueItem, World } from './world';

type ItemOf<D extends QueueItem['do']> = Extract<QueueItem, { do: D }>;

/** How one kind of item of the queue enters the key, and whether it is still to come or has been called off. */
interface ItemDeclaration<I extends QueueItem> {
  fields: Fields<Omit<I, 'do'>>;
  isStillToCome(item: I, world: World): boolean;
}

const always = (): boolean => true;
const runOf = ({ runs }: World, { chain, run }: { chain: string; run: number }): ChainRun | undefined =>
  runs.get(chain)?.find((one) => one.run === run);

export const items: { [D in QueueItem['do']]: ItemDeclaration<ItemOf<D>> } = {
  // Events are drained in the tick in which they happen: between two ticks there are none.
  event: { fields: { event: same(), after: same() }, isStillToCome: always },
  tell: { fields: { event: same(), entry: cause(1) }, isStillToCome: always },
  'begin-run': {
    fields: { run: runNumber, chain: chainOfRun },
    isStillToCome: (item, world) => runOf(world, item) !== undefined,
  },
  'begin-queued': { fields: { chain: same() }, isStillToCome: always },
  'start-step': {
    fields: { run: runNumber, chain: chainOfRun, step: same() },
    isStillToCome: (item, world) => runOf(world, item) !== undefined,
  },
  'finish-step': {
    fields: { run: runNumber, chain: chainOfRun, step: same(), gaveUp: same() },
    isStillToCome: (item, world) => runOf(world, item)?.steps[item.step] === 'running',
  },
  'until-held': { fields: { run: runNumber, step: same() }, isStillToCome: always },
  return: {
    fields: { machine: same(), token: token('It is that of its machine.'), cause: cause(1), triggeredBy: same() },
    isStillToCome: ({ machine, token }, { machines }) => machines.get(machine)!.token === token,
  },
  'spring-back': {
    fields: { switch: same(), token: token('It is that of its switch.'), cause: cause(1), triggeredBy: same() },
    isStillToCome: (item, { switches }) => switches.get(item.switch)!.token === item.token,
  },
  dwell: {
    fields: {
      volume: same(),
      visitor: same(),
      stay: { isCompared: true, why: 'It is the stay of its visitor.', restore: (_keyed, _from, { volume }) => stayIn(volume!) },
    },
    isStillToCome: ({ volume, visitor, stay }, { visitors }) => visitors[visitor]!.within.get(volume) === stay,
  },
  'cue-end': { fields: { cue: same(), cause: cause(1), triggeredBy: same(), waiter: waiterOrNone }, isStillToCome: always },
  take: {
    fields: {
      passage: same(),
      visitor: same(),
      event: same(),
      // Whether it is still walked to the passage by it: that ends when it is taken.
      cause: {
        key: (entry, { world }, { visitor }) => world.visitors[visitor]!.forced?.cause === entry,
        restore: (keyed) => (keyed === true ? RESTORED_WALK_ENTRY : 1),
      },
      holds: same(),
    },
    isStillToCome: always,
  },
  'give-back': { fields: { visitor: same(), cause: cause(1) }, isStillToCome: always },
};

/** Whether an item of the schedule has not been called off. */
export function isStillToCome(world: World, item: QueueItem): boolean {
  return (items[item.do] as ItemDeclaration<QueueItem>).isStillToCome(item, world);
}

/** An item in the key of its world. */
export function itemKey(item: QueueItem, seen: Seen): unknown[] {
  return [item.do, keyedOf(items[item.do].fields as unknown as Fields<QueueItem>, item, seen)];
}

/** An item from its key. */
export function itemFrom(keyed: unknown, from: Restoring): QueueItem {
  const [kind, fields] = keyed as [QueueItem['do'], unknown];
  return { ...restoredOf(items[kind].fields as unknown as Fields<QueueItem>, fields, from), do: kind } as QueueItem;
}
