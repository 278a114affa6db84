import type { Page } from 'playwright-core';
import { rehearse } from '@nettlewick/core';
import { onDemo } from '../e2e/on-demo';
import { chatter } from './field';
import type { Finding } from './finding';
import { brief, median } from './median';

const ENTRIES = 100_000;

/**
 * The longest that a ledger of 100,000 entries holds up the page while it is scrolled and filtered, in milliseconds, in Chromium: the
 * longest between two of its frames, and from a key to the frame that follows it. The peer is a page that has 10,000 of its lines as
 * plain elements, and shows those with a word in them.
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
    // As the browser itself counts them: tasks of 50 ms or more (W3C, Long Tasks API), and from a key to the next frame, to 8 ms
    // (W3C, Event Timing API).
    await page.evaluate(() => {
      const noted = (type: string, options: object): number[] => {
        const times: number[] = [];
        new PerformanceObserver((list) => times.push(...list.getEntries().map(({ duration }) => duration))).observe({
          type,
          ...options,
        });
        return times;
      };
      Object.assign(window, { long: noted('longtask', {}), keys: noted('event', { durationThreshold: 16 }) });
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
          await words.press('Control+A');
          await words.press('Delete');
          await words.pressSequentially(text, { delay: 90 });
          await page.waitForTimeout(700);
        })),
      );
    const toggled = await heldUp(page, async () => {
      for (let i = 0; i < 4; i++) {
        await page.getByRole('checkbox', { name: 'Collapse repeats' }).click();
        await page.waitForTimeout(600);
      }
    });
    const { long, keys } = await page.evaluate(() => {
      const { long, keys } = window as unknown as Record<'long' | 'keys', number[]>;
      return { long, keys };
    });
    const blank = await page.context().newPage();
    await blank.setContent('<ul></ul>');
    const peer = await heldUp(blank, () => blank.evaluate(plainly, 10_000));
    await blank.close();
    console.log(
      `between two frames at most: scrolled ${brief(worst(scrolled))} ms, words typed ${brief(worst(typed))}, folded and unfolded ${brief(worst(toggled))}; from a key or a click to its frame at most ${worst(keys)}`,
    );
    const ours = worst([...scrolled, ...typed, ...toggled, ...keys]);
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

/** How long it was from each frame to the next while something is done, in milliseconds. */
async function heldUp(page: Page, work: () => Promise<unknown>): Promise<number[]> {
  await page.evaluate(() => {
    const times: number[] = [];
    const note = (time: number): void => {
      times.push(time);
      if ((window as unknown as { times: number[] }).times === times) requestAnimationFrame(note);
    };
    Object.assign(window, { times });
    requestAnimationFrame(note);
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
