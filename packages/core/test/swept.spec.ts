import { sweptBy } from '../src/index';
import type { Level } from '../src/index';
import { at, door, fixture, levelOf, solid, zone } from './build';

// What a motion takes up, and what stands in its way, before anybody rehearses it.

const gate = (more: Record<string, unknown> = {}): Record<string, unknown> =>
  door('Gate', 0, 0, {
    size: at(2, 0.2, 3),
    travel: at(2, 0),
    timing: { by: 'seconds', seconds: 2 },
    ...more,
  });
const meets = (level: Level): [string, number][] => sweptBy(level, 'gate')!.meets.map((one) => [one.thing, one.seconds]);
const yard = (solids: Record<string, unknown>[], fixtures: Record<string, unknown>[] = [gate()]): Level =>
  levelOf({ solids, fixtures });

it('a gate that slides passes into a thin post, at the time at which its edge comes to it; not into its own pocket', () => {
  // Its edge begins at 1 m and goes 1 m a second.
  expect(meets(yard([solid('Post', 2, 0, { size: at(0.02, 1, 2) })]))).toEqual([['post', 0.99]]);
  expect(meets(yard([solid('Beside', 2, 1, { size: at(1, 1, 2) })]))).toEqual([]);
  // What it stands in as it starts is its pocket, or the wall around its doorway.
  expect(meets(yard([solid('Pocket', 2.5, 0, { size: at(4, 1, 3) })]))).toEqual([]);
  // What only touches is not met.
  expect(meets(yard([solid('Jamb', 3.5, 0, { size: at(1, 1, 3) })]))).toEqual([]);
});

it('what sinks goes into what lies under it, and takes up nothing of the plan', () => {
  const level = yard(
    [solid('Cellar', 0, 0, { at: at(0, 0, -2), size: at(4, 4, 1) })],
    [gate({ manner: 'sink', travel: at(0, 0, -3) })],
  );
  expect(meets(level)).toEqual([['cellar', 0.67]]);
  expect(sweptBy(level, 'gate')!.outlines).toEqual([]);
});

it('what swings meets what stands within its quarter circle, but nothing outside of it, nor what moves along', () => {
  const swings = gate({ manner: 'swing', swing: { degrees: 90, hinge: 'west' } });
  const within = solid('Crate stack', -0.2, 0.9, { size: at(0.3, 0.3, 1) });
  const outside = solid('Mill stone', 1, 2, { size: at(0.3, 0.3, 1) });
  const level = levelOf({
    solids: [within, outside],
    fixtures: [swings, fixture('barrier', 'Latch', 0, 0.5, { size: at(0.2, 0.2, 1), attachedTo: 'gate' })],
  });
  const swept = sweptBy(level, 'gate')!;
  const other = sweptBy(
    levelOf({ solids: [within, outside], fixtures: [gate({ manner: 'swing', swing: { degrees: -90, hinge: 'west' } })] }),
    'gate',
  )!;
  expect([swept.meets.map(({ thing }) => thing), other.meets].filter((one) => one.length > 0)).toEqual([['crate-stack']]);
  expect(swept.outlines.length).toBeGreaterThan(3);
});

it('what does not move sweeps nothing', () => {
  expect(sweptBy(levelOf({ zones: [zone('Spot', 0, 0)] }), 'spot')).toBeNull();
});
