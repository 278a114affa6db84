import { startsAs, startsSolid } from '../../kinds/fixtures';
import type { Zone } from '../../document/places';
import { putMachine } from './machines';
import type { WorldContext, ReportingContext, EventContext } from '../state/context';
import { wakeAffected } from './sleep';
import type { Part } from '../../kinds/steps/stage';
import { insideOf, setEnabled } from '../state/world';
import type { Waiter } from '../state/world';
import { raiseFromStep, touch } from '../state/raising';
import { factOf, valueKey } from '../state/facts';
import type { ChangedField } from '../../ledger/entry';

const fields: Record<Part, ChangedField> = {
  flag: 'on',
  counter: 'value',
  text: 'text',
  shown: 'shown',
  seeThrough: 'seeThrough',
  solid: 'solid',
  enabled: 'enabled',
};

/** Changes a part of the level's state at once, and raises `changed` if it was otherwise. Whether it was. */
export function change(
  ctx: EventContext,
  part: Part,
  id: string,
  to: boolean | string | number,
  cause: number,
  triggeredBy: string | null,
): boolean {
  const from = valueOf(ctx, part, id, triggeredBy);
  if (from === to) return false;
  put(ctx, part, id, to, triggeredBy);
  raiseFromStep(ctx, { kind: 'changed', who: triggeredBy, what: id, cause, details: { field: fields[part], from, to } });
  return true;
}

function valueOf(ctx: WorldContext, part: Part, id: string, triggeredBy: string | null): boolean | string | number {
  const { plan, state } = ctx;
  switch (part) {
    case 'flag':
    case 'counter':
    case 'text':
      return factOf(ctx, id, triggeredBy)!;
    case 'shown':
      return state.shown.get(id)!;
    case 'seeThrough':
      return state.seeThrough.has(id);
    case 'solid':
      return state.solid[plan.volumeOf.get(id)!]!;
    case 'enabled':
      return !state.disabled.has(id);
  }
}

function put(ctx: ReportingContext, part: Part, id: string, to: boolean | string | number, triggeredBy: string | null): void {
  const { plan, state } = ctx;
  const key = valueKey(plan, id, triggeredBy);
  switch (part) {
    case 'flag':
      state.flags.set(key, to as boolean);
      break;
    case 'counter':
      state.counters.set(key, to as number);
      break;
    case 'text':
      state.texts.set(key, to as string);
      break;
    case 'shown':
      state.shown.set(id, to as boolean);
      break;
    case 'seeThrough':
      setIn(state.seeThrough, id, to as boolean);
      break;
    case 'solid': {
      const number = plan.volumeOf.get(id)!;
      state.solid[number] = to as boolean;
      wakeAffected(ctx, plan.volumes[number]!.room);
      break;
    }
    case 'enabled':
      setEnabled(state, id, to as boolean);
      break;
  }
  touch(ctx, part === 'flag' || part === 'counter' || part === 'text' ? 'facts' : 'fixtures');
}

function setIn(set: Set<string>, id: string, is: boolean): void {
  if (is) set.add(id);
  else set.delete(id);
}

/** Lets those who are inside of a thing enter it, in listing order, because it was enabled. */
export function enterThoseInside(ctx: EventContext, id: string, cause: number): void {
  const { plan, state } = ctx;
  const number = plan.volumeOf.get(id);
  if (number === undefined) return;
  for (const order of [...insideOf(state, number)].sort((a, b) => a - b)) {
    const who = state.visitors[order]!.id;
    raiseFromStep(ctx, { kind: 'enter', who, what: id, cause, details: { enabled: true } }, { answer: 'entered' });
  }
}

/** Puts a fixture back as it was at the start; gives the steps that waited for its motion. */
export function resetFixture(ctx: EventContext, id: string, cause: number, triggeredBy: string | null): Waiter[] {
  const ended = restore(ctx, id);
  raiseFromStep(ctx, { kind: 'changed', who: triggeredBy, what: id, cause, details: { field: 'reset', from: false, to: true } });
  return ended;
}

/** Brings a zone or a fixture to its starting state, without a word. */
export function restore(ctx: ReportingContext, id: string): Waiter[] {
  const { plan, state } = ctx;
  const fixture = plan.fixtures.get(id);
  const number = plan.volumeOf.get(id);
  state.owners.delete(id);
  for (const key of [...state.took.keys()]) if (key === id || key.startsWith(`${id} `)) state.took.delete(key);
  touch(ctx, 'fixtures');
  if (fixture === undefined) {
    setEnabled(state, id, (plan.things.get(id)!.thing as Zone).enabled);
    return [];
  }
  setEnabled(state, id, fixture.enabled);
  state.shown.set(id, fixture.shown);
  setIn(state.seeThrough, id, fixture.seeThrough);
  state.collected.delete(id);
  const { on, text } = startsAs(fixture);
  if (on !== undefined) state.switches.set(id, { on, token: state.switches.get(id)!.token + 1, uses: 0 });
  if (text !== undefined) state.texts.set(id, text);
  if (number === undefined) return [];
  state.solid[number] = startsSolid(fixture);
  wakeAffected(ctx, plan.volumes[number]!.room);
  const course = plan.courses.get(id);
  return course === undefined ? [] : putMachine(ctx, id, course.starts);
}
