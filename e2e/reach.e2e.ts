import { Hand, inOrder } from './hand';
import { Studio } from './studio';

/** Who uses the studio without a mouse, with weak eyes, with a very large level, or when things are broken. */

const studio = new Studio();
beforeAll(() => studio.begin());
afterAll(() => studio.end());

/** The contrast of two colours (WCAG 2.2, relative luminance and contrast ratio). */
function contrast(a: number[], b: number[]): number {
  const luminance = (colour: number[]): number => {
    const [r = 0, g = 0, b = 0] = colour.map((channel) => {
      const share = channel / 255;
      return share <= 0.04045 ? share / 12.92 : ((share + 0.055) / 1.055) ** 2.4;
    });
    return 0.2126 * r + 0.7152 * g + 0.0722 * b;
  };
  const [dark, light] = [luminance(a), luminance(b)].sort((one, other) => one - other) as [number, number];
  return (light + 0.05) / (dark + 0.05);
}

it('has inks that stand out from every paper by 4.5 to 1, in light and in dark', async () => {
  await studio.page.goto(studio.server.address);
  for (const theme of ['light', 'dark']) {
    const colours = await studio.page.evaluate((name) => {
      document.documentElement.dataset['theme'] = name;
      const probe = document.createElement('i');
      document.body.append(probe);
      const read = (variable: string): number[] => {
        probe.style.color = `var(${variable})`;
        return getComputedStyle(probe).color.match(/\d+/g)!.slice(0, 3).map(Number);
      };
      const found = Object.fromEntries(
        ['ink', 'ink-soft', 'pencil-red', 'pencil-blue', 'held', 'well', 'paper', 'floor', 'sheet', 'card'].map((one) => [
          one,
          read(`--${one}`),
        ]),
      );
      probe.remove();
      return found;
    }, theme);
    for (const ink of ['ink', 'ink-soft', 'pencil-red', 'pencil-blue', 'held', 'well']) {
      for (const paper of ['floor', 'sheet', 'card', 'paper']) {
        expect([theme, ink, paper, contrast(colours[ink]!, colours[paper]!) >= 4.5]).toEqual([theme, ink, paper, true]);
      }
    }
  }
});

it('moves nothing for who asks for less motion', async () => {
  const { page } = studio;
  const lasts = (): Promise<string> =>
    page.evaluate(() => {
      const probe = document.createElement('i');
      probe.style.animation = 'none 3s infinite';
      probe.style.transition = 'color 3s';
      document.body.append(probe);
      const { animationDuration, animationIterationCount, transitionProperty } = getComputedStyle(probe);
      probe.remove();
      return [parseFloat(animationDuration) < 0.001, animationIterationCount, transitionProperty].join(' ');
    });
  expect(await lasts()).toBe('false infinite color');
  await page.emulateMedia({ reducedMotion: 'reduce' });
  expect(await lasts()).toMatch(/^true 1 (none|all)$/);
  await page.emulateMedia({ reducedMotion: 'no-preference' });
});

it('is worked from the first screen to the ledger with the keyboard alone', async () => {
  const { page } = studio;
  await page.goto(studio.server.address);
  await page.getByRole('link', { name: 'Nettlewick tide mill' }).focus();
  await studio.press('Enter');
  await page.locator('nw-board .figure').first().waitFor();

  // A zone in the middle of the plan, named, moved and measured without a pointer.
  await page.locator('[data-tip="Draw: Zone (Z)" i]').focus();
  await studio.press('Enter');
  await page.locator('nw-thing-panel .name').focus();
  await page.keyboard.press('Control+a');
  await page.keyboard.type('Weighing place');
  await studio.press('Enter');
  await page.locator('nw-draw-view .canvas').focus();
  await studio.press('Shift+ArrowLeft');
  await page.locator('button[data-path="/shape/size/x"]').focus();
  await studio.press('Enter');
  await page.keyboard.type('3.5');
  await studio.press('Enter');
  await studio.saved();
  const zone = (await studio.stored()).level.zones.find((one) => one.name === 'Weighing place')!;
  expect(zone.shape.size.x).toBe(3.5);
  expect(zone.at.x).toBe(-2.5);

  // A chain for it: N in Wire, then a step from the menu.
  await page.locator('nw-draw-view .canvas').focus();
  await studio.press('2');
  await page.locator('nw-wire-view').waitFor();
  await studio.press('n');
  await studio.saved();
  const band = page.locator('nw-chain-band').last();
  await band.getByRole('button', { name: '+ step' }).focus();
  await studio.press('Enter');
  // The menu is searched by typing, and walked with the arrow keys.
  await page.getByLabel('Find a step').waitFor();
  await page.keyboard.type('write');
  await studio.press('ArrowDown');
  await studio.press('Enter');
  await studio.saved();
  const chain = (await studio.stored()).level.chains.at(-1)!;
  expect([chain.causes[0]!.of, chain.steps[0]!.kind]).toEqual([zone.id, 'write-sign']);

  await studio.press('Escape');
  await page.locator('nw-wire-view .small .canvas').focus();
  await studio.press('3');
  await page.locator('.entry').first().waitFor();
  await studio.press('ArrowDown');
  expect(await page.locator('.entry.now').getAttribute('data-entry')).toBe('2');
  await studio.press('End');
  await studio.press('?');
  await page.getByText('Make a new chain for what is selected').waitFor();
});

it('opens a level of five thousand things, finds one by its name, and wires and rehearses it', async () => {
  const { level } = await studio.stored();
  const place = (i: number) => ({ x: -190 + (i % 100) * 3.8, y: -140 + Math.floor(i / 100) * 5.5, z: 0 });
  const zones = Array.from({ length: 4000 }, (_, i) => ({
    id: `zone-${i}`,
    name: `Stepping stone ${i}`,
    room: 'mill-yard',
    at: place(i),
    shape: { kind: 'box', size: { x: 2, y: 2, z: 2 } },
  }));
  const solids = Array.from({ length: 1000 }, (_, i) => ({
    id: `post-${i}`,
    name: `Post ${i}`,
    room: 'mill-yard',
    at: place(4000 + i),
    size: { x: 0.5, y: 0.5, z: 1 },
  }));
  const reply = await fetch(`${studio.server.address}/api/levels`, {
    method: 'POST',
    headers: { 'content-type': 'application/json' },
    body: JSON.stringify({
      level: {
        ...level,
        name: 'Salt marsh',
        zones: [...level.zones, ...zones],
        solids: [...(level as unknown as { solids: object[] }).solids, ...solids],
      },
    }),
  });
  const { id } = (await reply.json()) as { id: string };
  const { page } = studio;
  await page.goto(`${studio.server.address}/levels/${id}/draw`);
  await page.locator('nw-board .figure').first().waitFor();
  await page.getByLabel('Find by name or kind').fill('stone 2345');
  await page.getByRole('button', { name: /^Stepping stone 2345/ }).click();
  await page.locator('[data-thing="zone-2345"].chosen').waitFor();
  await page.locator('nw-draw-view .canvas').focus();
  await studio.press('ArrowRight');
  await studio.saved();
  const stored = (await (await fetch(`${studio.server.address}/api/levels/${id}`)).json()) as {
    level: { zones: { id: string; at: { x: number } }[] };
  };
  expect(stored.level.zones.find((one) => one.id === 'zone-2345')!.at.x).toBeCloseTo(place(2345).x + 0.25, 6);
  await studio.press('3');
  await page.locator('.entry').first().waitFor();
  await page.getByRole('searchbox').fill('is open');
  await page.locator('.entry[data-kind="opened"]').first().waitFor();
  await fetch(`${studio.server.address}/api/levels/${id}`, { method: 'DELETE' });
});

it('asks for at most 450 kB on the first screen, the drawing of the mill among it', async () => {
  // Of somebody who was never here, and without what is kept for later, which comes when the page has been at rest for a while.
  const context = await studio.browser.newContext({ viewport: { width: 1280, height: 800 }, serviceWorkers: 'block' });
  const page = await context.newPage();
  await page.goto(studio.server.address);
  await page.locator('.shelf nw-small-plan path').first().waitFor();
  await page.locator('.examples button').first().waitFor();
  const asked = await page.evaluate(() =>
    [...performance.getEntriesByType('navigation'), ...performance.getEntriesByType('resource')].map(
      (one) => (one as PerformanceResourceTiming).encodedBodySize,
    ),
  );
  await context.close();
  expect(asked.length).toBeGreaterThan(8);
  expect(asked.reduce((sum, bytes) => sum + bytes, 0)).toBeLessThan(450_000);
});

it.each([
  // A window of 1280 by 800 at 200 %.
  { width: 640, height: 400, least: { width: 400, height: 140 } },
  { width: 1280, height: 800, least: { width: 380, height: 320 } },
  { width: 1920, height: 1080, least: { width: 500, height: 400 } },
  { width: 2560, height: 1440, least: { width: 700, height: 600 } },
])(
  'shows the plan in every place of a window of $width by $height, and the page itself never scrolls',
  async ({ width, height, least }) => {
    const { page } = studio;
    await page.setViewportSize({ width, height });
    await studio.openDemo();
    for (const place of ['draw', 'wire', 'rehearse', 'check']) {
      await studio.go(place);
      const board = page.locator('nw-board').first();
      await board.scrollIntoViewIfNeeded();
      const seen = (await board.boundingBox())!;
      expect({ place, isWide: seen.width >= least.width, isHigh: seen.height >= least.height }).toEqual({
        place,
        isWide: true,
        isHigh: true,
      });
      const itself = await page.evaluate(() => {
        const { scrollWidth, scrollHeight } = document.scrollingElement!;
        return { beside: scrollWidth - innerWidth, below: scrollHeight - innerHeight };
      });
      expect(itself).toEqual({ beside: 0, below: 0 });
      // Whatever can be pressed lies within the window, once it is scrolled to.
      const beyond = await page.evaluate(() =>
        [...document.querySelectorAll<HTMLElement>('button, a, input')]
          .filter((one) => one.checkVisibility() && one.closest('.unseen, nw-board, .entries, .both, .table') === null)
          .filter((one) => {
            const { left, right } = one.getBoundingClientRect();
            return right > left && (left < -1 || right > innerWidth + 1);
          })
          .map((one) => one.outerHTML.slice(0, 120)),
      );
      expect(beyond).toEqual([]);
    }
    await page.setViewportSize({ width: 1280, height: 800 });
  },
);

it('says what is wrong, and what to do, when a level is not there or the server does not answer', async () => {
  const { page } = studio;
  await page.goto(`${studio.server.address}/levels/00000000-0000-4000-8000-000000000000/draw`);
  await page.getByRole('heading', { name: 'This level could not be opened' }).waitFor();
  await page.getByText('Not found').waitFor();
  await page.getByRole('link', { name: 'All levels' }).click();
  await page.getByRole('link', { name: 'Nettlewick tide mill' }).waitFor();
  await studio.server.kill();
  await page.getByRole('button', { name: /^Delete Nettlewick/ }).click();
  await page.getByText('The server is not responding.').waitFor();
  await studio.serve();
  await page.getByRole('button', { name: 'Try again' }).click();
  await page.getByText('The server is not responding.').waitFor({ state: 'detached' });
});

it('begins an empty level with a way on in every place', async () => {
  const { page } = studio;
  await page.getByLabel('New level').fill('Empty marsh');
  await page.getByRole('button', { name: 'Create level' }).click();
  await page.getByText('Next step', { exact: true }).waitFor();
  await studio.go('wire');
  await page.getByText('Select a zone or a plate on the small plan').waitFor();
  await studio.go('rehearse');
  await page.getByRole('button', { name: '+ go to…' }).waitFor();
  await studio.go('check');
  await page.getByText('No problems found').waitFor();
});

it('lets a lone door be opened from its own sheet by the keyboard, keeps the focus there, and says the next step until it fires', async () => {
  const { page } = studio;
  const hand = new Hand(studio);
  await hand.begin('Ropewalk');
  const strip = page.locator('nw-aftermath-strip');
  await hand.key('o');
  await hand.press({ x: 0, y: 0 });
  await page.getByText('Not triggered yet. Add a trigger:').waitFor();
  await page.getByRole('button', { name: 'Open when a visitor comes near' }).focus();
  await hand.key('Enter');
  await page.locator('nw-thing-panel').getByText('Door closes').waitFor();
  // Its button has gone: what stood nearest has the focus.
  await page.waitForFunction(() => document.activeElement?.matches('nw-thing-panel .events button'));
  await studio.saved();
  const { level } = await studio.stored();
  expect(level.zones.map(({ name }) => name)).toEqual(['At Door']);
  expect(level.chains.map(({ name }) => name)).toEqual(['Door opens', 'Door closes']);
  // All of it is one step of undo.
  await hand.key('Control+z');
  await page.getByText('Not triggered yet. Add a trigger:').waitFor();
  await hand.key('Control+y');
  await strip.getByText('Next: Draw a walk into the zone').waitFor();
  await hand.walk({ x: 0, y: 6 });
  await strip.getByText('Next: Nothing fired. Route the walk through At Door').waitFor();
  await hand.walk({ x: 0, y: 1 });
  await strip.getByText('Next:').waitFor({ state: 'detached' });
  inOrder(await hand.ledger(), 'Player enters At Door', '“Door opens” starts', 'Door is open');
});
