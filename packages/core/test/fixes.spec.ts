import { readFileSync, readdirSync } from 'node:fs';
import { join } from 'node:path';
import { applied, findFixes, jsonPatchOf, parseLevel, parseLevelText, rehearse, whyNot, withProvenRemedies } from '../src/index';
import type { Edit, Fix, FixesOptions, Level, PatchOperation } from '../src/index';
import { cause, chain, door, fixture, flag, goTo, levelOf, step, visitor, wait, walk, zone } from './build';

/** What is wrong with a level is found by trying small edits, and nothing is offered that was not seen to help. */

function fixesOf(level: Level, options?: FixesOptions, walkId = level.walks[0]!.id): Fix[] {
  const search = findFixes(level, walkId, options);
  for (;;) {
    const { done, value } = search.next();
    if (done === true) return value;
  }
}
const saysOf = (level: Level, options?: FixesOptions): string[] => fixesOf(level, options).map(({ says }) => says);

/** Which expectations are met, walk by walk: reckoned here, from the rehearsals alone. */
const met = (level: Level): string[] =>
  level.walks.flatMap((one) =>
    rehearse(level, one).expectations.flatMap(({ id, passed }) => (passed ? [`${one.id} ${id}`] : [])),
  );

const happens = (kind: string, what: string): Record<string, unknown> => ({
  id: `${kind}-${what}`,
  expect: 'happens',
  entry: { kind, what },
});
const never = (kind: string, what: string, who = ''): Record<string, unknown> => ({
  id: `never-${kind}-${what}`,
  label: `never ${kind} ${what}`,
  expect: 'never',
  entry: { kind, what, who },
});
const miller = visitor('Miller', -5, 0);

describe('A fix is found where', () => {
  const opened = { expectations: [happens('opened', 'gate')] };
  const yard = (parts: Record<string, unknown>): Level =>
    levelOf({
      visitors: [miller],
      zones: [zone('North step', 0, 0), zone('South step', 0, 9)],
      fixtures: [door('Gate', 5, 5), door('Hatch', 9, 9)],
      walks: [walk({ miller: [goTo(0, 0), wait(1)] }, opened)],
      ...parts,
    });
  const opens = (of: string, gate: string, more: Record<string, unknown> = {}) =>
    chain('Opens', [cause('enter', of)], [step('open', { door: gate })], more);

  it('a chain listens to the wrong thing', () => {
    expect(saysOf(yard({ chains: [opens('south-step', 'gate')] }))[0]).toBe(
      'In “Opens”, change “South step” to “North step” (what the event comes from).',
    );
  });

  it('a step acts on the wrong thing, or does the opposite', () => {
    expect(saysOf(yard({ chains: [opens('north-step', 'hatch')] }))[0]).toMatch(/^In “Opens”, change “Hatch” to “Gate”/);
    const closes = chain('Opens', [cause('enter', 'north-step')], [step('close', { door: 'gate' })]);
    expect(saysOf(yard({ chains: [closes] }))[0]).toBe('In “Opens”, change “close Gate” to “open Gate”.');
  });

  it('a step is missing', () => {
    const nothing = chain('Opens', [cause('enter', 'north-step')], [step('wait', { seconds: 1 })]);
    const says = saysOf(yard({ chains: [nothing] }));
    expect(says.some((one) => /^In “Opens”, add “open Gate” as the (first|last) step\.$/.test(one))).toBe(true);
  });

  it('something was left switched off, solid, or out of play', () => {
    expect(saysOf(yard({ chains: [opens('north-step', 'gate', { enabled: false })] }))[0]).toBe('Switch “Opens” on.');
    const off = yard({ zones: [zone('North step', 0, 0, { enabled: false })], chains: [opens('north-step', 'gate')] });
    expect(saysOf(off)[0]).toBe('In “North step”, change “disabled” to “enabled”.');
    const away = yard({ visitors: [visitor('Miller', -5, 0, { inPlay: false })], chains: [opens('north-step', 'gate')] });
    expect(fixesOf(away)[0]!.thing).toBe('miller');
    const token = levelOf({
      visitors: [miller],
      fixtures: [fixture('collectible', 'Token', 0, 0, { solid: true })],
      walks: [walk({ miller: [goTo(0, 0)] }, { expectations: [happens('collected', 'token')] })],
    });
    expect(saysOf(token)[0]).toBe('In “Token”, change “solid” to “passable”.');
  });

  it('a condition asks too much: the number is changed, and the guard stays', () => {
    const counted = (guard: string): Level =>
      yard({
        counters: [{ id: 'tokens', name: 'Tokens', value: 3 }],
        flags: [flag('Night')],
        chains: [opens('north-step', 'gate', { guard })],
      });
    const level = counted('counter("tokens") >= 4');
    const [best] = fixesOf(level);
    expect(best!.thing).toMatch(/^(opens|tokens)$/);
    const guard = applied(level, best!.edit).chains[0]!.guard;
    expect(guard).toMatch(/^counter\("tokens"\) (>=|<=|==|>|!=) [34]$/);
    expect(fixesOf(counted('!flag("night") && flag("night")')).length).toBeGreaterThan(0);
  });

  it('a tag is misspelt', () => {
    const level = yard({
      fixtures: [door('Gate', 5, 5, { tags: ['gates'] })],
      chains: [chain('Opens', [cause('enter', 'north-step')], [step('open', { door: '', tagged: 'gatse' })])],
    });
    const fixed = fixesOf(level).map(({ edit }) => met(applied(level, edit)));
    expect(fixed[0]).toEqual(['walk opened-gate']);
  });
});

describe('A fix', () => {
  /** Only the miller may open the gate: the guard is too strict, and without any the goose would open it too. */
  const guarded = levelOf({
    visitors: [miller, visitor('Goose', -5, 0, { kind: 'creature' })],
    zones: [zone('Step', 0, 0)],
    fixtures: [door('Gate', 5, 5)],
    counters: [{ id: 'bells', name: 'Bells', value: 2 }],
    chains: [
      chain('Opens', [cause('enter', 'step')], [step('open', { door: 'gate' })], {
        guard: 'counter("bells") >= 3 && hand() == "miller"',
      }),
    ],
    walks: [
      walk(
        { miller: [goTo(0, 0), wait(1)] },
        { id: 'miller-comes', name: 'Miller comes', expectations: [happens('opened', 'gate')] },
      ),
      walk({ goose: [goTo(0, 0), wait(1)] }, { id: 'goose-comes', name: 'Goose comes', expectations: [never('opened', 'gate')] }),
    ],
  });

  it('never breaks what is met, in this walk or another: the guard as a whole is not taken away', () => {
    const fixes = fixesOf(guarded);
    expect(fixes.length).toBeGreaterThan(0);
    for (const { edit, left } of fixes) {
      const now = applied(guarded, edit);
      expect(left).toBe(0);
      expect(now.chains[0]!.guard).not.toBe('');
      expect(met(now)).toEqual(['miller-comes opened-gate', 'goose-comes never-opened-gate']);
    }
  });

  it('offered by Why not is tried as well: of one that breaks something it is said what, and it is no press', () => {
    const run = rehearse(guarded, guarded.walks[0]!);
    const raw = whyNot(guarded, run, 'opens');
    expect(raw.some(({ edit }) => edit !== null)).toBe(true);
    const proven = withProvenRemedies(guarded, run, raw);
    expect(proven.map(({ says }) => says)).toEqual(raw.map(({ says }) => says));
    expect(proven.every(({ edit }) => edit === null)).toBe(true);
    expect(proven.map(({ mend }) => mend)).toContain('Remove the condition? Then “never opened gate” fails.');
    // Where nothing else is expected, it helps.
    const alone = { ...guarded, walks: [guarded.walks[0]!] };
    expect(withProvenRemedies(alone, run, raw).some(({ edit }) => edit !== null)).toBe(true);
  });

  it('says what else happens otherwise, walk by walk, each once', () => {
    const [best] = fixesOf(guarded);
    expect(best!.meets).toEqual([{ walk: 'miller-comes', expectation: 'opened-gate' }]);
    const told = best!.changes.find(({ walk: id }) => id === 'miller-comes')!.says;
    expect(told).toContain('now: Gate is open');
    expect(new Set(told).size).toBe(told.length);
  });

  it('is looked for no longer than it is allowed to, and can be given up', () => {
    const search = findFixes(guarded, 'miller-comes', { tries: 3 });
    expect([search.next(), search.next(), search.next()].map(({ value }) => value)).toEqual([1, 2, 3]);
    expect(search.next().done).toBe(true);
    expect(fixesOf(guarded, {}, 'goose-comes')).toEqual([]);
    expect(fixesOf(guarded, {}, 'no-such-walk')).toEqual([]);
  });
});

describe('In every broken example', () => {
  const folder = join(__dirname, '../../../demo/examples');
  const files = readdirSync(folder).filter((name) => name.includes('.broken'));

  it('what is offered meets more, breaks nothing, and can be read as JSON Patch', () => {
    let helped = 0;
    for (const file of files) {
      const parsed = parseLevelText(readFileSync(join(folder, file), 'utf8'));
      if (!parsed.ok) throw new Error(`${file} has faults`);
      const { level } = parsed;
      const before = met(level);
      const failing = level.walks.find((one) => rehearse(level, one).expectations.some(({ passed }) => !passed));
      if (failing === undefined) continue;
      const fixes = fixesOf(level, { most: 1, tries: 100 }, failing.id);
      helped += Math.min(1, fixes.length);
      for (const { edit, left } of fixes) {
        const now = applied(level, edit);
        expect(parseLevel(JSON.parse(JSON.stringify(now))).ok).toBe(true);
        const after = met(now);
        expect(after).toEqual(expect.arrayContaining(before));
        expect(after.length).toBeGreaterThan(before.length);
        if (left === 0) expect(after.length).toBe(level.walks.flatMap(({ expectations }) => expectations).length);
        expect(patched(level, edit)).toEqual(JSON.parse(JSON.stringify(now)));
      }
    }
    expect(helped).toBeGreaterThan(files.length / 2);
  });
});

/** A level with a JSON Patch of an edit applied: as RFC 6902 has it, and no more of it than is made. */
function patched(level: Level, edit: Edit): unknown {
  const document = JSON.parse(JSON.stringify(level)) as Record<string, unknown>;
  for (const operation of JSON.parse(JSON.stringify(jsonPatchOf(level, edit))) as PatchOperation[]) {
    const keys = operation.path.split('/').slice(1);
    const last = keys.pop()!;
    const parent = keys.reduce<unknown>((here, key) => (here as Record<string, unknown>)[key], document) as Record<
      string,
      unknown
    >;
    const list = parent as unknown as unknown[];
    switch (operation.op) {
      case 'replace':
        parent[last] = operation.value;
        break;
      case 'add':
        list.splice(Number(last), 0, operation.value);
        break;
      case 'remove':
        list.splice(Number(last), 1);
        break;
      case 'move':
        list.splice(Number(last), 0, ...list.splice(Number(operation.from.split('/').at(-1)), 1));
    }
  }
  return document;
}

it('every kind of edit can be read as JSON Patch', () => {
  const level = levelOf({ zones: [zone('One', 0, 0), zone('Two', 3, 0), zone('Three', 6, 0)] });
  const [one, two, three] = level.zones;
  const edits: Edit[] = [
    { kind: 'add', collection: 'zones', index: 1, thing: { ...one!, id: 'four', name: 'Four' } },
    { kind: 'remove', collection: 'zones', index: 1, thing: two! },
    { kind: 'move', collection: 'zones', id: 'three', from: 2, to: 0 },
    { kind: 'change', collection: 'zones', id: 'three', before: { name: 'Three' }, after: { name: 'Last' } },
    { kind: 'level', before: { rate: 10 }, after: { rate: 30 } },
  ];
  for (const edit of [...edits, { kind: 'all' as const, label: 'both', edits: [edits[3]!, edits[4]!] }])
    expect(patched(level, edit)).toEqual(JSON.parse(JSON.stringify(applied(level, edit))));
  expect(three!.id).toBe('three');
});
