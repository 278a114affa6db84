import { readFileSync, readdirSync } from 'node:fs';
import { join } from 'node:path';
import fc from 'fast-check';
import {
  applied,
  completionsOf,
  conditionCompletions,
  lookup,
  mergedText,
  nameOf,
  parseLevelText,
  printWiring,
  readLine,
  readNewChain,
  readWiring,
} from '../src/index';
import type { Level, WiringRead } from '../src/index';
import { anyLevel } from './any-level';
import { cause, chain, levelOf, step, visitor, zone } from './build';

/** Wiring as text: what is written down is read as it was, and what is typed becomes the chain that it says. */

const fromDisk = (file: string): Level => {
  const read = parseLevelText(readFileSync(file, 'utf8'));
  if (!read.ok) throw new Error(`${file} is no level`);
  return read.level;
};
const demoFolder = join(__dirname, '../../../demo');
const demo = fromDisk(join(demoFolder, 'nettlewick.level.json'));

const counting = (): { newId: (prefix: string) => string } => {
  let given = 0;
  return { newId: (prefix) => `${prefix}-t${(given += 1)}` };
};
const read = (text: string, level: Level): WiringRead => readWiring(text, level, counting());
const readInto = (text: string, level: Level): Level => {
  const found = read(text, level);
  if (!found.ok) throw new Error(found.faults.map(({ line, message }) => `${line}: ${message}`).join('\n') + `\n${text}`);
  return found.edit === null ? level : applied(level, found.edit);
};

const wired = ['flags', 'counters', 'texts', 'signals', 'watches', 'chains'] as const;

/** A level without its wiring: nothing in it has the name of a fact or a chain any more. */
function bare(level: Level): Level {
  return { ...level, flags: [], counters: [], texts: [], signals: [], watches: [], chains: [], walks: [] };
}

/** The wiring of a level with new ids in place of its own: those of facts and chains by name, those of causes and steps by their order. */
function wiringOf(level: Level): unknown {
  const ids = new Map<string, string>();
  for (const collection of wired) for (const { id, name } of level[collection]) ids.set(id, `by-name ${name.trim()}`);
  level.chains.forEach(({ causes, steps }, i) => {
    causes.forEach(({ id }, j) => ids.set(id, `cause ${i} ${j}`));
    steps.forEach(({ id }, j) => ids.set(id, `step ${i} ${j}`));
  });
  const text = JSON.stringify(
    Object.fromEntries(wired.map((collection) => [collection, level[collection]])),
    (_key, value: unknown) =>
      typeof value === 'string'
        ? (ids.get(value) ?? value.replace(/"([^"]*)"/g, (whole, id: string) => (ids.has(id) ? `"${ids.get(id)!}"` : whole)))
        : value,
  );
  return JSON.parse(text);
}

function returns(level: Level): void {
  const text = printWiring(level);
  expect(printWiring(level)).toBe(text);
  // Into the level that it is of, it changes nothing; into the same without any wiring, it makes all of it anew.
  expect(read(text, level)).toMatchObject({ ok: true, edit: null });
  const again = readInto(text, bare(level));
  expect(printWiring(again)).toBe(text);
  expect(wiringOf(again)).toEqual(wiringOf(level));
}

describe('Wiring that is printed and read again', () => {
  it('is the same but for new ids: the demo, in plain sentences', () => {
    expect(printWiring(demo)).not.toContain(' with {');
    returns(demo);
  });

  it('is the same for every worked example', () => {
    const files = readdirSync(join(demoFolder, 'examples'), { recursive: true, encoding: 'utf8' }).filter((file) =>
      file.endsWith('.json'),
    );
    expect(files.length).toBeGreaterThan(20);
    for (const file of files) returns(fromDisk(join(demoFolder, 'examples', file)));
  });

  it('is the same where a value without words names what is made anew, and in conditions about rooms', () => {
    const level = levelOf({
      zones: [zone('Pad', 0, 0)],
      visitors: [visitor('Miller', -5, 0)],
      flags: [{ id: 'dry', name: 'Dry season' }],
      chains: [
        chain('First', [cause('enter', 'pad')], [step('disable', { thing: 'second', tagged: 'bird' })], {
          guard: `room(hand()) == "${levelOf({}).rooms[0]!.id}" && owner("pad") != 'miller' && flag("dry")`,
        }),
        chain('Second', [cause('enter', 'pad')], []),
      ],
    });
    const text = printWiring(level);
    expect(text).toContain('with {"thing":{"named":"Second"}}');
    expect(text).toContain(`owner("Pad") != 'Miller' && flag("Dry season")`);
    returns(level);
  });

  it('is the same for random levels', () => {
    fc.assert(fc.property(anyLevel, returns), { numRuns: 25, endOnFailure: true });
  });
});

describe('Wiring that is typed', () => {
  const typed = (text: string): ReturnType<typeof readInto> => readInto(text, demo);
  const chainOf = (level: Level, name: string) => level.chains.find((chain) => chain.name === name)!;

  it('makes a flag and a chain that uses it, however it is spaced and spelled', () => {
    const level = typed(
      [
        'flag Market day',
        '  at the start it is on, one for the level',
        'chain Market bell',
        '  when a player enters doorstep, at most 3 times, cooldown 2 seconds for each visitor',
        '  only if flag("Market day") && !closed("Mill door")',
        '    play Hopper bell',
        '      500 ms later, set Market day off'.replace('500 ms', '0.5 s'),
        '    2 s later, write “Bell rung” on Gate board.',
      ].join('\n'),
    );
    const chain = chainOf(level, 'Market bell');
    const flag = level.flags.at(-1)!;
    expect(flag).toMatchObject({ name: 'Market day', on: true });
    expect(chain.guard).toBe(`flag("${flag.id}") && !closed("mill-door")`);
    expect(chain.causes).toMatchObject([
      { on: 'enter', of: 'doorstep', filter: { kinds: ['player'] }, limit: 3, cooldown: 2, cooldownFor: 'visitor' },
    ]);
    expect(chain.steps).toMatchObject([
      { kind: 'cue', start: 'after' },
      { kind: 'set-flag', start: 'with', delay: 0.5, flag: flag.id, to: false },
      { kind: 'write-sign', start: 'after', delay: 2, text: 'Bell rung' },
    ]);
  });

  it('changes a chain in place: what stays as it was keeps its ids, and nothing else changes', () => {
    const before = chainOf(demo, 'The mill door opens for people');
    const text = printWiring(demo).replace('    open Mill door\n', '    open Mill door\n    3 s later, close Mill door\n');
    const found = read(text, demo);
    expect(found).toMatchObject({ ok: true, changes: { added: [], changed: ['The mill door opens for people'], removed: [] } });
    const after = chainOf(readInto(text, demo), before.name);
    expect(after.causes).toEqual(before.causes);
    expect(after.steps[0]).toEqual(before.steps[0]);
    expect(after.steps[1]).toMatchObject({ kind: 'close', delay: 3, door: 'mill-door' });
  });

  it('leaves out what is as usual at the end of a place', () => {
    const steps = chainOf(
      typed(
        'chain Away\n  When player enters Doorstep\n    teleport the triggering visitor to 3 m east, 2 m north\n    send Sack hoist to stop 2',
      ),
      'Away',
    ).steps;
    expect(steps).toMatchObject([
      { kind: 'teleport', to: { x: 3, y: 2, z: 0, of: '' }, arrival: 'quiet', velocity: 'stop' },
      { kind: 'send', elevator: 'sack-hoist', stop: 2 },
    ]);
  });

  it('renames what has another name at the same place, and what refers to it by its old name or its new one stays', () => {
    const flag = demo.flags.find(({ name }) => name === 'Sluice is open')!;
    const standsFor = [...demo.flags, ...demo.chains].map(({ id }) => id);
    const text = printWiring(demo)
      .replace('flag Sluice is open', 'flag Race runs')
      .replace('set Sluice is open off', 'set Race runs off');
    const found = readWiring(text, demo, { ...counting(), standsFor });
    if (!found.ok) throw new Error(found.faults[0]!.message);
    expect(found.changes).toEqual({ added: [], changed: ['Race runs'], removed: [] });
    const level = applied(demo, found.edit!);
    expect(level.flags.find(({ id }) => id === flag.id)).toEqual({ ...flag, name: 'Race runs' });
    expect(level.chains).toEqual(demo.chains);
  });

  it('deletes only what it stands for and has no more', () => {
    const chain = chainOf(demo, 'The bell answers');
    const found = readWiring('', demo, { ...counting(), standsFor: [chain.id] });
    expect(found).toMatchObject({ ok: true, changes: { removed: [chain.name] } });
    expect(read('', demo)).toMatchObject({ ok: true, edit: null });
  });

  it.each([
    ['chain X\n  When player enters Dorstep', 2, 'Doorstep'],
    ['chain X\n  When player entres Doorstep', 2, 'enters'],
    ['chain X\n  When player enters Doorstep\n    open Mill dor', 3, 'Mill door'],
    ['chain X\n  When player enters Doorstep\n    opem Mill door', 3, 'open'],
    ['chian X\n  When player enters Doorstep', 1, 'chain'],
    ['chain X\n    send Sack hoist to stop two', 2, 'a number'],
    ['chain X\n    set Tokens', 2, ''],
    ['chain Doorstep', 1, 'unique'],
  ])('says where it cannot be read, and what was probably meant: %j', (text, line, meant) => {
    const found = read(text, demo);
    if (found.ok) throw new Error('was read');
    expect(found.faults).toHaveLength(1);
    expect(found.faults[0]!.line).toBe(line);
    expect(found.faults[0]!.message).toContain(meant);
    const { column, length } = found.faults[0]!;
    expect(text.split('\n')[line - 1]!.length + 1).toBeGreaterThanOrEqual(column);
    expect(length).toBeGreaterThan(0);
  });

  it('never makes an invalid level and never throws, for any typed text', () => {
    const lines = printWiring(demo).split('\n');
    const line = fc.oneof(
      fc.constantFrom(...lines),
      fc.string(),
      fc.tuple(fc.constantFrom(...lines), fc.nat(40)).map(([one, at]) => one.slice(0, at)),
    );
    fc.assert(
      fc.property(fc.array(line, { maxLength: 12 }), (some) => {
        const found = read(some.join('\n'), demo);
        if (!found.ok) return expect(found.faults.length).toBeGreaterThan(0);
        const level = found.edit === null ? demo : applied(demo, found.edit);
        expect(parseLevelText(JSON.stringify(level))).toMatchObject({ ok: true });
        for (const { id } of level.chains) expect(nameOf(level, id)).toBe(lookup(level).get(id)!.thing.name);
      }),
      { numRuns: 150 },
    );
  });
});

describe('What can be typed next in a condition', () => {
  it.each([
    ['', 'flag("'],
    ['!in', 'inside("'],
    ['flag("Sluice is open") && ha', 'hand()'],
    ['inside(hand(), "Door', 'Doorstep"'],
    ['room(hand()) != "', 'Mill yard"'],
    ['owner("Mill door") == "mi', 'Miller"'],
    ['hand() == "', 'Miller"'],
  ])('after %j', (before, next) => {
    const { from, options } = conditionCompletions(demo, before);
    expect(options).toContain(next);
    expect(next.toLowerCase().startsWith(before.slice(from).toLowerCase())).toBe(true);
  });

  it('is nothing within a text', () => {
    expect(conditionCompletions(demo, 'text("Gate board") == "sh').options).toEqual([]);
  });
});

describe('What can be typed next', () => {
  const after = (before: string, head: string | null = 'chain X') => {
    const { from, options } = completionsOf(demo, head, before);
    return { begun: before.slice(from), options };
  };

  it.each([
    ['', null, '', 'chain '],
    ['  When player en', 'chain X', 'en', 'enters'],
    ['  When player enters ', 'chain X', '', 'Doorstep'],
    ['  When player enters Doorstep, at ', 'chain X', '', 'most'],
    ['    op', 'chain X', 'op', 'open'],
    ['    open M', 'chain X', 'M', 'Mill door'],
    ['    1 s later, ', 'chain X', '', 'open'],
    ['    send Sack hoist ', 'chain X', '', 'to stop'],
    ['  Only if cl', 'chain X', 'cl', 'closed("'],
    ['  Only if closed("', 'chain X', '', 'Mill door"'],
    ['  Only if inside("Miller", "Door', 'chain X', 'Door', 'Doorstep"'],
    ['  At the start it is ', 'flag X', '', 'on'],
  ])('after %j in %j', (before, head, begun, option) => {
    const found = after(before, head);
    expect(found.begun).toBe(begun);
    expect(found.options).toContain(option);
  });

  it('are things that can do what is asked, and no others', () => {
    const { options } = after('    send ');
    expect(options).toContain('Sack hoist');
    expect(options).not.toContain('Mill door');
  });
});

describe('A text that is being typed while somebody else edits', () => {
  const text = printWiring(demo);
  const typed = text.replace('    open Mill door\n', '    open Mill door\n    wait 2 s\n');
  const theirs = (change: (text: string) => string): string => printWiring(readInto(change(text), demo));

  it('takes what they have done to other paragraphs, and keeps its own', () => {
    const now = theirs(
      (one) => one.replace('0.5 s later, open Sluice gate', '0.7 s later, open Sluice gate') + '\nflag Market day\n',
    );
    const merged = mergedText(text, typed, now);
    expect(merged).toContain('wait 2 s');
    expect(merged).toContain('0.7 s later, open Sluice gate');
    expect(merged).toContain('flag Market day');
    expect(read(merged, readInto(now, demo))).toMatchObject({
      changes: { added: [], changed: ['The mill door opens for people'], removed: [] },
    });
  });

  it('is what is printed where nothing was typed, and what was typed where they did nothing', () => {
    const now = theirs((one) => one.replace('0.5 s later', '0.9 s later'));
    expect(mergedText(text, text, now)).toBe(now);
    expect(mergedText(text, typed, text)).toBe(typed);
  });

  it('leaves the line being typed at the end as it is, including spaces', () => {
    for (const own of [`${text}\nchain Late bell\n  When player enters `, `${text}\nchain Late bell\n  When`]) {
      expect(mergedText(text, own, text)).toBe(own);
    }
  });
});

describe('One line more', () => {
  const chain = demo.chains.find(({ name }) => name === 'The mill door opens for people')!;
  const line = (text: string, level = demo) => {
    const found = readLine(
      text,
      level,
      level.chains.find(({ id }) => id === chain.id)!,
      counting().newId,
    );
    if (!found.ok) throw new Error(found.faults[0]!.message);
    return applied(level, found.edit!).chains.find(({ id }) => id === chain.id)!;
  };

  it('is a step at the end, another cause, or the condition', () => {
    const { steps, ...rest } = line('2 s later, close Mill door');
    expect(rest).toEqual({ ...chain, steps: undefined });
    expect(steps).toMatchObject([chain.steps[0]!, { kind: 'close', delay: 2 }]);
    expect(line('When Goose enters Doorstep'.replace('Goose', 'creature')).causes).toMatchObject([
      chain.causes[0]!,
      { filter: { kinds: ['creature'] } },
    ]);
    expect(line('only if open("Sluice gate")').guard).toBe('open("sluice-gate")');
  });

  it('takes the place of a cause that has no source yet', () => {
    const causes = [{ ...chain.causes[0]!, of: '' }];
    const level = { ...demo, chains: demo.chains.map((one) => (one.id === chain.id ? { ...one, causes } : one)) };
    expect(line('When Sack plate is pressed', level).causes).toMatchObject([{ on: 'press', of: 'sack-plate' }]);
  });

  it('says where it is wrong, from the beginning of the line', () => {
    const found = readLine('open Mil door', demo, chain, counting().newId);
    expect(found).toMatchObject({
      ok: false,
      faults: [{ line: 1, column: 6, message: expect.stringContaining('Mill door') as string }],
    });
  });
});

describe('A chain in one line', () => {
  const chain = (text: string, level = demo) => {
    const found = readNewChain(text, level, counting().newId);
    if (!found.ok) throw new Error(found.faults[0]!.message);
    return applied(level, found.edit!).chains.at(-1)!;
  };

  it('is its cause, and its steps after a colon; it is named after what triggers it', () => {
    expect(chain('When player enters Doorstep: open Mill door; 2 s later, close Mill door')).toMatchObject({
      name: 'Doorstep triggers',
      causes: [{ on: 'enter', of: 'doorstep', filter: { kinds: ['player'] } }],
      steps: [{ kind: 'open' }, { kind: 'close', delay: 2 }],
    });
    expect(chain('when sack plate is pressed')).toMatchObject({ name: 'Sack plate triggers', steps: [] });
  });

  it('may be of a thing with a colon in its name', () => {
    const level = { ...demo, zones: demo.zones.map((zone) => (zone.id === 'doorstep' ? { ...zone, name: 'Door: step' } : zone)) };
    expect(chain('When player enters Door: step: open Mill door', level)).toMatchObject({
      name: 'Door: step triggers',
      steps: [{ kind: 'open' }],
    });
  });

  it.each([
    ['When player entres Doorstep: open Mill door', 'enters'],
    ['When player enters Doorstep: opem Mill door', 'open'],
    ['open Mill door', ''],
    ['', ''],
  ])('says what is wrong: %j', (text, meant) => {
    const found = readNewChain(text, demo, counting().newId);
    if (found.ok) throw new Error('was read');
    expect(found.faults[0]!.message).toContain(meant);
  });
});
