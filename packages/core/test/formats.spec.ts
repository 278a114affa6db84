import { DOMParser } from '@xmldom/xmldom';
import { parse as readCsv } from 'csv-parse/sync';
import fc from 'fast-check';
import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import { parse as readVcd } from 'vcd-parser';
import { entrySentence, ledgerCsv, nameOf, parseLevel, parseLevelText, rehearse, statesVcd, valuesAt } from '../src/index';
import { junitXml } from '../src/formats/junit';
import type { Expectation, Level } from '../src/index';
import { anyLevel } from './any-level';
import { cause, chain, fixture, flag, goTo, levelOf, sign, step, visitor, walk, zone } from './build';

/** What is handed on is read back by somebody else. */

const runs = Math.ceil(Number(process.env['PROPERTY_RUNS'] ?? 60) / 4);
const demo = parseLevelText(readFileSync(join(__dirname, '../../../demo/nettlewick.level.json'), 'utf8'));
const demoLevel = demo.ok ? demo.level : null!;

const anyRun = anyLevel.map((raw) => {
  const parsed = parseLevel(raw);
  if (!parsed.ok) throw new Error('The level is not valid');
  return { level: parsed.level, rehearsal: rehearse(parsed.level, parsed.level.walks[0]!) };
});

describe('A ledger as CSV', () => {
  const rowsOf = (level: Level, text: string): Record<string, string>[] =>
    readCsv(text, { columns: true, record_delimiter: '\r\n' }) as Record<string, string>[];

  it('has every entry, with what it says in words', () => {
    fc.assert(
      fc.property(anyRun, ({ level, rehearsal }) => {
        const rows = rowsOf(
          level,
          ledgerCsv(rehearsal.ledger, (id) => nameOf(level, id)),
        );
        expect(rows.map(({ number, kind, tick, who, cause: of }) => [number, kind, tick, who, of])).toEqual(
          rehearsal.entries.map((entry) => [
            String(entry.number),
            entry.kind,
            String(entry.tick),
            entry.who ?? '',
            String(entry.cause ?? ''),
          ]),
        );
        const said = rehearsal.entries.map((entry) => entrySentence(entry, (id) => nameOf(level, id)));
        expect(rows.map(({ says }) => says!.replace(/^'(?=[=+\-@\t\r])/, ''))).toEqual(said);
      }),
      { numRuns: runs },
    );
  });

  it('a name that a spreadsheet would take for a formula is a text in it', () => {
    const level = levelOf({
      visitors: [visitor('=HYPERLINK("x")', 0, 0, { id: 'miller' })],
      zones: [zone('Step', 3, 0)],
      walks: [walk({ miller: [goTo(4, 0)] })],
    });
    const text = ledgerCsv(rehearse(level, level.walks[0]!).ledger, (id) => nameOf(level, id));
    expect(rowsOf(level, text).find(({ kind }) => kind === 'enter')!['says']).toBe('\'=HYPERLINK("x") enters Step');
  });
});

describe('The states over time as a value change dump', () => {
  interface Signal {
    name: string;
    wave: [string, string][];
  }
  const valueIn = ([, value]: [string, string]): number => Number.parseInt(value.replace(/^b/, ''), 2) | 0;
  const wavesOf = async (text: string): Promise<Map<string, Signal>> => {
    const read = (await readVcd(text)) as { signal: Signal[] };
    return new Map(read.signal.map((one) => [one.name.split('.').slice(1).join('.') || one.name, one]));
  };

  it('of the demo is read, and says where the miller is and when the flag turned on', async () => {
    const round = demoLevel.walks[0]!;
    const rehearsal = rehearse(demoLevel, round);
    const text = statesVcd(demoLevel, rehearsal);
    const waves = await wavesOf(text);
    const flagged = rehearsal.entries.find(({ kind, what }) => kind === 'changed' && what === demoLevel.flags[0]!.id)!;
    const flagWave = [...waves.entries()].find(([name]) => name.endsWith('Sluice_is_open'))![1].wave;
    expect(flagWave.find(([, value]) => value === '1')?.[0]).toBe(String(Math.round((flagged.tick * 1e6) / 60)));
    const x = [...waves.entries()].find(([name]) => name.endsWith('Miller.x_mm'))![1].wave;
    const [end] = valuesAt(rehearsal.tracks.visitors.get('miller')!, rehearsal.ticks);
    expect(valueIn(x.at(-1)!)).toBe(Math.round(end! * 1000));
    // Each line of the changes is one that the standard knows.
    const [, changes] = text.split('$enddefinitions $end\n');
    for (const line of changes!.trim().split('\n'))
      expect(line).toMatch(/^(#\d+|\$dumpvars|\$end|[01][!-~]+|b[01]{1,32} [!-~]+|r\d+(\.\d+)? [!-~]+)$/);
  });

  it('tells for each tick what the level says, whatever it is: who is inside of what, and what is running', async () => {
    await fc.assert(
      fc.asyncProperty(anyRun, async ({ level, rehearsal }) => {
        const text = statesVcd(level, rehearsal);
        const { signal } = (await readVcd(text)) as { signal: Signal[] };
        const names = new Set(signal.map(({ name }) => name));
        expect(names.size).toBe(signal.length);
        for (const one of level.zones) {
          const entered = rehearsal.entries.filter(
            ({ kind, what }) => what === one.id && (kind === 'enter' || kind === 'arrived-inside'),
          ).length;
          const left = rehearsal.entries.filter(({ kind, what }) => what === one.id && kind === 'leave').length;
          const wave = signal.find(({ name }) => name.endsWith(`${one.name.trim().replace(/\W+/g, '_')}.inside`));
          expect(wave).toBeDefined();
          expect(valueIn(wave!.wave.at(-1)!)).toBe(entered - left);
        }
      }),
      // That reader takes a millisecond a line.
      { numRuns: Math.ceil(runs / 8), endOnFailure: true },
    );
  });

  it('has what was collected, what was reset, and what signs and texts say by their numbers in the table', async () => {
    const level = levelOf({
      visitors: [visitor('Miller', 0, 0), visitor('Goose', 0, 9, { kind: 'creature' })],
      zones: [zone('Step', 6, 0)],
      fixtures: [fixture('collectible', 'Token', 3, 0), sign('Board', 0, 5), fixture('spawn-point', 'Arrival', 9, 9)],
      flags: [{ ...flag('Known'), per: 'visitor' }],
      chains: [
        chain(
          'Says',
          [cause('collected', 'token')],
          [step('write-sign', { sign: 'board', text: 'One $end 3' }), step('set-flag', { flag: 'known', to: true })],
        ),
        chain('Anew', [cause('enter', 'step')], [step('reset', { fixture: 'token' }), step('reset', { fixture: 'board' })]),
      ],
      walks: [walk({ miller: [goTo(7, 0), goTo(0, 0)] })],
    });
    const rehearsal = rehearse(level, level.walks[0]!);
    const text = statesVcd(level, rehearsal);
    expect(text).toContain('$comment Texts:\n  0 ""\n  1 "One _end 3"\n$end');
    const { signal } = (await readVcd(text)) as { signal: Signal[] };
    const of = (name: string): number[] => signal.find((one) => one.name.endsWith(name))!.wave.map(valueIn);
    expect(of('Token.collected')).toEqual([0, 1, 0, 1]);
    expect(of('Token.enabled')).toEqual([1, 0, 1, 0]);
    expect(of('Board.text')).toEqual([0, 1, 0, 1]);
    expect([of('Known.Miller'), of('Known.Goose')]).toEqual([[0, 1], [0]]);
    // What there is not is no signal: nobody presses a board, or a spawn point.
    expect(signal.filter(({ name }) => /\.(pressed|on)$/.test(name))).toEqual([]);
  });

  it('two things whose names are alike but for signs keep apart', () => {
    const level = levelOf({
      visitors: [visitor('Miller', 0, 0)],
      zones: [zone('A b', 3, 0), zone('A-b', 6, 0, { id: 'other' })],
      flags: [flag('On')],
      chains: [chain('Sets', [cause('enter', 'other')], [step('set-flag', { flag: 'on', to: true })])],
      walks: [walk({ miller: [goTo(4, 0)] })],
    });
    const text = statesVcd(level, rehearse(level, level.walks[0]!));
    expect(text).toContain(' A_b.inside $end');
    expect(text).toContain(' A_b.inside_2 $end');
  });
});

describe('Expectations as JUnit XML', () => {
  // Anything but well-formed is an error of this parser.
  const read = (text: string): Element[] => {
    const document = new DOMParser({
      onError: (_level, message) => {
        throw new Error(message);
      },
    }).parseFromString(text, 'text/xml');
    expect(document.documentElement!.tagName).toBe('testsuites');
    return [...(document.getElementsByTagName('testsuite') as unknown as Iterable<Element>)];
  };
  const casesOf = (suite: Element): Element[] => [...(suite.getElementsByTagName('testcase') as unknown as Iterable<Element>)];
  const walked = (level: Level) => level.walks.map((one) => ({ walk: one, rehearsal: rehearse(level, one) }));

  it('has a suite for each walk and a case for each expectation, and says of one that is not met what shows it', () => {
    const level = {
      ...demoLevel,
      walks: demoLevel.walks.map((one) => ({ ...one, expectations: one.expectations.map(turnedRound) })),
    };
    const suites = read(junitXml(level, walked(level)));
    expect(suites.map((suite) => suite.getAttribute('name'))).toEqual(level.walks.map(({ name }) => name.trim()));
    expect(suites.filter((suite) => suite.getAttribute('failures') !== '0').length).toBeGreaterThan(1);
    suites.forEach((suite, i) => {
      const { expectations } = walked(level)[i]!.rehearsal;
      const failed = expectations.filter(({ passed }) => !passed);
      expect(suite.getAttribute('failures')).toBe(String(failed.length));
      const cases = casesOf(suite);
      expect(cases.map((one) => one.getAttribute('name'))).toEqual(expectations.map(({ label }) => label));
      expectations.forEach(({ passed, because }, j) => {
        const message = cases[j]!.getElementsByTagName('failure')[0]?.getAttribute('message') ?? null;
        if (passed) expect(message).toBeNull();
        else expect(message!.split('\n')[0]).toBe(because);
      });
    });
  });

  it('is whole whatever things are called', () => {
    fc.assert(
      fc.property(fc.string({ unit: 'binary', maxLength: 40 }), fc.string({ maxLength: 40 }), (name, label) => {
        const [first, ...others] = demoLevel.walks;
        const expectations = first!.expectations.map((one) => ({ ...turnedRound(one), label }));
        const level = { ...demoLevel, name, walks: [{ ...first!, name, expectations }, ...others] };
        const [suite] = read(junitXml(level, walked(level).slice(0, 1)));
        expect(casesOf(suite!)).toHaveLength(expectations.length);
      }),
      { numRuns: runs },
    );
  });
});

/** What is expected to happen is expected never to, and the other way round; the rest stays as it is. */
function turnedRound(one: Expectation): Expectation {
  if (one.expect === 'happens') return { ...one, expect: 'never' };
  return one.expect === 'never' ? { ...one, expect: 'happens' } : one;
}
