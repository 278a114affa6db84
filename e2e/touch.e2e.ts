import type { CDPSession, Page } from 'playwright-core';
import { complaintsOf } from './browser';
import { Studio } from './studio';

/** The board under fingers, on a screen that has no mouse. */

const studio = new Studio();
let page: Page;
let fingers: CDPSession;
let complaints: string[] = [];
beforeAll(async () => {
  await studio.begin();
  const context = await studio.browser.newContext({ viewport: { width: 1280, height: 800 }, hasTouch: true });
  page = await context.newPage();
  complaints = complaintsOf(page, () => studio.server.address);
  fingers = await context.newCDPSession(page);
  await page.goto(studio.server.address);
  await page.getByRole('link', { name: 'Nettlewick tide mill' }).tap();
  await page.locator('[data-thing="doorstep"]').waitFor();
});
afterAll(() => studio.end());
afterEach(() => expect(complaints.splice(0)).toEqual([]));

interface Point {
  x: number;
  y: number;
}

async function touch(type: 'touchStart' | 'touchMove' | 'touchEnd', ...touchPoints: Point[]): Promise<void> {
  await fingers.send('Input.dispatchTouchEvent', { type, touchPoints: touchPoints.map((point, id) => ({ ...point, id })) });
  await page.evaluate(() => new Promise(requestAnimationFrame));
}

/** Where one can touch a zone: near its corner nothing else lies above it. */
async function onThing(thing: string): Promise<Point & { width: number }> {
  const box = (await page.locator(`[data-thing="${thing}"]`).first().boundingBox())!;
  return { x: box.x + 16, y: box.y + 14, width: box.width };
}

const stored = async (): Promise<Point> => (await studio.stored()).level.zones.find(({ id }) => id === 'doorstep')!.at;

it('a tap takes what lies there in hand', async () => {
  const { x, y } = await onThing('doorstep');
  await page.touchscreen.tap(x, y);
  await page.locator('[data-thing="doorstep"].chosen').waitFor();
});

it('one finger moves what it was put on, as one edit', async () => {
  const before = await stored();
  const at = await onThing('doorstep');
  await touch('touchStart', at);
  for (let step = 1; step <= 5; step++) await touch('touchMove', { x: at.x - step * 10, y: at.y + step * 12 });
  await touch('touchEnd');
  await page.getByText('Saved', { exact: true }).waitFor();
  for (let turn = 0; turn < 50 && (await stored()).x === before.x; turn++) await page.waitForTimeout(50);
  const after = await stored();
  expect(after.x).toBeLessThan(before.x - 0.5);
  expect(after.y).toBeLessThan(before.y - 0.5);
});

it('a second finger lets what the first had begun to move be as it was, and both stretch the plan', async () => {
  const before = await stored();
  const at = await onThing('doorstep');
  await touch('touchStart', at);
  await touch('touchMove', { x: at.x + 20, y: at.y });
  await touch('touchMove', { x: at.x + 40, y: at.y });
  await touch('touchStart', { x: at.x + 40, y: at.y }, { x: at.x + 140, y: at.y });
  for (let step = 1; step <= 6; step++)
    await touch('touchMove', { x: at.x + 40 - step * 12, y: at.y }, { x: at.x + 140 + step * 12, y: at.y });
  await touch('touchEnd');
  const wide = (await onThing('doorstep')).width;
  expect(wide).toBeGreaterThan(at.width * 1.5);
  await page.waitForTimeout(700);
  expect(await stored()).toEqual(before);
});

it('two fingers stretch the section as they do the plan, and move nothing', async () => {
  const before = await stored();
  const slab = page.locator('[data-slab="doorstep"]').first();
  const at = async () => (await slab.boundingBox())!;
  const { x, y, width, height } = await at();
  const [left, right] = [
    { x: x + width / 2 - 5, y: y + height / 2 },
    { x: x + width / 2 + 55, y: y + height / 2 },
  ];
  await touch('touchStart', left);
  await touch('touchStart', left, right);
  for (let step = 1; step <= 5; step++)
    await touch('touchMove', { x: left.x - step * 6, y: left.y }, { x: right.x + step * 6, y: right.y });
  await touch('touchEnd');
  expect((await at()).width / width).toBeCloseTo(2, 1);
  await page.waitForTimeout(700);
  expect(await stored()).toEqual(before);
});

it.each(['draw', 'wire', 'rehearse', 'check'])('what is to be touched is at least 24 pixels wide and high: %s', async (place) => {
  await page.getByRole('navigation', { name: 'Views' }).getByRole('link', { name: place }).tap();
  await page.locator(`nw-${place}-view`).waitFor();
  await page.waitForTimeout(500);
  const small = await page.evaluate(() =>
    [...document.querySelectorAll<HTMLElement>('button, a, [role=button], [role=tab], input, summary')].flatMap((one) => {
      // What is pressed of a list or a box to tick is all of it, with its label.
      const whole = one.closest('nz-select, label') ?? one;
      const { width, height } = whole.getBoundingClientRect();
      // A link within a sentence, and what is drawn to scale, may be smaller (WCAG 2.2, 2.5.8).
      const excepted = one.closest('p, li, .sentence, svg, nw-board, nw-section') !== null || width === 0 || height === 0;
      return excepted || (width >= 24 && height >= 24)
        ? []
        : [`${one.tagName} ${one.className} ${one.getAttribute('aria-label') ?? one.textContent.trim()} ${width}x${height}`];
    }),
  );
  expect(small).toEqual([]);
});
