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

/** How a new step begins. */
export const noDelay = { start: 'after', delay: 0 } as const;

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

/** The meaning and the words of one kind of step. */
export interface StepMeaning<S> {
  /** What a menu of steps calls it. */
  label: string;
  /** A new step of this kind; `target` is what it acts on, '' where nothing is chosen yet. */
  create(id: string, target: string): S;
  /** What kind of target a menu should offer; empty if it needs none. */
  accepts: readonly ThingWord[];
  /** The first is the target, if there is one and no tag stands for it; an empty one counts as not chosen yet. */
  references(step: S): StepReference[];
  phrase(step: S): Phrase;
  /** What more can be said of it than the phrase says. */
  offers?(step: S): Offer[];
  /** The conditions that it holds, with their paths. */
  conditions?(step: S): { path: string; text: string }[];
  /** What a ledger says that it does; its kind, where it says nothing. */
  done?: string;
  /** The events that it raises of what it acts on, as it starts and as it is finished; those of machines follow from `moves`. */
  raises?: { start?: readonly CauseEvent[]; end?: readonly CauseEvent[] };
  /** Where it sends what moves. */
  moves?(step: S): Goal;
  /** Whether it takes the control of visitors, or gives it back. */
  control?: 'takes' | 'gives back';
  /** Whether it starts what it acts on: a chain. */
  starts?: true;
  /** How long it takes in seconds, as far as the document alone can tell; `travelOf` gives a machine's or a cue's time. */
  lasts(step: S, travelOf: (id: string) => number): number;
  /** `targets` are the ids of what it acts on: there is one at least, unless it acts on nothing. */
  run(step: S, stage: StepContext, targets: readonly string[]): Outcome;
}

/** One kind of step: its schema, its meaning, and its words. */
export type StepKind<S, Z = z.ZodType<S>> = StepMeaning<S> & { schema: Z };

/** Declares a kind of step by its schema and the rest. */
export function stepKind<Z extends z.ZodType>(schema: Z, meaning: StepMeaning<z.infer<Z>>): StepKind<z.infer<Z>, Z> {
  return { schema, ...meaning };
}

const zones = ['zone'] as const;
const props = ['prop'] as const;
const rooms = ['room'] as const;

/** The references of a choice of visitors. */
export function whoReferences(one: Who): StepReference[] {
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

/** A new place: the origin, absolute. */
export const origin: Place = { x: 0, y: 0, z: 0, room: '', of: '', axes: 'room', height: 'datum' };

/** What a step names, or the tag that stands for it. */
export function named(step: { tagged: string }, path: string, id: string, accepts: readonly ThingWord[]): Phrase {
  const slot = referenceSlot(path, 'target', id, accepts);
  return [{ ...slot, input: { kind: 'reference', accepts, tagged: { path: '/tagged', tag: step.tagged } } }];
}
