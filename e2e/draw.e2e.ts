import { Studio } from './studio';

const studio = new Studio();
beforeAll(() => studio.begin());
afterAll(() => studio.end());
afterEach(() => expect(studio.complaints).toEqual([]));

const doorstep = async () => (await studio.stored()).level.zones.find((zone) => zone.id === 'doorstep')!;

describe('A designer draws', () => {
  it('opens the demo from the first screen, which says what to do', async () => {
    await studio.page.goto(studio.server.address);
    await studio.page.getByRole('heading', { name: 'Nettlewick' }).waitFor();
    // The levels are drawn small, and beside them lies what one can learn from.
    await studio.page.locator('.shelf nw-small-plan path').first().waitFor();
    expect(await studio.page.locator('.examples .title').count()).toBeGreaterThan(20);
    expect(await studio.page.locator('.examples .twin').count()).toBeGreaterThan(30);
    // Whoever is new is told where to look first, and gets there.
    await studio.page.getByRole('link', { name: 'watch a walk' }).click();
    await studio.page.locator('nw-rehearse-view .entry').first().waitFor();
    await studio.page.goBack();
    await studio.page.getByRole('link', { name: 'Nettlewick tide mill' }).click();
    await studio.settled();
    await studio.page.getByText('everything in this level').waitFor();
    expect(await studio.page.locator('[data-thing]').count()).toBe(8 + 2 + 6 + 3);
  });

  it('a wall along a line, and a spawn point to which a warp is led by its name', async () => {
    const { page } = studio;
    const board = (await page.locator('nw-board').first().boundingBox())!;
    const [x, y] = [board.x + board.width * 0.3, board.y + board.height * 0.7];
    await page.locator('[data-tip="Draw: Wall (W)" i]').click();
    await page.getByText('Drag from end to end of the wall').waitFor();
    await studio.drag(x, y, 90, -90);
    await studio.saved();
    const wall = (await studio.stored()).level.solids.at(-1)!;
    // Both ends lie on the grid, so that the way it was drawn is what it is.
    expect(wall.heading).toBeGreaterThan(35);
    expect(wall.heading).toBeLessThan(55);
    expect(wall.size).toMatchObject({ y: 0.4, z: 3 });
    expect(wall.size.x).toBeGreaterThan(2);
    // Another is given back while it is being drawn: nothing comes of it, and nothing is taken in hand.
    await studio.press('Escape');
    await studio.press('w');
    await page.mouse.move(x, y);
    await page.mouse.down();
    await page.mouse.move(x + 60, y);
    await page.locator('.note').filter({ hasText: 'from end to end' }).waitFor();
    await studio.press('Escape');
    await page.mouse.move(x + 120, y - 120);
    await page.mouse.up();
    await page.getByText('everything in this level').waitFor();
    expect((await studio.stored()).level.solids.at(-1)!.id).toBe(wall.id);
    await page.locator('[data-tip="Draw: Spawn point" i]').click();
    await page.mouse.click(x - 60, y);
    await page.locator('nw-thing-panel .name').fill('Lane end');
    await studio.press('Enter');
    await studio.saved();
    expect((await studio.stored()).level.fixtures.at(-1)).toMatchObject({ kind: 'spawn-point', name: 'Lane end' });
    const spot = (await studio.stored()).level.fixtures.at(-1)!.id;
    await page.getByRole('button', { name: 'Back to list' }).click();
    await page.getByLabel('Find by name or kind').fill('loft ladder');
    await page.getByRole('button', { name: /^Loft ladder/ }).click();
    await studio.refer('/to/of', 'Lane end');
    await studio.saved();
    const ladder = (await studio.stored()).level.fixtures.find(({ id }) => id === 'loft-ladder')!;
    expect(ladder).toMatchObject({ to: { of: spot } });
    for (let i = 0; i < 4; i++) await page.getByRole('button', { name: 'undo' }).click();
    await studio.saved();
    expect((await studio.stored()).level.solids.map(({ id }) => id)).not.toContain(wall.id);
  });

  it('moves a zone, and undoes and redoes it', async () => {
    const before = await doorstep();
    await studio.dragThing('doorstep', -34, 66);
    await studio.saved();
    const after = await doorstep();
    expect(after.at.x).toBeLessThan(before.at.x - 1);
    expect(after.at.y).toBeLessThan(before.at.y - 1);
    // The grid is a quarter of a metre.
    expect(Number.isInteger(after.at.x * 4) && Number.isInteger(after.at.y * 4)).toBe(true);
    await studio.press('Control+z');
    await studio.saved();
    expect((await doorstep()).at).toEqual(before.at);
    await studio.press('Control+y');
    await studio.saved();
    expect((await doorstep()).at).toEqual(after.at);
  });

  it('undoes after a reload too, for the history is kept', async () => {
    const moved = (await doorstep()).at;
    await studio.page.reload();
    await studio.page.locator('nw-board .figure').first().waitFor();
    await studio.page.getByRole('button', { name: 'undo' }).click();
    await studio.settled();
    await studio.saved();
    expect((await doorstep()).at).not.toEqual(moved);
  });

  it('describes the selected thing in sentences, whose values are edited in place', async () => {
    // What was in hand before the reload is in hand again.
    await studio.press('Escape');
    await studio.page.getByRole('button', { name: 'Sluice gate' }).click();
    await studio.settled();
    expect(await studio.page.locator('nw-thing-panel').innerText()).toMatch(/sinks\s+2.4\sm\s+in\s+1.5\ss/);
    await studio.type('/timing/seconds', '2,5 s');
    await studio.saved();
    const gate = (await studio.stored()).level.fixtures.find((fixture) => fixture.id === 'sluice-gate')!;
    expect(gate.timing!.seconds).toBe(2.5);
  });

  it('explains a wrong value next to it, and keeps the old one', async () => {
    await studio.type('/timing/seconds', 'soon');
    await studio.page.getByText('“soon” is not a number or calculation. Enter a number from 0 to 86400 s.').waitFor();
    await studio.page.locator('input[data-path="/timing/seconds"]').fill('-1');
    await studio.press('Enter');
    await studio.page.getByText('-1 is out of range.').waitFor();
    await studio.press('Escape');
    await studio.page.locator('button[data-path="/timing/seconds"]').filter({ hasText: '2.5' }).waitFor();
  });

  it('sets how many ticks a second has, within its bounds', async () => {
    await studio.press('Escape');
    await studio.page.locator('summary', { hasText: 'this level' }).click();
    await studio.type('/rate', '241');
    await studio.page.getByText('241 is out of range. Enter a number from 1 to 240.').waitFor();
    await studio.page.locator('input[data-path="/rate"]').fill('30');
    await studio.press('Enter');
    await studio.saved();
    expect((await studio.stored()).level.rate).toBe(30);
    await studio.page.getByRole('button', { name: 'undo' }).click();
    await studio.page.getByRole('button', { name: 'Sluice gate' }).click();
    await studio.settled();
  });

  it('refuses a name that is taken', async () => {
    await studio.page.locator('nw-thing-panel .name').fill('mill DOOR');
    await studio.press('Enter');
    await studio.page.getByText('“Mill door” is already in use').waitFor();
    await studio.page.locator('nw-thing-panel .name').press('Escape');
    await studio.page.getByRole('button', { name: 'Back to list' }).click();
    await studio.settled();
  });

  it('draws a zone by dragging on the plan, resizes it by a corner and turns it', async () => {
    await studio.page.locator('[data-tip="Draw: Zone (Z)" i]').click();
    await studio.settled();
    const canvas = (await studio.page.locator('nw-draw-view .canvas').boundingBox())!;
    await studio.drag(canvas.x + canvas.width * 0.3, canvas.y + canvas.height * 0.7, 45, 45);
    await studio.saved();
    const made = async () => (await studio.stored()).level.zones.find((zone) => zone.name === 'Zone')!;
    const { shape } = await made();
    expect(shape.size.x).toBeGreaterThan(1.5);
    const corner = (await studio.page.locator('[data-handle="north-east"]').boundingBox())!;
    await studio.drag(corner.x + 5, corner.y + 5, 50, -25);
    await studio.saved();
    expect((await made()).shape.size.x).toBeGreaterThan(shape.size.x + 1);
    await studio.press('r');
    await studio.page.locator('button[data-path="/heading"]').filter({ hasText: '15°' }).waitFor();
  });

  it('duplicates, nudges with the arrow keys and deletes, all from the keyboard', async () => {
    await studio.press('Control+d');
    await studio.page.locator('.word', { hasText: 'zone' }).first().waitFor();
    await studio.saved();
    const copy = async () => (await studio.stored()).level.zones.find((zone) => zone.name === 'Zone 2');
    const { x } = (await copy())!.at;
    await studio.press('ArrowRight');
    await studio.press('ArrowRight');
    await studio.saved();
    expect((await copy())!.at.x).toBeCloseTo(x + 0.5, 6);
    await studio.press('Delete');
    await studio.saved();
    expect(await copy()).toBeUndefined();
  });

  it('shows the coordinates under the pointer, and zooms and fits', async () => {
    const canvas = (await studio.page.locator('nw-draw-view .canvas').boundingBox())!;
    await studio.page.mouse.move(canvas.x + canvas.width / 2, canvas.y + canvas.height / 2);
    await studio.settled();
    expect(await studio.page.getByTestId('pointer').innerText()).toMatch(/^-?\d+\.\d\d east, -?\d+\.\d\d north$/);
    const scale = () => studio.page.locator('.scale').first().innerText();
    await studio.press('f');
    const fitted = await scale();
    await studio.page.mouse.wheel(0, -600);
    await studio.settled();
    expect(await scale()).not.toBe(fitted);
    await studio.press('f');
    expect(await scale()).toBe(fitted);
  });

  it('shows the room larger in a larger window, unless somebody has gone nearer by hand', async () => {
    const { page } = studio;
    await studio.press('f');
    const scale = async (): Promise<number> => Number(/1 m = (\d+) px/.exec(await page.locator('nw-draw-view').innerText())![1]);
    const before = await scale();
    await page.setViewportSize({ width: 1920, height: 1080 });
    while ((await scale()) <= before) await studio.settled();
    await studio.press('+');
    await studio.settled();
    const nearer = await scale();
    await page.setViewportSize({ width: 1280, height: 800 });
    await studio.settled();
    await studio.settled();
    expect(await scale()).toBe(nearer);
    await studio.press('f');
    expect(await scale()).toBe(before);
  });

  it('draws on dark paper as well, and remembers it', async () => {
    await studio.page.getByRole('button', { name: 'Dark theme' }).click();
    await studio.settled();
    expect(await studio.page.evaluate(() => document.documentElement.dataset['theme'])).toBe('dark');
    await studio.page.reload();
    await studio.page.getByRole('button', { name: 'Light theme' }).click();
    await studio.settled();
  });
});
