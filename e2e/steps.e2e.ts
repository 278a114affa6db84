import { Hand } from './hand';
import { Studio } from './studio';

/** Writing what happens: to whom, where, and in which order, with as few presses as it takes. */

const studio = new Studio();
const hand = new Hand(studio);
beforeAll(() => studio.begin());
afterAll(() => studio.end());
afterEach(() => expect(studio.complaints).toEqual([]));

const band = () => studio.page.locator('nw-chain-band').first();
const addStep = async (typed: string): Promise<void> => {
  await hand.button('+ step', band());
  await studio.page.keyboard.type(typed);
  await hand.key('Enter');
};
const steps = async () => {
  await studio.saved();
  return (await studio.stored()).level.chains[0]!.steps as unknown as Record<string, unknown>[];
};

it('walks a guard, who is chosen by name at once, to a point that is pressed on a plan which stays where it is', async () => {
  const { page } = studio;
  await hand.begin('Toll yard');
  await hand.button('Creature');
  await hand.press({ x: 4, y: 4 });
  await page.locator('nw-thing-panel .name').fill('Guard');
  await hand.key('Enter');
  await hand.key('z');
  await hand.press({ x: 2, y: 0 });
  await hand.button('somebody enters it…');
  await addStep('walk a visitor');
  await hand.button(/^target visitor: the triggering visitor/);
  await page.keyboard.type('gua');
  await hand.option(/^\s*Guard\s*$/);
  const plan = page.locator('nw-board.small .canvas');
  const before = (await plan.boundingBox())!;
  await hand.button(/pick…/);
  await page.getByText('Click the plan: pick a point on the plan').waitFor();
  expect(await plan.boundingBox()).toEqual(before);
  await page.mouse.click(before.x + before.width * 0.6, before.y + before.height * 0.4);
  await studio.settled();
  const [step] = await steps();
  const { visitors } = (await studio.stored()).level as unknown as { visitors: { id: string; name: string }[] };
  const guard = visitors.find(({ name }) => name === 'Guard')!.id;
  expect(step).toMatchObject({ kind: 'walk-visitor', who: { by: 'name', visitor: guard } });
  // What is pressed snaps to the lines that are drawn to.
  const { x, y } = (step as { to: { x: number; y: number } }).to;
  expect([(x * 4) % 1, (y * 4) % 1]).toEqual([0, 0]);
  // Another is pressed where she stands, while the list is open.
  await addStep('turn a visitor');
  await hand.button(/^target visitor: the triggering visitor/);
  const player = (await page.locator('nw-board.small [data-thing="player-1"]').boundingBox())!;
  await page.mouse.click(player.x + player.width / 2, player.y + player.height / 2);
  await studio.settled();
  expect((await steps())[1]).toMatchObject({ kind: 'turn', who: { by: 'name', visitor: 'player-1' } });
});

it('is offered first what acts on the things of the chain: of two gates the one that the zone moves with', async () => {
  const { page } = studio;
  await hand.begin('Two lifts');
  for (const x of [-3, 3]) {
    await hand.button('Elevator');
    await hand.press({ x, y: 2 });
    await hand.key('Escape');
  }
  await hand.key('z');
  await hand.press({ x: 3, y: 2 });
  await hand.key('Shift+A');
  await hand.button('somebody enters it…');
  await hand.button('+ step', band());
  const menu = page.locator('.steps-menu');
  await menu.getByText('For the selection').waitFor();
  expect((await menu.getByRole('menuitem').first().innerText()).trim()).toBe('send an elevator');
  await page.keyboard.press('Enter');
  // It is asked about, for there is another; Enter leaves it at what the zone serves.
  await page.locator('nz-option-item').first().waitFor();
  await hand.key('Escape');
  const [step] = await steps();
  const { level } = await studio.stored();
  expect(level.zones[0]).toMatchObject({ attachedTo: level.fixtures[1]!.id });
  expect(step).toMatchObject({ kind: 'send', elevator: level.fixtures[1]!.id });
});

it('finds the wiring laid out as it was left, after a reload', async () => {
  const { page } = studio;
  await studio.openDemo();
  await studio.go('wire');
  await hand.choose('Sort chains', 'By trigger');
  const heading = page.locator('nw-wire-view .sheaf').first();
  await heading.waitFor();
  await page.reload();
  await heading.waitFor();
  await hand.choose('Sort chains', 'Evaluation order');
  await heading.waitFor({ state: 'detached' });
});

it('names a signal as the source of a new chain at once, and sets how long a cue lasts where it is played', async () => {
  const { page } = studio;
  await studio.openDemo('wire');
  await hand.button('New chain');
  await page.keyboard.type('Grist');
  await hand.option(/^\s*Grist is ready\s*$/);
  const made = async () => {
    await studio.saved();
    return (await studio.stored()).level.chains.at(-1)! as unknown as { causes: object[]; steps: { cue: string }[] };
  };
  expect((await made()).causes).toMatchObject([{ on: 'signal', of: 'grist-ready' }]);
  const last = page.locator('nw-chain-band').last();
  await hand.button('+ step', last);
  await page.keyboard.type('play a cue');
  await hand.key('Enter');
  const { cue } = (await made()).steps[0]!;
  await studio.type('/seconds', '2.5', last.locator('.played'));
  await studio.saved();
  const { fixtures } = (await studio.stored()).level as unknown as { fixtures: { id: string; seconds: number }[] };
  expect(fixtures.find(({ id }) => id === cue)!.seconds).toBe(2.5);
});

it('gives the plan or the chains more room by the line between them, and finds it so after a reload', async () => {
  const { page } = studio;
  await studio.openDemo('wire');
  const line = page.getByRole('separator', { name: 'Divider between chains and plan' });
  const plan = page.locator('nw-board.small .canvas');
  const width = async () => (await plan.boundingBox())!.width;
  const before = await width();
  const at = (await line.boundingBox())!;
  await studio.drag(at.x + 3, at.y + 300, -180, 0);
  await studio.settled();
  const wide = await width();
  expect(wide - before).toBeGreaterThan(150);
  await page.reload();
  await plan.waitFor();
  await studio.settled();
  expect(Math.abs((await width()) - wide)).toBeLessThan(12);
  // By keys: a little less, all for the chains, and as it was.
  await line.focus();
  await studio.press('ArrowRight');
  expect(await width()).toBeLessThan(wide);
  await studio.press('End');
  expect(await plan.isVisible()).toBe(false);
  await studio.press('ArrowLeft');
  expect(await plan.isVisible()).toBe(true);
  await studio.press('Enter');
  expect(Math.abs((await width()) - before)).toBeLessThan(12);
});
