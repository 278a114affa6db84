import { Studio } from './studio';

const studio = new Studio();
beforeAll(() => studio.begin());
afterAll(() => studio.end());
afterEach(() => expect(studio.complaints).toEqual([]));

/** The ledger read by what one looks for. */

const ledger = () => studio.page.locator('nw-ledger-view');
const lines = async (): Promise<string[]> => {
  await studio.settled();
  return (await ledger().locator('.entry .text').allInnerTexts()).map((text) => text.trim());
};

it('shows only what has some words, and says so in an address that leads back to it', async () => {
  await studio.openDemo('rehearse');
  await ledger().locator('.entry').first().waitFor();
  const all = (await lines()).length;
  await studio.page.getByRole('searchbox', { name: 'Find in the ledger' }).pressSequentially('sack PLATE');
  await studio.page.waitForURL(/ledger=text/);
  const found = await lines();
  expect(found.length).toBeGreaterThan(1);
  expect(found.length).toBeLessThan(all);
  for (const line of found) expect(line).toContain('Sack plate');
  await studio.page.reload();
  await ledger().locator('.entry').first().waitFor();
  expect(await lines()).toEqual(found);
  expect(await studio.page.getByRole('searchbox', { name: 'Find in the ledger' }).inputValue()).toBe('sack PLATE');
});

it('asks by kind, by reason and by when, and shows all again', async () => {
  await ledger().getByRole('button', { name: 'show all' }).click();
  await studio.choose('Walk to rehearse', 'The goose comes to the door');
  await ledger().locator('.entry[data-kind="held"]').first().waitFor();
  await ledger().getByRole('button', { name: 'filter…' }).click();
  await studio.choose('Why it was held', 'filtered');
  for (const line of await lines()) expect(line).toMatch(/filter requires/);
  await studio.choose('Why it was held', 'Any reason');
  await studio.choose('Kind of entry', 'arrived');
  // What comes again and again is one line, until it is unfolded.
  const folded = (await lines()).length;
  const again = ledger().locator('.entry[data-kind="folded"] button');
  for (let left = await again.count(); left > 0; left = await again.count()) {
    await again.first().click();
    await studio.settled();
  }
  expect((await lines()).length).toBeGreaterThan(folded);
  const unfolded = await lines();
  await ledger().getByText('Collapse repeats').click();
  expect(await lines()).toEqual(unfolded);
  for (const line of await lines()) expect(line).toMatch(/has arrived/);
  await studio.page.getByLabel('To when, in seconds').fill('0.01');
  await studio.press('Tab');
  await ledger().getByText('No entries match the filter.').waitFor();
  await ledger().getByRole('button', { name: 'Show all' }).last().click();
  await ledger().locator('.entry[data-entry="1"]').waitFor();
});

it('lays the trail of what led to an entry on the plan, pin by pin, back to what the visitor did', async () => {
  await studio.choose('Walk to rehearse', "The miller's morning round");
  await ledger().locator('.entry[data-kind="opened"] button').first().click();
  await studio.settled();
  const pins = await studio.page.locator('nw-board .pin').allInnerTexts();
  const trail = (await studio.page.locator('nw-ledger-view .trail .no').allInnerTexts()).slice(1);
  expect(trail.length).toBeGreaterThan(2);
  for (const number of trail) expect(pins.map((text) => text.replace(/\s+/g, ' ').trim())).toContain(`№ ${number.trim()}`);
  // What was pressed stays in view, though the trail takes room below the ledger.
  const list = (await studio.page.locator('nw-ledger-view .entries').boundingBox())!;
  const now = (await studio.page.locator('.entry.now').boundingBox())!;
  expect(now.y).toBeGreaterThanOrEqual(list.y - 1);
  expect(now.y + now.height).toBeLessThanOrEqual(list.y + list.height + 1);
});

it('stands in plain order as well, and says of the entry in hand whom, what and which chain it is about', async () => {
  await studio.openDemo('rehearse');
  const step = ledger().locator('.entry[data-kind="step"]').first();
  await step.waitFor();
  const depth = () => step.locator('.text').evaluate((one) => one.getBoundingClientRect().left);
  const indented = await depth();
  await ledger().getByText('Indent', { exact: true }).click();
  await studio.settled();
  const plain = await ledger()
    .locator('.entry .text')
    .first()
    .evaluate((one) => one.getBoundingClientRect().left);
  expect(indented).toBeGreaterThan(plain);
  expect(await depth()).toBe(plain);
  await step.locator('button').click();
  await ledger().getByText('what Sluice gate · chain The sack opens the sluice').waitFor();
  await ledger().getByText('Indent', { exact: true }).click();
});
