import { kindOfCause } from '../../kinds/causes';
import { nearest } from '../../vocabulary/nearest';
import type { WarningRule, CheckContext, Warning } from './warning';

/** A signal that is sent, and that no chain listens to; or only as heard by what it is not addressed to. */
export const unheardSignals: WarningRule = (look) =>
  look.steps.flatMap(({ chain, step, own, path }): Warning[] => {
    if (step.kind !== 'signal' || step.signal === '') return [];
    const all = look.causesOf(step.signal);
    const listening = look.once(all, 'listening', () => all.filter(({ cause }) => cause.on === 'signal'));
    const { address } = step;
    const said = { kind: 'unheard-signal', weight: 'warning' as const, thing: chain.id, also: [step.signal], path };
    if (listening.length === 0)
      return [
        {
          ...said,
          reason: `${look.name(chain.id)} sends ${look.name(step.signal)}, but no chain listens.`,
          mend: 'Add a chain that listens, or send another signal.',
          edit: null,
        },
      ];
    if (address.to === 'all') return [];
    const heard = look.once(listening, address.to === 'tag' ? `tag ${address.tag}` : 'near', () =>
      listening.some(({ cause }) => {
        const hearer = look.things.get(cause.hears)?.thing as { tags?: string[] } | undefined;
        return hearer !== undefined && (address.to !== 'tag' || hearer.tags?.includes(address.tag) === true);
      }),
    );
    if (heard) return [];
    const who = address.to === 'tag' ? `what is tagged “${address.tag}”` : 'what is near';
    return [
      {
        ...said,
        reason: `${look.name(chain.id)} sends ${look.name(step.signal)} to ${who}, but no chain listens to it as such a thing.`,
        mend: 'Set “heard by” in the chain to a matching thing, or send it to all.',
        edit: look.set(chain.id, `${own}/address`, { to: 'all' }),
      },
    ];
  });

interface Use {
  tag: string;
  thing: string;
  /** Where it stands in its thing. */
  own: string;
  path: string;
  among: 'visitors' | 'things';
}

function usesOf(look: CheckContext): Use[] {
  const found: Use[] = [];
  for (const { chain, cause, own, path } of look.causes) {
    for (const field of ['anyOf', 'allOf'] as const)
      cause.filter[field].forEach((tag, at) =>
        found.push({
          tag,
          thing: chain.id,
          own: `${own}/filter/${field}/${at}`,
          path: `${path}/filter/${field}/${at}`,
          among: 'visitors',
        }),
      );
  }
  for (const fixture of look.level.fixtures) {
    if (!('filter' in fixture)) continue;
    for (const field of ['anyOf', 'allOf'] as const)
      fixture.filter[field].forEach((tag, at) => {
        const own = `/filter/${field}/${at}`;
        found.push({ tag, thing: fixture.id, own, path: look.pathOf(fixture.id) + own, among: 'visitors' });
      });
  }
  for (const { chain, step, own, path } of look.steps) {
    if ('tagged' in step && step.tagged !== '')
      found.push({ tag: step.tagged, thing: chain.id, own: `${own}/tagged`, path: `${path}/tagged`, among: 'things' });
    if ('who' in step && step.who.by === 'tag')
      found.push({ tag: step.who.tag, thing: chain.id, own: `${own}/who/tag`, path: `${path}/who/tag`, among: 'visitors' });
    if (step.kind === 'signal' && step.address.to === 'tag')
      found.push({
        tag: step.address.tag,
        thing: chain.id,
        own: `${own}/address/tag`,
        path: `${path}/address/tag`,
        among: 'things',
      });
  }
  return found;
}

/** A tag that is asked for and that nothing has: it differs from another by a letter or a capital, or was never given. */
export const strangeTags: WarningRule = (look) => {
  const { visitors, zones, fixtures } = look.level;
  const had = {
    visitors: new Set(visitors.flatMap(({ tags }) => tags)),
    things: new Set([...zones, ...fixtures, ...visitors].flatMap(({ tags }) => tags)),
  };
  return usesOf(look).flatMap(({ tag, thing, own, path, among }): Warning[] => {
    if (had[among].has(tag)) return [];
    const meant = look.once(had[among], tag, (tags) => {
      const known = [...tags];
      return known.find((one) => one.toLowerCase() === tag.toLowerCase()) ?? nearest(tag, known);
    });
    const whom = among === 'visitors' ? 'no visitor' : 'nothing';
    return [
      {
        kind: 'strange-tag',
        weight: 'warning',
        thing,
        also: [],
        path,
        reason: `${look.name(thing)} asks for the tag “${tag}”, which ${whom} in this level has.`,
        mend: meant === null ? 'Add the tag to the visitor, or change the filter.' : `Ask for “${meant}” instead.`,
        edit: meant === null ? null : look.set(thing, own, meant),
      },
    ];
  });
};

/** Tags that differ only by capitals, spaces or hyphens: whoever asks for the one does not find what has the other. */
export const similarTags: WarningRule = (look) => {
  const { visitors, zones, fixtures } = look.level;
  const first = new Map<string, { tag: string; thing: string }>();
  const told = new Set<string>();
  const found: Warning[] = [];
  const read = (tag: string, thing: string, path: string, own: string): void => {
    const bare = tag.toLowerCase().replace(/[\s_-]/g, '');
    const before = first.get(bare);
    if (before === undefined) first.set(bare, { tag, thing });
    else if (before.tag !== tag && !told.has(tag)) {
      told.add(tag);
      found.push({
        kind: 'similar-tags',
        weight: 'warning',
        thing,
        also: [before.thing],
        path,
        reason: `${look.name(thing)} has the tag “${tag}”, and ${look.name(before.thing)} has “${before.tag}”: they are two tags.`,
        mend: `Use “${before.tag}” for both, if one is meant.`,
        edit: look.set(thing, own, before.tag),
      });
    }
  };
  for (const [collection, list] of Object.entries({ visitors, zones, fixtures }))
    list.forEach(({ id, tags }, at) =>
      tags.forEach((tag, place) => read(tag, id, `/${collection}/${at}/tags/${place}`, `/tags/${place}`)),
    );
  return found;
};

/** A chain that nothing sets off, or that does nothing. */
export const idleChains: WarningRule = (look) =>
  look.level.chains.flatMap((chain, at): Warning[] => {
    const own = { thing: chain.id, also: [], path: `/chains/${at}`, edit: null };
    const started = chain.causes.length > 0 || look.stepsOn(chain.id, ['start-chain']).length > 0;
    const name = `“${chain.name.trim()}”`;
    return [
      ...(!started
        ? [
            {
              ...own,
              kind: 'no-cause',
              weight: 'warning' as const,
              reason: `${name} has no cause.`,
              mend: 'Give it a cause.',
            },
          ]
        : []),
      ...(chain.steps.length === 0
        ? [{ ...own, kind: 'no-steps', weight: 'warning' as const, reason: `${name} has no steps.`, mend: 'Add a step.' }]
        : []),
    ];
  });

/** Nobody's kind was asked for, and there are others about than players. */
export const anybodySetsItOff: WarningRule = (look) => {
  const others = look.level.visitors.filter(({ kind, raisesOverlaps }) => kind !== 'player' && raisesOverlaps);
  if (others.length === 0) return [];
  return look.causes.flatMap(({ chain, cause, own, path }): Warning[] => {
    const { kinds, anyOf, allOf, noneOf, named, ownerOnly } = cause.filter;
    const asks = kinds.length + anyOf.length + allOf.length + noneOf.length > 0 || named !== '' || ownerOnly;
    if (asks || kindOfCause(cause.on).saidOf !== 'visitor') return [];
    return [
      {
        kind: 'anybody',
        weight: 'remark',
        thing: chain.id,
        also: [cause.of],
        path,
        reason: `Any visitor triggers ${look.name(chain.id)}, including ${listedNames(
          look,
          others.slice(0, 2).map(({ id }) => id),
        )}.`,
        mend: 'Let only players count, if that is not meant.',
        edit: look.set(chain.id, `${own}/filter/kinds`, ['player']),
      },
    ];
  });
};

function listedNames(look: CheckContext, ids: string[]): string {
  return ids.map((id) => look.name(id)).join(' and ');
}

/** Only kinds of visitor count of which nobody raises overlaps. */
export const silentVisitors: WarningRule = (look) =>
  look.causes.flatMap(({ chain, cause, path }): Warning[] => {
    if (!kindOfCause(cause.on).fromOverlap) return [];
    const { kinds, anyOf, named } = cause.filter;
    const first = look.once(look.level.visitors, JSON.stringify([kinds, anyOf, named]), (visitors) => {
      const counts = visitors.filter(
        (one) =>
          (kinds.length === 0 || kinds.includes(one.kind)) &&
          (anyOf.length === 0 || anyOf.some((tag) => one.tags.includes(tag))) &&
          (named === '' || named === one.id),
      );
      return counts.some(({ raisesOverlaps }) => raisesOverlaps) ? undefined : counts[0];
    });
    if (first === undefined) return [];
    return [
      {
        kind: 'silent-visitor',
        weight: 'warning',
        thing: first.id,
        also: [chain.id],
        path,
        reason: `Only ${look.name(first.id)} can trigger ${look.name(chain.id)}, but it raises no overlaps.`,
        mend: 'Turn on “raises overlaps”.',
        edit: look.set(first.id, '/raisesOverlaps', true),
      },
    ];
  });
