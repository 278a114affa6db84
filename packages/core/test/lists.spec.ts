import { connections, rehearse, whyNot } from '../src/index';
import { cause, chain, door, goTo, levelOf, plate, step, told, visitor, walk, zone } from './build';

type Raw = Record<string, unknown>;

/** Two plates tagged as seals and a gate, for two visitors who each walk to the plates of their own. */
const hall = (when: string, routes: Record<string, Raw[]>, tags = ['seal']) =>
  levelOf({
    visitors: [
      visitor('Otto', -6, -2),
      visitor('Pia', -6, 2, { tags: ['ghost'] }),
      visitor('Goose', -8, 0, { kind: 'creature' }),
    ],
    zones: [zone('Ferry', 0, 6)],
    fixtures: [plate('South seal', 0, -2, { tags }), plate('North seal', 0, 2, { tags }), door('Gate', 9, 0)],
    watches: [{ id: 'ready', name: 'Ready', when }],
    chains: [chain('Opens', [cause('became-true', 'ready')], [step('open', { door: 'gate' })])],
    walks: [walk(routes)],
  });
const opens = (...given: Parameters<typeof hall>): number => {
  const level = hall(...given);
  return told(rehearse(level, level.walks[0]!).entries, 'opened').length;
};
const south = { otto: [goTo(0, -2)] };
const north = { pia: [goTo(0, 2)] };

describe('A gate that waits for several things', () => {
  it('opens once all plates with a tag are pressed, and not for one of them', () => {
    const sealed = 'tagged("seal").all(p, pressed(p))';
    expect(opens(sealed, { ...south, ...north })).toBe(1);
    expect(opens(sealed, south)).toBe(0);
    expect(opens('tagged("seal").exists(p, pressed(p))', south)).toBe(1);
    expect(opens('tagged("seal").exists_one(p, pressed(p))', north)).toBe(1);
    // They arrive in the same tick, so that it is never only one of them.
    expect(opens('tagged("seal").exists_one(p, pressed(p))', { ...south, ...north })).toBe(0);
    expect(opens('["south-seal", "north-seal"].all(p, pressed(p))', { ...south, ...north })).toBe(1);
  });

  it('opens for two different players on the ferry, and not for a player and a goose', () => {
    const two = 'visitors("ferry").filter(v, kind(v) == "player").size() >= 2';
    const [otto, pia, goose] = [{ otto: [goTo(-0.5, 6)] }, { pia: [goTo(0.5, 6)] }, { goose: [goTo(0.5, 6)] }];
    expect(opens(two, { ...otto, ...pia })).toBe(1);
    expect(opens(two, { ...otto, ...goose })).toBe(0);
    expect(opens('visitors("ferry").size() >= 2', { ...otto, ...goose })).toBe(1);
    expect(opens('players().all(p, inside(p, "ferry"))', { ...otto, ...pia })).toBe(1);
    expect(opens('players().all(p, inside(p, "ferry"))', { ...otto, ...goose })).toBe(0);
    expect(opens('creatures().exists(c, c in visitors("ferry"))', { ...otto, ...goose })).toBe(1);
  });

  it('opens once nobody with a tag is inside any more', () => {
    const free = 'count("ferry") > 0 && !visitors("ferry").exists(v, hasTag(v, "ghost"))';
    expect(opens(free, { otto: [goTo(0, 6)] })).toBe(1);
    expect(opens(free, { pia: [goTo(0, 6)] })).toBe(0);
  });

  it('says which of them it still waits for', () => {
    const said = (when: string): string => {
      const level = hall(when, south);
      return whyNot(level, rehearse(level, level.walks[0]!), 'opens')
        .map(({ says }) => says)
        .join(' ');
    };
    expect(said('tagged("seal").all(p, pressed(p))')).toContain('It asks that “North seal” is pressed');
    expect(said('tagged("seal").all(p, pressed(p))')).not.toContain('“South seal” is pressed');
    expect(said('tagged("seal").exists(p, load(p) >= 900.0)')).toContain(
      'It would be enough that “North seal” bears at least 900',
    );
    // One of them is enough, so the other is not asked for.
    expect(said('tagged("seal").exists(p, pressed(p)) && open("gate")')).not.toContain('would be enough');
  });

  it('is connected to each thing with the tag, and a tag that is spelled like an id is no name', () => {
    const level = hall('tagged("gate").all(p, pressed(p))', south, ['gate']);
    expect(connections(level, 'north-seal').askedBy).toEqual(['ready']);
    expect(connections(level, 'gate').askedBy).toEqual([]);
  });
});
