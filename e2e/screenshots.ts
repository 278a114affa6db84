import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import type { Page } from 'playwright-core';
import { takesNothing } from '../scripts/arguments';
import { demoFile, root } from '../scripts/paths';
import { chooseIn, slideTo } from './browser';
import { onDemo } from './on-demo';

// Renews the pictures in docs/screenshots/ from the demo level, each main view once.

takesNothing('screenshots', 'Renews the pictures in docs/screenshots/.');
await onDemo(takePictures);

async function takePictures(page: Page, address: string): Promise<void> {
  const keepAs = async (name: string): Promise<void> => {
    await page.mouse.move(640, 798);
    await page.waitForTimeout(400);
    await page.screenshot({ path: join(root, 'docs/screenshots', `${name}.png`) });
  };
  await page.goto(address);
  await page.getByRole('link', { name: 'Nettlewick tide mill' }).waitFor();
  await page.locator('.shelf nw-small-plan').first().waitFor();
  await keepAs('levels');
  await page.getByRole('link', { name: 'Nettlewick tide mill' }).click();
  await page.getByRole('button', { name: 'Mill door' }).click();
  await keepAs('draw');
  await page.keyboard.press('Escape');
  await page.keyboard.press('s');
  await keepAs('set-pieces');
  await page.keyboard.press('Escape');
  await go(page, 'wire');
  await page.locator('nw-chain-band').nth(0).locator('.number').click();
  await keepAs('wire');
  await page.keyboard.press('t');
  await page.locator('nw-overview-table .act').first().waitFor();
  await keepAs('wire-table');
  await page.keyboard.press('Shift+T');
  await page.locator('nw-wiring-text .wiring-head').first().waitFor();
  await keepAs('wire-text');
  await page.keyboard.press('Shift+T');
  await go(page, 'rehearse');
  await page.locator('.entry[data-kind="opened"] button').first().click();
  await keepAs('rehearse');
  await chooseIn(page, 'Walk to rehearse', 'The goose comes to the door');
  await page.locator('.entry[data-kind="held"] button').first().click();
  await page.getByRole('tab', { name: 'Why not?' }).click();
  await page.locator('nw-rehearse-view [data-thing="mill-door"]').first().click({ force: true });
  await page.locator('nw-why-panel .says').first().waitFor();
  await page.getByRole('button', { name: 'Dark theme' }).click();
  await keepAs('rehearse-held-dark');
  await page.getByRole('button', { name: 'Light theme' }).click();
  await page.getByRole('tab', { name: 'Walk' }).click();
  await keepAs('walk');
  await page.getByRole('tab', { name: 'Ledger' }).click();
  await page.keyboard.press('Escape');
  await chooseIn(page, 'Walk to rehearse', 'Up to the stone loft and back');
  await page.locator('.entry[data-kind="use"] button').first().click();
  for (let i = 0; i < 36; i++) await page.keyboard.press('ArrowDown');
  await keepAs('rehearse-loft');
  await chooseIn(page, 'Walk to rehearse', "The miller's morning round");
  await chooseIn(page, 'Room', 'Mill yard');
  await page.getByRole('tab', { name: 'Matrix' }).click();
  await page.keyboard.press('l');
  await slideTo(page.getByRole('slider', { name: 'Time' }), 434);
  await keepAs('lanes');
  await page.keyboard.press('l');
  await page.getByRole('tab', { name: 'Compare' }).click();
  await chooseIn(page, 'Second to compare', 'The goose comes to the door');
  await page.locator('nw-compare-panel tbody tr').nth(1).waitFor();
  await keepAs('compare');
  await page.getByRole('tab', { name: 'What if?' }).click();
  await chooseIn(page, 'Walk to rehearse', 'Up to the stone loft and back');
  await page.getByRole('button', { name: 'Test all house rules' }).click();
  await page.locator('nw-what-if-panel li').first().waitFor();
  await keepAs('what-if');
  await page.getByRole('tab', { name: 'Ledger' }).click();
  await chooseIn(page, 'Walk to rehearse', "The miller's morning round");
  await page.getByRole('button', { name: 'Walk it yourself' }).click();
  await page.getByRole('button', { name: 'Pause' }).waitFor();
  await page.keyboard.down('ArrowUp');
  await page.waitForTimeout(3600);
  await page.keyboard.down('ArrowRight');
  await page.waitForTimeout(1200);
  await page.keyboard.up('ArrowUp');
  await page.keyboard.up('ArrowRight');
  await page.keyboard.press('Space');
  await keepAs('live');
  await page.getByRole('button', { name: 'End', exact: true }).click();
  await go(page, 'draw');
  await page.keyboard.press('Escape');
  await page.getByRole('button', { name: 'Gate board' }).click();
  await page.getByRole('button', { name: 'Delete', exact: true }).click();
  await go(page, 'check');
  await chooseIn(page, 'Room', 'Mill yard');
  await page.locator('nw-check-view .reason').first().waitFor();
  await keepAs('check');
  await go(page, 'draw');
  await page.getByRole('button', { name: 'Mill door' }).click();
  // Each of these is an edit, and a revision of its own.
  for (const key of ['ArrowRight', 'r', 'ArrowUp']) {
    await page.keyboard.press(key);
    await page.getByTestId('save-state').filter({ hasText: 'Saved' }).waitFor();
    await page.waitForTimeout(400);
  }
  await page.getByRole('button', { name: 'History' }).click();
  await page.locator('nw-revision-list li').nth(1).waitFor();
  await keepAs('history');
  await page.goto(`${address}/levels/${await withMistake(address)}/rehearse`);
  await chooseIn(page, 'Walk to rehearse', 'Up to the stone loft and back');
  await page.getByRole('tab', { name: 'Why not?' }).click();
  await chooseIn(page, 'What is asked about', 'The mill door opens for people (chain)');
  await page.locator('nw-why-panel .says').first().waitFor();
  await page.getByRole('button', { name: 'Find fixes' }).click();
  await page.getByText('Fixes that were tried').waitFor();
  await page.locator('nw-fix-list summary').first().click();
  await keepAs('fixes');
}

/** Stores the demo with one mistake in it, the doorstep left disabled, and gives its id. */
async function withMistake(address: string): Promise<string> {
  const level = JSON.parse(readFileSync(demoFile, 'utf8')) as { zones: { id: string; enabled: boolean }[] };
  level.zones.find(({ id }) => id === 'doorstep')!.enabled = false;
  const reply = await fetch(`${address}/api/levels`, {
    method: 'POST',
    headers: { 'content-type': 'application/json' },
    body: JSON.stringify({ level }),
  });
  return ((await reply.json()) as { id: string }).id;
}

async function go(page: Page, place: string): Promise<void> {
  await page.getByRole('navigation', { name: 'Views' }).getByRole('link', { name: place }).click();
  await page.locator(`nw-${place}-view`).waitFor();
}
