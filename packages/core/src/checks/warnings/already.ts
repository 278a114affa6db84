import { clausesOf } from '../../conditions/clauses';
import { expressions } from '../../document/expressions';
import type { Fixture } from '../../kinds/fixtures';
import type { Step } from '../../kinds/steps';
import { firstOf } from './warning';
import type { CheckContext, WarningRule } from './warning';

/** What is so from the start, or never will be: steps that change nothing, numbers that are never reached. */

/** Something that only one kind of step is told to, and that is so already when a rehearsal begins. */
interface Already {
  of: string;
  says: string;
  chains: string[];
  path: string;
  mend: string;
  sets: [path: string, value: unknown];
}

function* alreadyIn(look: CheckContext): Generator<Already> {
  const only = (id: string, kind: Step['kind'], others: readonly Step['kind'][]) => {
    if (look.stepsOn(id, others).length > 0) return null;
    const steps = look.stepsOn(id, [kind]);
    return steps.length === 0 ? null : { of: id, chains: look.chainsOf(steps), path: steps[0]!.path, steps };
  };
  for (const fixture of look.level.fixtures) {
    if (fixture.kind === 'door' && fixture.returnAfter === null) {
      const [kind, opposite] = fixture.open ? (['open', 'close'] as const) : (['close', 'open'] as const);
      const told = only(fixture.id, kind, [opposite, 'toggle', 'play', 'reset']);
      if (told !== null)
        yield {
          ...told,
          says: fixture.open ? 'open' : 'closed',
          mend: 'Let it start otherwise.',
          sets: ['/open', !fixture.open],
        };
    }
    if (fixture.kind === 'elevator' && fixture.whenLeft === 'stay' && fixture.returnAfter === null) {
      const told = only(fixture.id, 'send', ['play', 'reset']);
      if (told?.steps.every(({ step }) => step.kind === 'send' && step.stop === fixture.startsAt) === true)
        yield {
          ...told,
          says: `at stop ${fixture.startsAt}`,
          mend: 'Let it start at another stop.',
          sets: ['/startsAt', fixture.startsAt === 1 ? fixture.stops.length : 1],
        };
    }
  }
  for (const { id, on } of look.level.flags) {
    const told = only(id, 'set-flag', []);
    if (told?.steps.every(({ step }) => step.kind === 'set-flag' && step.to === on) === true)
      yield { ...told, says: on ? 'on' : 'off', mend: 'Let it start otherwise.', sets: ['/on', !on] };
  }
}

/** Steps that make something what it is from the start, and that nothing makes otherwise: they change nothing. */
export const alreadySo: WarningRule = function* (look) {
  for (const { of, says, chains, path, mend, sets } of alreadyIn(look))
    yield {
      kind: 'already-so',
      weight: 'warning',
      thing: of,
      also: chains,
      path,
      reason: `${look.name(of)} is ${says} from the start, and nothing makes it otherwise, so ${look.name(chains[0]!)} changes nothing.`,
      mend,
      edit: look.set(of, ...sets),
    };
};

/** How far a counter can rise by what is collected once; null where steps change it. */
function mostOf(look: CheckContext, id: string): { most: number; by: string[] } | null {
  const found = look.things.get(id);
  if (found?.collection !== 'counters' || look.stepsOn(id, ['set-counter']).length > 0) return null;
  const adding = look.once(look.level.fixtures, 'collectibles by counter', (all) => {
    const known = new Map<string, Extract<Fixture, { kind: 'collectible' }>[]>();
    for (const one of all) if (one.kind === 'collectible') known.set(one.counter, [...(known.get(one.counter) ?? []), one]);
    return known;
  });
  const own = adding.get(id) ?? [];
  if (own.length === 0) return null;
  const start = (found.thing as { value: number }).value;
  return { most: own.reduce((sum, { adds }) => sum + Math.max(0, adds), start), by: own.map((one) => one.id) };
}

/** More is asked of a counter than there is to be collected. */
export const moreThanThereIs: WarningRule = function* (look) {
  for (const { from, path, text } of expressions(look.level)) {
    for (const { of, asks, number } of clausesOf(text)?.clauses ?? []) {
      if (asks !== 'counter-least' && asks !== 'counter-is') continue;
      const reached = mostOf(look, of);
      if (reached === null || reached.most >= number) continue;
      yield {
        kind: 'more-than-there-is',
        weight: 'warning',
        thing: from,
        also: firstOf([of, ...reached.by]),
        path,
        reason: `${look.name(from)} asks for ${look.name(of)} to be ${number}, and all that is to be collected makes it ${reached.most}.`,
        mend: 'Ask for less, or let more be collected.',
        edit: null,
      };
    }
  }
};

/** A line of speech or a text that says nothing. */
export const saysNothing: WarningRule = function* (look) {
  for (const fixture of look.level.fixtures)
    if (fixture.kind === 'cue' && fixture.medium === 'speech' && fixture.line.trim() === '')
      yield {
        kind: 'says-nothing',
        weight: 'remark',
        thing: fixture.id,
        also: [],
        path: `${look.pathOf(fixture.id)}/line`,
        reason: `${look.name(fixture.id)} is a line of speech, and says nothing.`,
        mend: 'Write what is said.',
        edit: null,
      };
  for (const { chain, step, path } of look.steps) {
    if ((step.kind !== 'write-sign' && step.kind !== 'set-text') || step.text.trim() !== '') continue;
    const [of] = look.targets(step);
    // What says something at the start may well be wiped.
    const at = of === undefined ? undefined : (look.things.get(of)?.thing as { text?: string; value?: string } | undefined);
    if (of === undefined || (at?.text ?? at?.value ?? '') !== '') continue;
    const thing = look.things.get(of)!.thing;
    const isWritten = look.once(thing, step.kind, () =>
      look.stepsOn(of, [step.kind]).some((other) => 'text' in other.step && other.step.text.trim() !== ''),
    );
    if (isWritten) continue;
    yield {
      kind: 'says-nothing',
      weight: 'warning',
      thing: chain.id,
      also: [of],
      path: `${path}/text`,
      reason: `${look.name(chain.id)} writes nothing on ${look.name(of)}, which says nothing anyway.`,
      mend: 'Write what it shall say.',
      edit: null,
    };
  }
};

/** Of two chains that one event sets off for everybody, one makes of something what the other unmakes. */
export const contradicts: WarningRule = function* (look) {
  const undone: Partial<Record<Step['kind'], Step['kind']>> = {
    open: 'close',
    show: 'hide',
    'make-solid': 'make-passable',
    enable: 'disable',
  };
  const plain = look.steps.filter(({ chain }) => isPlain(chain));
  /** The chains that do something to a thing when something happens, by all three. */
  const doing = new Map<string, Chain>();
  for (const { chain, step } of plain) doing.set(`${eventOf(chain)} ${step.kind} ${targetOf(look, step)}`, chain);
  for (const { chain, step, path } of plain) {
    const opposite = undone[step.kind];
    const [of] = look.targets(step);
    const other = doing.get(`${eventOf(chain)} ${opposite} ${targetOf(look, step)}`);
    if (opposite !== undefined && of !== undefined && other !== undefined) {
      const both = `${look.name(chain.id)} and ${look.name(other.id)}`;
      yield {
        kind: 'contradicts',
        weight: 'warning',
        thing: chain.id,
        also: [other.id, of],
        path,
        reason: `The same event sets off ${both}, and one undoes in the same tick what the other does to ${look.name(of)}.`,
        mend: 'Let one of them wait for another event, or ask a condition.',
        edit: null,
      };
    }
  }
};

type Chain = CheckContext['causes'][number]['chain'];

/** Whether a chain does one thing at once whenever it is set off. */
function isPlain({ guard, delay, steps, enabled, causes }: Chain): boolean {
  return enabled && guard === '' && delay === 0 && causes.length === 1 && steps.length === 1 && steps[0]!.delay === 0;
}

/** What a step acts on: its tag, or the thing that it names. */
function targetOf(look: CheckContext, step: Step): string {
  return 'tagged' in step && step.tagged !== '' ? `# ${step.tagged}` : (look.targets(step)[0] ?? '');
}

/** What sets off a chain with one cause, and for whom. */
function eventOf({ causes: [cause] }: Chain): string {
  return JSON.stringify({ ...cause!, id: '' });
}
