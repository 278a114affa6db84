import { mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
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

describe('rehearse', () => {
  it('prints the ledger as a table in which the goose is held back, and says why', () => {
    const { code, out } = told('rehearse', demo, '--walk', 'the goose COMES to the door');
    expect(code).toBe(0);
    expect(out.split('\n')[0]).toMatch(/^no\s+tick\s+seconds\s+what happened/);
    expect(out).toContain('held for Goose: the filter asks for kinds player, found creature');
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
    expect(out).toContain('/name: 7 is not a text');
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
      message: expect.stringContaining('perhaps “Mill door” (mill-door) was meant'),
    });
    expect(told('rehearse', broken, '--walk', 'morning-round')).toMatchObject({
      code: 0,
      err: expect.stringContaining('1 snag in the level'),
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
  expect(out).toContain('Exit codes: 0 well, 1 found something (a fault, a runaway, an expectation not met), 2 could not run.');
  expect(told('rehears', demo).code).toBe(2);
  expect(told().code).toBe(2);
});
