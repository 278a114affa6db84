import type { Fixture } from '../../kinds/fixtures';
import { kindOfFixture } from '../../kinds/fixtures';
import { stepNames } from '../../kinds/steps';
import type { CheckContext, WarningRule } from './warning';

/** The most steps on one thing, and things in one room, that are compared. */
const MAX_COMPARED = 20;

/** Two things within this distance are neighbours, in metres. */
const NEIGHBOUR_DISTANCE_M = 12;

/** The abilities for which a fixture is put there: what has one of these waits to be told. */
const told = new Set(['open', 'go to a stop', 'be written on', 'move']);

/**
 * A fixture that no step acts on, beside another of its kind that two chains do the same to: the second was probably meant for the first.
 */
export const wiredTwice: WarningRule = function* (look) {
  const doubles = new Map<string, Doubled[]>();
  for (const of of look.level.fixtures) {
    const found = doubled(look, of);
    const here = found === null ? [] : (doubles.get(`${of.kind} ${of.room}`) ?? []);
    if (found !== null && here.length < MAX_COMPARED) doubles.set(`${of.kind} ${of.room}`, [...here, found]);
  }
  if (doubles.size === 0) return;
  for (const one of look.level.fixtures) {
    const near = doubles.get(`${one.kind} ${one.room}`)?.find(({ of }) => distance(of, one) <= NEIGHBOUR_DISTANCE_M);
    if (near === undefined || !kindOfFixture(one.kind).can.some((what) => told.has(what)) || !isIdle(look, one)) continue;
    const [first, second] = near.steps;
    const both = `${look.name(first.chain.id)} and ${look.name(second.chain.id)}`;
    yield {
      kind: 'wired-twice',
      weight: 'warning',
      thing: second.chain.id,
      also: [one.id, near.of.id, first.chain.id],
      path: second.path,
      reason: `No step acts on ${look.name(one.id)}, while ${both} do the same to ${look.name(near.of.id)} beside it.`,
      mend: `Let ${look.name(second.chain.id)} act on ${look.name(one.id)}.`,
      edit: look.set(second.chain.id, `${second.own}/${second.field}`, one.id),
    };
  }
};

/** Whether nothing acts on a fixture, and nothing is waited for of it. */
function isIdle(look: CheckContext, one: Fixture): boolean {
  if (look.stepsOn(one.id, stepNames).length > 0 || look.causesOf(one.id).length > 0) return false;
  return !('running' in one && one.running);
}

type StepAt = CheckContext['steps'][number] & { field: string };

interface Doubled {
  of: Fixture;
  steps: [StepAt, StepAt];
}

/** The first two chains that do the same to a fixture, each by its name, though different things set them off; null if there are none. */
function doubled(look: CheckContext, of: Fixture): Doubled | null {
  const steps = look
    .namedOn(of.id)
    .slice(0, MAX_COMPARED)
    .flatMap((one): StepAt[] => {
      const field = Object.entries(one.step).find(([key, value]) => key !== 'id' && value === of.id)?.[0];
      return field === undefined ? [] : [{ ...one, field }];
    });
  for (const [at, first] of steps.entries()) {
    const sources = new Set(first.chain.causes.map((cause) => cause.of));
    const second = steps
      .slice(at + 1)
      .find(
        ({ chain, step }) =>
          chain !== first.chain &&
          JSON.stringify({ ...step, id: '' }) === JSON.stringify({ ...first.step, id: '' }) &&
          !chain.causes.some((cause) => sources.has(cause.of)),
      );
    if (second !== undefined) return { of, steps: [first, second] };
  }
  return null;
}

function distance({ at: a }: Fixture, { at: b }: Fixture): number {
  return Math.hypot(a.x - b.x, a.y - b.y);
}
