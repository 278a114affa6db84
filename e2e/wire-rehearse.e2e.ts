import { slideTo } from './browser';
import { Studio } from './studio';

const studio = new Studio();
beforeAll(() => studio.begin());
afterAll(() => studio.end());
afterEach(() => expect(studio.complaints).toEqual([]));

const ledger = async (): Promise<string[]> => {
  await studio.page.locator('.entry').first().waitFor();
  return studio.page.locator('.entry .what').allInnerTexts();
};
/** A band is found by its name, which is the value of a field. */
const bandNamed = async (name: string) => {
  for (const band of await studio.page.locator('nw-chain-band').all())
    if ((await band.locator('.name').inputValue()) === name) return band;
  throw new Error(`No band is named ${name}`);
};

describe('A designer wires', () => {
  it('makes a chain from nothing: a second plate opens the mill door after a delay, with a sign', async () => {
    await studio.openDemo();
    await studio.page.locator('[data-tip="Draw: Plate (P)" i]').click();
    await studio.settled();
    const canvas = (await studio.page.locator('nw-draw-view .canvas').boundingBox())!;
    await studio.page.mouse.click(canvas.x + canvas.width * 0.43, canvas.y + canvas.height * 0.75);
    await studio.settled();
    await studio.page.getByText('Not used by any chain.').waitFor();
    // What happens at the plate can be chosen where the plate is described: a chain begins there.
    await studio.page.getByRole('button', { name: 'it is pressed…' }).click();
    await studio.page.locator('nw-wire-view').waitFor();
    await studio.settled();
    const band = studio.page.locator('nw-chain-band').last();
    expect(await band.locator('.says').innerText()).toMatch(/When\s+Plate\s+is pressed\s+by\s+anyone/);

    await band.getByRole('button', { name: '+ step' }).click();
    await studio.settled();
    await studio.page.getByText('open a door', { exact: true }).first().click();
    // What it acts on is asked for at once.
    await studio.page.locator('nz-option-item').filter({ hasText: 'Mill door' }).first().click();
    await studio.settled();
    await band.getByRole('button', { name: 'More options for this step' }).click();
    await studio.page.getByRole('menuitem', { name: 'a wait before it' }).click();
    await band.locator('input[data-path="/steps/0/delay"]').fill('0.8');
    await studio.press('Enter');
    await band.getByRole('button', { name: '+ step' }).click();
    await studio.settled();
    await studio.page.getByText('write on a sign', { exact: true }).first().click();
    await studio.page.locator('nz-option-item').filter({ hasText: 'Gate board' }).first().click();
    await studio.settled();
    await studio.type('/steps/1/text', 'The door is opening', band);
    await studio.saved();
    const [chain] = (await studio.stored()).level.chains.slice(-1);
    expect(chain!.causes[0]).toMatchObject({ on: 'press' });
    expect(chain!.steps).toMatchObject([
      { kind: 'open', door: 'mill-door', delay: 0.8, start: 'after' },
      { kind: 'write-sign', text: 'The door is opening' },
    ]);
  });

  it('changes a delay by dragging the block on the time ruler, and by keys', async () => {
    const band = await bandNamed('The sack opens the sluice');
    const block = band.locator('.block').first();
    const delay = async () => (await studio.stored()).level.chains[0]!.steps[0]!.delay;
    await block.scrollIntoViewIfNeeded();
    await studio.settled();
    const box = (await block.boundingBox())!;
    await studio.drag(box.x + 20, box.y + 9, 60, 0);
    await studio.saved();
    const dragged = await delay();
    expect(dragged).toBeGreaterThan(0.6);
    await block.focus();
    await studio.press('ArrowLeft');
    await studio.saved();
    expect(await delay()).toBeCloseTo(dragged - 0.1, 6);
    await studio.press('Control+z');
    await studio.press('Control+z');
    await studio.saved();
    expect(await delay()).toBe(0.5);
  });

  it('reorders and removes steps', async () => {
    const band = await bandNamed('The sluice shuts when the plate rises');
    const kinds = async () => (await studio.stored()).level.chains[1]!.steps.map((step) => step.kind);
    await band.locator('.block').first().focus();
    await studio.press('Alt+ArrowDown');
    await studio.saved();
    expect(await kinds()).toEqual(['close', 'set-flag', 'write-sign']);
    await band.getByRole('button', { name: 'Remove this step' }).first().click();
    await studio.settled();
    await studio.saved();
    expect(await kinds()).toEqual(['set-flag', 'write-sign']);
    await studio.page.getByRole('button', { name: 'undo' }).click();
    await studio.settled();
    await studio.page.getByRole('button', { name: 'undo' }).click();
    await studio.saved();
    expect(await kinds()).toEqual(['set-flag', 'close', 'write-sign']);
  });

  it('shows what is connected to a thing, in both directions, one click away', async () => {
    await studio.page.locator('nw-wire-view .small [data-thing="sack-plate"]').click({ force: true });
    await studio.settled();
    const hand = studio.page.locator('.hand');
    await hand.getByText('Triggers').waitFor();
    await hand.getByRole('button', { name: 'The sack opens the sluice' }).click();
    await studio.settled();
    await hand.getByText('Acts on').waitFor();
    await hand.getByRole('button', { name: 'Sluice gate' }).click();
    await studio.settled();
    expect(await hand.innerText()).toContain('Acted on by');
  });

  it('lays the chains out by trigger, folds them to a line each, and opens the one that is asked for', async () => {
    await studio.openDemo('wire');
    const { page } = studio;
    await studio.choose('Sort chains', 'By trigger');
    const sheaf = page.getByRole('button', { name: /Sack plate 2 chains/ });
    await sheaf.waitFor();
    await studio.press('Escape');
    await page.getByRole('button', { name: 'Collapse all' }).click();
    await page.getByText('When Sack plate is pressed: open Sluice gate').waitFor();
    expect(await page.locator('nw-chain-band .score').count()).toBe(0);
    await sheaf.click();
    await page.getByText('When Sack plate is pressed: open Sluice gate').waitFor({ state: 'detached' });
    // Whoever asks for one finds it open, wherever it stood.
    await page.keyboard.press('Control+k');
    await page.keyboard.type('The sluice shuts');
    await page.keyboard.press('Enter');
    const band = page.getByRole('article', { name: 'Chain The sluice shuts when the plate rises' });
    await band.locator('.score').waitFor();
    expect(await page.locator('nw-chain-band .score').count()).toBe(1);
    await studio.choose('Sort chains', 'By room');
    await page.getByRole('button', { name: /Mill yard \d+ chains/ }).waitFor();
    await studio.choose('Sort chains', 'Evaluation order');
    await page.getByRole('button', { name: 'Collapse all' }).click();
    await page.getByRole('button', { name: 'Expand all' }).click();
    await page.locator('nw-chain-band .score').nth(3).waitFor();
  });

  it('sees all of the wiring as a table: what sets off what, how and in which order, and goes to the chain', async () => {
    await studio.openDemo('wire');
    await studio.press('t');
    const table = studio.page.locator('nw-overview-table');
    const act = table.getByRole('button', { name: /^1 open .0.5.s: Sack plate on press: open Sluice gate, step 1 of/ });
    await act.waitFor();
    expect(await act.innerText()).toMatch(/1\s*open\s*\+0.5.s/);
    await table.getByRole('searchbox', { name: 'Find in the table' }).fill('hoist');
    expect(await table.locator('tbody th').allInnerTexts()).toEqual(expect.arrayContaining(['On the hoist']));
    await table.getByRole('button', { name: /On the hoist on enter: send to stop 2 Sack hoist/ }).click();
    await studio.settled();
    const band = await bandNamed('The hoist lifts who steps on it');
    await band.locator('.says').waitFor();
    expect(await studio.page.locator('.hand h2').innerText()).toBe('The hoist lifts who steps on it');
  });
});

describe('A designer rehearses', () => {
  it('reads from the ledger what fired, in which order, after how many seconds, and what caused what', async () => {
    await studio.go('rehearse');
    await studio.page.locator('.entry[data-kind="opened"]').first().waitFor();
    const entries = await studio.page.locator('.entry').evaluateAll((rows) =>
      rows.map((row) => ({
        kind: row.getAttribute('data-kind'),
        cells: [...row.querySelectorAll('.no, .at, .why')].map((cell) => cell.textContent?.trim() ?? ''),
        text: row.querySelector('.what')?.textContent?.trim() ?? '',
      })),
    );
    const press = entries.find((entry) => entry.kind === 'press')!;
    const started = entries.find((entry) => entry.kind === 'chain-started')!;
    const opened = entries.find((entry) => entry.kind === 'opened')!;
    expect(press.text).toContain('Sack plate is pressed by Miller (load 107, threshold 20)');
    expect(started.cells[2]).toBe(press.cells[0]);
    expect(Number(opened.cells[1]) - Number(press.cells[1])).toBeCloseTo(0.5 + 1.5, 2);
    expect(entries.map((entry) => Number(entry.cells[0]))).toEqual([...entries.keys()].map((i) => i + 1));
  });

  it('moves the plan to the moment of an entry, and tells the trail of its causes', async () => {
    await studio.page.locator('.entry[data-kind="opened"] button').first().click();
    await studio.settled();
    expect(await studio.page.getByTestId('time').innerText()).toMatch(/^7\.23 s/);
    expect(await studio.page.locator('.trail').innerText()).toMatch(
      /Sluice gate is open[\s\S]*because[\s\S]*Sack plate is pressed/,
    );
    expect(await studio.page.locator('[data-thing="sluice-gate"]').getAttribute('aria-label')).toContain('open');
  });

  it('steps tick by tick and entry by entry, scrubs and plays', async () => {
    const time = async () => studio.page.getByTestId('time').innerText();
    await studio.press('ArrowRight');
    expect(await time()).toContain('tick 435');
    await studio.press('ArrowDown');
    expect(await studio.page.locator('.entry.now').getAttribute('data-kind')).toBe('arrived');
    await slideTo(studio.page.getByRole('slider', { name: 'Time' }), 60);
    await studio.settled();
    expect(await time()).toMatch(/^1\.00 s/);
    await studio.page.getByRole('button', { name: 'Play' }).click();
    await studio.settled();
    await studio.page.waitForFunction(
      () => Number(document.querySelector('[data-testid=time]')?.textContent?.match(/tick (\d+)/)?.[1]) > 75,
    );
    await studio.page.getByRole('button', { name: 'Pause' }).click();
    await studio.settled();
  });

  it('filters the ledger by the thing that is clicked on the plan', async () => {
    const all = (await ledger()).length;
    await studio.page.locator('nw-rehearse-view [data-thing="mill-door"]').click({ force: true });
    await studio.settled();
    await studio.page.getByText('only about').waitFor();
    const about = await ledger();
    expect(about.length).toBeLessThan(all);
    expect(about.every((text) => text.includes('Mill door'))).toBe(true);
    await studio.page.getByRole('button', { name: 'show all' }).click();
    await studio.settled();
  });

  it('shows why the door ignored the goose, and can hide what was held', async () => {
    await studio.choose('Walk to rehearse', 'The goose comes to the door');
    await studio.page.locator('.entry[data-kind="held"]').waitFor();
    expect(await studio.page.locator('.entry[data-kind="held"] .what').innerText()).toContain(
      'held for Goose: the filter requires kinds player, found creature',
    );
    await studio.press('h');
    await studio.page.locator('.entry[data-kind="held"]').waitFor({ state: 'detached' });
    await studio.press('h');
  });

  it('writes a walk of its own: the goose goes onto the new plate', async () => {
    await studio.page.getByRole('button', { name: 'New walk' }).click();
    await studio.settled();
    await studio.page.getByRole('button', { name: '+ go to…' }).click();
    const canvas = (await studio.page.locator('nw-rehearse-view .canvas').boundingBox())!;
    await studio.page.mouse.click(canvas.x + canvas.width * 0.4, canvas.y + canvas.height * 0.6);
    await studio.settled();
    await studio.page.getByRole('button', { name: /^Click the plan to add waypoints/ }).click();
    await studio.page.getByRole('button', { name: '+ wait' }).click();
    await studio.settled();
    expect(await studio.page.locator('nw-walk-panel ol').innerText()).toMatch(/goes to[\s\S]*waits/);
    await studio.page.getByRole('tab', { name: 'Ledger' }).click();
    await studio.settled();
    await studio.page.locator('.entry[data-kind="arrived"]').waitFor();
  });

  it('and the sheet stays where it is while it is rehearsed, however long that takes', async () => {
    await studio.openDemo('rehearse');
    const { page } = studio;
    await page.locator('.entry').first().waitFor();
    await page.evaluate(() => {
      const heights: number[] = [];
      Object.assign(window, { heights });
      new ResizeObserver(([entry]) => heights.push(Math.round(entry!.contentRect.height))).observe(
        document.querySelector('nw-rehearse-view nw-board')!,
      );
      const busy = document.querySelector('.busy')!;
      new MutationObserver(() => Object.assign(window, { wasBusy: true })).observe(busy, {
        childList: true,
        subtree: true,
        characterData: true,
      });
    });
    const throttled = await studio.context.newCDPSession(page);
    await throttled.send('Emulation.setCPUThrottlingRate', { rate: 6 });
    await studio.choose('Walk to rehearse', 'The goose comes to the door');
    await page.locator('.entry.held').first().waitFor();
    await throttled.send('Emulation.setCPUThrottlingRate', { rate: 1 });
    const seen = await page.evaluate(() => {
      const { heights, wasBusy } = window as unknown as { heights: number[]; wasBusy?: boolean };
      return { heights, wasBusy };
    });
    expect(seen.wasBusy).toBe(true);
    expect(new Set(seen.heights).size).toBe(1);
  });

  it('runs the kernel in a worker, keeps what is done in another, looks after the level in a third, and runs all walks after an edit in a fourth', () => {
    expect(studio.page.workers().length).toBe(4);
  });
});

describe('A designer draws a walk', () => {
  it('sees when each way point is come to, puts another between two, and lets the visitor start elsewhere', async () => {
    await studio.openDemo('rehearse');
    const { page } = studio;
    await page.getByRole('tab', { name: 'Walk' }).click();
    await page
      .locator('[data-pin="0/0"]')
      .filter({ hasText: /^1 · 3 s$/ })
      .waitFor();
    const rows = page.locator('nw-walk-panel section[aria-label="Route of Miller"] ol li');
    const before = await rows.count();
    // Between the first two places where it stops there is a flag to be dragged.
    const flag = (await page.locator('[data-pin="between 0/2"]').boundingBox())!;
    await studio.drag(flag.x + 4, flag.y + 8, 40, 30);
    await rows.nth(before).waitFor();
    await page
      .locator('[data-pin="0/2"]')
      .filter({ hasText: /^3 · \d/ })
      .waitFor();
    expect(await rows.nth(2).innerText()).toMatch(/goes to/);
    await studio.press('Control+z');
    await rows.nth(before).waitFor({ state: 'detached' });
    // By the list as well, and the numbers are typed.
    await rows.nth(2).getByRole('button', { name: 'Insert waypoint before this' }).click();
    await page.locator('input[data-path="/routes/0/instructions/2/to/x"]').fill('40');
    await studio.press('Enter');
    // Nobody gets through the wall of the room: it says so where it is drawn.
    await page.locator('[data-pin="0/2"]').filter({ hasText: '✗' }).waitFor();
    await studio.press('Control+z');
    await studio.press('Control+z');
    await page.getByRole('button', { name: 'Set start…' }).first().click();
    await page.getByText('Click the plan: where Miller starts').waitFor();
    const canvas = (await page.locator('nw-rehearse-view nw-board .canvas').first().boundingBox())!;
    await page.mouse.click(canvas.x + canvas.width * 0.3, canvas.y + canvas.height * 0.6);
    await page
      .locator('[data-pin="0/0"]')
      .filter({ hasText: /^1 · (?!3 s)/ })
      .waitFor();
    await studio.press('Control+z');
    await page
      .locator('[data-pin="0/0"]')
      .filter({ hasText: /^1 · 3 s$/ })
      .waitFor();
  });
});

describe('A designer checks', () => {
  it('finds the broken reference that a deleted thing leaves behind, and goes there', async () => {
    await studio.go('draw');
    await studio.press('Escape');
    await studio.page.getByLabel('Find by name or kind').fill('gate board');
    await studio.page.getByRole('button', { name: /^Gate board/ }).click();
    await studio.settled();
    await studio.page.getByRole('button', { name: 'Delete', exact: true }).click();
    await studio.settled();
    expect(await studio.page.locator('nav .snags').innerText()).toMatch(/^[3-9]$/);
    await studio.go('check');
    const reasons = await studio.page.locator('nw-check-view .reason').allInnerTexts();
    expect(reasons.length).toBeGreaterThan(2);
    expect(reasons[0]).toContain('refers to “gate-board”, which does not exist');
    await studio.page.getByRole('button', { name: 'Go there' }).first().click();
    await studio.settled();
    await studio.page.locator('nw-wire-view').waitFor();
    await studio.press('Control+z');
    await studio.press('4');
    await studio.page.locator('nw-check-view h2').filter({ hasText: 'Errors' }).waitFor({ state: 'detached' });
  });

  it('sees findings from the walks, accepts one with a note that is stored in the level, and reopens it', async () => {
    await studio.openDemo('check');
    const { page } = studio;
    const shown = page.locator('nw-finding-item').filter({ hasText: 'No walk starts “The sluice shuts when the plate rises”' });
    await page.getByText(/walks try \d+ % of what there is to try/).waitFor();
    await shown.getByRole('button', { name: 'Accept…' }).click();
    await shown.getByLabel('Why it is meant so').fill('The plate stays down all day.');
    await page.keyboard.press('Enter');
    await page.getByRole('heading', { name: 'Accepted' }).waitFor();
    await studio.saved();
    expect((await studio.stored()).level).toMatchObject({
      accepted: [{ kind: 'never-starts', note: 'The plate stays down all day.' }],
    });
    await page.reload();
    await shown.getByText('Accepted: The plate stays down all day.').waitFor();
    await shown.getByRole('button', { name: 'Check again' }).click();
    await shown.getByRole('button', { name: 'Accept…' }).waitFor();
  });
});

describe('A designer reads what a chain leads to', () => {
  it('unrolls it on its own ruler, with the loop marked, and goes to the chain that it sets off', async () => {
    await studio.openDemo('wire');
    const { page } = studio;
    const band = (name: string) => page.getByRole('article', { name: `Chain ${name}` });
    const lever = band('The lever shakes the sifter');
    await lever.getByRole('button', { name: 'Show triggered chains' }).click();
    const unrolled = lever.getByRole('list', { name: 'Chains triggered by The lever shakes the sifter' });
    expect(await unrolled.innerText()).toMatch(/step 2\s+Grist is ready is sent:\s+The bell answers/);
    await unrolled.getByRole('button', { name: 'The bell answers' }).click();
    await page.locator('nw-wire-view h2').filter({ hasText: 'The bell answers' }).waitFor();
    // Let the bell start the lever's chain: then it goes round.
    const bell = band('The bell answers');
    await bell.getByRole('button', { name: '+ step' }).click();
    await page.getByLabel('Find a step').fill('start a chain');
    await studio.press('Enter');
    // What is found wrong meanwhile, that no chain is chosen yet, moves nothing that is under the hand.
    const option = page.locator('nz-option-item').filter({ hasText: 'The lever shakes the sifter' }).first();
    await bell.locator('nw-finding-notes p').waitFor();
    const before = await bell.locator('.row').last().boundingBox();
    expect(before!.y).toBeLessThan((await bell.locator('nw-finding-notes p').boundingBox())!.y);
    await option.click();
    await studio.settled();
    await unrolled.getByText('loops').waitFor();
  });

  it('moves a step into the chain after it by the keyboard, copies it back, and sees where control is held', async () => {
    const { page } = studio;
    const band = (name: string) => page.getByRole('article', { name: `Chain ${name}` });
    const bell = band('The bell answers');
    const hoist = band('The hoist lifts who steps on it');
    const count = (chain: typeof bell) => chain.locator('.row').count();
    expect([await count(bell), await count(hoist)]).toEqual([2, 1]);
    await bell.locator('.block').last().focus();
    await studio.press('Alt+ArrowDown');
    expect([await count(bell), await count(hoist)]).toEqual([1, 2]);
    // The focus went along with it, so it is copied from there.
    await page.waitForFunction(() => document.activeElement?.closest('article')?.textContent?.includes('Sack hoist'));
    await studio.press('Control+c');
    await bell.locator('.block').first().focus();
    await studio.press('Control+v');
    expect([await count(bell), await count(hoist)]).toEqual([2, 2]);
    for (const step of ['lock a visitor’s controls', 'wait', 'unlock a visitor’s controls']) {
      await hoist.getByRole('button', { name: '+ step' }).click();
      await page.getByLabel('Find a step').fill(step);
      await studio.press('Enter');
      await studio.press('Escape');
    }
    expect(await hoist.locator('.hold').count()).toBe(3);
    expect(await hoist.locator('.hold').first().getAttribute('data-tip')).toMatch(/^Controls locked from [\d.]+ s to [\d.]+ s$/);
    await hoist.getByRole('button', { name: 'Remove this step' }).last().click();
    await hoist.locator('.hold[data-tip*="never unlocked"]').first().waitFor();
  });

  it('drags a step from one chain to another', async () => {
    const { page } = studio;
    const band = (name: string) => page.getByRole('article', { name: `Chain ${name}` });
    const from = band('The bell answers');
    const to = band('The hoist lifts who steps on it');
    const before = await to.locator('.row').count();
    await to.scrollIntoViewIfNeeded();
    const grip = (await from.locator('.grip').first().boundingBox())!;
    const goal = (await to.locator('.row').first().boundingBox())!;
    await page.mouse.move(grip.x + 4, grip.y + 6);
    await page.mouse.down();
    for (let i = 1; i <= 12; i++) await page.mouse.move(grip.x + 4, grip.y + 6 + ((goal.y - grip.y + 4) * i) / 12);
    await page.mouse.up();
    await page.waitForFunction(
      (rows) => document.querySelectorAll('[aria-label="Chain The hoist lifts who steps on it"] .row').length === rows,
      before + 1,
    );
    expect(await page.locator('button.button', { hasText: 'undo' }).first().getAttribute('data-tip')).toContain('move a step');
  });
});
