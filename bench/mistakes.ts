// Mistakes that designers make, as changes of a level's JSON: they know nothing of how the program looks for fixes.

type Json = null | boolean | number | string | Json[] | { [key: string]: Json };
interface Thing {
  [key: string]: Json;
  id: string;
}

/** A level with one mistake in it. */
export interface Mistake {
  /** What sort of mistake it is: the field, and what became of it. */
  kind: string;
  /** The thing that is wrong now. */
  thing: string;
  level: Record<string, unknown>;
}

const collections = ['zones', 'fixtures', 'visitors', 'chains', 'watches', 'flags', 'counters', 'texts', 'solids'] as const;
/** What is no mistake in a game's logic, or is made by the program. */
const left = new Set([
  'id',
  'name',
  'group',
  'seeThrough',
  'visible',
  'medium',
  'speaker',
  'line',
  'room',
  'jitter',
  'description',
]);

const choices: Readonly<Record<string, readonly string[]>> = {
  on: ['enter', 'leave', 'dwell', 'press', 'release', 'use', 'opened', 'closed', 'on', 'off', 'bump', 'signal'],
  whileRunning: ['ignore', 'restart', 'queue', 'overlap'],
  start: ['after', 'with'],
  counts: ['each', 'first-and-last'],
  works: ['toggle', 'once', 'momentary'],
  by: ['mass', 'heads'],
  inTheWay: ['stop', 'reverse', 'push', 'pass'],
  velocity: ['keep', 'stop', 'turn'],
  arrival: ['quiet', 'fires'],
  arrivesFacing: ['keep', 'take', 'towards'],
  per: ['level', 'visitor'],
  kind: ['player', 'creature', 'prop'],
  returnWhen: ['always', 'empty'],
  whenLeft: ['stay', 'return'],
  how: ['set', 'add', 'subtract'],
};
const opposite: Readonly<Record<string, string>> = {
  open: 'close',
  close: 'open',
  enable: 'disable',
  disable: 'enable',
  show: 'hide',
  hide: 'show',
  'make-solid': 'make-passable',
  'make-passable': 'make-solid',
  'start-chain': 'stop-chain',
  'hold-visitor': 'release-visitor',
};

/** Every level that differs from a right one by one mistake. */
export function* mistakesIn(level: Record<string, unknown>): Generator<Mistake> {
  const things = collections.flatMap((collection) => (level[collection] as Thing[]).map((thing) => ({ collection, thing })));
  const ids = new Map(
    things.map(({ collection, thing }) => [thing.id, `${collection} ${typeof thing['kind'] === 'string' ? thing['kind'] : ''}`]),
  );
  const alike = (id: string): string[] =>
    [...ids].flatMap(([other, sort]) => (other !== id && sort === ids.get(id) ? [other] : []));
  for (const { collection, thing } of things) {
    const wrong = (kind: string, changed: Thing): Mistake => ({
      kind,
      thing: thing.id,
      level: { ...level, [collection]: (level[collection] as Thing[]).map((one) => (one === thing ? changed : one)) },
    });
    for (const [path, value] of leaves(thing, [])) {
      const field = path.filter((key) => typeof key === 'string').join('.');
      if (path.some((key) => left.has(String(key)))) continue;
      const last = String(path.at(-1));
      for (const [how, other] of wrongValues(last, value, alike, field))
        yield wrong(`${collection} ${field}: ${how}`, put(thing, path, other) as Thing);
    }
    if (collection !== 'chains') continue;
    const steps = thing['steps'] as Json[];
    const causes = thing['causes'] as Json[];
    for (let i = 0; i < steps.length; i++) {
      yield wrong('chains steps: one is missing', { ...thing, steps: steps.toSpliced(i, 1) });
      if (i > 0)
        yield wrong('chains steps: two the wrong way round', {
          ...thing,
          steps: steps.with(i, steps[i - 1]!).with(i - 1, steps[i]!),
        });
      const step = steps[i] as Thing;
      const turned = opposite[String(step['kind'])];
      if (turned !== undefined)
        yield wrong('chains steps: the opposite', { ...thing, steps: steps.with(i, { ...step, kind: turned }) });
    }
    for (let i = 0; i < causes.length; i++)
      if (causes.length > 1) yield wrong('chains causes: one is missing', { ...thing, causes: causes.toSpliced(i, 1) });
  }
}

function* wrongValues(last: string, value: Json, alike: (id: string) => string[], field: string): Generator<[string, Json]> {
  if (typeof value === 'boolean') yield [String(!value), !value];
  else if (typeof value === 'number') {
    if (value !== 0) {
      yield ['doubled', value * 2];
      yield ['halved', Number.isInteger(value) ? Math.floor(value / 2) : value / 2];
      yield ['zero', 0];
      if (/\b(at|travel|velocity|by|to)\b/.test(field)) yield ['the wrong sign', -value];
    } else if (last !== 'heading') yield ['one too much', 1];
    if (/^at\.[xyz]$/.test(field)) yield ['a metre aside', value + 1];
  } else if (typeof value === 'string') {
    if (last === 'kind' && field !== 'kind') return;
    const others = alike(value);
    for (const other of others.slice(0, 3)) yield ['another of its kind', other];
    if (others.length === 0) for (const other of choices[last] ?? []) if (other !== value) yield [other, other];
    if (/guard|when|until/.test(last) && value !== '') {
      if (/>=/.test(value)) yield ['a comparison too strict', value.replace('>=', '>')];
      if (/\d/.test(value))
        yield ['a number one too high', value.replace(/(?<!["\w-])\d+/, (digits) => String(Number(digits) + 1))];
      if (value.includes('&&')) yield ['or for and', value.replace('&&', '||')];
      yield ['turned round', value.startsWith('!') ? value.slice(1) : `!(${value})`];
    }
  } else if (value === null && last === 'limit') yield ['once only', 1];
  else if (Array.isArray(value) && value.every((one) => typeof one === 'string')) {
    if (value.length > 0) yield ['nothing', []];
    if (last === 'kinds' || last === 'takenBy') yield ['only props', ['prop']];
    if (/tags|anyOf|allOf|noneOf/.test(last)) yield ['a tag misspelt', [...value.slice(1), 'misspelt']];
  }
}

type Key = string | number;

function* leaves(value: Json, path: Key[]): Generator<[Key[], Json]> {
  if (Array.isArray(value) && !value.every((one) => typeof one === 'string')) {
    for (let i = 0; i < value.length; i++) yield* leaves(value[i]!, [...path, i]);
  } else if (value !== null && typeof value === 'object' && !Array.isArray(value)) {
    for (const [key, one] of Object.entries(value)) yield* leaves(one, [...path, key]);
  } else yield [path, value];
}

function put(root: Json, [key, ...rest]: Key[], value: Json): Json {
  if (key === undefined) return value;
  if (Array.isArray(root)) return root.with(Number(key), put(root[Number(key)]!, rest, value));
  const own = root as Record<string, Json>;
  return { ...own, [key]: put(own[key]!, rest, value) };
}
