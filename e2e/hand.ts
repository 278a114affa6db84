import type { Page } from 'playwright-core';
import { chooseIn } from './browser';
import type { Studio } from './studio';

/** A point of the plan, in metres. */
export interface Spot {
  x: number;
  y: number;
}

/** A designer's hand: does what a person would, through the interface alone, and counts it. */
export class Hand {
  /** Clicks, keys and typed values. */
  actions = 0;

  constructor(readonly studio: Studio) {}

  get page(): Page {
    return this.studio.page;
  }

  async click(target: ReturnType<Page['locator']>): Promise<void> {
    this.actions++;
    await target.click();
    await this.studio.settled();
  }

  async button(name: string | RegExp, within = this.page.locator('body')): Promise<void> {
    await this.click(within.getByRole('button', { name, exact: typeof name === 'string' }).first());
  }

  async key(key: string): Promise<void> {
    this.actions++;
    await this.studio.press(key);
  }

  async typeInto(target: ReturnType<Page['locator']>, text: string): Promise<void> {
    this.actions++;
    await target.fill(text);
  }

  /** A choice of a list: one click opens it, one chooses. */
  async choose(list: string, option: string): Promise<void> {
    this.actions += 2;
    await chooseIn(this.page, list, option);
    await this.studio.settled();
  }

  /** An option of the list that is open already. */
  async option(text: string | RegExp): Promise<void> {
    await this.click(this.page.locator('nz-option-item').filter({ hasText: text }).first());
  }

  async menu(item: string): Promise<void> {
    await this.click(this.page.getByRole('menuitem', { name: item, exact: true }).first());
  }

  /** A new level with a room and a player in it. */
  async begin(name: string): Promise<void> {
    await this.page.goto(this.studio.server.address);
    await this.typeInto(this.page.getByLabel('New level'), name);
    await this.key('Enter');
    await this.page.locator('nw-board .figure').first().waitFor();
  }

  /** Presses the plan at a point of the room: every room of these stories is 20 by 16 metres about its zero. */
  async press(at: Spot): Promise<void> {
    this.actions++;
    const spot = await this.onScreen(at);
    await this.page.mouse.click(spot.x, spot.y);
    await this.studio.settled();
  }

  async drag(from: Spot, to: Spot): Promise<void> {
    this.actions++;
    const [a, b] = [await this.onScreen(from), await this.onScreen(to)];
    await this.studio.drag(a.x, a.y, b.x - a.x, b.y - a.y);
    await this.studio.settled();
  }

  /** Where a point of the room is on the screen: read off the player, who stands at a known spot, and the scale below the plan. */
  private async onScreen({ x, y }: Spot): Promise<Spot> {
    const board = (await this.page.locator('nw-board.plan .canvas').boundingBox())!;
    // The room fills the plan, but for a margin that the small plan makes smaller.
    const margin = 2 * Math.min(56, 0.14 * Math.min(board.width, board.height));
    const scale = Math.min((board.width - margin) / 20, (board.height - margin) / 16);
    return { x: board.x + board.width / 2 + x * scale, y: board.y + board.height / 2 - y * scale };
  }

  /** Places a set piece with its middle in the middle of the room. */
  async place(title: string, answers: Record<string, string> = {}): Promise<void> {
    await this.key('s');
    await this.click(this.page.locator('nw-set-piece-panel li button').filter({ hasText: title }));
    for (const [question, answer] of Object.entries(answers)) {
      const asked = this.page.locator('nw-set-piece-panel .question').filter({ hasText: question });
      if ((await asked.locator('input.field').count()) > 0) {
        await this.typeInto(asked.locator('input.field'), answer);
        await asked.locator('input.field').blur();
      } else {
        await this.choose(question, answer);
      }
    }
    await this.press({ x: 0, y: 0 });
  }

  /** Goes to rehearse and draws where the player goes, with what is done on the way between. */
  async walk(...told: (Spot | { does: string; to?: string; value?: string })[]): Promise<void> {
    await this.key('3');
    await this.page.locator('nw-rehearse-view').waitFor();
    await this.click(this.page.getByRole('tab', { name: 'Walk' }));
    let asking = false;
    for (const one of told) {
      if ('does' in one) {
        if (asking) await this.key('Escape');
        asking = false;
        await this.button(one.does);
        if (one.to !== undefined) await this.option(one.to);
        if (one.value !== undefined) {
          this.actions++;
          await this.page.keyboard.type(one.value);
          await this.key('Enter');
        }
      } else {
        if (!asking) await this.button('+ go to…');
        asking = true;
        await this.press(one);
      }
    }
    if (asking) await this.key('Escape');
    await this.click(this.page.getByRole('tab', { name: 'Ledger' }));
  }

  /** Every entry of the ledger, in its order, as it is read there. */
  async ledger(): Promise<string[]> {
    const { page } = this;
    await page.locator('.entry[data-kind="end"], .entry').first().waitFor();
    await page.waitForFunction(() => document.querySelector('.busy')?.textContent === '');
    const list = page.locator('cdk-virtual-scroll-viewport.entries');
    const found = new Map<number, string>();
    for (let from = 0; ; from += 200) {
      await list.evaluate((element, top) => element.scrollTo({ top }), from);
      await this.studio.settled();
      for (const [number, text] of await page
        .locator('.entry')
        .evaluateAll((rows) =>
          rows.map((row): [number, string] => [
            Number(row.getAttribute('data-entry')),
            row.querySelector('.text')?.textContent?.trim() ?? '',
          ]),
        ))
        found.set(number, text);
      const { top, most } = await list.evaluate((element) => ({
        top: element.scrollTop,
        most: element.scrollHeight - element.clientHeight,
      }));
      if (top >= most - 1) break;
    }
    return [...found].sort(([a], [b]) => a - b).map(([, text]) => text);
  }
}

/** Fails unless some entries come, in this order. */
export function inOrder(entries: readonly string[], ...wanted: (string | RegExp)[]): void {
  let from = 0;
  for (const one of wanted) {
    const at = entries.findIndex((entry, i) => i >= from && (typeof one === 'string' ? entry.includes(one) : one.test(entry)));
    if (at < 0) throw new Error(`No “${String(one)}” after entry ${from} in\n${entries.join('\n')}`);
    from = at + 1;
  }
}
