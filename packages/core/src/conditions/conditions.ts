import { Environment, EvaluationError, ParseError } from '@marcbachmann/cel-js';
import type { ASTNode, ParseResult } from '@marcbachmann/cel-js';
import { nearest } from '../vocabulary/nearest';
import { article } from '../vocabulary/phrase';
import { anyVisitor } from '../kinds/words';
import type { ThingWord } from '../kinds/words';
import { idsByTag } from './known';
import type { Known } from './known';
import { namingOf } from './naming';
import type { Argument, Call, Naming, Quoted } from './naming';
import { conditionFunctions, isFunctionName } from './vocabulary';
import type { Verdict } from '../vocabulary/verdict';
import type { ReadState, FunctionName, ConditionFunction, ParameterWord, StatePart } from './vocabulary';

/** What is wrong with an expression: from where to where in its text (counted from 0), and what to do about it. */
export interface ConditionFault {
  from: number;
  to: number;
  message: string;
}

/** An expression that has been read and checked. */
export interface Condition {
  faults: ConditionFault[];
  /** The parts of the state that it reads. */
  reads: ReadonlySet<StatePart>;
  /** What it comes to now. One that has faults does not hold; an empty one does. */
  verdict(): Verdict;
}

/** An expression that has been read, whatever its level. */
interface Compiled {
  /** The functions it calls, with what is wrong with each whatever their ids name. */
  calls: { call: Call; faults: ConditionFault[] }[];
  /** What is wrong with it as a whole: it cannot be read, or comes to something that is not true or false. */
  faults: ConditionFault[];
  reads: ReadonlySet<StatePart>;
  run: ParseResult | null;
  naming: Naming;
}

/**
 * Expressions of the Common Expression Language (the language definition at github.com/google/cel-spec) over the state
 * of one level, answered for one rehearsal. Each text is parsed once, whatever the level, and its names are looked up in the level.
 */
export class Conditions {
  private readonly known = new Map<string, Condition>();

  constructor(
    private readonly things: Known,
    private readonly answer: ReadState,
  ) {}

  /** The expression of a text; the same one for the same text. */
  of(text: string): Condition {
    let found = this.known.get(text);
    if (found === undefined) {
      found = text.trim() === '' ? nothingAsked : this.answered(language.compiled(text));
      this.known.set(text, found);
    }
    return found;
  }

  private answered(compiled: Compiled): Condition {
    const { reads, run } = compiled;
    const faults = faultsIn(compiled, this.things);
    if (faults.length > 0 || run === null) return broken(faults);
    return { faults, reads, verdict: () => language.evaluate(run, this.answer) };
  }
}

/** What was found wrong with expressions in the levels that are known. */
const checked = new WeakMap<Known, Map<Compiled, ConditionFault[]>>();

function faultsIn(compiled: Compiled, things: Known): ConditionFault[] {
  let known = checked.get(things);
  if (known === undefined) checked.set(things, (known = new Map()));
  let faults = known.get(compiled);
  if (faults === undefined) {
    const own = compiled.calls.flatMap(({ call, faults: inItself }) => (inItself.length > 0 ? inItself : misnamed(call, things)));
    faults = own.length > 0 ? own : compiled.faults;
    known.set(compiled, faults);
  }
  return faults;
}

/** How many questions one evaluation may ask: lists within lists multiply. */
const MAX_QUESTIONS = 5000;

/** How many texts are remembered: somebody who types a long condition makes one at every key. */
const REMEMBERED = 20_000;

class Language {
  private readonly known = new Map<string, Compiled>();
  private made: Environment | null = null;
  /** Who answers the expression that is being evaluated, and what it has read so far. */
  private answer: ReadState = () => false;
  private read: string[] = [];

  compiled(text: string): Compiled {
    let found = this.known.get(text);
    if (found === undefined) {
      if (this.known.size >= REMEMBERED) this.known.clear();
      found = this.compile(text);
      this.known.set(text, found);
    }
    return found;
  }

  evaluate(run: ParseResult, answer: ReadState): Verdict {
    this.answer = answer;
    this.read = [];
    try {
      const holds = run() === true;
      // `all` and `exists` pass over elements that cannot be answered.
      if (this.read.length < MAX_QUESTIONS) return { holds, read: this.read };
      return {
        holds: false,
        read: [`error: more than ${MAX_QUESTIONS} questions; use shorter lists, or fewer within each other`],
      };
    } catch (error) {
      if (!(error instanceof EvaluationError)) throw error;
      const read = this.read.length < MAX_QUESTIONS ? this.read : [];
      return { holds: false, read: [...read, `error: ${error.summary}`] };
    }
  }

  /** Made when the first expression asks for it. */
  private get environment(): Environment {
    this.made ??= this.make();
    return this.made;
  }

  private make(): Environment {
    const environment = new Environment({ limits: { maxAstNodes: 2000, maxDepth: 100 } });
    for (const [name, asking] of Object.entries(conditionFunctions) as [FunctionName, ConditionFunction][]) {
      const gives = asking.gives === 'ids' ? 'list<string>' : asking.gives;
      const signature = `${name}(${asking.of.map(() => 'string').join(', ')}): ${gives}`;
      environment.registerFunction(signature, (...ids: string[]) => {
        if (this.read.length >= MAX_QUESTIONS) throw new EvaluationError(`more than ${MAX_QUESTIONS} questions`);
        const value = this.answer(name, ids);
        this.read.push(`${name}(${ids.map((id) => JSON.stringify(id)).join(', ')}) = ${JSON.stringify(value)}`);
        return asking.gives === 'int' ? BigInt(value as number) : value;
      });
    }
    return environment;
  }

  private compile(text: string): Compiled {
    let run: ParseResult;
    try {
      run = this.environment.parse(text);
    } catch (error) {
      return { calls: [], faults: [faultOf(error, text)], reads: new Set(), run: null, naming: { calls: [], compared: [] } };
    }
    const naming = namingOf(run.ast);
    const calls = naming.calls.map((call) => ({ call, faults: miscalled(call) }));
    const { valid, type, error } = run.check();
    const message = `The condition is of type ${type ?? 'unknown'}, not true or false. Add a comparison`;
    const faults = !valid ? [faultOf(error, text)] : type !== 'bool' ? [{ from: 0, to: text.length, message }] : [];
    const reads = new Set(
      calls.flatMap(({ call: { name } }) => (isFunctionName(name) ? (conditionFunctions[name].reads ?? []) : [])),
    );
    return { calls, faults, reads, run, naming };
  }
}

const language = new Language();

/** The syntax tree of an expression; null if it cannot be read. */
export function syntaxOf(text: string): ASTNode | null {
  return language.compiled(text).run?.ast ?? null;
}

/** What an expression names; null if it cannot be read. */
export function namingIn(text: string): Naming | null {
  const { run, naming } = language.compiled(text);
  return run === null ? null : naming;
}

/** What is wrong with a call, whatever level it is asked of. */
function miscalled({ name, args, from, to }: Call): ConditionFault[] {
  if (!isFunctionName(name)) {
    if (args.some(({ is }) => is === 'other')) return [];
    const meant = nearest(name, Object.keys(conditionFunctions));
    return meant === null || standard.has(name)
      ? []
      : [{ from, to: from + name.length, message: `There is no function "${name}" (did you mean "${meant}"?)` }];
  }
  const { of } = conditionFunctions[name];
  if (args.length === of.length && args.every((one, at) => fits(one, of[at]!))) return [];
  const wanted = of.map((words) => {
    if (words.includes('tag')) return 'a tag';
    return `the id of ${oneOf(words)}${takesVisitor(words) ? ' (or hand())' : ''}`;
  });
  const needs = wanted.length === 0 ? 'nothing' : `${wanted.join(' and ')}, written out in quotes`;
  return [{ from, to, message: `"${name}" needs ${needs}` }];
}

function takesVisitor(words: readonly ParameterWord[]): boolean {
  return anyVisitor.some((one) => words.includes(one));
}

/** Whether an argument fits a parameter in any level: names and tags are looked up later. */
function fits(given: Argument, words: readonly ParameterWord[]): boolean {
  switch (given.is) {
    case 'quoted':
      return true;
    case 'hand':
      return takesVisitor(words);
    case 'element':
      if (words.includes('tag')) return false;
      return given.of.is !== 'kinds' || given.of.words.some((one) => words.includes(one));
    case 'other':
      return false;
  }
}

/** What a call names that is not in a level, or is something else there. */
function misnamed({ name, args, from, to }: Call, things: Known): ConditionFault[] {
  if (!isFunctionName(name)) return [];
  const { of } = conditionFunctions[name];
  return args.flatMap((given, at) => {
    const words = of[at]!;
    if (given.is === 'quoted') return words.includes('tag') ? mistagged(given, things) : misplaced(given, words, things);
    if (given.is !== 'element') return [];
    if (given.of.is === 'written') return given.of.ids.flatMap((id) => misplaced(id, words, things));
    if (given.of.is === 'kinds') return [];
    const { tag } = given.of;
    // Of a visitor can be asked what only visitors of another kind answer, as of the triggering one.
    const isVisitor = (word: ThingWord): boolean => (anyVisitor as readonly ThingWord[]).includes(word) && takesVisitor(words);
    const all = (idsByTag(things).get(tag) ?? []).map((id) => things.get(id)!);
    const other = all.find(({ word }) => !words.includes(word) && !isVisitor(word));
    if (other === undefined) return [];
    const is = `"${other.thing.name.trim()}", tagged "${tag}", is ${oneOf([other.word])}`;
    return [{ from, to, message: `"${name}" needs ${oneOf(words)}; ${is}` }];
  });
}

/** What is wrong with an id where a thing of one of some kinds is needed. */
function misplaced({ text: id, from, to }: Quoted, words: readonly ParameterWord[], things: Known): ConditionFault[] {
  const target = things.get(id);
  if (target !== undefined && words.includes(target.word)) return [];
  const meant = closest(id, words, things);
  const hint = meant === null ? '' : ` (did you mean "${meant}"?)`;
  const is = target === undefined ? `Nothing in the level has the id "${id}"` : `"${id}" is ${oneOf([target.word])}`;
  return [{ from, to, message: `${is}; ${oneOf(words)} is needed here${hint}` }];
}

/** A tag that nothing in a level has. */
function mistagged({ text: tag, from, to }: Quoted, things: Known): ConditionFault[] {
  const all = idsByTag(things);
  if (all.has(tag)) return [];
  const meant = nearest(tag, [...all.keys()]);
  const hint = meant === null ? '' : ` (did you mean "${meant}"?)`;
  return [{ from, to, message: `Nothing in the level has the tag "${tag}"${hint}` }];
}

/** The id that was probably meant: by its letters, or by the name of its thing. */
function closest(id: string, words: readonly string[], things: Known): string | null {
  const names = new Map<string, string>();
  for (const [own, { word, thing }] of things) {
    if (!words.includes(word)) continue;
    names.set(own, own);
    names.set(thing.name.trim(), own);
  }
  const found = nearest(id, [...names.keys()]);
  return found === null ? null : names.get(found)!;
}

/** "a door or an elevator" */
function oneOf(words: readonly string[]): string {
  return words.map((word) => `${article(word)} ${word}`).join(' or ');
}

const nothingAsked: Condition = { faults: [], reads: new Set(), verdict: () => ({ holds: true, read: [] }) };

function broken(faults: ConditionFault[]): Condition {
  const read = faults.map((fault) => `error at ${fault.from + 1}: ${fault.message}`);
  return { faults, reads: new Set(), verdict: () => ({ holds: false, read }) };
}

/** Functions of the language itself that take texts. */
const standard = new Set([
  'size',
  'int',
  'double',
  'string',
  'bool',
  'matches',
  'contains',
  'startsWith',
  'endsWith',
  'has',
  'type',
  'dyn',
  'uint',
  'bytes',
  'timestamp',
  'duration',
]);

/** How what was written in words is written in the language. */
function operatorHint(text: string): string {
  const bare = text.replace(/"(?:[^"\\]|\\.)*"|'(?:[^'\\]|\\.)*'/g, '');
  const written = Object.entries({ and: '&&', or: '||', not: '!' }).filter(([word]) =>
    new RegExp(`\\b${word}\\b`, 'i').test(bare),
  );
  return written.length === 0 ? '' : `. ${written.map(([word, sign]) => `Write ${sign} for "${word}"`).join('; ')}`;
}

function faultOf(error: unknown, text: string): ConditionFault {
  if (error instanceof Error && 'summary' in error && 'range' in error) {
    const range = error.range as { start: number; end: number } | undefined;
    const unread = error instanceof ParseError ? '. The expression cannot be read from here on' : '';
    const hint = unread + operatorHint(text);
    return { from: range?.start ?? 0, to: range?.end ?? text.length, message: String(error.summary) + hint };
  }
  return { from: 0, to: text.length, message: error instanceof Error ? error.message : String(error) };
}
