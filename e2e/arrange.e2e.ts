import { slideTo } from './browser';
import { Studio } from './studio';

const studio = new Studio();
beforeAll(() => studio.begin());
afterAll(() => studio.end());
afterEach(() => expect(studio.complaints).toEqual([]));

/** Several things in hand, and things that lie on each other. */

const fixture = async (id: string) => (await studio.stored()).level.fixtures.find((one) => one.id === id)!;
const sheet = () => studio.page.locator('nw-thing-panel');
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
  await studio.page.getByText('-1 is out of range').waitFor();
  await studio.press('Escape');
  await studio.press('Control+z');
  await sheet().locator('button[data-path="/size/z"]').filter({ hasText: 'various' }).waitFor();
});

it('copies a zone with its wiring by the keyboard, and is asked which door the copy is to open', async () => {
  const { page } = studio;
  await studio.openDemo();
  // Undo takes the copy away that was in hand.
  const take = async (): Promise<void> => {
    await sheet().getByRole('button', { name: 'Doorstep' }).click();
    await studio.press('Control+Shift+D');
  };
  const asked = page.locator('nz-modal-container').filter({ hasText: 'What should the copies refer to?' });
  const opens = async (): Promise<string[]> => {
    await studio.saved();
    const { chains, fixtures } = (await studio.stored()).level;
    return chains
      .filter(({ name }) => name.startsWith('The mill door opens for people'))
      .map(({ steps }) => fixtures.find(({ id }) => id === (steps[0] as { door?: string }).door)!.name);
  };
  // Enter takes what is usual: another zone for the same door.
  await take();
  await asked
    .locator('li')
    .filter({ hasText: 'Mill door' })
    .getByText(/“The mill door opens for people” names? it/)
    .waitFor();
  await page.locator('.ways .first:focus').waitFor();
  await studio.press('Enter');
  await asked.waitFor({ state: 'detached' });
  expect(await opens()).toEqual(['Mill door', 'Mill door']);
  await studio.press('Control+z');
  // Nothing is put in by Escape, and the keys are for the plan again.
  await sheet().getByRole('button', { name: 'Doorstep' }).click();
  await page.locator('nw-draw-view .canvas').first().focus();
  await studio.press('Control+Shift+D');
  await page.locator('.ways .first:focus').waitFor();
  await studio.press('Escape');
  await asked.waitFor({ state: 'detached' });
  await page.locator('nw-draw-view .canvas:focus').waitFor();
  expect(await opens()).toEqual(['Mill door']);
  // Another door comes along with it, in the same step of undo.
  await studio.press('Control+Shift+D');
  await studio.choose('Mill door, door', 'a copy of it');
  await asked.getByRole('button', { name: 'Paste' }).click();
  await asked.waitFor({ state: 'detached' });
  expect(await opens()).toEqual(['Mill door', 'Mill door 2']);
  await studio.press('Control+z');
  expect(await opens()).toEqual(['Mill door']);
  expect((await studio.stored()).level.fixtures.some(({ name }) => name === 'Mill door 2')).toBe(false);
});

it('copies a door for a chain that opens it already, and is asked whether that opens the copy, too', async () => {
  const { page } = studio;
  await studio.openDemo();
  await sheet()
    .getByRole('button', { name: /^Mill door/ })
    .first()
    .click();
  await sheet().getByRole('button', { name: 'Duplicate with wiring' }).click();
  const chain = page.locator('nz-modal-container li').filter({ hasText: 'The mill door opens for people' });
  await chain.getByText('acts on “Mill door”').waitFor();
  await studio.choose('The mill door opens for people, chain', 'Keep it on the originals');
  await page.getByRole('button', { name: 'Paste' }).click();
  await studio.saved();
  const { chains, fixtures } = (await studio.stored()).level;
  expect(fixtures.some(({ name }) => name === 'Mill door 2')).toBe(true);
  expect(chains.filter(({ name }) => name.startsWith('The mill door opens for people'))).toHaveLength(1);
  await studio.press('Control+z');
  await studio.saved();
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
  await sheet().getByText('Target fixture: Mill door').waitFor();
  await studio.dragThing('doorstep', -60, 30);
  await studio.press('Shift+C');
  await studio.saved();
  const door = await fixture('mill-door');
  const zone = async () => (await studio.stored()).level.zones.find(({ id }) => id === 'doorstep')!;
  expect((await zone()).at).toMatchObject({ x: door.at.x, y: door.at.y });
  await sheet().getByRole('button', { name: 'Attach to it' }).click();
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
    await studio.saved();
    const before = (await studio.stored()).revision;
    await onBoard('doorstep').waitFor();
    await page.getByRole('button', { name: 'Layers', exact: true }).click();
    await page.getByRole('menuitemcheckbox', { name: 'zones' }).click();
    await onBoard('doorstep').waitFor({ state: 'detached' });
    await page.locator('nw-thing-panel .index button').filter({ hasText: 'Sack plate' }).click();
    await studio.press('Shift+H');
    await onBoard('sack-plate').waitFor({ state: 'detached' });
    // What is locked is seen, and a press goes past it.
    await page.locator('nw-thing-panel .index button').filter({ hasText: 'Mill door' }).click();
    await studio.press('Shift+L');
    const box = (await onBoard('mill-door').boundingBox())!;
    await page.mouse.click(box.x + box.width / 2, box.y + box.height / 2);
    await studio.settled();
    expect(await page.getByRole('region', { name: 'The door Mill door' }).count()).toBe(0);
    await page.getByRole('button', { name: 'layers ◐ (some hidden)' }).click();
    await page.getByRole('menuitem', { name: 'Show and unlock all (1 hidden, 1 locked)' }).click();
    await onBoard('doorstep').waitFor();
    await onBoard('sack-plate').waitFor();
    await page.mouse.click(box.x + box.width / 2, box.y + box.height / 2);
    await page.getByRole('region', { name: 'The door Mill door' }).waitFor();
    expect((await studio.stored()).revision).toBe(before);
  });
});

describe('A designer draws on several sheets', () => {
  it('makes a group, moves it as one, takes one of it alone by another click, and dissolves it', async () => {
    await studio.openDemo();
    const { page } = studio;
    const click = async (thing: string): Promise<void> => {
      const { x, y } = await middleOf(thing);
      await page.mouse.click(x, y);
      await studio.settled();
    };
    await studio.press('Escape');
    await click('ferry-bell');
    await page.keyboard.down('Shift');
    await click('sack-plate');
    await page.keyboard.up('Shift');
    await studio.press('Control+g');
    await studio.saved();
    await studio.press('Escape');
    await click('sack-plate');
    await sheet().getByText('2 things').waitFor();
    const before = [await fixture('ferry-bell'), await fixture('sack-plate')];
    const { x, y } = await middleOf('sack-plate');
    await studio.drag(x, y, 56, 0);
    await studio.saved();
    const after = [await fixture('ferry-bell'), await fixture('sack-plate')];
    const by = after.map(({ at }, i) => at.x - before[i]!.at.x);
    expect(by[0]).toBeGreaterThan(1);
    expect(by[1]).toBeCloseTo(by[0]!, 3);
    await studio.press('Escape');
    await click('sack-plate');
    await click('sack-plate');
    await page.getByRole('region', { name: 'The pressure plate Sack plate' }).waitFor();
    await click('ferry-bell');
    await sheet().getByRole('button', { name: 'Ungroup' }).click();
    await studio.press('Escape');
    await click('sack-plate');
    await page.getByRole('region', { name: 'The pressure plate Sack plate' }).waitFor();
  });

  it('pulls the end of a slide along on the plan, and finds what is tied to it by asking', async () => {
    const { page } = studio;
    await studio.press('Escape');
    await page.getByLabel('Find by name or kind').fill('connected to sluice gate');
    const found = await sheet().locator('.index button span').allInnerTexts();
    expect(found.length).toBeGreaterThan(0);
    expect(found).not.toContain('Sluice gate');
    await page.getByLabel('Find by name or kind').fill('mill door');
    await sheet().locator('.index button').filter({ hasText: 'Mill door' }).click();
    const end = (await page.locator('[data-handle="pose 0"]').boundingBox())!;
    await studio.drag(end.x + end.width / 2, end.y + end.height / 2, 0, -28);
    await studio.saved();
    await sheet().locator('button[data-path^="/travel"]').first().waitFor();
    const { travel } = (await fixture('mill-door')) as unknown as { travel: { y: number } };
    expect(Math.abs(travel.y)).toBeGreaterThan(1.9);
    await studio.press('Control+z');
    await studio.saved();
  });

  it('moves a gate along its way on the sheet without a rehearsal, sees what it sweeps and what stands there, and has it back', async () => {
    const { page } = studio;
    await studio.openDemo();
    await page.getByRole('button', { name: 'Sluice gate' }).first().click();
    const { revision } = await studio.stored();
    const slider = page.getByRole('slider', { name: /^How far it has moved/ });
    await slideTo(slider, 75);
    expect(await page.locator('nw-thing-panel .scrub output').innerText()).toMatch(/^0.75 of 1.50 s$/);
    await page.locator('[data-thing="sluice-gate"]').first().waitFor();
    // What it goes into is named, with the second from which on; the level itself is as it was.
    await page.getByRole('button', { name: 'Back to list' }).click();
    await page.getByRole('button', { name: 'Mill door' }).first().click();
    await page.getByText('Hits Mill wall, north of the door from 0 s.').waitFor();
    expect(await slider.getAttribute('aria-valuenow')).toBe('0');
    expect(await page.getByTestId('save-state').innerText()).toMatch(/^\s*Saved/);
    expect((await studio.stored()).revision).toBe(revision);
  });

  it('follows a warp to the sheet where it comes out and back, and sees the level as it was at a moment of the last rehearsal', async () => {
    const { page } = studio;
    const sheets = page.getByRole('navigation', { name: 'Rooms' });
    await page.getByLabel('Find by name or kind').or(page.locator('body')).first().waitFor();
    await studio.press('Escape');
    await page.getByLabel('Find by name or kind').fill('loft ladder');
    await sheet().locator('.index button').filter({ hasText: 'Loft ladder' }).click();
    await sheet().getByRole('button', { name: 'Show destination: Stone loft' }).click();
    await sheets.getByRole('button', { name: 'Stone loft' }).and(page.locator('[aria-current]')).waitFor();
    await page.locator('.pin').filter({ hasText: 'out' }).waitFor();
    await sheet().getByRole('button', { name: 'back to where it stands: Mill yard' }).click();
    await studio.press('Shift+M');
    await page.getByText('No rehearsal to show').waitFor();
    await studio.go('rehearse');
    await page.locator('.entry').first().waitFor();
    await studio.press('End');
    await studio.go('draw');
    await studio.press('Shift+M');
    const start = await middleOf('miller');
    await slideTo(page.getByRole('slider', { name: 'Moment of the last rehearsal, in ticks' }), 0);
    await studio.settled();
    const moved = await middleOf('miller');
    expect(Math.hypot(moved.x - start.x, moved.y - start.y)).toBeGreaterThan(20);
  });

  it('stretches the tape in the section too, and pours what it measures up there into a height', async () => {
    const { page } = studio;
    await studio.press('Escape');
    await studio.press('t');
    const section = (await page.locator('nw-section').boundingBox())!;
    const floor = section.y + section.height - 26;
    await studio.drag(section.x + section.width * 0.36, floor, 0, -40);
    await studio.settled();
    const note = await page.locator('.note').innerText();
    expect(note).toMatch(/length [\d.]+ m\s+east 0 m\s+up [\d.]+ m/);
    await studio.press('Escape');
  });
});
