import type { Level } from '../document/level';
import { factCollection } from '../document/create';
import type { StateKind } from '../document/create';
import { unitsOf } from '../sentences/units';
import type { ConditionFunction, ParameterWord } from '../conditions/vocabulary';
import { vocabulary } from '../conditions/vocabulary';
import { blankChain, blankFact, causeLine, readFact, readManner, stepLine } from './lines';
import { TextNames } from './names';
import { factWords } from './print';
import { END } from './sentence-reader';
import type { SentenceRead } from './sentence-reader';

/** What can be written somewhere in a text. */
export interface Completions {
  /** Where what is completed begins, counted from the beginning of the line, from 0. */
  from: number;
  /** The likeliest first. */
  options: string[];
}

const namesOf = new WeakMap<Level, TextNames>();

function textNames(level: Level): TextNames {
  let names = namesOf.get(level);
  if (names === undefined) namesOf.set(level, (names = new TextNames(level)));
  return names;
}

/**
 * What can stand at the end of an unfinished line: `before` is the line up to there, `head` the first line of its paragraph, null where it
 * begins one. It is what the reader looked for where it stopped, so a new kind brings its own.
 */
export function completionsOf(level: Level, head: string | null, before: string): Completions {
  const names = textNames(level);
  const text = before.trimStart();
  const indent = before.length - text.length;
  if (indent === 0) return fitting({ at: 0, wanted: [...factWords, 'chain'].map((word) => `${word} `) }, text, 0);
  const word = head?.split(/\s/)[0]?.toLowerCase() ?? '';
  const units = (unit: string): Readonly<Record<string, number>> => unitsOf(level, unit);
  const quoted = /(?:^only if\b|\bwhether\b|\buntil\b).*?(\w*)$/i.exec(text);
  if (quoted !== null) return condition(names, before);
  const reads: SentenceRead<unknown>[] = [];
  if (word === 'chain' || word === '') {
    if (text === '') return { from: indent, options: [...new Set(['When ', 'Only if ', ...openingsOf(names, units)])] };
    if (!/^when\b/i.test(text)) reads.push(stepLine.read(text, names, units), readManner(blankChain, text, names, units));
    if (/^(?:w|wh|whe|when\b.*)$/i.test(text)) reads.push(causeLine.read(text, names, units));
  } else if ((factWords as string[]).includes(word)) {
    const kind = word as StateKind;
    reads.push(readFact(factCollection[kind], blankFact(kind), text, names, units));
  }
  const failed = reads.filter((read) => !read.ok);
  const furthest = Math.max(0, ...failed.map(({ at }) => at));
  const wanted = [...new Set(failed.filter(({ at }) => at === furthest).flatMap((read) => read.wanted))];
  return fitting({ at: furthest, wanted }, text, indent);
}

function openingsOf(names: TextNames, units: (unit: string) => Readonly<Record<string, number>>): string[] {
  const read = stepLine.read('', names, units);
  return read.ok ? [] : read.wanted;
}

/** Of what is wanted, what goes on from what is written there already; what has no words of its own is left out. */
function fitting({ at, wanted }: { at: number; wanted: readonly string[] }, text: string, indent: number): Completions {
  const begun = text.slice(at).toLowerCase();
  const options = wanted.filter(
    (one) => one !== END && !/^(?:a number|a condition|a tag|tags|a text)/.test(one) && one.length > 1,
  );
  const starts = options.filter((one) => one.toLowerCase().startsWith(begun));
  const within = options.filter((one) => !starts.includes(one) && begun !== '' && one.toLowerCase().includes(begun));
  return { from: indent + at, options: [...starts, ...within] };
}

/**
 * What can stand at the end of an unfinished condition, typed by names: within quotes the names of what the function can be asked about, or
 * of what it can answer, and functions elsewhere.
 */
export function conditionCompletions(level: Level, before: string): Completions {
  return condition(textNames(level), before);
}

function condition(names: TextNames, before: string): Completions {
  const known = vocabulary as Partial<Record<string, ConditionFunction>>;
  const [, called, earlier = '', begun] = /([a-z]+)\(((?:(?:"[^"]*"|hand\(\)),\s*)*)"([^"]*)$/i.exec(before) ?? [];
  if (called !== undefined && begun !== undefined)
    return named(names, before, known[called]?.of[earlier.split(',').length - 1] ?? [], begun);
  const [, answering, answer] = /([a-z]+)\((?:[^()]|\(\))*\)\s*[!=]=\s*"([^"]*)$/i.exec(before) ?? [];
  if (answering !== undefined && answer !== undefined) return named(names, before, known[answering]?.givesIdOf ?? [], answer);
  if ((before.match(/"/g)?.length ?? 0) % 2 === 1) return { from: before.length, options: [] };
  const [word] = /[a-z]*$/i.exec(before)!;
  const functions = Object.keys(vocabulary).filter((name) => name.toLowerCase().startsWith(word.toLowerCase()));
  return { from: before.length - word.length, options: functions.map((name) => (name === 'hand' ? 'hand()' : `${name}("`)) };
}

function named(names: TextNames, before: string, accepts: readonly ParameterWord[], begun: string): Completions {
  const all = accepts.includes('tag') ? names.tags : names.of(accepts).flatMap(({ name, isSure }) => (isSure ? [name] : []));
  const options = all.filter((name) => name.toLowerCase().startsWith(begun.toLowerCase())).map((name) => `${name}"`);
  return { from: before.length - begun.length, options: options.sort() };
}
