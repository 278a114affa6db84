import type { CDPSession, Page } from 'playwright-core';

/** What the page's own timeline says of the interface's thread: milliseconds of scripts, and of all work. */
export class ScriptTime {
  private constructor(
    private readonly page: Page,
    private readonly session: CDPSession,
  ) {}

  static async of(page: Page): Promise<ScriptTime> {
    const session = await page.context().newCDPSession(page);
    await session.send('Performance.enable');
    return new ScriptTime(page, session);
  }

  /** The milliseconds that scripts ran from here until what was done is on the screen. */
  async during(work: () => Promise<void>, settle = 0): Promise<number> {
    const before = await this.now();
    await work();
    await this.page.evaluate(() => new Promise((resolve) => requestAnimationFrame(() => requestAnimationFrame(resolve))));
    if (settle > 0) await this.page.waitForTimeout(settle);
    return (await this.now()) - before;
  }

  private async now(): Promise<number> {
    const { metrics } = await this.session.send('Performance.getMetrics');
    return (metrics.find(({ name }) => name === 'ScriptDuration')?.value ?? 0) * 1000;
  }
}
