import pg from 'pg';
import type { Browser, BrowserContext, Locator, Page, Request, Route } from 'playwright-core';
import { freePort } from '../scripts/postgres';
import { demoFile, studioFolder } from '../scripts/paths';
import { startServer } from '../scripts/server-process';
import type { ServerProcess } from '../scripts/server-process';
import { chooseIn, complaintsOf, launch } from './browser';

/** Of what kind the browser is: whether service workers are let in, and whether its user asks for less motion. */
interface Wishes {
  serviceWorkers?: 'allow' | 'block';
  reducedMotion?: 'reduce' | 'no-preference';
}

/** A studio under test: a server with a database of its own and a browser. */
export class Studio {
  server!: ServerProcess;
  browser!: Browser;
  context!: BrowserContext;
  page!: Page;
  complaints: string[] = [];
  /** What a server would not take of what was sent to be kept: nothing that can be done in the studio may make a level that is none. */
  refused: string[] = [];
  private readonly intercepts: { end: () => void }[] = [];
  /** What each page has asked the server for and not yet been answered. */
  private readonly reading = new Map<Page, Set<Request>>();
  private port = 0;
  private database = '';

  /** Begins with the demo level alone in the database, in a browser that has never been here. */
  async begin({ serviceWorkers = 'allow', reducedMotion = 'no-preference' }: Wishes = {}): Promise<void> {
    const admin = process.env['TEST_DATABASE_URL'];
    if (admin === undefined) throw new Error('TEST_DATABASE_URL has to name a PostgreSQL server; npm test starts one.');
    const name = `browser_${process.pid}_${Date.now()}`;
    await this.sql(admin, `CREATE DATABASE ${name}`);
    this.database = admin.replace(/\/[^/]*$/, `/${name}`);
    this.port = await freePort();
    await this.serve();
    this.browser = await launch();
    this.context = await this.browser.newContext({
      viewport: { width: 1280, height: 800 },
      serviceWorkers,
      reducedMotion,
    });
    this.page = await this.newPage();
  }

  async newPage(): Promise<Page> {
    const page = await this.context.newPage();
    this.complaints = complaintsOf(page, () => this.server.address);
    const reading = new Set<Request>();
    this.reading.set(page, reading);
    page.on('request', (request) => {
      const isReading = request.method() === 'GET' && /\/api\//.test(request.url()) && request.resourceType() !== 'eventsource';
      if (isReading) reading.add(request);
    });
    page.on('requestfinished', (request) => reading.delete(request));
    page.on('requestfailed', (request) => reading.delete(request));
    page.on('response', async (response) => {
      const request = response.request();
      if (response.status() !== 400 || !/\/api\/levels/.test(request.url()) || request.method() === 'GET') return;
      this.refused.push(`${request.method()} ${request.url()}: ${await response.text().catch(() => '')}`);
    });
    return page;
  }

  /**
   * Answers requests in the server's place until `end` is called. The route itself stays: a request that is on its way while a route is
   * removed gets no answer for a minute.
   */
  async intercept(url: string | ((url: URL) => boolean), handler: (route: Route) => Promise<void>): Promise<{ end: () => void }> {
    let isOver = false;
    await this.page.route(url, (route) => (isOver ? route.fallback() : handler(route)));
    const intercept = { end: () => void (isOver = true) };
    this.intercepts.push(intercept);
    return intercept;
  }

  endIntercepts(): void {
    for (const { end } of this.intercepts.splice(0)) end();
  }

  async serve(): Promise<void> {
    this.server = await startServer({
      DATABASE_URL: this.database,
      PORT: String(this.port),
      STUDIO_FOLDER: studioFolder,
      DEMO_FILE: demoFile,
      LOG_LEVEL: 'error',
    });
  }

  async end(): Promise<void> {
    await this.browser?.close();
    await this.server?.stop();
    expect(this.refused).toEqual([]);
  }

  /** Opens the demo in a place of the studio, by its address. */
  async openDemo(place = 'draw'): Promise<void> {
    const { levels } = (await (await fetch(`${this.server.address}/api/levels`)).json()) as {
      levels: { id: string; name: string }[];
    };
    const demo = levels.find(({ name }) => name === 'Nettlewick tide mill') ?? levels[0]!;
    await this.page.goto(`${this.server.address}/levels/${demo.id}/${place}`);
    await this.page.locator(`nw-${place}-view`).waitFor();
    if (place === 'draw') await this.page.locator('nw-board .figure').first().waitFor();
    await this.settled();
  }

  async go(place: string): Promise<void> {
    await this.page.getByRole('navigation', { name: 'Views' }).getByRole('link', { name: place }).click();
    await this.page.locator(`nw-${place}-view`).waitFor();
    await this.settled();
  }

  /** Waits until what was done is on the screen. */
  async settled(): Promise<void> {
    await this.page.evaluate(() => new Promise((resolve) => requestAnimationFrame(() => requestAnimationFrame(resolve))));
  }

  /** Presses a key and waits for what it does. */
  async press(key: string): Promise<void> {
    await this.page.keyboard.press(key);
    await this.settled();
  }

  /** Holds a key while some seconds of the walk go by: a busy machine walks more slowly. */
  async hold(key: string, seconds: number): Promise<void> {
    const time = this.page.getByTestId('time');
    const until = parseFloat(await time.innerText()) + seconds;
    await this.page.keyboard.down(key);
    while (parseFloat(await time.innerText()) < until) await this.page.waitForTimeout(20);
    await this.page.keyboard.up(key);
  }

  /** Waits until what was done is saved; something that first has to be read from the server, as an older revision, is read before that. */
  async saved(): Promise<void> {
    await this.settled();
    while ((this.reading.get(this.page)?.size ?? 0) > 0) await this.page.waitForTimeout(10);
    await this.settled();
    await this.page
      .getByTestId('save-state')
      .filter({ hasText: /^\s*Saved/ })
      .waitFor();
  }

  /** Drags a file over something and lets it go there, where the page says what becomes of it. */
  async drop(target: Locator, name: string, content: string, becomes: string): Promise<void> {
    const dataTransfer = await this.page.evaluateHandle(
      ([called, inside]) => {
        const data = new DataTransfer();
        data.items.add(new File([inside!], called!));
        return data;
      },
      [name, content],
    );
    await target.dispatchEvent('dragover', { dataTransfer });
    await this.page.getByText(`Drop to ${becomes}`).waitFor();
    await target.dispatchEvent('drop', { dataTransfer });
    await this.page.getByText('Drop to').waitFor({ state: 'detached' });
  }

  /** Waits until this browser keeps the whole page, for when the server does not answer. */
  async kept(): Promise<void> {
    const all = (): Promise<boolean> =>
      this.page.evaluate(async () => {
        const { assetGroups } = (await (await fetch('/ngsw.json')).json()) as { assetGroups: { urls: string[] }[] };
        const found = await Promise.all(assetGroups.flatMap(({ urls }) => urls).map((url) => caches.match(url)));
        return found.every((one) => one !== undefined);
      });
    while (!(await all())) await this.page.waitForTimeout(200);
  }

  /** The document as the server has it. */
  async stored(): Promise<{ revision: number; etag: string; level: Stored }> {
    const { levels } = (await (await fetch(`${this.server.address}/api/levels`)).json()) as {
      levels: { id: string; name: string }[];
    };
    const reply = await fetch(`${this.server.address}/api/levels/${levels[0]!.id}`);
    return (await reply.json()) as { revision: number; etag: string; level: Stored };
  }

  /** Drags from the middle of one thing on the plan by some pixels. */
  async dragThing(thing: string, dx: number, dy: number): Promise<void> {
    const box = (await this.page.locator(`[data-thing="${thing}"]`).first().boundingBox())!;
    // Near a corner of a zone nothing else lies above it.
    await this.drag(box.x + 16, box.y + 14, dx, dy);
  }

  async drag(x: number, y: number, dx: number, dy: number): Promise<void> {
    await this.page.mouse.move(x, y);
    await this.page.mouse.down();
    for (let step = 1; step <= 5; step++) await this.page.mouse.move(x + (dx * step) / 5, y + (dy * step) / 5);
    await this.page.mouse.up();
  }

  /** Types another value where one stands in a sentence. */
  async type(path: string, value: string, within = this.page.locator('body')): Promise<void> {
    await within.locator(`button[data-path="${path}"]`).first().click();
    await within.locator(`input[data-path="${path}"]`).fill(value);
    await this.press('Enter');
  }

  /** Chooses an option of a list by the name of the list. */
  async choose(list: string, option: string): Promise<void> {
    await chooseIn(this.page, list, option);
    await this.settled();
  }

  /** Chooses from the list of a reference in a sentence. */
  async refer(path: string, name: string, within = this.page.locator('body')): Promise<void> {
    await within.locator(`button[data-path="${path}"]`).first().click();
    // A long list is drawn only as far as it is in view: what is wanted is searched for.
    await this.page.locator('nz-option-item').first().waitFor();
    await this.page.keyboard.type(name);
    await this.page.locator('nz-option-item').filter({ hasText: name }).first().click();
    await this.settled();
  }

  private async sql(url: string, text: string): Promise<void> {
    const client = new pg.Client({ connectionString: url });
    await client.connect();
    await client.query(text);
    await client.end();
  }
}

interface Named {
  id: string;
  name: string;
  at: { x: number; y: number };
}

export interface Stored {
  name: string;
  rate: number;
  zones: (Named & { shape: { size: { x: number; y: number } } })[];
  solids: (Named & { heading: number; size: { x: number; y: number; z: number } })[];
  fixtures: (Named & { timing?: { seconds?: number }; text?: string })[];
  chains: {
    id: string;
    name: string;
    causes: { on: string; of: string; filter: { kinds: string[] }; limit: number | null }[];
    steps: { kind: string; delay: number; start: string; text?: string; door?: string }[];
  }[];
  walks: { name: string; routes: { visitor: string }[] }[];
}
