import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import type { Page } from 'playwright-core';
import { stepNames } from '@nettlewick/core';
import { Studio } from './studio';

/** What once stood in a designer's way, or lost what they had done. */

const studio = new Studio();
beforeAll(() => studio.begin());
afterAll(() => studio.end());
const axe = readFileSync(join(process.cwd(), 'node_modules/axe-core/axe.min.js'), 'utf8');

describe('Two tabs of one browser on one level', () => {
  it('lose nothing of either when both are closed while the server is down', async () => {
    await studio.openDemo('wire');
    const other = await studio.context.newPage();
    await other.goto(studio.page.url());
    await other.locator('nw-chain-band').first().waitFor();
    await studio.server.kill();
    const rename = async (page: Page, band: number, name: string): Promise<void> => {
      const field = page.locator('nw-chain-band').nth(band).locator('.name');
      await field.fill(name);
      await field.press('Enter');
      await page.getByTestId('save-state').filter({ hasText: 'saved in this browser' }).waitFor();
    };
    await rename(studio.page, 0, 'From the first tab');
    await rename(other, 1, 'From the second tab');
    const address = studio.page.url();
    await studio.page.close();
    await other.close();
    await studio.serve();
    // One of them goes on by itself; the other is offered.
    studio.page = await studio.newPage();
    await studio.page.goto(address);
    const offer = studio.page.getByRole('button', { name: 'Apply them here' });
    await offer.first().waitFor();
    // A browser that is slow to notice that both are closed offers both, the second at any moment.
    while ((await offer.count()) > 0) {
      const button = (await offer.first().elementHandle())!;
      await button.click();
      await button.waitForElementState('hidden');
    }
    await studio.saved();
    const names = (await studio.stored()).level.chains.map((chain) => chain.name);
    expect(names).toEqual(expect.arrayContaining(['From the first tab', 'From the second tab']));
    await studio.page.reload();
    await studio.page.locator('nw-chain-band').first().waitFor();
    expect(await studio.page.getByRole('button', { name: 'Apply them here' }).count()).toBe(0);
  });

  it('are offered what a closed one has left although the browser opens its database late, or takes it for open', async () => {
    await studio.openDemo('wire');
    await studio.server.kill();
    const field = studio.page.locator('nw-chain-band').nth(2).locator('.name');
    await field.fill('Left behind');
    await field.press('Enter');
    await studio.page.getByTestId('save-state').filter({ hasText: 'saved in this browser' }).waitFor();
    const address = studio.page.url();
    const lock = await studio.page.evaluate(() => `nettlewick session ${sessionStorage.getItem('nettlewick-session')}`);
    await studio.page.close();
    await studio.serve();
    const offer = () => studio.page.getByRole('button', { name: 'Apply them here' });
    studio.page = await studio.newPage();
    await studio.page.addInitScript(() => {
      const open = IDBFactory.prototype.open;
      IDBFactory.prototype.open = function (...asked) {
        const request = open.apply(this, asked);
        const add = request.addEventListener.bind(request) as (kind: string, listener: (event: Event) => void) => void;
        request.addEventListener = ((kind: string, listener: (event: Event) => void) =>
          add(kind, (event) => void (kind === 'success' ? setTimeout(() => listener(event), 5000) : listener(event)))) as never;
        return request;
      };
    });
    await studio.page.goto(address);
    await offer().waitFor();
    await studio.page.close();
    studio.page = await studio.newPage();
    await studio.page.addInitScript((name) => {
      const query = LockManager.prototype.query;
      let looks = 0;
      LockManager.prototype.query = async function () {
        const found = await query.call(this);
        return (looks += 1) > 1 ? found : { ...found, held: [...(found.held ?? []), { name }] };
      };
    }, lock);
    await studio.page.goto(address);
    await offer().click();
    await offer().waitFor({ state: 'detached' });
    await studio.saved();
    expect((await studio.stored()).level.chains.map((chain) => chain.name)).toContain('Left behind');
  });

  it('see at once what the other saves, and that there are two of them', async () => {
    await studio.openDemo('wire');
    const other = await studio.context.newPage();
    await other.goto(studio.page.url());
    const name = (page: Page) => page.locator('nw-chain-band').first().locator('.name');
    await other.getByText('2 windows here').waitFor();
    const before = await name(studio.page).inputValue();
    await name(studio.page).fill('Seen by both');
    await name(studio.page).press('Enter');
    await studio.saved();
    await other.waitForFunction(() => document.querySelector<HTMLInputElement>('nw-chain-band .name')?.value === 'Seen by both');
    // Each has its own undo: what this window has done is taken back here, and is gone in the other too.
    expect(await other.getByRole('button', { name: 'undo' }).isDisabled()).toBe(true);
    await studio.page.getByRole('button', { name: 'undo' }).click();
    await other.waitForFunction(
      (wanted) => document.querySelector<HTMLInputElement>('nw-chain-band .name')?.value === wanted,
      before,
    );
    await other.close();
  });

  it('edit at the same time, see each other’s edits, and undo their own', async () => {
    await studio.openDemo('wire');
    const other = await studio.context.newPage();
    await other.goto(studio.page.url());
    await other.getByText('2 windows here').waitFor();
    const name = (page: Page, nth: number) => page.locator('nw-chain-band').nth(nth).locator('.name');
    const before = await name(studio.page, 0).inputValue();
    const seen = (page: Page, nth: number, text: string) =>
      page.waitForFunction(
        ([at, wanted]) => document.querySelectorAll<HTMLInputElement>('nw-chain-band .name')[at as number]?.value === wanted,
        [nth, text] as const,
      );
    await name(studio.page, 0).fill('Ours');
    await name(other, 1).fill('Theirs');
    await Promise.all([name(studio.page, 0).press('Enter'), name(other, 1).press('Enter')]);
    await Promise.all([seen(studio.page, 1, 'Theirs'), seen(other, 0, 'Ours')]);
    await studio.page.getByRole('button', { name: 'undo' }).click();
    await seen(other, 0, before);
    await seen(studio.page, 1, 'Theirs');
    await studio.saved();
    expect((await studio.stored()).level.chains.slice(0, 2).map((chain) => chain.name)).toEqual([before, 'Theirs']);
    await other.close();
  });

  it('see each other although the server has refused to be listened to once', async () => {
    const other = await studio.context.newPage();
    // The first time it asks for a level that there is not.
    await other.addInitScript(() => {
      const Own = EventSource;
      let asked = 0;
      window.EventSource = class extends Own {
        constructor(url: string | URL) {
          super(asked === 0 ? '/api/levels/nowhere/events' : url);
          asked += 1;
          document.documentElement.dataset['asked'] = String(asked);
        }
      };
    });
    await other.goto(studio.page.url());
    await other.getByText('2 windows here').waitFor();
    expect(await other.locator('html').getAttribute('data-asked')).toBe('2');
    await other.close();
  });

  it('that have given one field two values keep the later, and the other can be restored', async () => {
    await studio.openDemo('wire');
    const other = await studio.context.newPage();
    await other.addInitScript(() => void delete (window as { EventSource?: unknown }).EventSource);
    await other.goto(studio.page.url());
    const first = (page: Page) => page.locator('nw-chain-band').first().locator('.name');
    await first(other).waitFor();
    await first(studio.page).fill('Saved first');
    await first(studio.page).press('Enter');
    await studio.saved();
    await first(other).fill('Saved second');
    await first(other).press('Enter');
    await other
      .getByTestId('save-state')
      .filter({ hasText: /^\s*Saved/ })
      .waitFor();
    // The later of two values stays, and who had the other is told, and can have it back.
    await studio.page.getByText('Another window changed the name of “Saved second” at the same time as you.').waitFor();
    expect(await first(studio.page).inputValue()).toBe('Saved second');
    await studio.page.getByRole('button', { name: 'Restore my value' }).click();
    await studio.page.getByText('at the same time as you').waitFor({ state: 'detached' });
    await studio.saved();
    expect((await studio.stored()).level.chains[0]!.name).toBe('Saved first');
    await other.close();
  });
});

it('asks before a text that is being typed is left behind', async () => {
  await studio.openDemo('wire');
  const { page } = studio;
  const asked: string[] = [];
  page.on('dialog', (dialog) => {
    asked.push(dialog.type());
    void dialog.dismiss();
  });
  await page.locator('nw-chain-band').first().locator('button[data-path="/steps/0/delay"]').click();
  await page.locator('input[data-path="/steps/0/delay"]').fill('7');
  const question = page.waitForEvent('dialog');
  await page.close({ runBeforeUnload: true });
  await question;
  expect(asked).toEqual(['beforeunload']);
  expect(page.isClosed()).toBe(false);
  await studio.press('Enter');
  await studio.saved();
  await page.close({ runBeforeUnload: true });
  studio.page = await studio.newPage();
});

it('opens from its draft when the page is loaded anew while the server is down', async () => {
  await studio.openDemo('wire');
  const { page } = studio;
  await studio.kept();
  await studio.server.kill();
  const name = page.locator('nw-chain-band').first().locator('.name');
  await name.fill('Written in the dark');
  await name.press('Enter');
  await page.getByTestId('save-state').filter({ hasText: 'saved in this browser' }).waitFor();
  await page.reload();
  await page.locator('nw-chain-band').first().waitFor();
  expect(await name.inputValue()).toBe('Written in the dark');
  await studio.serve();
  await studio.saved();
  expect((await studio.stored()).level.chains[0]!.name).toBe('Written in the dark');
});

it('keeps the page out of caches, and what has a hash in them', async () => {
  const page = await fetch(studio.server.address);
  expect(page.headers.get('cache-control')).toBe('no-store');
  const script = /src="(main-[A-Z0-9]+\.js)"/.exec(await page.text())![1]!;
  expect((await fetch(`${studio.server.address}/${script}`)).headers.get('cache-control')).toContain('immutable');
  expect((await fetch(`${studio.server.address}/mark.svg`)).headers.get('cache-control')).toBe('no-cache');
});

describe('A designer wires', () => {
  it('every kind of step from the menu, which stays on the screen and is searched', async () => {
    await studio.openDemo('wire');
    const { page } = studio;
    const band = page.locator('nw-chain-band').nth(1);
    await band.scrollIntoViewIfNeeded();
    await band.getByRole('button', { name: '+ step' }).click();
    const box = (await page.locator('.steps-menu').boundingBox())!;
    expect(box.y).toBeGreaterThanOrEqual(0);
    expect(box.y + box.height).toBeLessThanOrEqual(800);
    const items = page.getByRole('menuitem');
    // What fits the chain's things stands first, and again among its like.
    expect(new Set(await items.allInnerTexts()).size).toBe(stepNames.length);
    await page.getByRole('menuitem', { name: 'reset a chain' }).last().click();
    await studio.saved();
    expect((await studio.stored()).level.chains[1]!.steps.at(-1)!.kind).toBe('reset-chain');
    await band.getByRole('button', { name: '+ step' }).click();
    await page.keyboard.type('velocity');
    await studio.press('Enter');
    await studio.saved();
    expect((await studio.stored()).level.chains[1]!.steps.at(-1)!.kind).toBe('stop-velocity');
  });

  it('one new chain after another, the second not set off by the first, and only by events that a thing can raise', async () => {
    await studio.openDemo('wire');
    const { page } = studio;
    await page.getByRole('button', { name: 'New chain' }).click();
    await page.getByRole('button', { name: 'New chain' }).click();
    await studio.saved();
    const { chains } = (await studio.stored()).level;
    expect(chains.slice(-2).flatMap((chain) => chain.causes.map(({ of }) => of))).toEqual(['', '']);
    await page.locator('nw-chain-band').first().locator('button[data-path="/causes/0/on"]').click();
    // What the new chain had asked for goes, and what is asked for now comes.
    await page.locator('nz-option-item').filter({ hasText: 'is pressed' }).first().waitFor();
    const offered = await page.locator('nz-option-item').allTextContents();
    expect(offered.map((text) => text.trim())).toEqual(
      expect.arrayContaining(['is pressed', 'is released', 'enters', 'leaves', 'has stayed in']),
    );
    expect(offered.join(' ')).not.toMatch(/has opened|becomes true|is sent|has arrived/);
    await studio.press('Escape');
  });

  it('with the keyboard: lists are walked without choosing, left with Escape, and the focus stays where it was', async () => {
    await studio.openDemo('wire');
    const { page } = studio;
    const value = page.locator('nw-chain-band').first().locator('button[data-path="/causes/0/on"]');
    await value.focus();
    await studio.press('Enter');
    await page.locator('nz-option-item').first().waitFor();
    await studio.press('ArrowDown');
    await studio.press('ArrowDown');
    await studio.press('Escape');
    await page.locator('nz-option-item').first().waitFor({ state: 'detached' });
    expect((await studio.stored()).level.chains[0]!.causes[0]!.on).toBe('press');
    const focused = () => page.evaluate(() => document.activeElement?.getAttribute('data-path'));
    await page.waitForFunction(() => document.activeElement?.getAttribute('data-path') === '/causes/0/on');
    await studio.press('Enter');
    await page.locator('nz-option-item').first().waitFor();
    await studio.press('ArrowDown');
    await studio.press('Enter');
    await studio.saved();
    expect((await studio.stored()).level.chains[0]!.causes[0]!.on).not.toBe('press');
    await page.waitForFunction(() => document.activeElement?.getAttribute('data-path') === '/causes/0/on');
    expect(await focused()).toBe('/causes/0/on');
  });
});

describe('A designer draws', () => {
  it('a door that sinks: the sheet and the plan say the same length', async () => {
    await studio.openDemo();
    const { page } = studio;
    await studio.press('o');
    await studio.drag(400, 330, 90, 12);
    const sheet = page.locator('nw-thing-panel');
    await sheet.locator('button[data-path="/manner"]').click();
    await page.locator('nz-option-item').filter({ hasText: 'sinking' }).click();
    const { travel, size } = await door();
    expect(travel).toEqual({ x: size.x, y: 0, z: 0 });
    const said = sheet.locator('button[data-path="/travel"]');
    expect(parseFloat(await said.innerText())).toBeCloseTo(size.x, 3);
    await studio.type('/travel', '2', sheet);
    await studio.saved();
    expect((await door()).travel).toEqual({ x: 0, y: 0, z: -2 });
  });

  const door = async (): Promise<{ travel: object; size: { x: number; y: number } }> => {
    await studio.saved();
    return (await studio.stored()).level.fixtures.at(-1) as unknown as { travel: object; size: { x: number; y: number } };
  };

  it('and is told why the last room cannot go, and what still refers to what is deleted', async () => {
    await studio.openDemo();
    const { page } = studio;
    const choose = async (name: string): Promise<void> => {
      await studio.press('Escape');
      await page.getByLabel('Find by name or kind').fill(name);
      await page.locator('nw-thing-panel .index button').first().click();
    };
    await choose('Sack plate');
    await page.getByRole('button', { name: 'Delete', exact: true }).click();
    await page.getByText(/Deleted “Sack plate”\. Still referenced by /).waitFor();
    await page.getByRole('button', { name: 'undo' }).click();
    await choose('loft');
    await page.getByRole('button', { name: 'Delete', exact: true }).click();
    await choose('Mill yard');
    await page.getByRole('button', { name: 'Delete', exact: true }).click();
    await page.getByText('Could not delete Mill yard: a level needs at least one room').waitFor();
  });
});

it('reads the whole reason why something was held', async () => {
  await studio.openDemo('rehearse');
  const { page } = studio;
  await studio.choose('Walk to rehearse', 'The goose comes to the door');
  const held = page.locator('.entry.held').first();
  await held.waitFor();
  const cut = await held
    .locator('.what')
    .evaluate((one) => one.scrollWidth > one.clientWidth + 1 || one.scrollHeight > one.clientHeight + 1);
  expect(cut).toBe(false);
  expect(await held.innerText()).toContain('the filter requires kinds player, found creature');
  // Lines stand one below the other, whatever their heights.
  const boxes = await page
    .locator('.entry')
    .evaluateAll((all) => all.map((one) => one.getBoundingClientRect()).map(({ top, bottom }) => [top, bottom]));
  boxes.slice(1).forEach(([top], i) => expect(top!).toBeGreaterThanOrEqual(boxes[i]![1]! - 0.5));
});

it('has no finding of any weight in any view, on light and on dark paper', async () => {
  const { page } = studio;
  const found: string[] = [];
  await page.emulateMedia({ reducedMotion: 'reduce' });
  const findings = async (): Promise<string[]> =>
    page.evaluate(async () => {
      const { axe } = window as unknown as { axe: { run(node: Document, options: object): Promise<{ violations: Finding[] }> } };
      interface Finding {
        id: string;
        nodes: { html: string }[];
      }
      // Nothing is written down of what passes: that takes longer than to look.
      const rules = { 'label-content-name-mismatch': { enabled: true } };
      const { violations } = await axe.run(document, { rules, resultTypes: ['violations'] });
      return violations.map(({ id, nodes }) => `${id} ${nodes[0]!.html.slice(0, 120)}`);
    });
  // Nothing fades in or out, for less motion was asked for: what is to be seen is there with the next pictures.
  const still = async (): Promise<void> => {
    await studio.settled();
    await page.evaluate(() => Promise.allSettled(document.getAnimations().map((one) => one.finished)));
    await studio.settled();
  };
  const look = async (where: string): Promise<void> => {
    if (!(await page.evaluate(() => 'axe' in window))) await page.evaluate(axe);
    // The paper changes under the same page, as the system says it.
    for (const paper of ['light', 'dark'] as const) {
      await page.emulateMedia({ colorScheme: paper });
      await page.locator(`html[data-theme="${paper}"]`).waitFor();
      await still();
      found.push(...(await findings()).map((one) => `${paper} ${where}: ${one}`));
    }
    await page.emulateMedia({ colorScheme: 'light' });
    await page.locator('html[data-theme="light"]').waitFor();
  };
  await page.goto(studio.server.address);
  await page.getByRole('link', { name: 'Nettlewick tide mill' }).waitFor();
  await look('levels');
  await studio.openDemo();
  await look('draw');
  await page.locator('nw-thing-panel .index button').nth(8).click();
  await look('thing');
  await studio.press('Escape');
  await page.getByRole('button', { name: 'Doorstep' }).click();
  await page.getByRole('button', { name: 'Duplicate with wiring' }).click();
  await page.getByRole('button', { name: 'Paste' }).waitFor();
  await look('copies');
  await studio.press('Escape');
  await page.locator('nz-modal-container').waitFor({ state: 'detached' });
  await studio.go('wire');
  await look('wire');
  await studio.press('t');
  await page.locator('nw-overview-table .act').first().waitFor();
  await look('wiring as a table');
  await studio.press('Shift+T');
  await page.locator('nw-wiring-text .cm-content').waitFor();
  await look('wiring as text');
  await studio.press('Shift+T');
  await page.locator('nw-chain-band button.value').first().click();
  await look('list');
  await studio.press('Escape');
  await page.getByRole('button', { name: '+ step' }).first().click();
  await look('steps');
  await studio.press('Escape');
  await studio.go('rehearse');
  await page.locator('.entry').first().waitFor();
  await page.getByRole('button', { name: 'Filter…' }).click();
  await page
    .locator('nz-select')
    .filter({ has: page.getByLabel('Kind of entry') })
    .click();
  await page.locator('nz-option-item').first().waitFor();
  await look('a long list');
  await studio.press('Escape');
  await page.getByRole('button', { name: 'Filter…' }).click();
  await look('rehearse');
  await studio.press('l');
  await studio.choose('Value or condition to add as a lane', 'load on Sack plate');
  await look('lanes');
  await studio.press('Escape');
  await page.getByRole('button', { name: 'Lanes', exact: true }).click();
  await page.getByRole('tab', { name: 'Walk' }).click();
  await look('walk');
  await page.getByRole('tab', { name: 'Why not?' }).click();
  await look('why not');
  await page.getByRole('tab', { name: 'Matrix' }).click();
  await page.getByText(/% covered by some walk/).waitFor();
  await look('matrix');
  await page.getByRole('tab', { name: 'Compare' }).click();
  await studio.choose('Second to compare', 'The goose comes to the door');
  await page.locator('nw-compare-panel tbody tr').nth(1).waitFor();
  await look('compare');
  await page.getByRole('tab', { name: 'What if?' }).click();
  await page.getByRole('button', { name: 'Test all house rules' }).click();
  await page.locator('nw-what-if-panel .verdict').waitFor();
  await page.getByRole('button', { name: 'Run variations' }).click();
  await page.locator('nw-spread-chart svg').first().waitFor();
  await look('what if');
  await page.getByRole('tab', { name: 'Ledger' }).click();
  await page.getByRole('button', { name: 'Walk it yourself' }).click();
  await page.getByRole('button', { name: 'Pause' }).click();
  await look('live walk');
  await page.getByRole('button', { name: 'End', exact: true }).click();
  await studio.go('check');
  await look('check');
  await studio.press('?');
  await look('keys');
  await studio.press('Escape');
  await page.locator('nz-modal-container').waitFor({ state: 'detached' });
  await studio.press('Control+k');
  await page.locator('nz-modal-container input:focus').waitFor();
  await look('commands');
  await studio.press('Escape');
  await page.locator('nz-modal-container').waitFor({ state: 'detached' });
  await page.getByRole('button', { name: 'history' }).click();
  await look('history');
  await studio.press('Escape');
  expect(found).toEqual([]);
  // Some forty times everything on the page is looked at: beside other work that takes minutes.
}, 600_000);

it('A press on a value finds it where it was: nothing moves under the finger when its chain is taken in hand', async () => {
  await studio.openDemo();
  const { page } = studio;
  const plate = (await page.locator('[data-thing="sack-plate"]').boundingBox())!;
  await page.mouse.click(plate.x + plate.width / 2, plate.y + plate.height / 2);
  await studio.press('2');
  // With a thing in hand the row above the chains says more, and is higher.
  await page.getByText(/^\s*only the \d+ of Sack plate/).waitFor();
  const value = page.locator('nw-chain-band').nth(1).locator('.value').nth(1);
  // What the walks say of earlier edits comes when it was reckoned, and may take a row of its own: until then nothing is still.
  let before = (await value.boundingBox())!;
  for (let y = NaN; y !== before.y;) {
    y = before.y;
    await page.waitForTimeout(1000);
    before = (await value.boundingBox())!;
  }
  await page.mouse.move(before.x + before.width / 2, before.y + before.height / 2);
  await page.mouse.down();
  await studio.settled();
  await studio.settled();
  expect(await value.boundingBox()).toEqual(before);
  await page.mouse.up();
  await page.locator('nz-option-item').first().waitFor();
  expect(await page.locator('nw-chain-band.chosen, nw-chain-band:has(.chosen)').count()).toBe(1);
});
