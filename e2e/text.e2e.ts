import type { Page } from 'playwright-core';
import { Studio } from './studio';

/** Wiring that is typed: a line in a band, or all of it as text. */

const studio = new Studio();
beforeAll(() => studio.begin());
afterAll(() => studio.end());
afterEach(() => expect(studio.complaints).toEqual([]));

const status = () => studio.page.locator('nw-wiring-text [role=status]');
const chains = async () => (await studio.stored()).level.chains;
const text = (page: Page = studio.page) => page.locator('nw-wiring-text .cm-content');
const openText = async (): Promise<void> => {
  await studio.openDemo('wire');
  if (!(await text().isVisible())) await studio.press('Shift+T');
  await text().waitFor();
  await status().filter({ hasText: 'Type a line' }).waitFor();
};
const toTheEnd = async (): Promise<void> => {
  await text().click();
  await studio.page.keyboard.press('Control+End');
};
const type = (what: string) => studio.page.keyboard.type(what, { delay: 5 });

describe('A line typed in a band', () => {
  const line = () => studio.page.getByRole('combobox', { name: 'Type a line of The mill door opens for people' });

  it('is a step: what can come next is listed, Tab goes on with it, Enter makes it', async () => {
    await studio.openDemo('wire');
    await line().click();
    await type('2 s later, clo');
    await studio.page.getByRole('option', { name: '2 s later, close' }).waitFor();
    await studio.page.keyboard.press('Tab');
    await type('mil');
    await studio.page.keyboard.press('ArrowDown');
    await studio.page.keyboard.press('Enter');
    expect(await line().inputValue()).toBe('2 s later, close Mill door ');
    await studio.page.keyboard.press('Enter');
    await studio.saved();
    expect(await line().inputValue()).toBe('');
    expect((await chains())[2]!.steps.slice(1)).toMatchObject([{ kind: 'close', door: 'mill-door', delay: 2 }]);
  });

  it('is a condition or another cause; what cannot be read is told, with what was meant', async () => {
    await line().fill('When goos enters Doorstep');
    await line().press('Enter');
    await studio.page.getByRole('alert').filter({ hasText: '“goos enters” cannot stand here' }).waitFor();
    await line().fill('When creature enters Doorstep, at most 2 times');
    await line().press('Enter');
    await line().fill('only if open("Sluice gate")');
    await line().press('Enter');
    await studio.saved();
    const chain = (await chains())[2]! as unknown as { causes: object[]; guard: string };
    expect(chain.causes[1]).toMatchObject({ on: 'enter', of: 'doorstep', filter: { kinds: ['creature'] }, limit: 2 });
    expect(chain.guard).toBe('open("sluice-gate")');
  });
});

it('A chain typed in one line, beginning with nothing but what is drawn', async () => {
  await studio.openDemo('wire');
  const before = (await chains()).length;
  const line = studio.page.getByRole('combobox', { name: 'Type a new chain' });
  await line.click();
  await type('When player enters Race');
  await studio.page.keyboard.press('Tab');
  await line.press('Backspace');
  await type(': open Slu');
  await studio.page.getByRole('option', { name: 'When player enters Race landing: open Sluice gate' }).waitFor();
  await studio.page.keyboard.press('Tab');
  await line.press('Backspace');
  await type('; 3 s later, close Sluice gate');
  await studio.page.keyboard.press('Enter');
  await studio.saved();
  expect(await chains()).toHaveLength(before + 1);
  expect((await chains()).at(-1)).toMatchObject({
    name: 'Race landing triggers',
    causes: [{ on: 'enter', of: 'landing', filter: { kinds: ['player'] } }],
    steps: [{ kind: 'open' }, { kind: 'close', delay: 3 }],
  });
  // It is selected.
  await studio.page.locator('.hand h2').filter({ hasText: 'Race landing triggers' }).waitFor();
});

describe('All wiring as text', () => {
  it('is typed beside the plan: a flag and a chain, applied as one step of undo', async () => {
    await openText();
    const before = (await chains()).length;
    await toTheEnd();
    await type('\nflag Market day\n');
    await studio.page.keyboard.press('Enter');
    await type('chain Market bell\nWhen Sack plate is pressed\nset Market day on\nplay Hopper bell');
    await status().filter({ hasText: '“Market day”, “Market bell” new. Ctrl+Enter applies it.' }).waitFor();
    await studio.page.keyboard.press('Escape');
    await studio.page.keyboard.press('Control+Enter');
    await studio.saved();
    const { flags } = (await studio.stored()).level as unknown as { flags: { id: string; name: string }[] };
    expect(flags.at(-1)!.name).toBe('Market day');
    expect((await chains()).at(-1)).toMatchObject({
      name: 'Market bell',
      causes: [{ on: 'press', of: 'sack-plate' }],
      steps: [
        { kind: 'set-flag', flag: flags.at(-1)!.id, to: true },
        { kind: 'cue', cue: 'hopper-bell' },
      ],
    });
    await studio.page.getByRole('button', { name: 'undo' }).click();
    await text().filter({ hasNotText: 'Market bell' }).waitFor();
    await studio.saved();
    expect(await chains()).toHaveLength(before);
  });

  it('says where it cannot be read, is not lost when it is left, and is applied once it is right', async () => {
    await openText();
    await toTheEnd();
    await type('\nchain Late bell\nWhen Sack plate is released\nplai Hopper bell');
    await status().filter({ hasText: '“plai Hopper” cannot stand here. Did you mean “play”?' }).waitFor();
    await studio.page.locator('.cm-lintRange-error').waitFor();
    await studio.go('draw');
    await studio.go('wire');
    await status().filter({ hasText: 'Did you mean “play”?' }).waitFor();
    await toTheEnd();
    await studio.page.keyboard.press('Shift+Home');
    await type('play Hopper bell');
    await status().filter({ hasText: '“Late bell” new' }).waitFor();
    // Leaving the view applies it.
    await studio.go('rehearse');
    await studio.saved();
    expect((await chains()).at(-1)).toMatchObject({ name: 'Late bell', steps: [{ kind: 'cue' }] });
  });

  it('includes what another window added while it was hidden', async () => {
    await openText();
    await toTheEnd();
    await type('\nchain Half written\nWhen Sack plate is ');
    const other = await studio.context.newPage();
    await other.goto(studio.page.url());
    await other.getByRole('button', { name: 'Show as text' }).click();
    await studio.go('draw');
    const line = other.getByRole('combobox', { name: 'Type a new chain' });
    await line.fill('When player enters Race landing: open Sluice gate');
    await line.press('Enter');
    await other.locator('.hand h2').filter({ hasText: 'Race landing triggers' }).waitFor();
    await other.close();
    await studio.go('wire');
    await text().filter({ hasText: 'chain Half written' }).filter({ hasText: 'chain Race landing triggers' }).waitFor();
    await studio.page.getByRole('button', { name: 'Revert' }).click();
    await text().filter({ hasNotText: 'Half written' }).filter({ hasText: 'chain Race landing triggers' }).waitFor();
  });

  it('takes what another window does to other paragraphs, and keeps what is being typed', async () => {
    await openText();
    const other = await studio.context.newPage();
    await other.goto(studio.page.url());
    await text(other).waitFor();
    await other.getByRole('button', { name: 'Show as text' }).click();
    await toTheEnd();
    await type('\nchain Being typed\nWhen Sack plate is ');
    const name = other.locator('nw-chain-band').first().locator('.name');
    await name.fill('Renamed by another');
    await name.press('Enter');
    await text().filter({ hasText: 'chain Renamed by another' }).waitFor();
    expect(await text().innerText()).toContain('When Sack plate is');
    await other.close();
    await studio.page.getByRole('button', { name: 'Revert' }).click();
    await text().filter({ hasNotText: 'Being typed' }).waitFor();
  });

  it('selects the chain in which one writes, and shows the one that is selected elsewhere', async () => {
    await openText();
    await studio.page.getByText('chain The bell answers').click();
    await studio.page.locator('.hand h2').filter({ hasText: 'The bell answers' }).waitFor();
    await studio.page.keyboard.press('Control+Home');
    await studio.page.locator('.hand h2').filter({ hasText: 'Sluice is open' }).waitFor();
  });
});
