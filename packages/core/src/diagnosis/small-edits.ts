import type { Chain } from '../document/chains';
import type { Edit } from '../document/edits';
import { change } from '../document/edits';
import type { Collection, Level } from '../document/level';
import { lookup, nameOf } from '../document/lookup';
import type { Found } from '../document/lookup';
import { settingOf } from '../document/setting';
import { conditionWords } from '../conditions/by-names';
import { causeOffers, causePhrase, chainOffers, guardPhrase, mannerPhrase, stepOffers, stepPhrase } from '../sentences/chains';
import { describe, offersOf } from '../sentences/things';
import type { Offer, Phrase, Slot } from '../vocabulary/phrase';
import { slotText, spoken } from '../vocabulary/phrase';
import { kindOfStep, stepNames } from '../kinds/steps';
import type { Step } from '../kinds/steps';
import type { ThingWord } from '../kinds/words';
import { same } from '../vocabulary/same';
import { alternativesOf } from './alternatives';

/** A small change of one thing: something other in its sentence, or something more that can be said of it. */
export interface SmallEdit {
  thing: string;
  /** In a sentence, by names. */
  says: string;
  /** How far from likely it is: 0 for what is set wrong most often. */
  cost: number;
  /** Made when it is tried: most never are. Null where the document does not allow it. */
  edit: () => Edit | null;
}

/** A slot, where its sentence stands in the thing, and what else is set with it. */
interface LocatedEdit {
  base: string;
  slot: Slot;
}

/**
 * The small edits of a thing: each value of its sentences with what it might have been instead, and what its kind offers to say
 * besides; of a chain, the order of its steps too. Nothing is listed here by kind: a new kind brings its own with its sentences.
 */
export function smallEditsOf(level: Level, id: string, wanted: ReadonlySet<string>): SmallEdit[] {
  const found = lookup(level).get(id);
  if (found === undefined || found.collection === 'walks' || found.collection === 'rooms') return [];
  const slots = slotsOf(found);
  const edits = slots.flatMap((placed) => slotEdits(level, found, placed, wanted));
  if (found.collection === 'chains') {
    const chain = found.thing as Chain;
    edits.push(
      ...orderOfSteps(level, chain),
      ...otherSteps(level, chain),
      ...moreSteps(level, chain, wanted),
      ...switchedOn(level, found),
    );
  }
  return [...edits, ...offered(level, found)];
}

function slotEdits(level: Level, found: Found, { base, slot }: LocatedEdit, wanted: ReadonlySet<string>): SmallEdit[] {
  const name = (id: string): string => nameOf(level, id).trim();
  const { id } = found.thing;
  const path = base + slot.path;
  const likes = alikeOf(level, found, path);
  return alternativesOf(level, slot, likes, wanted).map(({ value, cost }) => ({
    thing: id,
    says: `In “${name(id)}”, ${changeWords(slot, value, name)}.`,
    cost: cost + dislike(path, found.collection),
    edit: () => {
      const set = settingOf(level, id, [{ path, value }]);
      return set.ok ? set.edit : null;
    },
  }));
}

/** "change “solid” to “passable”": with the label where the values alone do not say what they are. */
function changeWords(slot: Slot, value: unknown, name: (id: string) => string): string {
  const text = (one: unknown): string =>
    slot.input.kind === 'condition' && one !== '' ? conditionWords(String(one), name) : slotText({ ...slot, value: one }, name);
  const [from, to] = [text(slot.value), text(value)];
  if (slot.input.kind === 'number') return `change the ${slot.label} from ${from} to ${to}`;
  return `change “${from.replace(/^“|”$/g, '')}” to “${to.replace(/^“|”$/g, '')}”${slot.input.kind === 'choice' ? '' : ` (${slot.label})`}`;
}

/** Where a thing stands and how large it is was mostly meant so; that it is on, solid or in play is forgotten easily. */
function dislike(path: string, collection: Collection): number {
  // A visitor is rarely what is wrong: it is put where the walk begins, and made as it is in the game.
  if (collection === 'visitors' && /^\/(at|heading|body|kind)\b/.test(path)) return 7;
  if (/^\/(enabled|solid|shown|inPlay|raisesOverlaps|on)$/.test(path)) return 0;
  if (/^\/at\/|^\/heading$/.test(path)) return 5;
  if (/^\/(size|shape|body)\b/.test(path)) return 4;
  if (/^\/(room|group|kind|seeThrough|visible)$/.test(path)) return 4;
  return 1;
}

const alike = new WeakMap<Level, Map<string, unknown[]>>();
/** The number of values of similar things that are tried. */
const MOST_ALIKE = 8;

/** The values that others of its kind have at the same place; found for all places at once. */
function alikeOf(level: Level, { collection, word }: Found, path: string): readonly unknown[] {
  if (collection === 'chains') return [];
  let values = alike.get(level);
  if (values === undefined) {
    values = new Map<string, unknown[]>();
    for (const found of lookup(level).values()) {
      if (found.collection === 'chains' || found.collection === 'walks') continue;
      for (const { base, slot } of slotsOf(found)) {
        const key = `${found.collection} ${found.word} ${base}${slot.path}`;
        const own = values.get(key);
        if (own === undefined) values.set(key, [slot.value]);
        else if (own.length < MOST_ALIKE && !own.some((one) => same(one, slot.value))) own.push(slot.value);
      }
    }
    alike.set(level, values);
  }
  return values.get(`${collection} ${word} ${path}`) ?? [];
}

const known = new WeakMap<object, LocatedEdit[]>();

/** All values that the sentences of a thing have, with where they stand. */
function slotsOf({ collection, thing }: Found): LocatedEdit[] {
  let slots = known.get(thing);
  if (slots !== undefined) return slots;
  const of = (base: string, phrase: Phrase): LocatedEdit[] =>
    phrase.flatMap((part) => (typeof part === 'string' ? [] : [{ base, slot: part }]));
  if (collection === 'chains') {
    const chain = thing as Chain;
    slots = [
      ...chain.causes.flatMap((cause, at) => of(`/causes/${at}`, causePhrase(cause))),
      ...of('', guardPhrase(chain.guard)),
      ...of('', mannerPhrase(chain)),
      ...chain.steps.flatMap((step, at) => of(`/steps/${at}`, stepPhrase(step))),
    ];
  } else slots = describe(collection, thing).flatMap((phrase) => of('', phrase));
  known.set(thing, slots);
  return slots;
}

/** What more can be said of a thing, as far as it says all that it sets. */
function offered(level: Level, { collection, thing }: Found): SmallEdit[] {
  const name = nameOf(level, thing.id).trim();
  const make = (base: string, offer: Offer): SmallEdit[] => {
    if (offer.sets.length === 0) return [];
    const values = offer.sets.map(({ path, value }) => ({ path: base + path, value }));
    return [
      {
        thing: thing.id,
        says: `In “${name}”: ${offer.label}.`,
        cost: 3,
        edit: () => {
          const set = settingOf(level, thing.id, values);
          return set.ok ? set.edit : null;
        },
      },
    ];
  };
  if (collection !== 'chains') return offersOf(collection, thing).flatMap((offer) => make('', offer));
  const chain = thing as Chain;
  return [
    ...chain.causes.flatMap((cause, at) => causeOffers(cause).flatMap((offer) => make(`/causes/${at}`, offer))),
    ...chainOffers(chain).flatMap((offer) => make('', offer)),
    ...chain.steps.flatMap((step, at) => stepOffers(step, at === 0).flatMap((offer) => make(`/steps/${at}`, offer))),
  ];
}

/** Each two steps that follow each other, the other way round. */
function orderOfSteps(level: Level, chain: Chain): SmallEdit[] {
  const name = nameOf(level, chain.id).trim();
  return chain.steps.slice(1).map((_step, before) => ({
    thing: chain.id,
    says: `In “${name}”, put step ${before + 2} before step ${before + 1}.`,
    cost: 2,
    edit: () => {
      const steps = chain.steps.with(before, chain.steps[before + 1]!).with(before + 1, chain.steps[before]!);
      return change('chains', chain, { steps });
    },
  }));
}

/** Each step as one of another kind that acts on the same thing: closed in place of opened. */
function otherSteps(level: Level, chain: Chain): SmallEdit[] {
  const name = (id: string): string => nameOf(level, id).trim();
  return chain.steps.flatMap((step, at) => {
    const [reference] = kindOfStep(step.kind).references(step);
    const word = reference === undefined ? undefined : lookup(level).get(reference.to)?.word;
    if (reference === undefined || word === undefined) return [];
    return stepsFor(step.id, reference.to, word).flatMap((other) => {
      if (other.kind === step.kind) return [];
      const made = { ...other, start: step.start, delay: step.delay };
      const says = `In “${name(chain.id)}”, change “${stepWords(step, name)}” to “${stepWords(made, name)}”.`;
      return [{ thing: chain.id, says, cost: 2, edit: () => change('chains', chain, { steps: chain.steps.with(at, made) }) }];
    });
  });
}

/** One step more, at the end or at the beginning, that acts on what was expected or on what the chain is about. */
function moreSteps(level: Level, chain: Chain, wanted: ReadonlySet<string>): SmallEdit[] {
  const name = (id: string): string => nameOf(level, id).trim();
  const about = [
    ...chain.causes.map(({ of }) => of),
    ...chain.steps.flatMap((step) =>
      kindOfStep(step.kind)
        .references(step)
        .map(({ to }) => to),
    ),
  ];
  const id = freeStepId(level);
  return [...new Set([...wanted, ...about])].flatMap((target) => {
    const word = lookup(level).get(target)?.word;
    if (word === undefined) return [];
    return stepsFor(id, target, word).flatMap((step) =>
      [chain.steps.length, 0].slice(0, chain.steps.length === 0 ? 1 : 2).map((place) => ({
        thing: chain.id,
        says: `In “${name(chain.id)}”, add “${stepWords(step, name)}” as ${place === 0 ? 'the first step' : 'the last step'}.`,
        cost: wanted.has(target) ? 4 : 6,
        edit: () => change('chains', chain, { steps: chain.steps.toSpliced(place, 0, step) }),
      })),
    );
  });
}

/** The steps of all kinds that can act on a thing. */
function stepsFor(id: string, target: string, word: ThingWord): Step[] {
  return stepNames.flatMap((kind) => {
    const step = kindOfStep(kind).create(id, target);
    const [reference] = kindOfStep(kind).references(step);
    return reference?.to === target && reference.accepts.includes(word) ? [step] : [];
  });
}

function stepWords(step: Step, name: (id: string) => string): string {
  return spoken(stepPhrase(step), name);
}

const freeIds = new WeakMap<Level, string>();

/** An id that no step of a level has. */
function freeStepId(level: Level): string {
  let id = freeIds.get(level);
  if (id === undefined) {
    const taken = new Set(level.chains.flatMap(({ steps, causes }) => [...steps, ...causes].map((one) => one.id)));
    let number = 1;
    while (taken.has(`step-${number}`) || lookup(level).has(`step-${number}`)) number += 1;
    id = `step-${number}`;
    freeIds.set(level, id);
  }
  return id;
}

function switchedOn(level: Level, { thing }: Found): SmallEdit[] {
  const chain = thing as Chain;
  const says = `Switch “${nameOf(level, chain.id).trim()}” ${chain.enabled ? 'off' : 'on'}.`;
  return [
    { thing: chain.id, says, cost: chain.enabled ? 3 : 0, edit: () => change('chains', chain, { enabled: !chain.enabled }) },
  ];
}
