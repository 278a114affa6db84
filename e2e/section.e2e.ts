import { Hand } from './hand';
import type { Spot } from './hand';
import { Studio } from './studio';

const studio = new Studio();

beforeAll(() => studio.begin());
afterAll(() => studio.end());

/** Where a point of the room is in the section: so many metres east and up. Every room of these stories is 20 metres wide about its zero. */
async function inSection(east: number, up: number): Promise<Spot> {
  const room = await roomOnScreen();
  const scale = room.width / 20;
  return { x: room.x + room.width / 2 + east * scale, y: room.y + room.height - up * scale };
}

/** The outline of the room in the section on the screen, without the breadth of its line. */
async function roomOnScreen(): Promise<{ x: number; y: number; width: number; height: number }> {
  const { x, y } = (await studio.page.locator('nw-section').boundingBox())!;
  const own = await studio.page.locator('nw-section .room').evaluate((path: SVGPathElement) => {
    const box = path.getBBox();
    return { x: box.x, y: box.y, width: box.width, height: box.height };
  });
  return { ...own, x: own.x + x, y: own.y + y };
}

async function stroke(from: [number, number], to: [number, number]): Promise<void> {
  const [a, b] = [await inSection(...from), await inSection(...to)];
  await studio.drag(a.x, a.y, b.x - a.x, b.y - a.y);
  await studio.settled();
  await studio.saved();
}

const slab = (name: string) => studio.page.locator(`nw-section [data-slab][aria-label^="${name},"]`);
const level = async () => (await studio.stored()).level;

describe('A designer of a level that is seen from the side', () => {
  const hand = new Hand(studio);

  it('folds the plan away, and the section shows the whole room', async () => {
    await hand.begin('From the side');
    await hand.key('Shift+V');
    await studio.page.locator('nw-section text[text-anchor="middle"]').first().waitFor();
    await studio.settled();
    const section = (await studio.page.locator('nw-section').boundingBox())!;
    expect(section.height).toBeGreaterThan(500);
    expect(await studio.page.locator('nw-board.plan').isVisible()).toBe(false);
    const room = await roomOnScreen();
    expect(room.y).toBeGreaterThanOrEqual(section.y);
    expect(room.x).toBeGreaterThan(section.x);
    expect(room.x + room.width).toBeLessThan(section.x + section.width);
  });

  it('finds the sheet as it was left when the page is loaded anew', async () => {
    const before = await roomOnScreen();
    await studio.page.reload();
    await studio.page.locator('nw-section text[text-anchor="middle"]').first().waitFor();
    await studio.settled();
    const after = await roomOnScreen();
    for (const side of ['x', 'y', 'width', 'height'] as const) expect(Math.abs(after[side] - before[side])).toBeLessThan(2);
  });

  it('draws a ledge, a gate that rises and a zone up there, each as wide and as high as it was drawn', async () => {
    await hand.key('b');
    await stroke([2, 1.5], [6, 2]);
    expect((await level()).solids.at(-1)).toMatchObject({ at: { x: 4, z: 1.5 }, size: { x: 4, z: 0.5 } });
    await hand.key('o');
    await hand.key('o');
    await hand.key('o');
    await stroke([-4, 0], [-3, 2.5]);
    expect((await level()).fixtures.at(-1)).toMatchObject({
      manner: 'rise',
      at: { x: -3.5, z: 0 },
      size: { x: 1, z: 2.5 },
      travel: { z: 2.5 },
    });
    await hand.key('z');
    await stroke([3, 2], [5, 4]);
    expect((await level()).zones.at(-1)).toMatchObject({ at: { x: 4, z: 2 }, shape: { size: { x: 2, z: 2 } } });
  });

  it('pulls it wider by its side, moves it by the arrow keys, and undoes both', async () => {
    const right = (await studio.page.locator('nw-section [data-side="right"]').boundingBox())!;
    const { x, y } = await inSection(6, 3);
    await studio.drag(right.x + 6, right.y + 6, x - right.x - 6, y - right.y - 6);
    await studio.saved();
    expect((await level()).zones.at(-1)).toMatchObject({ at: { x: 4.5, z: 2 }, shape: { size: { x: 3, z: 2 } } });
    await hand.key('ArrowUp');
    await hand.key('ArrowRight');
    await studio.saved();
    expect((await level()).zones.at(-1)).toMatchObject({ at: { x: 4.75, z: 2.25 } });
    for (let step = 0; step < 3; step++) await hand.key('Control+z');
    await studio.saved();
    expect((await level()).zones.at(-1)).toMatchObject({ at: { x: 4, z: 2 }, shape: { size: { x: 2 } } });
  });

  it('gives a stroke back with Escape, and lets go of what is in hand by a click on the paper', async () => {
    const before = (await level()).solids.length;
    await hand.key('b');
    await hand.key('Escape');
    const { x, y } = await inSection(-8, 3);
    await slab('Zone').click({ position: { x: 4, y: 4 } });
    await studio.page.locator('nw-section .slab.chosen').waitFor();
    await studio.page.mouse.click(x, y);
    await studio.page.locator('nw-section .slab.chosen').waitFor({ state: 'detached' });
    expect((await level()).solids).toHaveLength(before);
  });

  it('zooms about the pointer by the wheel, shifts the paper, and has the whole room again', async () => {
    const { page } = studio;
    const zone = slab('Zone');
    const before = (await zone.boundingBox())!;
    await page.mouse.move(before.x, before.y);
    await page.mouse.wheel(0, -300);
    await studio.settled();
    const near = (await zone.boundingBox())!;
    expect(near.width / before.width).toBeGreaterThan(1.3);
    expect(Math.abs(near.x - before.x) + Math.abs(near.y - before.y)).toBeLessThan(4);
    const { x, y } = await inSection(-2, 3);
    await studio.drag(x, y, 50, -30);
    const shifted = (await zone.boundingBox())!;
    expect(Math.abs(shifted.x - near.x - 50) + Math.abs(shifted.y - near.y + 30)).toBeLessThan(4);
    await page.keyboard.press('f');
    await studio.settled();
    expect(Math.abs((await zone.boundingBox())!.width - before.width)).toBeLessThan(2);
  });

  it('places a set piece there, that works as it stands', async () => {
    await hand.key('s');
    await hand.click(studio.page.locator('nw-set-piece-panel li button').filter({ hasText: 'Gate held open by a weight plate' }));
    const { x, y } = await inSection(-6, 0.5);
    await studio.page.mouse.click(x, y);
    await studio.settled();
    await studio.saved();
    const { fixtures } = await level();
    expect(fixtures.length).toBeGreaterThan(2);
    // All of it is in hand.
    expect(await studio.page.locator('nw-section .slab.chosen').count()).toBeGreaterThan(1);
    expect(Math.abs((fixtures.at(-1) as unknown as { at: Spot }).at.x + 6)).toBeLessThan(4);
  });

  it('picks a place there, as high as it is pressed, and what it is for stays in hand', async () => {
    const { page } = studio;
    await hand.key('Escape');
    await page.locator('.stencil').filter({ hasText: 'Teleporter' }).click();
    const [from, to] = [await inSection(-9, 0), await inSection(8, 2)];
    await page.mouse.click(from.x, from.y);
    await studio.saved();
    await page.locator('nw-thing-panel .value.pick').first().click();
    await page.mouse.click(to.x, to.y);
    await studio.saved();
    const { fixtures } = await level();
    expect(fixtures.at(-1)).toMatchObject({ kind: 'teleporter', at: { x: -9, z: 0 }, to: { x: 8, z: 2 } });
    expect(await page.locator('nw-thing-panel .value.pick').count()).toBeGreaterThan(0);
  });

  it('takes the section along a line that is dragged into the plan, or goes there by keys', async () => {
    const { page } = studio;
    await hand.key('Escape');
    await page.getByRole('separator', { name: 'Divider between plan and section' }).focus();
    for (let step = 0; step < 12; step++) await page.keyboard.press('ArrowDown');
    await page.locator('nw-board.plan .canvas').waitFor();
    await page.locator('nw-board.plan .canvas').focus();
    await page.keyboard.press('f');
    await studio.settled();
    expect(await slab('Solid').count()).toBe(1);
    // What was drawn in the section stands in the middle of the room.
    const knob = (await page.locator('[data-handle="cut"]').boundingBox())!;
    const board = (await page.locator('nw-board.plan .canvas').boundingBox())!;
    await studio.drag(knob.x + 7, knob.y + 7, 0, board.y + board.height * 0.35 - knob.y);
    await studio.settled();
    expect(await page.locator('nw-section svg').first().getAttribute('aria-label')).toMatch(
      /^Section, looking north, from [1-9]/,
    );
    expect(await slab('Solid').count()).toBe(0);
    // The room is 16 m deep: from wherever the line was left, it is before it then.
    for (let step = 0; step < 70; step++) await page.keyboard.press('Alt+ArrowDown');
    await studio.settled();
    expect(await page.locator('nw-section svg').first().getAttribute('aria-label')).toBe('Section, looking north');
    expect(await slab('Solid').count()).toBe(1);
  });
});
