import { readFileSync, readdirSync } from 'node:fs';
import { join } from 'node:path';
import { applied, parseLevel, parseLevelText, rehearse, whyNot, whyNotAt, whyNotStep } from '../src/index';
import type { Level, Reason } from '../src/index';
import { at, cause, chain, door, fixture, flag, goTo, levelOf, plate, solid, step, visitor, wait, walk, zone } from './build';

const folder = join(__dirname, '../../../demo');
function levelIn(file: string): Level {
  const parsed = parseLevelText(readFileSync(join(folder, file), 'utf8'));
  if (!parsed.ok) throw new Error(`${file} has faults`);
  return parsed.level;
}
const why = (level: Level, id: string, at = 0): Reason[] => whyNot(level, rehearse(level, level.walks[at]!), id);
const says = (level: Level, id: string): string[] => why(level, id).map((reason) => reason.says);

const miller = visitor('Miller', -5, 0);
const yard = (parts: Record<string, unknown>, ...told: Record<string, unknown>[]): Level =>
  levelOf({
    visitors: [miller],
    zones: [zone('Spot', 0, 0)],
    fixtures: [door('Gate', 5, 0)],
    walks: [walk({ miller: told })],
    ...parts,
  });
const opening = () => step('open', { door: 'gate' });

describe('Why did nothing happen?', () => {
  it('the goose did not open the mill door: the filter asks for players, and the mend opens it', () => {
    const demo = levelIn('nettlewick.level.json');
    const at = demo.walks.findIndex(({ name }) => name.includes('goose comes'));
    const [first] = why(demo, 'mill-door', at);
    expect(first!.says).toContain('the filter requires kinds player, found creature');
    expect(first!.mend).toBe('Allow creatures in the filter.');
    const mended = applied(demo, first!.edit!);
    expect(parseLevel(JSON.parse(JSON.stringify(mended))).ok).toBe(true);
    expect(rehearse(mended, mended.walks[at]!).entries.some(({ kind, what }) => kind === 'opened' && what === 'mill-door')).toBe(
      true,
    );
  });

  it('never reached: how near anyone came, and when', () => {
    const level = yard({ chains: [chain('Open it', [cause('enter', 'spot')], [opening()])] }, goTo(-3, 0));
    const [first] = why(level, 'open-it');
    expect(first!.says).toBe('Nobody entered “Spot”. “Miller” came nearest: 1.75 m away, at 2 s. Nothing was between them.');
    expect(first!.tick).toBe(20);
    expect(first!.mend).toContain('Enlarge');
  });

  it('what is asked of the triggering visitor was not so: it says of whom, and how near it came', () => {
    const guarded = chain('Open it', [cause('enter', 'spot')], [opening()], { guard: 'inside(hand(), "mat")' });
    const level = yard({ zones: [zone('Spot', 0, 0), zone('Mat', 4, 0)], chains: [guarded] }, goTo(0, 0));
    expect(says(level, 'open-it').join('\n')).toContain('“Miller” never entered “Mat”.');
    const onBoth = yard({ zones: [zone('Spot', 0, 0), zone('Mat', 0, 0)], chains: [guarded] }, goTo(0, 0));
    expect(says(onBoth, 'open-it').join('\n')).not.toContain('never entered');
  });

  it('of what is acted on by a tag, as of what is named: its chain was never set off', () => {
    const byTag = chain('Open all', [cause('enter', 'spot')], [step('open', { door: '', tagged: 'gates' })]);
    const level = yard({ fixtures: [door('Gate', 5, 0, { tags: ['gates'] })], chains: [byTag] }, goTo(-3, 0));
    expect(why(level, 'gate')[0]!.says).toMatch(/^Nobody entered “Spot”\. “Miller” came nearest/);
    const waits = chain('Then', [cause('opened', 'gate')], [step('close', { door: 'gate' })]);
    const then = yard({ fixtures: [door('Gate', 5, 0, { tags: ['gates'] })], chains: [byTag, waits] }, goTo(-3, 0));
    expect(
      why(then, 'then')
        .map(({ says }) => says)
        .join(' '),
    ).toContain('Nobody entered “Spot”');
  });

  it('never reached: what was between, and made as much larger as is needed by one press, whatever its form', () => {
    const listening = { chains: [chain('Open it', [cause('enter', 'spot')], [opening()])] };
    const first = (parts: Record<string, unknown>, ...told: Record<string, unknown>[]): Reason =>
      why(yard({ ...listening, ...parts }, ...told), 'open-it')[0]!;
    const walled = { solids: [solid('Mill wall', -2, 0, { size: at(0.5, 104, 3) })] };
    expect(first(walled, goTo(-3, 0)).says).toMatch(/1.75 m away.* Between them: “Mill wall”\.$/);
    expect(first(walled, goTo(0, 0)).says).toMatch(/“Mill wall” stopped it there\.$/);
    // A wall is no reason where it does not stand between, nor one that is stepped over; what is between is not grown through.
    const aside = { solids: [solid('Mill wall', -2, 9), solid('Sill', -2, 0, { size: at(0.5, 1, 0.2) })] };
    expect(first(aside, goTo(-3, 0)).says).toMatch(/Nothing was between them\.$/);
    expect([first(walled, goTo(-3, 0)).edit, first(aside, goTo(-3, 0)).edit === null]).toEqual([null, false]);
    const high = { zones: [zone('Spot', 0, 0, { at: at(0, 0, 2.3) })] };
    expect(first(high, goTo(0, 0)).says).toMatch(/0.5 m away.* It passed 0.5 m below it\.$/);
    for (const shape of [
      { kind: 'box', size: at(2, 2, 2) },
      { kind: 'pillar', radius: 1, height: 2 },
      { kind: 'ball', radius: 1 },
    ])
      for (const [z, heading, y] of [
        [0, 0, 0],
        [2.5, 0, 0.3],
        [2.1, 40, -1.2],
        [-2.05, 75, 0.7],
      ]) {
        const level = yard({ ...listening, zones: [zone('Spot', 0, 0, { at: at(0, 0, z), heading, shape })] }, goTo(-2, y!));
        const { edit } = why(level, 'open-it')[0]!;
        const mended = applied(level, edit!);
        expect([shape.kind, z, parseLevel(JSON.parse(JSON.stringify(mended))).ok]).toEqual([shape.kind, z, true]);
        expect(rehearse(mended, mended.walks[0]!).entries.some(({ kind }) => kind === 'opened')).toBe(true);
      }
  });

  it('of one step: what it did and what came of it, that it was never come to, or why its chain never started', () => {
    const steps = [opening(), step('wait', { seconds: 30 }), step('close', { door: 'gate' })];
    const parts = { chains: [chain('Open it', [cause('enter', 'spot')], steps)] };
    const ask = (level: Level, at: number): string[] =>
      whyNotStep(level, rehearse(level, level.walks[0]!), 'open-it', level.chains[0]!.steps[at]!.id).map((one) => one.says);
    const walked = yard({ ...parts, walks: [walk({ miller: [goTo(0, 0)] }, { atMost: 20 })] });
    expect(ask(walked, 0)[0]).toMatch(/^“open Gate” was done once at 3.8 s, and Gate starts to open\.$/);
    expect(ask(walked, 2)).toEqual(['“close Gate” was never reached.']);
    expect(ask(yard(parts, goTo(-3, 0)), 0)[0]).toMatch(/^Nobody entered “Spot”/);
  });

  it('of a moment: what came before and after, what was under way, who was inside, who was near what', () => {
    const parts = { chains: [chain('Open it', [cause('enter', 'spot')], [step('wait', { seconds: 2 }), opening()])] };
    const level = yard(parts, goTo(0, 0), wait(9));
    const run = rehearse(level, level.walks[0]!);
    const at = (seconds: number): string[] => whyNotAt(level, run, seconds * 10).map((one) => one.says);
    expect(at(1)).toEqual([
      'Nothing fired at 1 s; the next, at 3.8 s: Miller enters Spot.',
      '“Miller” was not inside anything. Nearest: “Spot”, 2.75 m away.',
    ]);
    expect(at(3.8)[0]).toMatch(/^At 3.8 s Miller enters Spot, and \d+ more\.$/);
    expect(at(4.5)).toEqual([
      expect.stringMatching(/^Nothing fired at 4.5 s; the last before it, at 3.8 s: .*; the next, at 5 s: Miller has arrived\.$/),
      expect.stringMatching(/^“Open it” had started at 3.8 s: next comes “.*”, at 5.8 s\.$/),
      '“Miller” was inside of “Spot” since 3.8 s: entering it fires once, staying does not.',
    ]);
    // What was held is told with its mend, as of a chain.
    const kept = yard(
      { chains: [chain('Open it', [cause('enter', 'spot', { filter: { kinds: ['creature'] } })], [opening()])] },
      goTo(0, 0),
    );
    const [held] = whyNotAt(kept, rehearse(kept, kept.walks[0]!), 38).filter(({ edit }) => edit !== null);
    expect(held!.says).toMatch(/^Held: /);
    expect(rehearse(applied(kept, held!.edit!), kept.walks[0]!).entries.some(({ kind }) => kind === 'opened')).toBe(true);
  });

  it('reached but held: the condition with the values that were read, the limit, the pause', () => {
    const held = (more: Record<string, unknown>, of: Record<string, unknown> = {}): string[] =>
      says(
        yard(
          { flags: [flag('Tide in')], chains: [chain('Open it', [cause('enter', 'spot', of)], [opening()], more)] },
          goTo(0, 0),
          goTo(-4, 0),
          goTo(0, 0),
        ),
        'open-it',
      );
    expect(held({ guard: 'flag("tide-in")' })[0]).toContain('flag');
    expect(held({ enabled: false })[0]).toContain('off');
    expect(held({}, { limit: 1 }).join()).toContain('limit reached: 1 of 1 starts used');
    expect(held({}, { cooldown: 60 }).join()).toMatch(/cool|pause|again/);
  });

  it('a remedy that is offered lets the chain start', () => {
    for (const [more, of] of [
      [{ guard: 'flag("tide-in")' }, {}],
      [{ enabled: false }, {}],
      [{}, { limit: 0 }],
      [{}, { filter: { kinds: ['creature'] } }],
      [{}, { filter: { anyOf: ['keeper'] } }],
    ] as [Record<string, unknown>, Record<string, unknown>][]) {
      const level = yard(
        { flags: [flag('Tide in')], chains: [chain('Open it', [cause('enter', 'spot', of)], [opening()], more)] },
        goTo(0, 0),
      );
      const edit = why(level, 'open-it').find((reason) => reason.edit !== null)?.edit;
      expect([more, of, edit === undefined]).toEqual([more, of, false]);
      const mended = applied(level, edit!);
      expect(rehearse(mended, mended.walks[0]!).entries.some(({ kind }) => kind === 'chain-started')).toBe(true);
    }
  });

  it('it fired, and its target was so already; or something undid it later', () => {
    const already = yard(
      { fixtures: [door('Gate', 5, 0, { open: true })], chains: [chain('Open it', [cause('enter', 'spot')], [opening()])] },
      goTo(0, 0),
    );
    expect(says(already, 'open-it').join('\n')).toContain('changed nothing: already in that state');
    const undone = yard(
      {
        flags: [flag('Lit')],
        chains: [
          chain('Light', [cause('enter', 'spot')], [step('set-flag', { flag: 'lit', to: true })]),
          chain('Dark', [cause('leave', 'spot')], [step('set-flag', { flag: 'lit', to: false })]),
        ],
      },
      goTo(3, 0),
      wait(1),
    );
    expect(says(undone, 'light').join('\n')).toMatch(/was undone at .*Lit/);
  });

  it('what should have sent it: the signal that nobody sent, the watch that waits, the plate that was not pressed', () => {
    const level = yard(
      {
        fixtures: [door('Gate', 5, 0), plate('Sill', -3, 3)],
        flags: [flag('Tide in')],
        signals: [{ id: 'call', name: 'Call' }],
        watches: [{ id: 'tide', name: 'Tide', when: 'flag("tide-in")' }],
        chains: [
          chain('By call', [cause('signal', 'call')], [opening()]),
          chain('By tide', [cause('became-true', 'tide')], [opening()]),
          chain('By weight', [cause('press', 'sill')], [opening()]),
        ],
      },
      goTo(0, 0),
    );
    expect(says(level, 'by-call').join('\n')).toContain('No chain acts on “Call”');
    expect(says(level, 'by-tide').join('\n')).toContain('It waits until Tide in is on.');
    expect(says(level, 'gate').length).toBeGreaterThan(2);
  });
});

describe('What keeps others out is said of it', () => {
  const collected = (more: Record<string, unknown>, ...others: Record<string, unknown>[]): string[] => {
    const level = levelOf({
      visitors: [miller],
      zones: [zone('Spot', 0, 0)],
      fixtures: [fixture('collectible', 'Token', 2, 0, more)],
      chains: [chain('Counts', [cause('enter', 'token')], [step('hide', { fixture: 'token' })]), ...others],
      walks: [walk({ miller: [goTo(2, 0)] })],
    });
    return says(level, 'token');
  };
  const solidly = '“Token” is solid, so nobody can enter it.';

  it('that it is solid, or disabled, unless something changed that in the walk', () => {
    expect(collected({ solid: true })).toContain(solidly);
    expect(collected({})).not.toContain(solidly);
    const softens = chain('Softens', [cause('enter', 'spot')], [step('make-passable', { fixture: 'token' })]);
    expect(collected({ solid: true }, softens)).not.toContain(solidly);
    const off = '“Token” is disabled, and nothing enabled it.';
    expect(collected({ enabled: false })).toContain(off);
    expect(collected({})).not.toContain(off);
    const enables = chain('Enables', [cause('enter', 'spot')], [step('enable', { thing: 'token' })]);
    expect(collected({ enabled: false }, enables)).not.toContain(off);
  });

  it('what was held because it is disabled is enabled by a press', () => {
    const off = {
      zones: [zone('Spot', 0, 0, { enabled: false })],
      chains: [chain('Opens', [cause('enter', 'spot')], [opening()])],
    };
    const level = yard(off, goTo(3, 0));
    const edits = why(level, 'opens').flatMap(({ edit }) => edit ?? []);
    const mended = applied(level, edits[0]!);
    expect(rehearse(mended, mended.walks[0]!).entries.some(({ kind }) => kind === 'opened')).toBe(true);
  });

  it('of a visitor, that it is not in play, unless it was spawned', () => {
    const away = '“Miller” is not in play, and nothing spawned it.';
    const asked = (more: Record<string, unknown>): string[] =>
      says(levelOf({ visitors: [visitor('Miller', 0, 0, more)], walks: [walk({ miller: [goTo(2, 0)] })] }), 'miller');
    expect(asked({ inPlay: false })).toContain(away);
    expect(asked({})).not.toContain(away);
  });
});

it('is answered of everything in every example and its broken twin, by name and never by id', () => {
  const files = readdirSync(join(folder, 'examples'));
  let answers = 0;
  for (const file of files) {
    const level = levelIn(`examples/${file}`);
    const run = rehearse(level, level.walks[0]!);
    const ids = [...level.chains, ...level.zones, ...level.fixtures, ...level.visitors].map(({ id }) => id);
    for (const id of ids) {
      const reasons = whyNot(level, run, id);
      if (level.chains.some((one) => one.id === id)) expect([file, id, reasons.length]).not.toEqual([file, id, 0]);
      // No sentence is said twice.
      expect(new Set(reasons.map((one) => one.says)).size).toBe(reasons.length);
      for (const { says: said, entries, edit } of reasons) {
        answers++;
        expect(entries.filter((number) => run.ledger.at(number) === undefined)).toEqual([]);
        if (edit !== null) expect(parseLevel(JSON.parse(JSON.stringify(applied(level, edit)))).ok).toBe(true);
        expect(ids.filter((one) => one.includes('-') && said.includes(`“${one}”`))).toEqual([]);
      }
    }
  }
  expect(answers).toBeGreaterThan(300);
});
