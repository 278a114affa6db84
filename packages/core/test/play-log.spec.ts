import Ajv from 'ajv/dist/2020';
import fc from 'fast-check';
import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import { explainLog, parseLevel, parseLevelText, playLineJsonSchema, readPlayLog, rehearse, valuesAt } from '../src/index';
import type { Level } from '../src/index';
import { anyLevel } from './any-level';
import { cause, chain, door, flag, goTo, levelOf, step, visitor, walk, zone } from './build';

/** A log of a real play, read in: its positions are walked through the level, and what the game fired is laid beside the ledger. */

/** Out of the one zone and into the other in the same tick: which comes first is for the house to say. */
const yard = (more: object = {}): Level =>
  levelOf({
    visitors: [visitor('Miller', 0, 0)],
    zones: [zone('West', 1, 0), zone('East', 3.5, 0)],
    fixtures: [door('Mill door', 9, 0)],
    flags: [flag('Seen')],
    chains: [
      chain('Goes', [cause('leave', 'west')], [step('set-flag', { flag: 'seen', to: true })]),
      chain('Comes', [cause('enter', 'east')], [step('open', { door: 'mill-door' })]),
    ],
    walks: [walk({ miller: [goTo(5, 0)] })],
    ...more,
  });

/** What a game would have written that follows some rules: where the miller is ten times a second, and what fires. */
function played(level: Level, rules: object, kinds: readonly string[]): string {
  const { tracks, ledger, ticks } = rehearse(level, level.walks[0]!, { rules });
  const lines = [...ledger].flatMap(({ kind, who, what, seconds }) =>
    kinds.includes(kind)
      ? [JSON.stringify({ at: seconds, kind, ...(who === null ? {} : { who }), ...(what === null ? {} : { what }) })]
      : [],
  );
  for (const [id, track] of tracks.visitors)
    for (let tick = 0; tick <= ticks; tick++) {
      const [x, y, z] = valuesAt(track, tick);
      lines.push(JSON.stringify({ at: tick / level.rate, who: id, x, y, z }));
    }
  return lines.join('\n');
}

function explained(level: Level, text: string): ReturnType<typeof explainLog> {
  const read = readPlayLog(level, text);
  if (!read.ok) throw new Error(JSON.stringify(read.faults));
  return explainLog(level, read.log);
}

it('a game that follows the rules of the level fires what the ledger says, and its log is explained by them', () => {
  const { first, explainedBy, rows } = explained(yard(), played(yard(), {}, ['enter', 'leave', 'opened']));
  expect(first).toBe(-1);
  expect(rows.every(({ fired, entry }) => fired !== null && entry !== null)).toBe(true);
  expect(explainedBy[0]!.rules).toEqual([]);
});

it('of a game that enters before it leaves, the rule is found that explains it, and where the two part', () => {
  const text = played(yard(), { sameTick: 'enters-first' }, ['enter', 'leave']);
  const { first, rows, explainedBy, simplest, sets } = explained(yard(), text);
  expect(rows[first]).toMatchObject({ fired: { kind: 'enter', what: 'east' }, entry: null });
  expect(explainedBy[0]!.rules).toEqual(['sameTick']);
  expect(explainedBy.every(({ set }) => set.sameTick === 'enters-first')).toBe(true);
  expect(sets).toBe(96);
  // The others change something besides that does not matter here.
  expect(simplest).toEqual([explainedBy[0]]);
});

it('a log that no rules explain says so, and is laid beside the ledger all the same', () => {
  const text = `${played(yard(), {}, ['enter', 'leave'])}\n{"at":1,"kind":"bump","who":"Miller","what":"Mill door"}`;
  const { explainedBy, rows } = explained(yard(), text);
  expect(explainedBy).toEqual([]);
  expect(rows.filter(({ entry }) => entry === null).map(({ fired }) => fired!.kind)).toEqual(['bump']);
});

it('any level, played by its own rules, is explained by its own rules, as far as its visitors only walk', () => {
  const kinds = ['enter', 'leave', 'missed'];
  fc.assert(
    fc.property(anyLevel, (raw) => {
      const parsed = parseLevel(raw);
      if (!parsed.ok) throw new Error('The level is not valid');
      const plain = { ...parsed.level, chains: [], fixtures: [], watches: [], solids: [] };
      const one = plain.walks[0]!;
      const routes = one.routes.map((route) => ({
        ...route,
        instructions: route.instructions.filter(({ do: does }) => does === 'go-to' || does === 'wait'),
      }));
      const visitors = plain.visitors.map((own) => ({ ...own, blocks: false, at: { ...own.at, z: 0 } }));
      const rooms = plain.rooms.map((room) => ({ ...room, ground: 0 }));
      const level = { ...plain, rooms, visitors, walks: [{ ...one, routes, jitter: { start: 0, speed: 0 } }] };
      const text = played(level, {}, kinds);
      if (level.visitors.length === 0 || rehearse(level, level.walks[0]!).ticks === 0) return;
      expect(explained(level, text).explainedBy.some(({ rules }) => rules.length === 0)).toBe(true);
    }),
    { numRuns: Math.ceil(Number(process.env['PROPERTY_RUNS'] ?? 60) / 5) },
  );
});

it('is read as CSV as well, by names, with what is empty left out', () => {
  const read = readPlayLog(
    yard(),
    'at,who,x,y,kind,what\r\n0,Miller,0,0,,\r\n1,"miller",1,0.5,,\r\n0.5,MILLER,,,enter,"West"\r\n',
  );
  if (!read.ok) throw new Error(JSON.stringify(read.faults));
  expect(read.log.positions.get('miller')).toEqual([
    { at: 0, x: 0, y: 0, z: null, room: null },
    { at: 1, x: 1, y: 0.5, z: null, room: null },
  ]);
  expect(read.log.fired).toEqual([{ at: 0.5, kind: 'enter', who: 'miller', what: 'west', line: 4 }]);
});

it.each([
  ['{"at":0,"who":"Miler","x":1,"y":2}', 1, 'There is no visitor “Miler” in this level (did you mean “miller”?)'],
  ['{"at":0,"who":"Miller","x":1,"y":2}\n{"at":0,"who":"Miller","x":1,"y":3}', 2, 'in time order'],
  ['{"at":0,"who":"Miller","x":1,"y":2}\n{"at":1,"kind":"entered"}', 2, 'kind'],
  ['{"at":0,"who":"Miller","x":1}', 1, 'y'],
  ['{"at":0,"who":"Miller","x":1,"y":2', 1, 'Invalid JSON'],
  ['when,who\n1,2', 1, 'There is no column “when”'],
  ['', 1, 'neither JSON lines nor CSV'],
  ['{"at":1,"kind":"enter","who":"Miller","what":"West"}', 1, 'The log has no positions'],
])('%s: the fault names its line', (text, line, message) => {
  const read = readPlayLog(yard(), text);
  expect(read.ok).toBe(false);
  expect(read.ok ? null : read.faults[0]).toMatchObject({ line, message: expect.stringContaining(message) as string });
});

it('the example in demo/ is as its schema says, line by line, and is explained by the rule that it is there for', () => {
  const root = join(__dirname, '../../..');
  const schema: unknown = JSON.parse(readFileSync(join(root, 'docs/play-line.schema.json'), 'utf8'));
  expect(schema).toEqual(JSON.parse(JSON.stringify(playLineJsonSchema())));
  const judge = new Ajv({ strict: false }).compile(schema as object);
  const text = readFileSync(join(root, 'demo/play-logs/two-banks.jsonl'), 'utf8');
  for (const line of text.trim().split('\n')) expect([line, judge(JSON.parse(line))]).toEqual([line, true]);
  expect(judge({ at: 0, who: 'Alma', x: 1 })).toBe(false);
  expect(judge({ at: 0, kind: 'entered' })).toBe(false);
  const parsed = parseLevelText(readFileSync(join(root, 'demo/examples/same-tick.level.json'), 'utf8'));
  if (!parsed.ok) throw new Error('The example has faults');
  expect(explained(parsed.level, text).explainedBy[0]!.rules).toEqual(['sameTick']);
});
