import type { ThingWord } from '../kinds/words';
import type { Fragment, Piece } from './copying';
import type { Chain } from './chains';
import type { Level } from './level';
import { lookup, wordOf } from './lookup';
import { referencesOf } from './references';
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
export interface CopyPlan {
  things: Piece[];
  along: ReadonlySet<string>;
  instead: ReadonlyMap<string, string>;
  questions: CopyQuestion[];
}

/**
 * What has to be decided when a fragment is put into a level, with what is usual where nothing was answered: what the level has is
 * named as it is, and what it lacks is copied too; a chain is copied if all that it acts on by name is. What is copied because of an
 * answer asks in turn.
 */
export function copyPlan(level: Level, { things, beside }: Fragment, answers: ReadonlyMap<string, string>): CopyPlan {
  const copies = new Map(things.map((piece) => [piece.thing.id, piece]));
  const possible = new Map([...things, ...beside].map((piece) => [piece.thing.id, piece]));
  const naming = namedBy([...possible.values()]);
  const along = new Set<string>();
  const instead = new Map<string, string>();
  const questions: CopyQuestion[] = [];
  const asked = new Set<string>();
  for (let next = firstOpen(); next !== null; next = firstOpen()) {
    asked.add(next.id);
    const question = { ...next, answer: answers.get(next.id) ?? next.answer };
    questions.push(question);
    if (question.answer === A_COPY) {
      copies.set(next.id, possible.get(next.id)!);
      along.add(next.id);
    } else if (question.answer !== AS_IT_IS) instead.set(next.id, question.answer);
  }
  const ordered = [...copies.values()].sort((a, b) => a.place - b.place);
  return { things: ordered, along, instead, questions: questions.map((one) => ({ ...one, by: namesOf(one) })) };

  function firstOpen(): CopyQuestion | null {
    for (const piece of beside) {
      const { id } = piece.thing;
      if (asked.has(id) || copies.has(id)) continue;
      const question = named(piece) ?? acting(piece);
      if (question !== null) return question;
    }
    return null;
  }

  function named({ collection, thing }: Piece): CopyQuestion | null {
    const own = wordOf(collection, thing);
    const from = (naming.get(thing.id) ?? []).filter((one) => copies.has(one.from));
    if (from.length === 0) return null;
    const accepts = from.map((one) => (one.accepts === 'anything' ? [own] : one.accepts));
    const there = lookup(level).get(thing.id);
    const isHere = there !== undefined && there.word === own;
    return {
      id: thing.id,
      name: thing.name,
      word: own,
      is: 'named',
      by: [],
      accepts: accepts[0]!.filter((word) => accepts.every((words) => words.includes(word))),
      isHere,
      answer: isHere ? AS_IT_IS : (namesake(level, own, thing.name) ?? A_COPY),
    };
  }

  function acting({ collection, thing }: Piece): CopyQuestion | null {
    if (collection !== 'chains') return null;
    const targets = targetsByName(thing as Chain);
    if (!targets.some((id) => copies.has(id))) return null;
    const isHere = lookup(level).get(thing.id)?.word === 'chain';
    const answer = targets.every((id) => copies.has(id)) ? A_COPY : AS_IT_IS;
    return { id: thing.id, name: thing.name, word: 'chain', is: 'acting', by: [], accepts: [], isHere, answer };
  }

  /** The names of the copies that a question is about, now that all of them are known. */
  function namesOf({ id, is }: CopyQuestion): string[] {
    const ids = is === 'acting' ? targetsByName(possible.get(id)!.thing as Chain) : naming.get(id)!.map(({ from }) => from);
    return [...new Set(ids)].flatMap((one) => copies.get(one)?.thing.name.trim() ?? []);
  }
}

/** What each thing is named by, but for the rooms that they stand in. */
function namedBy(pieces: readonly Piece[]): Map<string, { from: string; accepts: readonly ThingWord[] | 'anything' }[]> {
  const found = new Map<string, { from: string; accepts: readonly ThingWord[] | 'anything' }[]>();
  for (const { collection, thing } of pieces)
    for (const { to, role, accepts } of referencesOf(collection, thing)) {
      if (role === 'room') continue;
      const list = found.get(to) ?? [];
      found.set(to, list);
      list.push({ from: thing.id, accepts });
    }
  return found;
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
