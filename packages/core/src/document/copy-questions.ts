import type { ThingWord } from '../kinds/words';
import type { Copies, Fragment, ClipboardThing } from './copying';
import { factCollection } from './create';
import type { Chain } from './chains';
import type { Collection, Level, Thing } from './level';
import { lookup, wordOf } from './lookup';
import { eachReference, referencesOf } from './references';
import { namedTarget } from './targets';

/** What is copied too, instead of what the first ones name. */
export const A_COPY = '*copy';
/** What is not copied: named again as it is, or, of a chain that acts on what is copied, left to the first ones alone. */
export const AS_IT_IS = '*as it is';

/** Something to be decided before copies are put into a level. */
export interface CopyQuestion {
  /** The thing that is not among the copies. */
  id: string;
  name: string;
  word: ThingWord;
  /** Whether the copies name it, or it is a chain that acts on them. */
  is: 'named' | 'acting';
  /** The names of the copied things that name it, or that it acts on. */
  by: string[];
  /** What may be named instead of it. */
  accepts: readonly ThingWord[];
  /** Whether it is in the level that the copies are put into, and can be named as it is. */
  isHere: boolean;
  /** A_COPY, AS_IT_IS, or the id of what is named instead. */
  answer: string;
}

/** What to put into a level, by the answers given so far, and what there is to be decided. */
export interface CopyPlan extends Required<Copies> {
  questions: CopyQuestion[];
}

/**
 * What has to be decided when a fragment is put into a level, with what is usual where nothing was answered: what the level has is
 * named as it is, and what it lacks is copied too, as is a flag or another state that nothing but the copied things uses; a chain is
 * copied if all that it acts on by name is. What is copied because of an answer asks in turn.
 */
export function copyPlan(level: Level, { things, beside }: Fragment, answers: ReadonlyMap<string, string>): CopyPlan {
  const copies = new Map(things.map((piece) => [piece.thing.id, piece]));
  const open = new Map(beside.map((piece) => [piece.thing.id, piece]));
  const actingOn = chainsByTarget(beside);
  const own = ownStates(level, things, beside);
  const along = new Set<string>();
  const instead = new Map<string, string>();
  const questions = new Map<string, CopyQuestion>();
  const waiting = [...things];
  // It grows while it is gone through: what is copied because of an answer asks in turn.
  for (const { collection, thing } of waiting) {
    for (const { to, role, accepts } of referencesOf(collection, thing)) {
      if (role === 'room') continue;
      const question = questions.get(to) ?? ask(to, 'named');
      if (question?.is !== 'named') continue;
      const words = accepts === 'anything' ? [question.word] : accepts;
      question.accepts = question.by.length === 0 ? words : question.accepts.filter((word) => words.includes(word));
      addName(question, thing);
    }
    for (const chain of actingOn.get(thing.id) ?? []) {
      const question = questions.get(chain) ?? ask(chain, 'acting');
      if (question?.is === 'acting') addName(question, thing);
    }
  }
  const ordered = [...copies.values()].sort((a, b) => a.place - b.place);
  return { things: ordered, along, instead, questions: [...questions.values()] };

  /** Asks about something beside the copies, and does what is answered; undefined where there is nothing to ask. */
  function ask(id: string, is: CopyQuestion['is']): CopyQuestion | undefined {
    const piece = open.get(id);
    if (piece === undefined || copies.has(id)) return undefined;
    const word = wordOf(piece.collection, piece.thing);
    const isHere = lookup(level).get(id)?.word === word;
    const answer = answers.get(id) ?? (is === 'named' ? usuallyNamed(piece, word, isHere) : usuallyActing(piece));
    const question: CopyQuestion = { id, name: piece.thing.name, word, is, by: [], accepts: [], isHere, answer };
    questions.set(id, question);
    if (answer === A_COPY) {
      copies.set(id, piece);
      along.add(id);
      waiting.push(piece);
    } else if (answer !== AS_IT_IS) instead.set(id, answer);
    return question;
  }

  function usuallyNamed({ thing }: ClipboardThing, word: ThingWord, isHere: boolean): string {
    if (isHere) return own.has(thing.id) ? A_COPY : AS_IT_IS;
    return namesake(level, word, thing.name) ?? A_COPY;
  }

  function usuallyActing({ thing }: ClipboardThing): string {
    return actsOnlyOn(thing as Chain, copies) ? A_COPY : AS_IT_IS;
  }
}

const actsOnlyOn = (chain: Chain, copies: { has(id: string): boolean }): boolean =>
  targetsByName(chain).every((target) => copies.has(target));

const stateCollections = new Set<Collection>(Object.values(factCollection));

/**
 * Flags, counters, texts, signals and watches of a level that only the copied things use, and chains that are copied with them: two
 * copies that share such a state by accident disturb each other.
 */
function ownStates(level: Level, things: readonly ClipboardThing[], beside: readonly ClipboardThing[]): ReadonlySet<string> {
  const own = new Set(beside.filter(({ collection }) => stateCollections.has(collection)).map(({ thing }) => thing.id));
  if (own.size === 0) return own;
  const copied = new Set(things.map(({ thing }) => thing.id));
  for (const { collection, thing } of beside)
    if (collection === 'chains' && actsOnlyOn(thing as Chain, copied)) copied.add(thing.id);
  const shared: string[] = [];
  const uses = new Map<string, string[]>();
  eachReference(level, (collection, _index, user, { to }) => {
    if (!own.has(to) || collection === 'walks' || copied.has(user.id)) return;
    if (own.has(user.id)) uses.set(user.id, [...(uses.get(user.id) ?? []), to]);
    else shared.push(to);
  });
  // It grows: what a shared state uses is shared, too.
  for (const id of shared) if (own.delete(id)) shared.push(...(uses.get(id) ?? []));
  return own;
}

function targetsByName(chain: Chain): string[] {
  return chain.steps.flatMap((step) => {
    const target = namedTarget(step);
    return target === null || target === '' ? [] : [target];
  });
}

/** The thing of a level with a word and a name, if there is one. */
function namesake(level: Level, word: ThingWord, name: string): string | null {
  for (const [id, found] of lookup(level)) if (found.word === word && found.thing.name.trim() === name.trim()) return id;
  return null;
}

function addName({ by }: CopyQuestion, { name }: Thing): void {
  if (!by.includes(name.trim())) by.push(name.trim());
}

/** The chains among some things by the ids of what they act on because they name it. */
function chainsByTarget(pieces: readonly ClipboardThing[]): Map<string, string[]> {
  const found = new Map<string, string[]>();
  for (const { collection, thing } of pieces) {
    if (collection !== 'chains') continue;
    for (const target of targetsByName(thing as Chain)) found.set(target, [...(found.get(target) ?? []), thing.id]);
  }
  return found;
}
