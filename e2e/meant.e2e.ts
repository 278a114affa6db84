import { Studio } from './studio';

/** What is clicked is what is meant: in small windows, while something is being drawn, and wherever a notice stands. */

const studio = new Studio();
beforeAll(() => studio.begin());
afterAll(() => studio.end());

const plan = async (): Promise<{ x: number; y: number; width: number; height: number }> =>
  (await studio.page.locator('nw-board .canvas').first().boundingBox())!;

it('a notice moves nothing: the plan stays where it is, and the notice goes by itself or when it is put away', async () => {
  const { page } = studio;
  await studio.openDemo();
  const before = await plan();
  await page.getByRole('button', { name: 'Doorstep' }).click();
  await studio.press('Control+c');
  const notice = page.locator('nw-passing-notice .notice');
  await notice.waitFor();
  expect(await plan()).toEqual(before);
  await notice.getByRole('button').click();
  await notice.waitFor({ state: 'detached' });
});

it('whoever opens a level is in it; Z and Enter place a zone in the middle of the view', async () => {
  const { page } = studio;
  await studio.openDemo();
  await page.waitForFunction(() => document.activeElement?.closest('main') !== null);
  const zones = async (): Promise<number> => (await studio.stored()).level.zones.length;
  const before = await zones();
  await studio.press('z');
  await studio.press('Enter');
  await studio.saved();
  expect(await zones()).toBe(before + 1);
  await studio.press('Control+z');
  await studio.saved();
});

it('while a way is drawn, a press on a flag is a place on the plan, and a number that is typed is one', async () => {
  const { page } = studio;
  await studio.openDemo('rehearse');
  await page.getByRole('tab', { name: 'Walk' }).click();
  const points = async (): Promise<number> => page.locator('nw-board .pin.held').count();
  await page.getByRole('button', { name: '+ go to…' }).first().click();
  const before = await points();
  const flag = (await page.locator('nw-board .pin.held').first().boundingBox())!;
  await page.mouse.click(flag.x + 6, flag.y + 6);
  await page.waitForFunction((count) => document.querySelectorAll('nw-board .pin.held').length > count, before);
  await page.locator('nw-board .where').waitFor();
  await studio.press('4');
  await page.locator('nw-walk-panel input').first().waitFor();
  expect(page.url()).toContain('/rehearse');
  expect(await page.locator('nw-walk-panel input:focus').inputValue()).toBe('4');
  await studio.press('Escape');
});

it('what is to be pressed in Wire is 24 pixels high and wide at least', async () => {
  const { page } = studio;
  await studio.openDemo('wire');
  await page.locator('nw-chain-band').first().waitFor();
  const small = await page.evaluate(() =>
    [...document.querySelectorAll('nw-wire-view button')]
      .map((one) => ({ html: one.outerHTML.slice(0, 90), box: one.getBoundingClientRect() }))
      .filter(({ box }) => box.width > 0 && (box.width < 23.5 || box.height < 23.5))
      .map(({ html, box }) => `${html} ${box.width}x${box.height}`),
  );
  expect(small).toEqual([]);
});

it('in a window of 640 by 400 the plans of Wire and of Rehearse with lanes are in view', async () => {
  const { page } = studio;
  await page.setViewportSize({ width: 640, height: 400 });
  await studio.openDemo('wire');
  const wire = await plan();
  expect(wire.height).toBeGreaterThan(140);
  expect(wire.y + wire.height).toBeLessThan(400);
  await studio.openDemo('rehearse');
  await page.getByRole('button', { name: 'lanes' }).click();
  await page.locator('nw-lanes-view .names li').first().waitFor();
  expect((await plan()).height).toBeGreaterThan(140);
  await page.setViewportSize({ width: 1280, height: 800 });
});
