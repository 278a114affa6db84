import { expressionsOf } from '../../document/expressions';
import { collections } from '../../document/level';
import type { Thing } from '../../document/level';
import { pointer } from '../../vocabulary/paths';
import type { Visitor } from '../../document/people';
import { firstOf } from './warning';
import type { WarningRule, CheckContext, Warning } from './warning';

/** A visitor is pushed or somebody steps into the way, and the visitor keeps its controls meanwhile. */
export const slipsPast: WarningRule = (look) =>
  look.level.chains.flatMap((chain, at): Warning[] => {
    const pushes = chain.steps.findIndex((step) => step.kind === 'push' && step.who.by === 'cause');
    const comes = chain.steps.some((step) => step.kind === 'walk-visitor' && step.who.by === 'name');
    if (pushes < 0 || !comes || chain.steps.some(({ kind }) => kind === 'hold-visitor')) return [];
    const first = chain.steps[0]!;
    const step = (kind: 'hold-visitor' | 'release-visitor') => ({
      id: `${first.id}-${kind}`.slice(0, 64),
      kind,
      start: 'after' as const,
      delay: 0,
      who: { by: 'cause' as const },
    });
    return [
      {
        kind: 'slips-past',
        weight: 'warning',
        thing: chain.id,
        also: [],
        path: `/chains/${at}`,
        reason: `The visitor can walk away while ${look.name(chain.id)} runs.`,
        mend: 'Lock its controls until the end.',
        edit: look.set(chain.id, '/steps', [step('hold-visitor'), ...chain.steps, step('release-visitor')]),
      },
    ];
  });

/** A door opens for each who enters and closes for each who leaves: it closes on the second. */
export const closesOnTheSecond: WarningRule = (look) =>
  look.causes.flatMap(({ chain, cause, own, path }): Warning[] => {
    if (cause.on !== 'leave' || cause.counts !== 'each' || cause.filter.named !== '') return [];
    const causes = look.causesOf(cause.of);
    const opened = look.once(causes, 'opened', (all) => openedBy(look, all));
    const closes = chain.steps.find(
      (step) =>
        step.kind === 'close' &&
        look.once(look.targets(step), `opened by ${cause.of}`, (ids) => ids.some((id) => opened.has(id))),
    );
    if (closes === undefined) return [];
    const { kinds } = cause.filter;
    const may = look.level.visitors.filter((one) => one.raisesOverlaps && (kinds.length === 0 || kinds.includes(one.kind)));
    if (may.length < 2) return [];
    const also = look.once(look.targets(closes), 'first', firstOf);
    return [
      {
        kind: 'closes-on-the-second',
        weight: 'warning',
        thing: chain.id,
        also,
        path,
        reason: `${look.name(chain.id)} closes ${look.name(also[0]!)} when anyone leaves, while another may be there still.`,
        mend: 'Let only the last one out count.',
        edit: look.set(chain.id, `${own}/counts`, 'first-and-last'),
      },
    ];
  });

/** What opens when somebody enters. */
function openedBy(look: CheckContext, causes: readonly CheckContext['causes'][number][]): ReadonlySet<string> {
  const lists = new Set<readonly string[]>();
  for (const { cause, chain } of causes)
    if (cause.on === 'enter') for (const step of chain.steps) if (step.kind === 'open') lists.add(look.targets(step));
  return new Set([...lists].flat());
}

/** Something that is claimed, and that opens to others than its owner. */
export const opensToAnybody: WarningRule = (look) =>
  look.causes.flatMap(({ chain, cause, own, path }): Warning[] => {
    if (cause.filter.ownerOnly || chain.guard.includes('owner(')) return [];
    return chain.steps.flatMap((step) => {
      if (step.kind !== 'open' && step.kind !== 'make-passable') return [];
      const id = cause.of;
      if (!look.actsOn(step, id) || look.stepsOn(id, ['claim']).length === 0) return [];
      return [
        {
          kind: 'opens-to-anybody',
          weight: 'warning' as const,
          thing: chain.id,
          also: [id],
          path,
          reason: `${look.name(id)} has an owner, but ${look.name(chain.id)} opens it for everyone.`,
          mend: 'Let only its owner count.',
          edit: look.set(chain.id, `${own}/filter/ownerOnly`, true),
        },
      ];
    });
  });

/** A claim that is tried for everybody who comes: the sign beside it is written anew each time. */
export const claimedAgain: WarningRule = (look) =>
  look.steps.flatMap(({ chain, step, path }): Warning[] => {
    if (step.kind !== 'claim' || chain.steps.length < 2 || chain.guard.includes('owner(')) return [];
    if (chain.causes.every(({ limit, filter }) => limit !== null || filter.ownerOnly)) return [];
    const [id] = look.targets(step);
    if (id === undefined) return [];
    return [
      {
        kind: 'claimed-again',
        weight: 'warning',
        thing: chain.id,
        also: [id],
        path,
        reason: `${look.name(chain.id)} runs for every visitor, not only the first.`,
        mend: 'Ask that it has no owner yet.',
        edit: look.set(
          chain.id,
          '/guard',
          chain.guard === '' ? `owner("${id}") == ""` : `(${chain.guard}) && owner("${id}") == ""`,
        ),
      },
    ];
  });

/** Which facts a level's conditions ask for, with who asks. */
function asked(look: CheckContext): { id: string; by: string; path: string }[] {
  return collections.flatMap((collection) =>
    (look.level[collection] as Thing[]).flatMap((thing, at) =>
      expressionsOf(collection, thing).flatMap(({ text, path }) =>
        [...text.matchAll(/\b(?:flag|counter)(?:Of)?\("([a-z0-9-]+)"/g)].map(([, id = '']) => ({
          id,
          by: thing.id,
          path: pointer([collection, at]) + path,
        })),
      ),
    ),
  );
}

/** The counters that are raised when something is collected. */
function countersOf({ level }: CheckContext): ReadonlySet<string> {
  return new Set(level.fixtures.flatMap((one) => ('counter' in one ? [one.counter] : [])));
}

/** A flag or a counter that something waits for, and that nothing ever changes. */
export const neverChanges: WarningRule = (look) => {
  const seen = new Set<string>();
  const collected = countersOf(look);
  const changes = (id: string): boolean => collected.has(id) || look.stepsOn(id, ['set-flag', 'set-counter']).length > 0;
  return asked(look).flatMap(({ id, by, path }): Warning[] => {
    const found = look.things.get(id);
    if (found === undefined || changes(id) || seen.has(`${id} ${by}`)) return [];
    seen.add(`${id} ${by}`);
    return [
      {
        kind: 'never-changes',
        weight: 'warning',
        thing: by,
        also: [id],
        path,
        reason: `${look.name(by)} checks ${look.name(id)}, but nothing changes it.`,
        mend: `Let a step set ${look.name(id)}, or ask for another.`,
        edit: null,
      },
    ];
  });
};

/** A flag that arms a chain, is set on and never off again: what it arms fires again and again. */
export const neverDisarmed: WarningRule = (look) =>
  look.level.chains.flatMap((chain, at): Warning[] => {
    const sent = chain.steps.some(({ kind }) => kind === 'teleport' || kind === 'warp');
    if (!sent || chain.causes.every(({ limit }) => limit !== null)) return [];
    const flags = [...chain.guard.matchAll(/(!?)\bflag\("([a-z0-9-]+)"\)/g)].flatMap(([, not, id = '']) =>
      not === '' ? [id] : [],
    );
    return flags.flatMap((id): Warning[] => {
      const sets = look.stepsOn(id, ['set-flag']);
      const on = sets.some(({ step }) => step.kind === 'set-flag' && step.to === true);
      const off = sets.some(({ step }) => step.kind === 'set-flag' && step.to !== true);
      if (!on || off) return [];
      const step = {
        id: `${chain.steps[0]!.id}-off`.slice(0, 64),
        kind: 'set-flag',
        start: 'after',
        delay: 0,
        flag: id,
        to: false,
      };
      return [
        {
          kind: 'never-disarmed',
          weight: 'warning',
          thing: chain.id,
          also: [id],
          path: `/chains/${at}/guard`,
          reason: `${look.name(id)} arms ${look.name(chain.id)} and is never turned off, so ${look.name(chain.id)} fires every time.`,
          mend: 'Turn it off after it fires.',
          edit: look.set(chain.id, '/steps', [step, ...chain.steps]),
        },
      ];
    });
  });

/** A mover that ends with poses in which nothing moves any more: whoever waits for its end waits too long. */
export const idleTail: WarningRule = (look) =>
  look.level.fixtures.flatMap((one, at): Warning[] => {
    if (!('keyframes' in one) || one.keyframes.length < 2) return [];
    const [before, last] = one.keyframes.slice(-2);
    const rests =
      before!.turn === last!.turn && before!.by.x === last!.by.x && before!.by.y === last!.by.y && before!.by.z === last!.by.z;
    if (!rests || last!.seconds === 0) return [];
    return [
      {
        kind: 'idle-tail',
        weight: 'warning',
        thing: one.id,
        also: [],
        path: `/fixtures/${at}/keyframes`,
        reason: `${look.name(one.id)} is idle for its last ${last!.seconds} s, and steps that wait for it wait that long too.`,
        mend: 'Trim the idle tail.',
        edit: look.set(one.id, '/keyframes', one.keyframes.slice(0, -1)),
      },
    ];
  });

/** A sunken door still shows more than a visitor can step over. */
export const tooMuchShowing: WarningRule = (look) => {
  const ridden = new Set(look.level.zones.map(({ attachedTo }) => attachedTo));
  return look.level.fixtures.flatMap((one, at): Warning[] => {
    if (!('showing' in one) || one.manner !== 'sink' || one.showing === null || one.showing <= look.level.stepHeight) return [];
    // What is stood on may stay as high as it likes.
    if (ridden.has(one.id)) return [];
    return [
      {
        kind: 'too-much-showing',
        weight: 'warning',
        thing: one.id,
        also: [],
        path: `/fixtures/${at}/showing`,
        reason: `Open, ${look.name(one.id)} leaves ${one.showing} m showing, and visitors step up ${look.level.stepHeight} m at most.`,
        mend: 'Reduce the part left showing.',
        edit: look.set(one.id, '/showing', Math.min(0.1, look.level.stepHeight)),
      },
    ];
  });
};

/** Others than players gather what is to be collected. */
export const gatheredByOthers: WarningRule = (look) => {
  const firsts = new Map<string, Visitor>();
  for (const one of look.level.visitors) if (one.kind !== 'player' && !firsts.has(one.kind)) firsts.set(one.kind, one);
  return look.level.fixtures.flatMap((one, at): Warning[] => {
    if (!('takenBy' in one)) return [];
    const other = [...firsts.values()].find(({ kind }) => one.takenBy.includes(kind));
    if (other === undefined) return [];
    return [
      {
        kind: 'gathered-by-others',
        weight: 'warning',
        thing: one.id,
        also: [other.id],
        path: `/fixtures/${at}/takenBy`,
        reason: `${look.name(other.id)} can collect ${look.name(one.id)}, before any player does.`,
        mend: 'Let only players collect it.',
        edit: look.set(one.id, '/takenBy', ['player']),
      },
    ];
  });
};

/** Nothing that can be laid on a plate is heavy enough. */
export const tooLight: WarningRule = (look) => {
  const heaviestIn = new Map<string, Visitor>();
  for (const one of look.level.visitors)
    if (one.kind === 'prop' && one.mass > (heaviestIn.get(one.room)?.mass ?? -1)) heaviestIn.set(one.room, one);
  return look.level.fixtures.flatMap((one, at): Warning[] => {
    if (!('threshold' in one) || one.by !== 'mass') return [];
    const prop = heaviestIn.get(one.room);
    if (prop === undefined || prop.mass >= one.threshold) return [];
    const heaviest = prop.mass;
    return [
      {
        kind: 'too-light',
        weight: 'warning',
        thing: one.id,
        also: [prop.id],
        path: `/fixtures/${at}/threshold`,
        reason: `${look.name(one.id)} is pressed by ${one.threshold} kg, and no prop in its room weighs more than ${heaviest} kg.`,
        mend: `Set the threshold to ${heaviest} kg.`,
        edit: look.set(one.id, '/threshold', heaviest),
      },
    ];
  });
};
