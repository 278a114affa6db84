import { mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { chromium } from 'playwright-core';
import type { Browser, Locator, Page } from 'playwright-core';

/** Starts Debian's Chromium without anything that would look for the network. */
export function launch(): Promise<Browser> {
  return chromium.launch({
    executablePath: process.env['CHROMIUM'] ?? '/usr/bin/chromium',
    args: [
      '--no-sandbox',
      '--disable-gpu',
      '--disable-quic',
      '--no-first-run',
      '--disable-background-networking',
      '--disable-component-update',
      '--disable-sync',
    ],
  });
}

/** What a page must not say: errors on the console, exceptions, violations of the content security policy, requests elsewhere. */
export function complaintsOf(page: Page, address: () => string): string[] {
  const complaints: string[] = [];
  page.on('pageerror', (error) => complaints.push(String(error)));
  page.on('console', (message) => {
    // A server that is stopped on purpose makes the browser itself complain about the request.
    if (message.type() === 'error' && !/net::ERR_(CONNECTION|EMPTY|SOCKET|INCOMPLETE)_|status of 412/.test(message.text()))
      complaints.push(message.text());
  });
  page.on('request', (request) => {
    if (!request.url().startsWith(address()) && !/^(data|blob):/.test(request.url()))
      complaints.push(`asked for ${request.url()}`);
  });
  return complaints;
}

/** A folder that is gone after the tests. */
export function scratch(): { path: string; remove(): void } {
  const path = mkdtempSync(join(tmpdir(), 'nettlewick-'));
  return { path, remove: () => rmSync(path, { recursive: true, force: true }) };
}

/** Chooses an option of a list, by the name of the list. */
export async function chooseIn(page: Page, list: string, option: string): Promise<void> {
  await page
    .locator('nz-select')
    .filter({ has: page.getByLabel(list, { exact: true }) })
    .first()
    .click();
  await page.locator('nz-option-item').filter({ hasText: option }).first().click();
}

/** Brings a slider to a value with the keyboard, which stays in it the while: by its pages, which are tenths of it, and then by ones. */
export async function slideTo(slider: Locator, to: number): Promise<void> {
  const says = async (what: string): Promise<number> => Number(await slider.getAttribute(`aria-value${what}`));
  while ((await says('max')) < to) await slider.page().waitForTimeout(50);
  const page = Math.round((await says('max')) / 10);
  await slider.press('Home');
  for (let i = 0; i < Math.floor(to / page); i++) await slider.press('PageUp');
  for (let i = 0; i < to % page; i++) await slider.press('ArrowRight');
  // The page says so with its next frame.
  while ((await says('now')) !== to) await slider.page().waitForTimeout(20);
}

/** How high or wide a PNG is, whichever is less, in pixels, as the browser reads it; it throws at what is none. */
export function sizeOfPng(page: Page, file: Buffer): Promise<number> {
  return page.evaluate(async (bytes) => {
    const blob = new Blob([Uint8Array.from(bytes, (one) => one.charCodeAt(0))], { type: 'image/png' });
    const { width, height } = await createImageBitmap(blob);
    return Math.min(width, height);
  }, file.toString('latin1'));
}
