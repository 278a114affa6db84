import { rehearse } from '../src/index';
import { findingsOfWalks } from '../src/index';
import type { Level, WalkFinding, WalksSeen } from '../src/index';
import { at, cause, chain, door, fixture, endless, goTo, levelOf, step, visitor, wait, walk, zone } from './build';

/** Findings that Check takes from the walks. */

type Parts = Record<string, unknown>;
const seenOf = (level: Level): WalksSeen =>
  findingsOfWalks(
    level,
    level.walks.map((one) => ({ walk: one, rehearsal: rehearse(level, one) })),
  );
const seen = (parts: Parts): WalksSeen => seenOf(levelOf(parts));
const kinds = (parts: Parts): string[] => seen(parts).findings.map(({ kind }) => kind);
const the = (kind: string, parts: Parts): WalkFinding => seen(parts).findings.find((one) => one.kind === kind)!;

const miller = visitor('Miller', -5, 0);
const pad = zone('Pad', 0, 0);
const opens = chain('Opens', [cause('enter', 'pad')], [step('open', { door: 'gate' })]);
const parts = (more: Parts): Parts => ({
  visitors: [miller],
  zones: [pad],
  fixtures: [door('Gate', 9, 9)],
  chains: [opens],
  walks: [walk({ miller: [goTo(0, 0)] })],
  ...more,
});

describe('Findings from the walks', () => {
  it('are none where all is well; the coverage is given', () => {
    expect(kinds(parts({}))).toEqual([]);
    const short = seen(parts({ walks: [walk({ miller: [goTo(-4, 0)] })] }));
    expect(short.covered).toBeLessThan(seen(parts({})).covered);
    expect(seenOf(levelOf(parts({ walks: [] })))).toEqual({ findings: [], covered: 0 });
  });

  it('name chains that no walk starts', () => {
    const elsewhere = walk({ miller: [goTo(-4, 0)] }, { id: 'elsewhere', name: 'Elsewhere' });
    const never = the('never-starts', parts({ walks: [elsewhere] }));
    expect(never).toMatchObject({ thing: 'opens', path: '/chains/0', weight: 'remark', walk: null });
    expect(never.reason).toBe('No walk starts “Opens”.');
    expect(kinds(parts({ walks: [elsewhere, walk({ miller: [goTo(0, 0)] })] }))).toEqual([]);
  });

  it('name nothing as never started or collected while no walk is drawn', () => {
    const token = { fixtures: [door('Gate', 9, 9), fixture('collectible', 'Token', 4, 0)] };
    expect(kinds(parts({ ...token, walks: [walk({ miller: [] }), walk({}, { id: 'other', name: 'Other' })] }))).toEqual([]);
    expect(
      kinds(parts({ ...token, walks: [walk({ miller: [] }), walk({ miller: [wait(1)] }, { id: 'other', name: 'Other' })] })),
    ).toEqual(['never-starts', 'never-collected']);
  });

  it('name collectibles that no walk collects', () => {
    const token = (x: number): Parts => ({ fixtures: [door('Gate', 9, 9), fixture('collectible', 'Token', x, 0)] });
    expect(the('never-collected', parts(token(4)))).toMatchObject({ thing: 'token', reason: 'No walk collects “Token”.' });
    expect(kinds(parts(token(-2)))).toEqual([]);
  });

  it('name an unmet expectation, with the reason', () => {
    const expectation = (kind: string): Parts =>
      walk(
        { miller: [goTo(0, 0)] },
        { expectations: [{ id: 'one', label: 'the gate shuts', expect: 'happens', entry: { kind, what: 'gate' } }] },
      );
    const found = the('unmet-expectation', parts({ walks: [expectation('closed')] }));
    expect(found).toMatchObject({ weight: 'warning', path: '/walks/0/expectations/0', walk: 'walk' });
    expect(found.reason).toBe('“Walk”: “the gate shuts” is not met: it did not happen.');
    expect(kinds(parts({ walks: [expectation('opened')] }))).toEqual([]);
    const atEnd = { id: 'end', label: 'the gate is shut', expect: 'at-end', state: 'closed("gate")' };
    const state = the('unmet-expectation', parts({ walks: [walk({ miller: [goTo(0, 0)] }, { expectations: [atEnd] })] }));
    expect(state.reason).toContain('closed(“Gate”) = false');
  });

  it('name who is stuck, at what, and since when', () => {
    const inTheWay = { fixtures: [door('Gate', 9, 9), door('Hatch', -2.5, 0)] };
    const found = the('is-stuck', parts(inTheWay));
    expect(found).toMatchObject({ thing: 'miller', also: ['hatch'], weight: 'remark' });
    expect(found.reason).toMatch(/^In “Walk”, “Miller” does not get past “Hatch” until the end, from \d\.\d\d s on\.$/);
    expect(found.tick).toBeGreaterThan(0);
  });

  it('name who falls without end, but not who lands', () => {
    const falls = (z: number): Parts =>
      parts({ visitors: [{ ...miller, at: at(-5, 0, z) }], walks: [walk({ miller: [wait(1)] }, { atMost: 3 })] });
    const found = the('falls-for-ever', falls(-2));
    expect(found).toMatchObject({ thing: 'miller', weight: 'warning' });
    expect(found.reason).toMatch(/falls without end: it is \d+(\.\d+)? m below the ground of/);
    expect(kinds(falls(3))).not.toContain('falls-for-ever');
  });

  it('name what goes in circles until time is up, but not what ends after a few rounds', () => {
    const swing = (limit: number | null): Parts =>
      parts({
        chains: [
          opens,
          chain('Shuts', [cause('opened', 'gate', { limit })], [step('close', { door: 'gate', delay: 1 })]),
          chain('Opens again', [cause('closed', 'gate')], [step('open', { door: 'gate', delay: 1 })]),
        ],
        walks: [walk({ miller: [goTo(0, 0)] }, { atMost: 60 })],
      });
    const found = the('goes-in-circles', swing(null));
    expect(found).toMatchObject({ thing: 'gate', weight: 'remark' });
    expect(found.reason).toMatch(/Gate.* again, \d+ times, every \d/);
    expect(kinds(swing(6))).toEqual([]);
  });

  it('name a walk whose chains run away', () => {
    const level = endless({ zones: [zone('Step', 3, 0)], walks: [walk({ miller: [goTo(3, 0)] })] });
    const found = seenOf(level).findings;
    expect(found.find(({ kind }) => kind === 'runs-away')).toMatchObject({ weight: 'warning', thing: level.walks[0]!.id });
  });
});
