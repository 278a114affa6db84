import type { Page } from 'playwright-core';
import { rehearse } from '@nettlewick/core';
import { onDemo } from '../e2e/on-demo';
import { chatter } from './field';
import type { Finding } from './finding';
import { brief, median } from './median';

const ENTRIES = 100_000;

/**
 * The longest that a ledger of 100,000 entries holds up the page while it is scrolled and filtered, in milliseconds, in Chromium. The
 * peer is a page that has 10,000 of its lines as plain elements, and shows those with a word in them.
 */
export async function scrolling(): Promise<Finding> {
  const level = chatter(400, 150, 60 * 300);
  const { length } = rehearse(level, level.walks[0]!).ledger;
  if (length < ENTRIES) throw new Error(`Only ${length} entries`);
  return onDemo(async (page, address) => {
    const reply = await fetch(`${address}/api/levels`, {
      method: 'POST',
      headers: { 'content-type': 'application/json' },
      body: JSON.stringify({ level }),
    });
    const { id } = (await reply.json()) as { id: string };
    await page.goto(`${address}/levels/${id}/rehearse`);
    await page.locator('.entry').nth(3).waitFor({ timeout: 60_000 });
    await page.waitForTimeout(4000);
    const worst = (times: number[]): number => Math.max(0, ...times);
    // Tasks of the page that take 50 ms or more, as the browser itself counts them (W3C, Long Tasks API).
    await page.evaluate(() => {
      const long: number[] = [];
      new PerformanceObserver((list) => long.push(...list.getEntries().map(({ duration }) => duration))).observe({
        type: 'longtask',
      });
      Object.assign(window, { long });
    });
    const scrolled = await heldUp(page, async () => {
      for (let i = 0; i < 60; i++) {
        await page
          .locator('cdk-virtual-scroll-viewport.entries')
          .evaluate((list, share) => (list.scrollTop = share * list.scrollHeight), ((i * 37) % 60) / 60);
        await page.waitForTimeout(20);
      }
    });
    const words = page.getByRole('searchbox');
    const typed: number[] = [];
    for (const text of ['lamp', 'on', 'zone-17', 'nothing of the kind', ''])
      typed.push(
        ...(await heldUp(page, async () => {
          await words.fill(text);
          await page.waitForTimeout(700);
        })),
      );
    const toggled = await heldUp(page, async () => {
      for (let i = 0; i < 4; i++) {
        await page.getByRole('checkbox', { name: 'fold repeats' }).click();
        await page.waitForTimeout(600);
      }
    });
    const long = await page.evaluate(() => (window as unknown as { long: number[] }).long);
    const blank = await page.context().newPage();
    await blank.setContent('<ul></ul>');
    const peer = await heldUp(blank, () => blank.evaluate(plainly, 10_000));
    await blank.close();
    console.log(
      `scrolled: ${brief(worst(scrolled))} ms at most; words typed: ${brief(worst(typed))}; folded and unfolded: ${brief(worst(toggled))}`,
    );
    const ours = worst([...scrolled, ...typed, ...toggled]);
    return {
      name: 'scrolling',
      unit: 'milliseconds, the longest that the page is held up',
      ours: brief(ours),
      peer: brief(worst(peer)),
      peerName: '10,000 of the lines as plain elements',
      ratio: brief(worst(peer) / ours),
      'long tasks': long.length,
      'longest task': brief(worst(long)),
      entries: length,
      'median frame': brief(median([...scrolled, ...typed, ...toggled])),
    };
  });
}

/** How long each frame was while something is done, in milliseconds. */
async function heldUp(page: Page, work: () => Promise<unknown>): Promise<number[]> {
  await page.evaluate(() => {
    const times: number[] = [];
    const channel = new MessageChannel();
    channel.port1.onmessage = () => {
      times.push(performance.now());
      setTimeout(() => channel.port2.postMessage(null));
    };
    channel.port2.postMessage(null);
    Object.assign(window, { times });
  });
  await work();
  const times = await page.evaluate(() => (window as unknown as { times: number[] }).times.splice(0));
  return times.slice(1).map((time, i) => time - times[i]!);
}

/** Lines as plain elements, and those with a word in them shown. */
async function plainly(lines: number): Promise<void> {
  const list = document.querySelector('ul')!;
  list.innerHTML = Array.from({ length: lines }, (_, i) => `<li>${i} the lamp of zone ${i % 97} is on</li>`).join('');
  for (const word of ['lamp', '17', 'nothing', '']) {
    for (const line of list.children) (line as HTMLElement).hidden = !line.textContent.includes(word);
    await new Promise((resolve) => setTimeout(resolve, 200));
  }
}
