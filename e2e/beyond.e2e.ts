import type { Locator } from 'playwright-core';
import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import { root } from '../scripts/paths';
import { sizeOfPng } from './browser';
import { Studio } from './studio';

const studio = new Studio();
beforeAll(() => studio.begin());
afterAll(() => studio.end());
afterEach(() => expect(studio.complaints).toEqual([]));

const openExample = async (title: string | RegExp): Promise<void> => {
  const { page } = studio;
  await page.goto(studio.server.address);
  await page.getByRole('button', { name: title }).first().click();
  await page.locator('nw-board .figure').first().waitFor();
  await studio.go('rehearse');
};

describe('A designer walks it himself', () => {
  it('to the mill door, which opens for him, with the ledger growing as he goes', async () => {
    await studio.openDemo('rehearse');
    const { page } = studio;
    await page.getByRole('button', { name: 'Walk it yourself' }).click();
    await page.getByRole('group', { name: 'Walking it yourself' }).waitFor();
    await page.getByRole('button', { name: 'Pause' }).waitFor();
    await studio.hold('ArrowUp', 1.4);
    await page.keyboard.down('d');
    await page.locator('.entry[data-kind="opened"]').first().waitFor();
    await page.keyboard.up('d');
    await studio.press('Space');
    await page.getByRole('button', { name: 'Resume' }).waitFor();
    expect(await page.locator('.entry[data-kind="enter"]').count()).toBe(1);
  });

  it('steps back, takes another way from there, and what came after stays as a try', async () => {
    const { page } = studio;
    for (let second = 0; second < 4; second++) await studio.press('Shift+ArrowLeft');
    await page.getByText('The rest stays as an attempt you can compare').waitFor();
    const from = await page.getByTestId('time').innerText();
    await studio.press('Space');
    await studio.hold('ArrowDown', 0.9);
    await studio.press('Space');
    expect(parseFloat(await page.getByTestId('time').innerText())).toBeGreaterThan(parseFloat(from) + 0.5);
    expect(await page.locator('.entry[data-kind="opened"]').count()).toBe(0);
  });

  it('keeps it as a walk, which says the same, and compares it with the first try', async () => {
    const { page } = studio;
    await studio.press('k');
    await page.getByText('Saved as walk “Walked by hand”').waitFor();
    await page.locator('.entry[data-kind="end"]').waitFor();
    await page.getByRole('tab', { name: 'Compare' }).click();
    await studio.choose('Second to compare', 'try 1');
    await page.getByText(/First difference at .* the second/).waitFor();
    await page.locator('nw-compare-panel tr.new').filter({ hasText: 'Mill door is open' }).waitFor();
    await studio.choose('Second to compare', 'Walked by hand');
    // Way points are arrived at in a walk that is told; but for that, and for its end, the two are one.
    const others = page
      .locator('nw-compare-panel tbody tr')
      .filter({ hasNotText: /has arrived|begins|rehearsal ends|Nothing differs/ });
    await page.locator('nw-compare-panel tbody tr').first().waitFor();
    expect(await others.allInnerTexts()).toEqual([]);
  });
});

it('A designer walks about in a new level at once, in which nobody has drawn a walk yet', async () => {
  const { page } = studio;
  await page.goto(studio.server.address);
  await page.getByLabel('New level').fill('Empty marsh');
  await page.getByRole('button', { name: 'Create level' }).click();
  await page.locator('nw-board .figure').first().waitFor();
  await studio.go('rehearse');
  await page.getByRole('button', { name: 'Walk it yourself' }).click();
  await page.getByRole('button', { name: 'Pause' }).waitFor();
  await studio.hold('ArrowRight', 0.7);
  // By the stick of a gamepad too: far enough to the left.
  const place = async (): Promise<number> => (await page.locator('nw-board [data-thing]').first().boundingBox())!.x;
  const before = await place();
  await page.evaluate(() => {
    const pad = { axes: [-1, 0], buttons: [{ pressed: false }] };
    navigator.getGamepads = () => [pad as unknown as Gamepad];
  });
  await page.getByText('The arrow keys walk, or the stick').waitFor();
  while ((await place()) === before) await page.waitForTimeout(20);
  // Taken away, it lets go.
  await page.evaluate(() => (navigator.getGamepads = () => []));
  await page.getByText('Hold an arrow key to walk').waitFor();
  await studio.settled();
  const there = await place();
  expect(there).toBeLessThan(before);
  await page.waitForTimeout(200);
  expect(await place()).toBeCloseTo(there, 0);
  await studio.press('Space');
  await studio.press('k');
  await page.getByText('Saved as walk “Walked by hand”').waitFor();
  await page.locator('.entry').filter({ hasText: 'has arrived' }).first().waitFor();
});

it('By the buttons of a gamepad, or by keys, what lies near is picked up, put down and thrown', async () => {
  await studio.openDemo('rehearse');
  const { page } = studio;
  await page.getByRole('button', { name: 'Walk it yourself' }).click();
  await page.getByRole('button', { name: 'Pause' }).waitFor();
  const near = page.getByRole('button', { name: 'pick up Flour sack' });
  await page.keyboard.down('ArrowUp');
  await near.waitFor();
  await page.keyboard.up('ArrowUp');
  const said = (text: string) => page.locator('.entry').filter({ hasText: text });
  /** Holds a button down until something is seen of it. */
  const press = async (button: number, of: Locator): Promise<void> => {
    await page.evaluate((at) => {
      const pad = { axes: [0, 0], buttons: [0, 1, 2].map((one) => ({ pressed: one === at })) };
      navigator.getGamepads = () => [pad as unknown as Gamepad];
    }, button);
    await of.waitFor();
    await page.evaluate(() => (navigator.getGamepads = () => []));
    await studio.settled();
  };
  await press(1, said('Miller picks up Flour sack'));
  await studio.press('q');
  await said('Miller puts down Flour sack').waitFor();
  await press(1, page.getByRole('button', { name: 'throw' }));
  await press(2, said('Miller throws Flour sack'));
  await page.getByRole('button', { name: 'End', exact: true }).click();
});

it('Two visitors are walked by turns, on one clock, and are kept as one walk', async () => {
  await studio.openDemo('rehearse');
  const { page } = studio;
  await page.getByRole('button', { name: 'Walk it yourself' }).click();
  await page.getByRole('button', { name: 'Pause' }).waitFor();
  const at = async (thing: string): Promise<{ x: number; y: number }> => {
    await studio.settled();
    const { x, y } = (await page.locator(`nw-board [data-thing="${thing}"]`).first().boundingBox())!;
    return { x, y };
  };
  const walks = async (who: string, other: string, key: string): Promise<void> => {
    const [before, still] = [await at(who), await at(other)];
    await studio.hold(key, 0.6);
    const after = await at(who);
    expect(Math.hypot(after.x - before.x, after.y - before.y)).toBeGreaterThan(8);
    expect(await at(other)).toEqual(still);
  };
  await studio.choose('Visitor that you walk', 'Miller');
  await walks('miller', 'goose', 'ArrowUp');
  await studio.choose('Visitor that you walk', 'Goose');
  await walks('goose', 'miller', 'ArrowLeft');
  // By keyboard too, the keys walk again once somebody is chosen.
  await page.getByLabel('Visitor that you walk').focus();
  await page.keyboard.press('ArrowDown');
  await page.locator('nz-option-item').first().waitFor();
  while (!/Miller/.test((await page.locator('.ant-select-item-option-active').textContent()) ?? ''))
    await studio.press('ArrowUp');
  await studio.press('Enter');
  await walks('miller', 'goose', 'ArrowRight');
  await studio.press('Space');
  await page.getByRole('button', { name: 'Resume' }).waitFor();
  await studio.press('k');
  await page.getByText(/Saved as walk “Walked by hand/).waitFor();
  const said = (text: string) => page.locator('.entry').filter({ hasText: text }).first();
  await said('Miller has arrived').waitFor();
  await said('Goose has arrived').waitFor();
  await studio.saved();
  const { routes } = (await studio.stored()).level.walks.at(-1)!;
  expect(routes.map(({ visitor }) => visitor).sort()).toEqual(['goose', 'miller']);
});

describe('A designer finds what hangs on the house rules', () => {
  it('an order that only holds under one rule, and makes it safe by a press', async () => {
    await openExample(/^Two zones left and entered in one tick/);
    const { page } = studio;
    await page.getByRole('tab', { name: 'What if?' }).click();
    await page.getByRole('button', { name: 'Test all house rules' }).click();
    await page.getByText(/^Expectation “the west is left before the east is reached” fails under \d+ of 384 sets/).waitFor();
    const clash = page
      .locator('nw-what-if-panel li')
      .filter({ hasText: '“Where now says “on the water”” comes before “Where now says “east bank””' });
    await clash.getByText('In one tick, leaves are processed before enters').waitFor();
    // It is marked where it stands in the ledger.
    await page.getByRole('tab', { name: 'Ledger' }).click();
    await page.locator('.entry .hangs').first().waitFor();
    await page.getByRole('tab', { name: 'What if?' }).click();
    await clash.getByRole('button', { name: 'Fix' }).click();
    await page.getByRole('button', { name: 'Test all house rules' }).click();
    await page.locator('nw-what-if-panel .verdict').first().waitFor();
    await clash.waitFor({ state: 'detached' });
    expect(await page.getByText(/^Expectation “the west is left before/).count()).toBe(0);
  });

  it('the log of a game that enters before it leaves, and which rule explains it', async () => {
    const { page } = studio;
    await studio.press('Control+z');
    await page.locator('nw-what-if-panel input[type=file]').setInputFiles(join(root, 'demo/play-logs/two-banks.jsonl'));
    await page.getByText('Other house rules explain the log (96 sets match):').waitFor();
    await page.locator('nw-what-if-panel li').filter({ hasText: 'In one tick, enters are processed before leaves.' }).waitFor();
    await page.locator('nw-what-if-panel tr.first').filter({ hasText: 'enter Alma East bank' }).waitFor();
    await page.getByRole('button', { name: 'Use these house rules' }).click();
    await page.locator('nw-what-if-panel input[type=file]').setInputFiles(join(root, 'demo/play-logs/two-banks.jsonl'));
    await page.getByText('The log matches this level’s house rules.').waitFor();
  });

  it('a log with a name that is not there, dropped on the sheet, is told with its line', async () => {
    const { page } = studio;
    const log = '{"at":0,"who":"Alma","x":0,"y":0}\n{"at":1,"who":"Almma","x":0,"y":0}\n';
    const there = page.url();
    await studio.drop(page.locator('nw-what-if-panel'), 'play.jsonl', log, 'import as a play log');
    await page.getByRole('alert').filter({ hasText: 'play.jsonl, line 2: There is no visitor “Almma”' }).waitFor();
    expect(page.url()).toBe(there);
  });
});

describe('A designer plays it a thousand times', () => {
  it('finds that a line is missed at 15 ticks a second, looks at such a run, and takes the size that misses none', async () => {
    await openExample('broken: misses at speed');
    const { page } = studio;
    await page.getByRole('tab', { name: 'What if?' }).click();
    await page.getByRole('button', { name: 'Run variations' }).click();
    const missed = page.locator('nw-what-if-panel .missed');
    await missed.filter({ hasText: 'Weigh line is missed in' }).waitFor();
    expect(await missed.innerText()).toMatch(/[1-9]\d* of \d+ at 15 ticks a second, .* 0 of \d+ at 60 ticks a second/);
    await page.locator('nw-spread-chart svg').first().waitFor();
    await missed.getByRole('button', { name: 'Show one' }).click();
    await page.getByText(/^run \d+ of the spread, (15|30) ticks a second$/).waitFor();
    await page.getByRole('tab', { name: 'Ledger' }).click();
    await page.locator('.entry[data-kind="missed"]').first().waitFor();
    await page.getByRole('button', { name: 'back to the walk' }).click();
    await page.getByRole('tab', { name: 'What if?' }).click();
    await page.getByRole('button', { name: 'Run variations' }).click();
    // Any single run can be looked at, whatever came of it.
    await page.getByLabel('any run:').fill('7');
    await page.getByRole('button', { name: 'open this run' }).click();
    await page.getByText(/^run 7 of the spread, \d+ ticks a second$/).waitFor();
    await page.getByRole('button', { name: 'back to the walk' }).click();
    await missed.getByText('Enlarge it').waitFor();
    await missed.getByRole('button', { name: 'Fix' }).last().click();
    await page.getByRole('button', { name: 'Run variations' }).click();
    await page.getByText('No trigger was missed in 1000 runs.').waitFor();
    // What the edit has changed is laid beside how it was before.
    await page.getByRole('tab', { name: 'Compare' }).click();
    await studio.choose('Second to compare', 'before the last edit');
    await page.locator('nw-compare-panel .parting').waitFor();
    expect(await page.locator('nw-compare-panel [role=alert]').count()).toBe(0);
  });
});

describe('A designer hands on', () => {
  it('a report, a table, a value change dump, a plan, each a file that says what is shown', async () => {
    await studio.openDemo('rehearse');
    const { page } = studio;
    const handed = async (what: string): Promise<{ name: string; text: string }> => {
      await page.getByRole('button', { name: 'Export…' }).click();
      const [file] = await Promise.all([page.waitForEvent('download'), page.getByRole('menuitem', { name: what }).click()]);
      const chunks: Buffer[] = [];
      for await (const chunk of await file.createReadStream()) chunks.push(chunk as Buffer);
      return { name: file.suggestedFilename(), text: Buffer.concat(chunks).toString('latin1') };
    };
    await page.locator('.entry[data-kind="opened"] button').first().click();
    expect((await handed('Ledger (CSV)')).text.split('\r\n')[0]).toBe(
      'number,tick,seconds,kind,who,what,chain,step,cause,says,details',
    );
    expect((await handed('Ledger (JSON lines)')).text.split('\n')[0]).toMatch(/^\{"number":1,"tick":0/);
    expect((await handed('State waveform (VCD)')).text).toContain('$enddefinitions $end');
    const drawn = async (what: string): Promise<number> => sizeOfPng(page, Buffer.from((await handed(what)).text, 'latin1'));
    expect(await drawn('Plan (PNG)')).toBeGreaterThan(200);
    const expected = await handed('Expectations (JUnit XML)');
    const cases = await page.evaluate((text) => {
      const found = new DOMParser().parseFromString(text, 'application/xml');
      return [...found.querySelectorAll('testsuite[failures="0"] > testcase')].map((one) => one.getAttribute('name'));
    }, expected.text);
    expect(cases).toContain('the sack keeps the plate down');
    const report = await handed('Printable report (HTML)');
    expect(report.name).toBe('nettlewick-tide-mill-the-miller-s-morning-round.html');
    // It needs nothing but itself, and a browser reads it.
    const read = await studio.context.newPage();
    const asked: string[] = [];
    read.on('request', (request) => asked.push(request.url()));
    await read.setContent(report.text);
    expect(await read.locator('tbody tr').count()).toBe(42);
    expect(await read.locator('figure svg').count()).toBe(1);
    expect(asked).toEqual([]);
    // And makes a PDF of it.
    const printed = await read.pdf();
    expect(printed.subarray(0, 5).toString()).toBe('%PDF-');
    expect(printed.toString('latin1').match(/\/Type\s*\/Page\b/g)!.length).toBeGreaterThan(1);
    await read.close();
    const plan = await handed('Plan (SVG)');
    const isSvg = await page.evaluate((text) => {
      const found = new DOMParser().parseFromString(text, 'image/svg+xml');
      return found.querySelector('parsererror') === null && found.querySelectorAll('circle').length > 0;
    }, plan.text);
    expect(isSvg).toBe(true);
    await studio.press('l');
    await page.locator('nw-lanes-view .span').first().waitFor();
    const lanes = await handed('Lanes (SVG)');
    const words = await page.evaluate((text) => {
      const found = new DOMParser().parseFromString(text, 'image/svg+xml');
      return [...found.querySelectorAll('text')].map((one) => one.textContent);
    }, lanes.text);
    expect(words).toEqual(expect.arrayContaining(['Sack plate', 'Mill door']));
    expect(await drawn('Lanes (PNG)')).toBeGreaterThan(100);
    await studio.press('l');
  });

  it('a link that shows this rehearsal again, whatever becomes of the level', async () => {
    const { page } = studio;
    await page.getByRole('button', { name: 'Export…' }).click();
    await page.getByRole('menuitem', { name: 'Copy permanent link' }).click();
    const notice = page.getByText(/^\s*Copied link to revision \d+/);
    await notice.waitFor();
    const [link] = /http\S+/.exec(await notice.innerText())!;
    await studio.go('draw');
    await page.getByRole('button', { name: 'Doorstep' }).click();
    await page.getByRole('button', { name: 'Delete', exact: true }).click();
    await studio.saved();
    await page.goto(link);
    await page.getByText(/^as it was in revision \d+$/).waitFor();
    await page.getByPlaceholder('find in the ledger').fill('Mill door is open');
    await page.locator('.entry').filter({ hasText: 'Mill door is open' }).waitFor();
    await page.getByRole('button', { name: 'back to the walk' }).click();
    await page.getByText('No entries match the filter.').waitFor();
  });
});

describe('A running game', () => {
  it('sends where its visitors are and what it fires, is seen on the plan, and is laid beside the ledger', async () => {
    await studio.openDemo('rehearse');
    const { page } = studio;
    const [, id] = /levels\/([^/]+)/.exec(page.url())!;
    await page.getByRole('tab', { name: 'What if?' }).click();
    await page.getByText(`/api/levels/${id!}/play`).waitFor();
    const send = async (...lines: object[]): Promise<{ windows: number }> => {
      const reply = await fetch(`${studio.server.address}/api/levels/${id!}/play`, {
        method: 'POST',
        headers: { 'content-type': 'application/x-ndjson' },
        body: lines.map((line) => JSON.stringify(line)).join('\n'),
      });
      return (await reply.json()) as { windows: number };
    };
    const miller = (at: number, x: number) => ({ at, who: 'Miller', x, y: -2 });
    expect((await send(miller(0, 0), miller(1, 2))).windows).toBe(1);
    await page.getByText('Received 2 lines, up to 1.00 s').waitFor();
    await page.locator('.pin').filter({ hasText: 'Miller' }).waitFor();
    await send(miller(3, 5), { at: 3, kind: 'enter', who: 'Miller', what: 'Race landing' }, miller(4, 5.2));
    await page.getByText('3.00 s enter Miller Race landing').waitFor();
    await page.getByRole('button', { name: 'Compare with ledger' }).click();
    await page.getByText(/^the running game: /).waitFor();
    await page.getByRole('button', { name: 'Discard' }).click();
    await page.locator('.pin').filter({ hasText: 'Miller' }).waitFor({ state: 'detached' });
  });
});

describe('A designer sees it from the side', () => {
  it('walks in the section: right is right whichever way it looks', async () => {
    await studio.openDemo('rehearse');
    const { page } = studio;
    await page.locator('.entry').first().waitFor();
    await studio.press('v');
    await page.locator('nw-section').waitFor();
    const walked = async (facing: string): Promise<number> => {
      await studio.choose('Section direction', facing);
      await page.getByRole('button', { name: 'Walk it yourself' }).click();
      await page.getByRole('button', { name: 'Pause' }).waitFor();
      const place = async (): Promise<number> => {
        await studio.settled();
        const box = (await page.locator('nw-section [data-slab="miller"]').first().boundingBox())!;
        return box.x;
      };
      const before = await place();
      await studio.hold('ArrowRight', 0.9);
      await studio.press('Space');
      const after = await place();
      await page.getByRole('button', { name: 'End', exact: true }).click();
      return after - before;
    };
    expect(await walked('looking north')).toBeGreaterThan(8);
    expect(await walked('looking south')).toBeGreaterThan(8);
  });

  it('puts a lane elsewhere by the keyboard', async () => {
    const { page } = studio;
    await studio.press('l');
    const names = () => page.locator('nw-lanes-view .names li').allInnerTexts();
    await page.locator('nw-lanes-view .names li').first().waitFor();
    const before = await names();
    await page.locator('nw-lanes-view .grip').first().focus();
    await studio.press('ArrowDown');
    const after = await names();
    expect([after[1], after[0]]).toEqual([before[0], before[1]]);
  });

  it('hands on the matrix and a chain as drawings', async () => {
    const { page } = studio;
    await page.getByRole('tab', { name: 'Matrix' }).click();
    const file = async (press: () => Promise<void>): Promise<Buffer> => {
      const [download] = await Promise.all([page.waitForEvent('download'), press()]);
      return readFileSync(await download.path());
    };
    const saved = async (press: () => Promise<void>): Promise<string> => (await file(press)).toString();
    const matrix = await saved(() => page.getByRole('button', { name: 'SVG', exact: true }).click());
    expect(matrix).toMatch(/<title>Sack plate on Sluice gate: fired \d+×/);
    const matrixPng = await file(() => page.getByRole('button', { name: 'PNG', exact: true }).click());
    expect(await sizeOfPng(page, matrixPng)).toBeGreaterThan(200);
    const tried = await saved(() => page.getByRole('button', { name: 'JSON lines' }).click());
    const lines = tried.trim().split('\n');
    expect(lines.map((line) => (JSON.parse(line) as { kind: string }).kind)).toEqual(
      expect.arrayContaining(['zone', 'chain', 'step', 'gate']),
    );
    await studio.go('wire');
    const band = page.getByRole('article', { name: 'Chain The hoist lifts who steps on it' });
    await band.getByRole('button', { name: 'Export chain' }).click();
    const chain = await saved(() => page.getByRole('menuitem', { name: 'this chain (SVG)' }).click());
    expect(chain).toContain('>The hoist lifts who steps on it<');
    await band.getByRole('button', { name: 'Export chain' }).click();
    const chainPng = await file(() => page.getByRole('menuitem', { name: 'this chain (PNG)' }).click());
    expect(await sizeOfPng(page, chainPng)).toBeGreaterThan(60);
    // Both are read by a parser that is not ours.
    const areSvg = await page.evaluate(
      (texts) =>
        texts.map((text) => new DOMParser().parseFromString(text, 'image/svg+xml').querySelector('parsererror') === null),
      [matrix, chain],
    );
    expect(areSvg).toEqual([true, true]);
  });

  it('draws where somebody goes, who stays as deep in the room as before', async () => {
    const { page } = studio;
    await studio.go('rehearse');
    await studio.press('v');
    await page.locator('nw-section').waitFor();
    await studio.choose('Section direction', 'looking north');
    await page.getByRole('button', { name: 'New walk' }).click();
    await studio.settled();
    await page.getByRole('button', { name: '+ go to…' }).first().click();
    const section = (await page.locator('nw-section').boundingBox())!;
    await page.mouse.click(section.x + section.width * 0.45, section.y + section.height * 0.6);
    await studio.settled();
    await studio.saved();
    const { walks, visitors } = (await studio.stored()).level as unknown as {
      walks: { routes: { visitor: string; instructions: { to: { x: number; y: number } }[] }[] }[];
      visitors: { id: string; at: { x: number; y: number } }[];
    };
    const route = walks.at(-1)!.routes[0]!;
    const { at } = visitors.find(({ id }) => id === route.visitor)!;
    expect(route.instructions[0]!.to.y).toBeCloseTo(at.y, 1);
    expect(Math.abs(route.instructions[0]!.to.x - at.x)).toBeGreaterThan(0.5);
    await page.getByRole('button', { name: 'undo' }).click();
  });
});
