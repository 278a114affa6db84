import { spawnSync } from 'node:child_process';
import { mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { DOMParser } from '@xmldom/xmldom';
import { accepting, applied, parseLevelText, warningsOf } from '@nettlewick/core';
import type { Entry } from '@nettlewick/core';
import { program } from '../src/program';

const root = join(__dirname, '../../..');
const demo = 'demo/nettlewick.level.json';
const folder = mkdtempSync(join(tmpdir(), 'nettlewick-cli-'));
afterAll(() => rmSync(folder, { recursive: true }));

function told(...args: string[]): { code: number; out: string; err: string } {
  let out = '';
  let err = '';
  const code = program(args, { folder: root, out: (text) => (out += text), err: (text) => (err += text) });
  return { code, out, err };
}

function file(name: string, content: string): string {
  const path = join(folder, name);
  writeFileSync(path, content);
  return path;
}

interface SarifResult {
  ruleId: string;
  level: string;
  locations: [{ physicalLocation: { region: { startLine: number } } }];
}

describe('rehearse', () => {
  it('prints the ledger as a table in which the goose is held back, and says why', () => {
    const { code, out } = told('rehearse', demo, '--walk', 'the goose COMES to the door');
    expect(code).toBe(0);
    expect(out.split('\n')[0]).toMatch(/^no\s+tick\s+seconds\s+what happened/);
    expect(out).toContain('held for Goose: the filter requires kinds player, found creature');
  });

  it('prints one entry a line as JSON, with every field', () => {
    const { code, out } = told('rehearse', demo, '--walk', 'morning-round', '--json');
    const entries = out
      .trim()
      .split('\n')
      .map((line) => JSON.parse(line) as Entry);
    expect(code).toBe(0);
    expect(Object.keys(entries[0]!)).toEqual([
      'number',
      'tick',
      'seconds',
      'kind',
      'who',
      'what',
      'chain',
      'step',
      'cause',
      'details',
    ]);
    const [pressed, opened] = ['press', 'opened'].map((kind) => entries.find((entry) => entry.kind === kind)!);
    expect(opened!.tick - pressed!.tick).toBe(30 + 90);
    expect(out).toBe(told('rehearse', demo, '--walk', 'morning-round', '--json').out);
  });

  it('says on standard error who falls without end', () => {
    const level = JSON.parse(readFileSync(join(root, demo), 'utf8')) as { visitors: { name: string; at: { z: number } }[] };
    level.visitors.find(({ name }) => name === 'Goose')!.at.z = -3;
    const { err } = told('rehearse', file('falling.level.json', JSON.stringify(level)), '--walk', 'the goose comes to the door');
    expect(err).toMatch(
      /In “The goose comes to the door”, “Goose” falls without end: it is [\d.]+ m below the ground of “Mill yard”\./,
    );
  });

  it('names the walks there are when the one asked for is not among them', () => {
    const { code, err } = told('rehearse', demo, '--walk', 'The goose come to the door');
    expect(code).toBe(2);
    expect(err).toContain('did you mean "The goose comes to the door"');
    expect(err).toContain("The miller's morning round");
  });

  it('cannot run without a walk, without a file, or with a document that has faults', () => {
    expect(told('rehearse', demo).code).toBe(2);
    expect(told('rehearse', 'demo/nowhere.json', '--walk', 'x')).toMatchObject({
      code: 2,
      err: expect.stringContaining('cannot be read'),
    });
    expect(told('rehearse', file('faulty.json', '{}'), '--walk', 'x')).toMatchObject({
      code: 2,
      err: expect.stringContaining('/format'),
    });
  });
});

describe('check', () => {
  it('finds nothing wrong with the demo', () => {
    expect(told('check', demo)).toMatchObject({ code: 0, out: `${demo}: no faults\n` });
  });

  it('prints each fault with its path', () => {
    const document = JSON.parse(readFileSync(join(root, demo), 'utf8')) as { zones: Record<string, unknown>[]; name: unknown };
    document.zones[0]!['hieght'] = 3;
    document.name = 7;
    const { code, out } = told('check', file('two.json', JSON.stringify(document)));
    expect(code).toBe(1);
    expect(out).toContain('/zones/0/hieght: Unknown field "hieght" (did you mean "height"?)');
    expect(out).toContain('/name: 7 is not a string');
    expect(out.trim().split('\n').at(-1)).toMatch(/2 faults$/);
  });

  it('prints broken references too, and JSON lines when asked', () => {
    const broken = file(
      'broken.json',
      readFileSync(join(root, demo), 'utf8').replace('"door": "mill-door"', '"door": "mill-dor"'),
    );
    const { code, out } = told('check', broken, '--json');
    expect(code).toBe(1);
    expect(JSON.parse(out)).toMatchObject({
      path: '/chains/2/steps/0/door',
      message: expect.stringContaining('Did you mean “Mill door” (mill-door)?'),
    });
    expect(told('rehearse', broken, '--walk', 'morning-round')).toMatchObject({
      code: 0,
      err: expect.stringContaining('1 problem in the level'),
    });
  });

  it('finds a fault in text that is not JSON, and cannot run without a file', () => {
    expect(told('check', file('torn.json', '{"format":'))).toMatchObject({ code: 1, out: expect.stringContaining('not JSON') });
    expect(told('check', 'nowhere.json').code).toBe(2);
  });
});

it('explains itself, with examples and exit codes', () => {
  const { code, out } = told('--help');
  expect(code).toBe(0);
  expect(out).toContain('Examples:');
  expect(out).toContain('Exit codes: 0 success, 1 problems found (error, endless loop, failed expectation), 2 could not run.');
  expect(told('rehears', demo).code).toBe(2);
  expect(told().code).toBe(2);
});

describe('What is wrong is said with its place and its remedy', () => {
  const level = (): Record<string, unknown> => JSON.parse(readFileSync(join(root, demo), 'utf8')) as Record<string, unknown>;
  const check = (content: string): string => told('check', file('wrong.json', content)).out;

  it.each([
    ['{\n  "format": "nettlewick-level",\n  "version": 2\n  "name": "x"\n}', 'line 4, column 3: a comma is missing here'],
    ['{\n  "name": \'x\'\n}', 'line 2, column 11'],
    ['{ "name": "x" ', 'line 1, column'],
    ['{}\n}', 'line 2, column 1: unexpected text after the end'],
    ['', 'it is empty'],
  ])('in a text that is no JSON: %j', (text, said) => expect(check(text)).toContain(said));

  it('in a condition that is written in words', () => {
    const { chains } = level() as { chains: object[] };
    const guarded = { ...level(), chains: [{ ...chains[0], guard: 'on("a") and not pressed("b")' }, ...chains.slice(1)] };
    expect(check(JSON.stringify(guarded))).toContain('Write && for "and"; Write ! for "not"');
  });

  it('in a field that was called by another name, beside the one that is missing', () => {
    const { chains } = level() as { chains: { steps: object[] }[] };
    const [first, ...rest] = chains;
    const steps = [{ id: 's-x', kind: 'set-flag', target: 'sluice-open', to: true }, ...first!.steps];
    const said = check(JSON.stringify({ ...level(), chains: [{ ...first, steps }, ...rest] }));
    expect(said).toContain('Unknown field "target" (did you mean "flag"?)');
  });

  it('in a list where a point is asked for', () => {
    const { zones } = level() as { zones: object[] };
    const said = check(JSON.stringify({ ...level(), zones: [{ ...zones[0], at: [1, 2.5] }, ...zones.slice(1)] }));
    expect(said).toContain('A point is written {"x": 1, "y": 2.5, "z": 0}');
  });

  it('of snags by their names', () => {
    const { chains } = level() as { chains: { causes: object[] }[] };
    const [first, ...rest] = chains;
    const broken = { ...level(), chains: [{ ...first, causes: [{ ...first!.causes[0], of: 'gone' }] }, ...rest] };
    const { err } = told('rehearse', file('snag.json', JSON.stringify(broken)), '--all');
    expect(err).toMatch(/Note: 1 problem in the level:\n {2}\/chains\/0\/causes\/0\/of: .*“gone”/);
  });
});

describe('Names and texts of a level', () => {
  const escape = '\u001b[2J\u009b31m\u202e';
  const evil = (): string => {
    const level = JSON.parse(readFileSync(join(root, demo), 'utf8')) as {
      name: string;
      visitors: { name: string }[];
      walks: { name: string }[];
      chains: { steps: { text?: string }[] }[];
    };
    level.visitors[0]!.name = `Miller${escape.slice(4)}`;
    level.walks[0]!.name = `Round${escape.slice(4)}`;
    level.chains.forEach((chain) => chain.steps.forEach((step) => 'text' in step && (step.text = `Line\n${escape}`)));
    return file('evil.json', JSON.stringify(level));
  };
  // Nothing but line breaks may steer a terminal.
  const steers = /[\u0000-\u0009\u000b-\u001f\u007f-\u009f\u202a-\u202e\u2066-\u2069]/;

  it('steer no terminal, in tables, in JSON lines, in reports and in messages', () => {
    const path = evil();
    for (const args of [['--all'], ['--walk', 'morning-round'], ['--walk', 'morning-round', '--json'], ['--walk', 'nobody']]) {
      const { out, err } = told('rehearse', path, ...args);
      expect(out + err).not.toMatch(steers);
    }
    const { out } = told('rehearse', path, '--walk', 'morning-round', '--json');
    const texts = out
      .trim()
      .split('\n')
      .map((line) => JSON.parse(line) as Entry);
    expect(texts.some((entry) => 'to' in entry.details && entry.details.to === `Line\n${escape}`)).toBe(true);
  });

  it('are no control characters in an XML report', () => {
    const report = join(folder, 'evil.xml');
    told('rehearse', evil(), '--all', '--junit', report);
    expect(readFileSync(report, 'utf8')).not.toMatch(steers);
  });
});

describe('asked about a run', () => {
  it('why: says what held the door for the goose, and what would let it through', () => {
    const { code, out } = told('why', demo, 'Mill door', '--walk', 'The goose comes to the door');
    expect(code).toBe(0);
    expect(out).toContain(
      'the filter requires kinds player, found creature. [entry 4] Allow creatures in the filter? Then “the door does not open for the goose” fails.',
    );
    // Of one step of a chain, and of a moment.
    const walk = ['--walk', 'The goose comes to the door'];
    expect(told('why', demo, 'The mill door opens for people', '--step', '1', ...walk).out).toContain('found creature');
    expect(told('why', demo, '--at', '0.1', ...walk).out).toMatch(
      /^Nothing fired at 0.1 s; the next, at .*“Goose” was not inside anything/s,
    );
    for (const error of [
      ['Mill door', '--at', '1'],
      ['Mill door', '--step', '1'],
      ['The mill door opens for people', '--step', '9'],
    ])
      expect(told('why', demo, ...error, ...walk).code).toBe(2);
    // Of nothing: all that is expected of the walk.
    expect(told('why', demo, ...walk).out).toBe('every expectation of this walk is met\n');
    expect(told('why', demo, 'Mill dor', '--walk', 'morning-round').err).toContain('did you mean "Mill door"');
  });

  it('fix: names the edit with which every expectation is met, in words and as a JSON Patch', () => {
    const broken = join(demo, '../examples/portal-pair.broken-solid.level.json');
    const { code, out } = told('fix', broken, '--walk', 'There and back');
    expect(code).toBe(1);
    expect(out).toMatch(/^In “Quay portal”, change “solid” to “passable”\. Then every expectation is met\.$/m);
    expect(out).toContain('  now: Alma is teleported');
    const [line] = told('fix', broken, '--walk', 'There and back', '--json').out.split('\n');
    expect(JSON.parse(line!)).toMatchObject({
      thing: 'quay-portal',
      patch: [{ op: 'replace', path: '/fixtures/0/solid', value: false }],
      left: 0,
    });
    expect(told('fix', demo, '--walk', 'morning-round')).toMatchObject({
      code: 0,
      out: 'every expectation of this walk is met\n',
    });
    expect(told('fix', broken, '--walk', 'There and back', '--tries', '0')).toMatchObject({
      code: 1,
      out: 'no small edit meets what is expected\n',
    });
    // Asked of nothing in particular, why says what is not met, and why not.
    const unmet = told('why', broken, '--walk', 'There and back').out;
    expect(unmet).toMatch(
      /^“Quay portal” is solid, so nobody can enter it, but it works by being entered\. Make it passable\.$/m,
    );
    expect(unmet).toMatch(/^“Alma goes through twice: once there, once back” is not met: it happened 0 times\.$/m);
    const why = told('why', broken, 'Quay portal', '--walk', 'There and back', '--json').out.split('\n').slice(0, -1);
    expect(why.map((one) => JSON.parse(one) as { patch?: object }).flatMap(({ patch }) => patch ?? [])).toEqual([
      { op: 'replace', path: '/fixtures/0/solid', value: false },
    ]);
  });

  it('matrix: says which pairs fired, were held, or were never tried', () => {
    const { out } = told('matrix', demo);
    expect(out).toMatch(/^Sack plate → Sluice gate: fired 1 time/m);
    expect(out).toMatch(/^Doorstep → Mill door: fired \d+ times?, held \d+× \(filtered\)/m);
    const pairs = told('matrix', demo, '--json')
      .out.trim()
      .split('\n')
      .map((line) => JSON.parse(line) as { from: string });
    expect(pairs.length).toBe(out.trim().split('\n').length);
    // By one visitor alone: the goose only ever waits before the door.
    const goose = told('matrix', demo, '--by', 'Goose').out;
    expect(goose).toMatch(/^Doorstep → Mill door: never fired, held \d+× \(filtered\) by Goose/m);
    expect(goose).not.toMatch(/: fired/);
    expect(told('matrix', demo, '--by', 'Sluice gate')).toMatchObject({ code: 2 });
  });

  it('coverage: what no walk has tried, and a share that can be demanded', () => {
    const all = told('coverage', demo);
    expect(all.code).toBe(0);
    const share = Number(/([\d.]+) % of/.exec(all.out)![1]);
    expect(share).toBeGreaterThan(50);
    const one = told('coverage', demo, '--walk', 'The goose comes to the door', '--at-least', String(share));
    expect(one.code).toBe(1);
    expect(one.out).toContain('not tried: ');
    expect(told('coverage', demo, '--at-least', '101').code).toBe(2);
  });

  it('compare: what an edit changed in what fires', () => {
    const level = JSON.parse(readFileSync(join(root, demo), 'utf8')) as { fixtures: { id: string; timing?: object }[] };
    level.fixtures.find(({ id }) => id === 'sluice-gate')!.timing = { by: 'seconds', seconds: 2 };
    const after = file('after.json', JSON.stringify(level));
    const { code, out } = told('compare', demo, after, '--walk', 'morning-round');
    expect(code).toBe(1);
    expect(out).toContain('Sluice gate is open, 0.5 s later');
    expect(told('compare', demo, demo, '--walk', 'morning-round')).toMatchObject({ code: 0, out: 'no differences\n' });
  });

  it('check --warnings: what will probably not do what is meant, without another exit code', () => {
    const { code, out } = told('check', 'demo/examples/guard.broken.level.json', '--warnings');
    expect(code).toBe(0);
    expect(out).toContain('The visitor can walk away while');
  });

  it('check --fail-on: what is as heavy as that gives exit code 1, unless it is in the baseline', () => {
    const broken = 'demo/examples/guard.broken.level.json';
    const { code, out } = told('check', broken, '--fail-on', 'warning');
    expect([code, out.includes('The visitor can walk away while')]).toEqual([1, true]);
    expect(told('check', 'demo/examples/guard.level.json', '--fail-on', 'warning').code).toBe(0);
    // A gate that never closes is remarked on.
    const gate = 'demo/examples/sinking-gate.level.json';
    expect(told('check', gate, '--fail-on', 'warning').code).toBe(0);
    expect(told('check', gate, '--fail-on', 'remark').code).toBe(1);
    const baseline = file('baseline.jsonl', told('check', broken, '--json', '--warnings').out);
    expect(told('check', broken, '--fail-on', 'warning', '--baseline', baseline).code).toBe(0);
    expect(told('check', gate, '--fail-on', 'remark', '--baseline', baseline).code).toBe(1);
    expect(told('check', broken, '--baseline', file('wrong.jsonl', '{}')).err).toContain('line 1, is no line of check --json');
    expect(told('check', broken, '--fail-on', 'anything').code).toBe(2);
  });

  it('check --walks prints findings from the walks, and no fix that would break an expectation', () => {
    const carts = 'demo/examples/fast-cart.level.json';
    expect(told('check', carts, '--warnings').out).toContain('Let only players count, if that is not meant.');
    expect(told('check', carts, '--walks').out).toContain(
      'Let only players count, if that is not meant? Then “it was counted” fails.',
    );
    expect(told('check', demo, '--walks').out).toContain(
      'remark /chains/1: No walk starts “The sluice shuts when the plate rises”.',
    );
    expect(told('check', 'demo/examples/portal-pair.broken.level.json', '--walks', '--fail-on', 'warning').out).toMatch(
      /Loft portal → Quay portal → Loft portal again, 332 times, every 0\.033 s/,
    );
  });

  it('check prints an accepted finding with its note, and does not fail because of it', () => {
    const text = readFileSync(join(root, 'demo/examples/sinking-gate.level.json'), 'utf8');
    const parsed = parseLevelText(text);
    if (!parsed.ok) throw new Error('The level is not valid');
    const [finding] = warningsOf(parsed.level);
    const accepted = file(
      'accepted.level.json',
      JSON.stringify(applied(parsed.level, accepting(parsed.level, finding!, 'It stays.'))),
    );
    const { code, out } = told('check', accepted, '--fail-on', 'remark');
    expect([code, out.includes('(accepted: It stays.)')]).toEqual([0, true]);
  });

  it('check --sarif writes a log with line numbers, even for a document that cannot be read', () => {
    const results = (of: string) => {
      const written = file('check.sarif', '');
      const { code } = told('check', of, '--sarif', written);
      const [run] = (JSON.parse(readFileSync(written, 'utf8')) as { runs: [{ results: SarifResult[] }] }).runs;
      return {
        code,
        found: run.results.map(({ ruleId, level, locations }) => [ruleId, level, locations[0].physicalLocation.region.startLine]),
      };
    };
    const { code, found } = results('demo/examples/fast-cart.broken.level.json');
    expect(code).toBe(0);
    expect(found).toContainEqual(['thinner-than-a-tick', 'warning', expect.any(Number)]);
    const faulty = file('faulty.level.json', '{\n  "format": "nettlewick-level",\n  "version": 4,\n  "name": 7\n}\n');
    expect(results(faulty)).toEqual({ code: 1, found: [['invalid-document', 'error', 4]] });
  });
});

describe('what goes beyond one rehearsal', () => {
  const banks = 'demo/examples/same-tick.level.json';

  it('order-safety says what hangs on the house rules, and finds something', () => {
    const { code, out } = told('order-safety', banks, '--walk', 'Across');
    expect(code).toBe(1);
    expect(out).toContain(
      'order: “Where now says “on the water”” comes before “Where now says “east bank””. Rule: In one tick, leaves are processed before enters',
    );
    expect(out).toMatch(/expectation: the west is left before the east is reached: not met under \d+ of 384 sets/);
    const lines = told('order-safety', banks, '--walk', 'Across', '--json').out.trim().split('\n');
    const read = lines.map((one) => JSON.parse(one) as { kind: string; says?: string; sets?: number; label?: string });
    expect(new Set(read.map(({ kind }) => kind))).toEqual(new Set(['order', 'outcome', 'expectation']));
    expect(read.find(({ label }) => label === 'the west is left before the east is reached')!.sets).toBe(96);
  });

  it('spread says what is missed at which rate, and what misses none', () => {
    const { code, out } = told(
      'spread',
      'demo/examples/fast-cart.broken.level.json',
      '--walk',
      'downhill',
      '--runs',
      '200',
      '--rates',
      '15,60',
    );
    expect(code).toBe(1);
    expect(out).toMatch(/missed: Weigh line, in \d+ runs \(\d+ of \d+ at 15 ticks a second, 0 of \d+ at 60 ticks a second\)/);
    expect(out).toContain('Turn on swept detection');
    expect(
      told('spread', 'demo/examples/fast-cart.level.json', '--walk', 'downhill', '--runs', '200', '--rates', '15,60').code,
    ).toBe(0);
  });

  it.each([
    [['--runs', '0'], 'from 1 to 100,000'],
    [['--rates', '15,x'], 'Rates are whole numbers'],
    [['--speed', '2'], 'from 0 to 0.9'],
  ])('spread refuses %j in words', (words, message) => {
    const { code, err } = told('spread', banks, '--walk', 'across', ...words);
    expect([code, err]).toEqual([2, expect.stringContaining(message) as string]);
  });

  it('explain-log names the rule that explains a play, and the line of what it cannot read', () => {
    const { code, out } = told('explain-log', banks, 'demo/play-logs/two-banks.jsonl');
    expect([code, out.trim().split('\n').at(-1)]).toEqual([1, 'explained where sameTick=enters-first (and 95 other sets)']);
    expect(out).toContain('first difference: 2.000 s enter Alma East bank | —');
    const broken = told('explain-log', banks, file('play.jsonl', '{"at":0,"who":"Alma","x":0,"y":0}\nwhat\n'));
    expect([broken.code, broken.err]).toEqual([2, expect.stringContaining('line 2: Invalid JSON') as string]);
    expect(told('explain-log', banks, 'nowhere.jsonl').code).toBe(2);
  });

  it('compare takes another house rule for the second, and says where the two part', () => {
    const { code, out } = told('compare', demo, demo, '--walk', 'morning-round', '--rule-after', 'draining=immediate');
    expect(code).toBe(1);
    expect(out).toContain('first difference at 5.73 s');
    expect(told('compare', demo, demo, '--walk', 'morning-round', '--seed-after', '7')).toEqual({
      code: 0,
      out: 'no differences\n',
      err: '',
    });
  });

  it('rehearse writes the ledger as CSV and the states as a value change dump', () => {
    const [csv, vcd] = [join(folder, 'a.csv'), join(folder, 'a.vcd')];
    expect(told('rehearse', demo, '--walk', 'morning-round', '--csv', csv, '--vcd', vcd).code).toBe(0);
    expect(readFileSync(csv, 'utf8').trim().split('\r\n')).toHaveLength(43);
    expect(readFileSync(vcd, 'utf8')).toContain('$timescale 1us $end');
    expect(told('rehearse', demo, '--all', '--csv', csv).code).toBe(2);
  });
});

describe('bad input and a full output', () => {
  it.each(['__proto__=1', 'constructor=1', 'toString=listing'])('--rule %s is no house rule', (rule) => {
    const { code, err } = told('rehearse', demo, '--rule', rule);
    expect(code).toBe(2);
    expect(err).toContain('There is no house rule');
  });

  it('a file that is no UTF-8 is not read with other characters in its place', () => {
    const text = readFileSync(join(root, demo), 'utf8');
    const path = join(folder, 'latin.level.json');
    writeFileSync(path, Buffer.from(text.replace('"name": "', '"name": "M\u00fchle '), 'latin1'));
    const { code, err } = told('check', path);
    expect(code).toBe(2);
    expect(err).toContain('is not UTF-8');
  });

  it.each(['\uFFFE', '\uFFFF', '\uD800', 'a\uDC00b'])('a name with %j stands in JUnit XML that parsers read', (odd) => {
    const level = JSON.parse(readFileSync(join(root, demo), 'utf8')) as { walks: { name: string }[] };
    level.walks[0]!.name = `Round ${odd} mill`;
    const path = join(folder, 'odd.xml');
    const { code, err } = told('rehearse', file('odd.level.json', JSON.stringify(level)), '--all', '--junit', path);
    expect([code, err]).toEqual([0, expect.any(String)]);
    const faults: string[] = [];
    new DOMParser({ onError: (_level, message) => faults.push(message) }).parseFromString(readFileSync(path, 'utf8'), 'text/xml');
    expect(faults).toEqual([]);
  });

  it('prints the wiring as text, and reads a changed text into the document: only what was changed is otherwise', () => {
    const path = file('wired.level.json', readFileSync(join(root, demo), 'utf8'));
    const { code, out } = told('print', path);
    expect(code).toBe(0);
    const text = out.replace('    open Mill door\n', '    open Mill door\n    4 s later, close Mill door\n');
    expect(text).not.toBe(out);
    const wiring = file('wired.txt', `${text}\nflag Market day\n`);
    expect(told('read', wiring, '--into', path, '--dry-run').out).toBe(
      'new: Market day\nchanged: The mill door opens for people\n',
    );
    expect(told('print', path).out).toBe(out);
    expect(told('read', wiring, '--into', path)).toMatchObject({
      code: 0,
      out: 'new: Market day\nchanged: The mill door opens for people\n',
    });
    const [before, after] = [join(root, demo), path].map((one) => {
      const parsed = parseLevelText(readFileSync(one, 'utf8'));
      return parsed.ok ? parsed.level : null;
    });
    expect(after!.chains.filter((one, i) => JSON.stringify(one) !== JSON.stringify(before!.chains[i]))).toHaveLength(1);
    expect({ ...after, chains: [], flags: [] }).toEqual({ ...before, chains: [], flags: [] });
    expect(told('read', wiring, '--into', path).out).toBe('nothing has changed\n');
    // A fault is told by its line, and the document stays as it is.
    const error = file('wrong.txt', 'chain Bell\n  When player entres Doorstep\n');
    const now = readFileSync(path, 'utf8');
    expect(told('read', error, '--into', path)).toMatchObject({
      code: 1,
      out: expect.stringMatching(/wrong\.txt:2:15: .*“enters”/) as string,
    });
    expect(readFileSync(path, 'utf8')).toBe(now);
  });

  it('--most ends a level whose chains never rest, says so, and fails', () => {
    const { code, out, err } = told('rehearse', demo, '--walk', 'morning-round', '--json', '--most', '5');
    expect(code).toBe(1);
    const entries = out.trim().split('\n');
    expect(JSON.parse(entries.at(-1)!)).toMatchObject({ kind: 'end', details: { reason: 'too many entries' } });
    expect(err).toContain('--most asks for more');
    expect(told('rehearse', demo, '--walk', 'morning-round', '--most', '0').code).toBe(2);
  });

  it.each([
    ['a full disk', '> /dev/full', 2, /^The output cannot be written: .+$/m],
    ['a reader that has seen enough', '| head -1', 0, /^passed/m],
  ])(
    '%s prints no stack trace',
    (_what, into, wanted, says) => {
      const command = `node_modules/.bin/tsx apps/cli/src/main.ts rehearse ${demo} --walk morning-round --json ${into}`;
      const { status, stderr } = spawnSync('bash', ['-c', command], { cwd: root, encoding: 'utf8' });
      expect(stderr).toMatch(says);
      expect(stderr).not.toMatch(/^\s+at /m);
      expect(status).toBe(wanted);
    },
    60_000,
  );
});
