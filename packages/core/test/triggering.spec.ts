import { rehearse } from '../src/index';
import type { Level } from '../src/index';
import { cause, chain, door, goTo, levelOf, step, visitor, walk, zone } from './build';

/** What conditions answer about the visitor that triggered them, and where nobody did. */

const room = levelOf({}).rooms[0]!.id;

function yard(more: Record<string, unknown>): Level {
  return levelOf({
    visitors: [visitor('Miller', -5, 0), visitor('Goose', -5, 4, { kind: 'creature' })],
    zones: [zone('Pad', 0, 0), zone('Mat', 0, 0)],
    fixtures: [door('Gate', 5, 0)],
    counters: [{ id: 'visits', name: 'Visits', per: 'visitor', value: 2 }],
    ...more,
  });
}

describe('The triggering visitor in conditions', () => {
  const opened = (guard: string, who: string): boolean => {
    const chains = [chain('Open it', [cause('enter', 'pad')], [step('open', { door: 'gate' })], { guard })];
    const level = yard({ chains, walks: [walk({ [who]: [goTo(0, 0)] })] });
    return rehearse(level, level.walks[0]!).entries.some(({ kind }) => kind === 'opened');
  };

  it.each([
    ['inside(hand(), "mat")', true],
    ['inPlay(hand())', true],
    ['inPlay(hand()) && !held(hand())', true],
    [`room(hand()) == "${room}"`, true],
    ['counterOf("visits", hand()) == 2', true],
    ['carrier(hand()) == ""', true],
    ['heading(hand()) > 0.0', false],
    ['held(hand())', false],
  ])('are asked of the triggering visitor: %s is %s', (guard, is) => {
    expect(opened(guard, 'miller')).toBe(is);
  });

  it('tell one visitor from the other', () => {
    expect([opened('hand() == "miller"', 'miller'), opened('hand() == "miller"', 'goose')]).toEqual([true, false]);
    expect([opened('heading(hand()) > 300.0', 'miller'), opened('heading(hand()) > 300.0', 'goose')]).toEqual([false, true]);
  });

  it.each([
    ['hand() == ""', true],
    ['inside(hand(), "mat")', false],
    ['inPlay(hand())', false],
    ['held(hand())', false],
    ['room(hand()) == ""', true],
    ['carrier(hand()) == ""', true],
    ['heading(hand()) == 0.0', true],
    ['counterOf("visits", hand()) == 2', true],
  ])('are answered at the end of a walk, where nobody triggered anything: %s is %s', (state, is) => {
    const level = yard({ walks: [walk({ miller: [goTo(0, 0)] }, { expectations: [{ id: 'end', expect: 'at-end', state }] })] });
    expect(rehearse(level, level.walks[0]!).expectations[0]!.passed).toBe(is);
  });
});
