import { clausesOf } from '../../conditions/clauses';
import type { Step } from '../../kinds/steps';
import type { WarningRule, CheckContext, Warning } from './warning';

interface Side {
  field: string;
  /** What the step makes of it. */
  to: boolean;
  word: string;
  opposite: readonly Step['kind'][];
}

const sides: Partial<Record<Step['kind'], Side>> = {
  show: { field: 'shown', to: true, word: 'shown', opposite: ['hide', 'collect'] },
  hide: { field: 'shown', to: false, word: 'hidden', opposite: ['show'] },
  'make-solid': { field: 'solid', to: true, word: 'solid', opposite: ['make-passable'] },
  'make-passable': { field: 'solid', to: false, word: 'passable', opposite: ['make-solid'] },
  enable: { field: 'enabled', to: true, word: 'enabled', opposite: ['disable'] },
  disable: { field: 'enabled', to: false, word: 'disabled', opposite: ['enable'] },
};

/** Steps that make something what it is from the start, and that nothing makes otherwise: it is there from the start. */
export const thereFromTheStart: WarningRule = function* (look) {
  const asked = sidesIn(look);
  for (const [id, { thing }] of look.things) {
    for (const [kind, side] of asked) {
      if ((thing as unknown as Record<string, unknown>)[side.field] !== side.to) continue;
      const steps = look.stepsOn(id, [kind]);
      const [first] = steps;
      if (first === undefined || look.stepsOn(id, side.opposite).length > 0) continue;
      const chains = look.chainsOf(steps);
      const others = chains.length > 1 ? ', as others do,' : '';
      yield {
        kind: 'there-from-the-start',
        weight: 'warning',
        thing: id,
        also: chains,
        path: first.path,
        reason: `${look.name(first.chain.id)} makes${others} ${look.name(id)} ${side.word}, but it starts that way.`,
        mend: `Let it start otherwise.`,
        edit: look.set(id, `/${side.field}`, !side.to),
      };
    }
  }
};

/** The sides that any step of a level brings about. */
function sidesIn(look: CheckContext): [Step['kind'], Side][] {
  return look.once(look.steps, 'sides', (steps) => {
    const kinds = new Set(steps.map(({ step }) => step.kind));
    return (Object.entries(sides) as [Step['kind'], Side][]).filter(([kind]) => kinds.has(kind));
  });
}

/** A watch that holds from the start never becomes true, unless it says so then. */
export const activeFromTheStart: WarningRule = (look) =>
  look.level.watches.flatMap((watch, at): Warning[] => {
    if (watch.fromStart || !holdsAtStart(look, watch.when)) return [];
    if (!look.causesOf(watch.id).some(({ cause }) => cause.on === 'became-true')) return [];
    return [
      {
        kind: 'active-from-the-start',
        weight: 'warning',
        thing: watch.id,
        also: [],
        path: `/watches/${at}`,
        reason: `${look.name(watch.id)} is true from the start, so “becomes true” does not fire.`,
        mend: 'Let it become true at the start, or start the state otherwise.',
        edit: look.set(watch.id, '/fromStart', true),
      },
    ];
  });

function holdsAtStart(look: CheckContext, text: string): boolean {
  const read = clausesOf(text);
  if (read === null || read.clauses.length === 0) return false;
  const answers = read.clauses.map(({ of, asks, number }) => {
    const thing = look.things.get(of)?.thing as unknown as { on?: unknown; value?: unknown; open?: unknown } | undefined;
    switch (asks) {
      case 'flag-on':
        return thing?.on === true;
      case 'flag-off':
        return thing?.on === false;
      case 'counter-least':
        return Number(thing?.value) >= number;
      case 'counter-most':
        return Number(thing?.value) <= number;
      case 'counter-is':
        return Number(thing?.value) === number;
      case 'open':
        return thing?.open === true;
      default:
        return false;
    }
  });
  return read.join === 'and' ? answers.every(Boolean) : answers.some(Boolean);
}

/** A visitor whose control is held by a chain and that nothing gives it back to. */
export const neverReleased: WarningRule = (look) => {
  if (look.steps.some(({ step }) => step.kind === 'release-visitor')) return [];
  return look.level.chains.flatMap((chain, at): Warning[] => {
    const holds = chain.steps.findIndex(({ kind }) => kind === 'hold-visitor');
    if (holds < 0) return [];
    const held = chain.steps[holds] as Extract<Step, { kind: 'hold-visitor' }>;
    const release = { ...held, id: `${held.id}-release`.slice(0, 64), kind: 'release-visitor', start: 'after', delay: 0 };
    return [
      {
        kind: 'never-released',
        weight: 'warning',
        thing: chain.id,
        also: [],
        path: `/chains/${at}/steps/${holds}`,
        reason: `${look.name(chain.id)} locks its visitor’s controls and never unlocks them.`,
        mend: 'Release the visitor at the end.',
        edit: look.set(chain.id, '/steps', [...chain.steps, release]),
      },
    ];
  });
};
