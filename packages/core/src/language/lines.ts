import { chain as chainSchema } from '../document/chains';
import type { Chain } from '../document/chains';
import { factCollection } from '../document/create';
import type { StateKind } from '../document/create';
import type { Collection, Thing } from '../document/level';
import { parseThing } from '../document/parse';
import { kindOfCause } from '../kinds/causes';
import { cause as causeSchema } from '../kinds/causes/cause';
import type { Cause } from '../kinds/causes/cause';
import { kindOfStep, stepNames } from '../kinds/steps';
import type { Step } from '../kinds/steps';
import { causeOffers, causePhrase, chainOffers, guardPhrase, mannerPhrase, stepOffers, stepPhrase } from '../sentences/chains';
import { describeFact } from '../sentences/facts';
import { causeEvents } from '../vocabulary/events';
import type { Offer, Phrase, Slot } from '../vocabulary/phrase';
import { same } from '../vocabulary/same';
import type { TextNames } from './names';
import { readSentence, written } from './sentence-reader';
import type { Readable, SentenceRead } from './sentence-reader';

/** The level's own units for metres (m) and seconds (s). */
export type Units = (unit: string) => Readonly<Record<string, number>>;

/** What a line says beyond its sentence, as JSON: fields for which the sentence has no words. */
const MORE = / with (\{.*\})$/;

/** Lines of one sort: how something is written on one, and how it is read again. */
interface LineOf<T extends object> {
  write(value: T, names: TextNames): string;
  read(text: string, names: TextNames, units: Units): SentenceRead<T>;
}

const UNNAMED = 'new';

/**
 * A line about something that can be one of several kinds: `readables` gives those that a text may be of, or all of them. What is written is read at once: fields that the sentence does not give back follow
 * it, after "with", so that nothing is ever lost.
 */
function lineOf<T extends { id: string }>(
  phraseOf: (value: T) => Phrase,
  readables: (text: string | null) => Readable<T>[],
  freshOf: (value: T) => T,
  offersOf: (value: T) => Offer[],
  parse: (value: unknown) => T | null,
): LineOf<T> {
  const writtenPlain = (value: T, names: TextNames): string => written(phraseOf(value), names).trim();
  const readPlain = (text: string, names: TextNames, units: Units): SentenceRead<T> => {
    let best: SentenceRead<T> = { ok: false, at: 0, wanted: [] };
    const fitting = readables(text.toLowerCase());
    for (const readable of fitting.length > 0 ? fitting : readables(null)) {
      const read = readSentence(readable, text, names, units);
      // A sentence that reads as several is the one that is written so.
      if (read.ok && (!best.ok || writtenPlain(read.value, names) === text)) best = read;
      else if (!read.ok && !best.ok)
        best =
          read.at > best.at
            ? read
            : read.at === best.at
              ? { ...best, wanted: [...new Set([...best.wanted, ...read.wanted])] }
              : best;
    }
    return best;
  };
  const noUnits: Units = () => ({});
  const reached = new Map<T, ReadonlySet<string>>();
  /** The values of a new one that its sentence can set, by their paths: those that stand in it, and those that are offered. */
  const reachable = (value: T): ReadonlySet<string> => {
    const fresh = freshOf(value);
    const before = reached.get(fresh);
    if (before !== undefined) return before;
    const said = phraseOf(fresh).flatMap((part) => (typeof part === 'string' ? [] : [part.path]));
    // What is offered with more than one value is not sure to be just this.
    const single = offersOf(fresh).filter(({ sets }) => sets.length < 2);
    const more = single.flatMap(({ sets, next }) => [...sets.map(({ path }) => path), ...(next === undefined ? [] : [next])]);
    const found = new Set([...said, ...more]);
    reached.set(fresh, found);
    return found;
  };
  return {
    write(value, names) {
      // A field that has no words of its own in this sentence is left out of it, one after another.
      const fresh = freshOf(value) as Record<string, unknown>;
      if (isSaid(value, fresh, phraseOf(value), reachable(value))) return writtenPlain(value, names);
      const odd = Object.keys(value).filter(
        (field) => field !== 'id' && !same((value as Record<string, unknown>)[field], fresh[field]),
      );
      const values = odd.filter((field) => typeof fresh[field] !== 'string');
      for (const left of [[], ...odd.map((field) => [field]), values]) {
        const said = { ...value, ...Object.fromEntries(left.map((field) => [field, fresh[field]])) };
        const text = writtenPlain(said, names);
        const read = MORE.test(text) ? null : readPlain(text, names, noUnits);
        if (read?.ok !== true) continue;
        const missing = Object.entries(value).filter(
          ([field, one]) => field !== 'id' && !same(one, (read.value as Record<string, unknown>)[field]),
        );
        return missing.length === 0 ? text : `${text} with ${names.fieldsText(Object.fromEntries(missing))}`;
      }
      return `${writtenPlain(value, names)} with ${names.fieldsText({ ...value, id: undefined })}`;
    },
    read(text, names, units) {
      const [tail = '', json = ''] = MORE.exec(text) ?? [];
      if (json === '') return readPlain(text, names, units);
      const more = names.fields(json);
      if (more === null) return { ok: false, at: text.length - json.length, wanted: ['fields as JSON'] };
      const read = readPlain(text.slice(0, text.length - tail.length), names, units);
      const value = parse({ ...(read.ok ? read.value : { id: UNNAMED }), ...more });
      if (value !== null) return { ok: true, value };
      return read.ok ? { ok: false, at: text.length - json.length, wanted: ['fields that fit'] } : read;
    },
  };
}

/**
 * Whether a sentence is certain to say everything: each value that differs from a new one's stands in it, in a form that reads back as
 * itself regardless of its neighbours. False only means that the sentence must be read back to find out.
 */
function isSaid(value: object, fresh: object, phrase: Phrase, reachable: ReadonlySet<string>): boolean {
  const paths = new Set<string>();
  for (const part of phrase) {
    if (typeof part === 'string' || part.input.kind === 'place') continue;
    const isReached = reachable.has(part.path) || [...reachable].some((path) => part.path.startsWith(`${path}/`));
    if (!isReached || !readsBack(part)) return false;
    paths.add(part.path);
  }
  const said = (now: unknown, then: unknown, path: string): boolean => {
    if (same(now, then) || paths.has(path)) return true;
    if (!isRecord(now) || !isRecord(then)) return false;
    return Object.keys({ ...now, ...then }).every((key) => said(now[key], then[key], `${path}/${key}`));
  };
  return said({ ...value, id: '' }, { ...fresh, id: '' }, '');
}

function readsBack({ input, value }: Slot): boolean {
  if (input.kind === 'number')
    return input.along === undefined && (value === null || Number(Number(value).toPrecision(12)) === value);
  if (input.kind === 'reference') return input.tagged === undefined || input.tagged.tag === '';
  return input.kind === 'choice' || input.kind === 'kinds' || input.kind === 'text';
}

function isRecord(value: unknown): value is Record<string, unknown> {
  return typeof value === 'object' && value !== null && !Array.isArray(value);
}

const newCauses = new Map(causeEvents.map((on) => [on, causeSchema.parse({ id: UNNAMED, on, of: '' })]));

/** A line for a cause: "When player enters Doorstep, at most 2 times". */
export const causeLine = lineOf<Cause>(
  (cause) => causePhrase(cause),
  (text) =>
    [...newCauses]
      .filter(([on]) => text === null || text.includes(kindOfCause(on).verb.toLowerCase()))
      .map(([, value]) => ({ value, phrase: causePhrase, offers: causeOffers })),
  ({ on }) => newCauses.get(on)!,
  causeOffers,
  (value) => causeSchema.safeParse(value).data ?? null,
);

const newSteps = new Map(stepNames.map((kind) => [kind, kindOfStep(kind).create(UNNAMED, '') as Step]));
const openings = new Map(
  [...newSteps].map(([kind, step]) => {
    const [first] = kindOfStep(kind).phrase(step);
    if (typeof first === 'string') return [kind, [first.trim().toLowerCase()]];
    return [kind, first?.input.kind === 'choice' ? first.input.options.map(({ label }) => label.toLowerCase()) : ['']];
  }),
);

/** What a step may be said to be: what is offered of it, and places along the heading of what they are counted from. */
function stepReadings(step: Step): Offer[] {
  const places = (kindOfStep(step.kind).places ?? []).filter(
    (field) => (step as unknown as Record<string, unknown>)[field] !== null,
  );
  const turned = places.map((field) => ({ label: '', sets: [{ path: `/${field}/axes`, value: 'own' }] }));
  return [...stepOffers(step, false), ...turned];
}

/** A line for a step: "1 s later, close Mill door". Whether it runs beside the one before is said by its indentation, or by "meanwhile". */
export const stepLine = lineOf<Step>(
  stepPhrase,
  (text) =>
    [...newSteps]
      .filter(([kind]) => text === null || openings.get(kind)!.some((words) => text.includes(words)))
      .map(([, value]) => ({ value, phrase: stepPhrase, offers: stepReadings })),
  ({ kind }) => newSteps.get(kind)!,
  (step) => stepOffers(step, false),
  (value) => {
    const kind = (value as Step).kind;
    return newSteps.has(kind) ? ((kindOfStep(kind).schema.safeParse(value).data as Step | undefined) ?? null) : null;
  },
);

/** What is said of a chain beside its causes and steps, sentence by sentence. */
type Manner = Pick<Chain, 'guard' | 'delay' | 'givesUp' | 'whileRunning'>;

const onlyIf = (chain: Chain): Phrase => ['Only if ', ...guardPhrase(chain.guard)];

/** The lines of a chain that say when it may start, and what it does when it is started while it runs. */
export function writeManner(chain: Chain, names: TextNames): string[] {
  const lines = chain.guard === '' ? [] : [written(onlyIf(chain), names).trim()];
  const manner = written(mannerPhrase(chain), names).trim();
  if (manner !== '') lines.push(manner);
  const read = lines.reduce<Chain | null>((now, line) => {
    const next = now === null ? null : readManner(now, line, names, () => ({}));
    return next?.ok === true ? next.value : null;
  }, usual(chain));
  const missing = mannerFields.filter((field) => !same(read?.[field], chain[field]));
  return missing.length === 0
    ? lines
    : [...lines, `with ${names.fieldsText(Object.fromEntries(missing.map((field) => [field, chain[field]])))}`];
}

/** A chain of which nothing has been said yet. */
export const blankChain: Chain = chainSchema.parse({ id: UNNAMED, name: UNNAMED });

const mannerFields = ['guard', 'delay', 'givesUp', 'whileRunning'] as const;

/** A chain of which nothing is said but its causes and steps. */
export function usual(chain: Chain): Chain {
  return { ...chain, guard: '', delay: 0, givesUp: false, whileRunning: 'ignore' } satisfies Manner & Chain;
}

/** Reads a line that says how a chain starts into the chain. */
export function readManner(chain: Chain, text: string, names: TextNames, units: Units): SentenceRead<Chain> {
  if (text.startsWith('with ')) {
    const more = names.fields(text.slice('with '.length));
    return more === null ? { ok: false, at: 5, wanted: ['fields as JSON'] } : { ok: true, value: { ...chain, ...more } };
  }
  if (/^only if\b/i.test(text))
    return readSentence({ value: { ...chain, guard: 'true' }, phrase: onlyIf, offers: () => [] }, text, names, units);
  return readSentence({ value: chain, phrase: mannerPhrase, offers: chainOffers }, text, names, units);
}

/** A fact of which nothing has been said yet. */
export function blankFact(word: StateKind): Thing {
  const parsed = parseThing(factCollection[word], { id: UNNAMED, name: UNNAMED });
  if (!parsed.ok) throw new Error(`A ${word} cannot begin with nothing but a name`);
  return parsed.thing;
}

/** What can be said in words of a fact: the sentences of it that hold a value. */
function sentencesOf(collection: Collection, thing: Thing): Phrase[] {
  return describeFact(collection, thing).filter((phrase) => phrase.some((part) => typeof part !== 'string'));
}

/** The lines of a fact; the first of its sentences on one line with what it is called, the others below. */
export function writeFact(collection: Collection, thing: Thing, fresh: Thing, names: TextNames): string[] {
  const lines = sentencesOf(collection, thing).map((phrase) => written(phrase, names).trim());
  const read = lines.reduce<Thing | null>((now, line) => {
    const next = now === null ? null : readFact(collection, now, line, names, () => ({}));
    return next?.ok === true ? next.value : null;
  }, fresh);
  const missing = Object.entries(thing).filter(
    ([field, value]) =>
      field !== 'id' && field !== 'name' && !same((read as unknown as Record<string, unknown> | null)?.[field], value),
  );
  return missing.length === 0 ? lines : [...lines, `with ${names.fieldsText(Object.fromEntries(missing))}`];
}

/** Reads one of the sentences of a fact into it. */
export function readFact(
  collection: Collection,
  thing: Thing,
  text: string,
  names: TextNames,
  units: Units,
): SentenceRead<Thing> {
  if (text.startsWith('with ')) {
    const more = names.fields(text.slice('with '.length));
    return more === null ? { ok: false, at: 5, wanted: ['fields as JSON'] } : { ok: true, value: { ...thing, ...more } };
  }
  let best: SentenceRead<Thing> = { ok: false, at: 0, wanted: [] };
  sentencesOf(collection, thing).forEach((_phrase, i) => {
    if (best.ok) return;
    const read = readSentence(
      { value: thing, phrase: (one) => sentencesOf(collection, one)[i] ?? [], offers: () => [] },
      text,
      names,
      units,
    );
    if (read.ok || read.at >= best.at) best = read;
  });
  return best;
}
