import * as z from 'zod';
import { id, reference, seconds, tag } from '../../vocabulary/quantities';
import type { CauseEvent } from '../../vocabulary/events';
import type { Place } from '../../vocabulary/places';
import type { Goal, Outcome, StepContext } from './stage';
import { referenceSlot } from '../../vocabulary/phrase';
import { anyThing, anyVisitor } from '../words';
import type { Offer, Phrase, Slot } from '../../vocabulary/phrase';
import type { ThingWord } from '../words';

/** What every step has: when it starts beside the steps before it, and how long after that. */
export const stepBase = {
  id,
  start: z.enum(['after', 'with']).default('after').meta({
    description: 'after: when all steps before it have finished; with: together with the start of the one before it',
  }),
  delay: seconds.default(0),
};

/** A tag, or nothing. With a tag a step acts on all things of its kind that have it, instead of the one it names. */
export const tagged = z
  .union([z.literal(''), tag])
  .default('')
  .meta({ description: 'acts on all that have this tag, instead of the one that is named' });

/** Which visitors a step acts on. */
export const who = z
  .discriminatedUnion('by', [
    z.strictObject({ by: z.literal('cause') }),
    z.strictObject({ by: z.literal('name'), visitor: reference }),
    z.strictObject({ by: z.literal('tag'), tag }),
    z.strictObject({ by: z.literal('holder'), prop: reference }),
    z.strictObject({ by: z.literal('inside'), zone: reference }),
  ])
  .default({ by: 'cause' })
  .meta({ description: 'the visitor that caused it, one by name, all with a tag, the last holder of a prop, or all in a zone' });
export type Who = z.infer<typeof who>;

/** A reference that a step holds: where in the step, to which id, and what must be there. */
export interface StepReference {
  path: string;
  to: string;
  accepts: readonly ThingWord[];
}

/** What one wants of a step: how a menu groups them, in this order. */
export const stepCategories = ['Motion', 'Visibility and collision', 'Visitors', 'State', 'Signals and cues', 'Timing'] as const;
export type StepCategory = (typeof stepCategories)[number];

/** What a kind of step is called and can be told to act on, and what follows from its name alone. */
export interface StepWords {
  /** What a menu of steps calls it. */
  label: string;
  /** What it is for. */
  wish: StepCategory;
  /** Other words by which it is looked for: what designers say when they want it. */
  also: string;
  /** What kind of target a menu should offer; nothing if it needs none. */
  accepts?: readonly ThingWord[];
  /** What a ledger says that it does; its kind, where it says nothing. */
  done?: string;
  /** The events that it raises of what it acts on, as it starts and as it is finished; those of machines follow from `moves`. */
  raises?: { start?: readonly CauseEvent[]; end?: readonly CauseEvent[] };
  /** Whether it takes the control of visitors, or gives it back. */
  control?: 'takes' | 'gives back';
  /** Whether it starts what it acts on: a chain. */
  starts?: true;
}

/** The meaning and the words of one kind of step. What a document may leave out has its value in the schema, and nowhere else. */
interface StepMeaning<S> extends StepWords {
  /** The field that names what it acts on, if it names one thing; a tag may stand for it. */
  target?: keyof S & string;
  /** The fields that hold places. */
  places?: readonly (keyof S & string)[];
  /** What a new step has beside, or instead of, what the schema gives to one that says nothing; `target`: '' where nothing is chosen yet. */
  begins?(target: string): Partial<S>;
  phrase(step: S): Phrase;
  /** What more can be said of it than the phrase says. */
  offers?(step: S): Offer[];
  /** The conditions that it holds, with their paths. */
  conditions?(step: S): { path: string; text: string }[];
  /** Where it sends what moves. */
  moves?(step: S): Goal;
  /** How long it takes in seconds, as far as the document alone can tell; `travelOf` gives a machine's or a cue's time. */
  lasts(step: S, travelOf: (id: string) => number): number;
  /** `targets` are the ids of what it acts on: there is one at least, unless it acts on nothing. */
  run(step: S, stage: StepContext, targets: readonly string[]): Outcome;
}

/** One kind of step: its schema, its meaning and words, and what follows from them. */
export interface StepKind<S, Z = z.ZodType<S>> extends StepMeaning<S> {
  schema: Z;
  accepts: readonly ThingWord[];
  /** A new step of this kind; `target` is what it acts on, '' where nothing is chosen yet. */
  create(id: string, target: string): S;
  /** The first is the target, if there is one and no tag stands for it; an empty one counts as not chosen yet. */
  references(step: S): StepReference[];
}

/** Declares a kind of step by its schema and the rest. */
export function stepKind<Z extends z.ZodObject<{ kind: z.ZodLiteral<string> }>>(
  schema: Z,
  meaning: StepMeaning<z.infer<Z>>,
): StepKind<z.infer<Z>, Z> {
  const { target, accepts = [], places = [], begins } = meaning;
  return {
    ...meaning,
    schema,
    accepts,
    create: (id, on) =>
      schema.parse({
        id,
        kind: schema.shape.kind.value,
        ...(target === undefined ? {} : { [target]: on }),
        ...begins?.(on),
      }),
    references: (step) => {
      // Which of its fields hold what, the declaration says: the compiler has seen that they are there.
      const held = step as unknown as Record<string, string> & Record<string, Place | null> & { who?: Who };
      return [
        ...(target === undefined ? [] : [{ path: `/${target}`, to: held[target] as string, accepts }]),
        ...(held.who === undefined ? [] : whoReferences(held.who)),
        ...places.flatMap((field) => placeReferences(`/${field}`, held[field] as Place | null)),
      ];
    },
  };
}

const zones = ['zone'] as const;
const props = ['prop'] as const;
const rooms = ['room'] as const;

/** The references of a choice of visitors. */
function whoReferences(one: Who): StepReference[] {
  switch (one.by) {
    case 'name':
      return [{ path: '/who/visitor', to: one.visitor, accepts: anyVisitor }];
    case 'holder':
      return [{ path: '/who/prop', to: one.prop, accepts: props }];
    case 'inside':
      return [{ path: '/who/zone', to: one.zone, accepts: zones }];
    default:
      return [];
  }
}

/** A choice of visitors in words. */
export function whoPhrase(one: Who): Phrase {
  const options: { value: Who; label: string }[] = [
    { value: { by: 'cause' }, label: 'the triggering visitor' },
    { value: one.by === 'name' ? one : { by: 'name', visitor: '' }, label: 'one visitor:' },
    { value: one.by === 'tag' ? one : { by: 'tag', tag: 'tag' }, label: 'all visitors tagged' },
    { value: one.by === 'holder' ? one : { by: 'holder', prop: '' }, label: 'the last holder of' },
    { value: one.by === 'inside' ? one : { by: 'inside', zone: '' }, label: 'everyone inside' },
  ];
  const byName = { accepts: anyVisitor, value: { by: 'name' }, key: 'visitor' };
  const choice: Slot = { path: '/who', label: 'target visitor', value: one, input: { kind: 'choice', options, byName } };
  const rest: Slot[] =
    one.by === 'tag'
      ? [{ path: '/who/tag', label: 'tag', value: one.tag, input: { kind: 'tag' } }]
      : whoReferences(one).map((ref) => referenceSlot(ref.path, 'who', ref.to, ref.accepts));
  return [choice, ...rest.flatMap((slot): Phrase => [' ', slot])];
}

/** The references of a place. */
export function placeReferences(path: string, one: Place | null): StepReference[] {
  if (one === null) return [];
  return [
    ...(one.of === '' ? [] : [{ path: `${path}/of`, to: one.of, accepts: anyThing }]),
    ...(one.room === '' ? [] : [{ path: `${path}/room`, to: one.room, accepts: rooms }]),
  ];
}

/** What a step names, or the tag that stands for it. */
export function named(step: { tagged: string }, path: string, id: string, accepts: readonly ThingWord[]): Phrase {
  const slot = referenceSlot(path, 'target', id, accepts);
  return [{ ...slot, input: { kind: 'reference', accepts, tagged: { path: '/tagged', tag: step.tagged } } }];
}
