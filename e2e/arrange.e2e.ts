import { Studio } from './studio';

const studio = new Studio();
beforeAll(() => studio.begin());
afterAll(() => studio.end());
afterEach(() => expect(studio.complaints).toEqual([]));

/** Several things in hand, and things that lie on each other. */

const fixture = async (id: string) => (await studio.stored()).level.fixtures.find((one) => one.id === id)!;
const sheet = () => studio.page.locator('nw-thing-sheet');
const middleOf = async (thing: string): Promise<{ x: number; y: number }> => {
  const box = (await studio.page.locator(`nw-board [data-thing="${thing}"]`).first().boundingBox())!;
  return { x: box.x + box.width / 2, y: box.y + box.height / 2 };
};

it('brings several things in line, and gives all of them the same value, each in one step of undo', async () => {
  await studio.openDemo();
  await sheet().getByRole('button', { name: 'Sack plate' }).click();
  await studio.page.keyboard.down('Shift');
  for (const thing of ['ferry-bell', 'sluice-gate']) {
    const { x, y } = await middleOf(thing);
    await studio.page.mouse.click(x, y);
  }
  await studio.page.keyboard.up('Shift');
  await sheet().getByText('3 things').waitFor();
  const before = await fixture('sack-plate');
  await sheet().getByRole('button', { name: 'north edges' }).click();
  await studio.saved();
  expect((await fixture('sack-plate')).at.y).toBeGreaterThan(before.at.y + 3);
  await studio.press('Control+z');
  await studio.saved();
  expect((await fixture('sack-plate')).at.y).toBe(before.at.y);
  // They are of other heights, and come to be of one.
  await sheet().locator('button[data-path="/size/z"]').filter({ hasText: 'various' }).waitFor();
  await studio.type('/size/z', '1.5', sheet());
  await studio.saved();
  await sheet().locator('button[data-path="/size/z"]').filter({ hasText: '1.5' }).waitFor();
  await studio.type('/size/z', '-1', sheet());
  await studio.page.getByText('-1 is out of bounds').waitFor();
  await studio.press('Escape');
  await studio.press('Control+z');
  await sheet().locator('button[data-path="/size/z"]').filter({ hasText: 'various' }).waitFor();
});

it('reaches what lies under by clicking once more, and the topmost again after the lowest', async () => {
  await studio.press('Escape');
  const { x, y } = await middleOf('mill-door');
  const name = () => sheet().locator('nw-name-field input').inputValue();
  await studio.page.mouse.click(x, y + 3);
  await studio.settled();
  const first = await name();
  await studio.page.mouse.click(x, y + 3);
  await studio.settled();
  const second = await name();
  expect(new Set([first, second])).toEqual(new Set(['Mill door', 'Doorstep']));
  for (let i = 0; i < 4 && (await name()) !== first; i++) {
    await studio.page.mouse.click(x, y + 3);
    await studio.settled();
  }
  expect(await name()).toBe(first);
});

it('fits a zone to what its chain acts on: over its middle, around all of it, and moving with it', async () => {
  await studio.press('Escape');
  await sheet().getByRole('button', { name: 'Doorstep' }).click();
  await sheet().getByText('it serves Mill door').waitFor();
  await studio.dragThing('doorstep', -60, 30);
  await studio.press('Shift+C');
  await studio.saved();
  const door = await fixture('mill-door');
  const zone = async () => (await studio.stored()).level.zones.find(({ id }) => id === 'doorstep')!;
  expect((await zone()).at).toMatchObject({ x: door.at.x, y: door.at.y });
  await sheet().getByRole('button', { name: 'move with it' }).click();
  await studio.saved();
  expect(await zone()).toMatchObject({ attachedTo: 'mill-door' });
});

it('shows where a passage in hand puts its visitors', async () => {
  await studio.press('Escape');
  await studio.page.keyboard.press('s');
  await studio.page.getByText('A pair of portals').first().click();
  await studio.settled();
  await studio.press('Enter');
  await studio.page.mouse.click(480, 330);
  await studio.settled();
  await sheet().getByRole('button', { name: 'West portal' }).first().click();
  await studio.page
    .getByRole('img', { name: 'Visitors come out here' })
    .or(studio.page.locator('.pin', { hasText: 'out' }))
    .first()
    .waitFor();
  await studio.press('Escape');
  expect(await studio.page.locator('.pin', { hasText: 'out' }).count()).toBe(0);
});

it('shows everything that moves at its other end, and as it starts again', async () => {
  await studio.press('Escape');
  const shut = await middleOf('mill-door');
  await studio.press('Shift+O');
  // It slides north.
  const until = async (holds: (y: number) => boolean): Promise<void> => {
    for (let waited = 0; waited < 50 && !holds((await middleOf('mill-door')).y); waited++) await studio.settled();
    expect(holds((await middleOf('mill-door')).y)).toBe(true);
  };
  await until((y) => y < shut.y - 10);
  await studio.press('Shift+O');
  await until((y) => y === shut.y);
});

describe('A designer puts things out of the way', () => {
  it('hides a layer, hides and locks single things, and has all of them again; the level knows nothing of it', async () => {
    await studio.openDemo();
    const { page } = studio;
    const onBoard = (id: string) => page.locator(`nw-board [data-thing="${id}"]`).first();
    const before = (await studio.stored()).revision;
    await onBoard('doorstep').waitFor();
    await page.getByRole('button', { name: 'layers', exact: true }).click();
    await page.getByRole('menuitemcheckbox', { name: 'zones' }).click();
    await onBoard('doorstep').waitFor({ state: 'detached' });
    await page.locator('nw-thing-sheet .index button').filter({ hasText: 'Sack plate' }).click();
    await studio.press('Shift+H');
    await onBoard('sack-plate').waitFor({ state: 'detached' });
    // What is locked is seen, and a press goes past it.
    await page.locator('nw-thing-sheet .index button').filter({ hasText: 'Mill door' }).click();
    await studio.press('Shift+L');
    const box = (await onBoard('mill-door').boundingBox())!;
    await page.mouse.click(box.x + box.width / 2, box.y + box.height / 2);
    await studio.settled();
    expect(await page.getByRole('region', { name: 'The door Mill door' }).count()).toBe(0);
    await page.getByRole('button', { name: 'layers ◐ (some hidden)' }).click();
    await page.getByRole('menuitem', { name: 'show and unlock everything (1 hidden, 1 locked)' }).click();
    await onBoard('doorstep').waitFor();
    await onBoard('sack-plate').waitFor();
    await page.mouse.click(box.x + box.width / 2, box.y + box.height / 2);
    await page.getByRole('region', { name: 'The door Mill door' }).waitFor();
    expect((await studio.stored()).revision).toBe(before);
  });
});
