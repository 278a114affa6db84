import { readFileSync } from 'node:fs';
import type { Route } from 'playwright-core';
import { demoFile } from '../scripts/paths';
import { Studio } from './studio';

const studio = new Studio();
// What a service worker asks for goes past the routes of these stories, whenever it comes to be there.
beforeAll(() => studio.begin({ serviceWorkers: 'block' }));
afterAll(() => studio.end());
afterEach(() => {
  // A story that failed with the line cut would make all that follow fail.
  studio.endIntercepts();
  expect(studio.complaints).toEqual([]);
});

const state = (text: RegExp) => studio.page.getByTestId('save-state').filter({ hasText: text }).waitFor({ timeout: 15_000 });
const zone = async (id: string) => (await studio.stored()).level.zones.find((one) => one.id === id)!;

/** Opens a fresh copy of the demo, so that stories do not depend on each other. */
async function openCopy(): Promise<void> {
  const reply = await fetch(`${studio.server.address}/api/levels`, {
    method: 'POST',
    headers: { 'content-type': 'application/json' },
    body: JSON.stringify({ level: JSON.parse(readFileSync(demoFile, 'utf8')) as object }),
  });
  await studio.page.goto(`${studio.server.address}/levels/${((await reply.json()) as { id: string }).id}/draw`);
  await studio.page.locator('nw-board .figure').first().waitFor();
}

it('keeps every edit made while the server is killed, and sends them when it is back', async () => {
  await studio.openDemo();
  await studio.dragThing('doorstep', -26, 0);
  await studio.saved();
  const before = await zone('doorstep');
  await studio.server.kill();
  await studio.dragThing('doorstep', -52, 0);
  await state(/Offline, saved in this browser/);
  await studio.dragThing('landing', 26, 0);
  await studio.page.getByRole('button', { name: 'Sluice gate' }).waitFor({ state: 'detached' });
  await studio.serve();
  await studio.saved();
  expect((await zone('doorstep')).at.x).toBeLessThan(before.at.x - 1);
  expect((await zone('landing')).at.x).toBeGreaterThan(0.5);
  await studio.page.reload();
  await studio.page.locator('nw-board .figure').first().waitFor();
  await studio.saved();
  expect((await zone('landing')).at.x).toBeGreaterThan(0.5);
});

it('finds the edits again when the browser was closed before the server came back', async () => {
  await studio.press('Escape');
  await studio.server.kill();
  await studio.dragThing('landing', -104, 0);
  await state(/Offline/);
  const address = studio.page.url();
  await studio.page.close();
  await studio.serve();
  const before = await zone('landing');
  studio.page = await studio.newPage();
  await studio.page.goto(address);
  await studio.saved();
  await expect(zone('landing').then((one) => one.at.x)).resolves.toBeLessThan(before.at.x - 2);
});

it('says what the server would not take, and loses nothing: undo takes it back, and the next edit is saved', async () => {
  const { page } = studio;
  const before = await zone('landing');
  const refusal = await studio.intercept('**/api/levels/*', async (route) => {
    if (route.request().method() !== 'PATCH') return route.continue();
    const detail = '1 fault, the first at /zones/1/name: Choose another.';
    const body = JSON.stringify({ type: 'about:blank', title: 'The document has faults', status: 400, detail });
    return route.fulfill({ status: 400, contentType: 'application/problem+json', body });
  });
  await studio.press('Escape');
  await studio.dragThing('landing', 52, 0);
  await page.getByRole('alert').filter({ hasText: 'Could not save.' }).getByText('/zones/1/name: Choose another.').waitFor();
  refusal.end();
  expect((await zone('landing')).at.x).toBe(before.at.x);
  // Here it was meant to be.
  expect(studio.refused.splice(0)).toHaveLength(1);
  studio.complaints.splice(0);
  await studio.press('Control+z');
  await studio.saved();
  await page.getByRole('alert').waitFor({ state: 'detached' });
  await studio.dragThing('landing', 26, 0);
  await studio.saved();
  expect((await zone('landing')).at.x).not.toBe(before.at.x);
});

describe('When a save is stored but its answer is lost', () => {
  /** From now on the server stores one save, but neither its answer nor anything else gets through until `back` is called. */
  const loseTheAnswer = async (also: (url: URL) => boolean): Promise<{ lost: () => boolean; back: () => void }> => {
    let lost = false;
    const handler = async (route: Route): Promise<void> => {
      if (route.request().method() === 'PATCH' && !lost) {
        await route.fetch();
        lost = true;
      }
      return route.abort('connectionreset');
    };
    const cut = (url: URL): boolean => /^\/api\/levels\/[^/]+$/.test(url.pathname) || also(url);
    const { end } = await studio.intercept(cut, handler);
    return { lost: () => lost, back: end };
  };

  it('learns of it from the news of the server', async () => {
    await openCopy();
    const { revision } = await studio.stored();
    const line = await loseTheAnswer(() => false);
    await studio.dragThing('doorstep', 52, 0);
    await studio.saved();
    expect(line.lost()).toBe(true);
    expect((await studio.stored()).revision).toBe(revision + 1);
    line.back();
  });

  it('takes it for its own when the next save meets it', async () => {
    await openCopy();
    const events = (url: URL): boolean => url.pathname.endsWith('/events');
    const news = await studio.intercept(events, (route) => route.abort('connectionreset'));
    await studio.page.reload();
    await studio.page.locator('nw-board .figure').first().waitFor();
    const { revision } = await studio.stored();
    const line = await loseTheAnswer(events);
    await studio.dragThing('doorstep', 52, 0);
    await state(/Offline/);
    expect(line.lost()).toBe(true);
    await studio.dragThing('doorstep', 0, -26);
    line.back();
    await studio.saved();
    expect((await studio.stored()).revision).toBe(revision + 2);
    news.end();
  });
});

describe('When somebody else has deleted what was edited without the server', () => {
  /** While nothing gets through from here, ours is edited, and somebody else deletes the doorstep and renames the landing. */
  const meet = async (ours: () => Promise<void>): Promise<void> => {
    await studio.saved();
    const { revision, etag, level } = await studio.stored();
    const id = studio.page.url().split('/')[4]!;
    const cut = await studio.intercept('**/api/levels/**', (route) => route.abort('connectionreset'));
    await ours();
    await state(/Offline/);
    const theirs = {
      ...level,
      zones: level.zones.flatMap((one) =>
        one.id === 'doorstep' ? [] : one.id === 'landing' ? [{ ...one, name: `Landing of revision ${revision + 1}` }] : [one],
      ),
    };
    const reply = await fetch(`${studio.server.address}/api/levels/${id}`, {
      method: 'PUT',
      headers: { 'content-type': 'application/json', 'if-match': etag },
      body: JSON.stringify(theirs),
    });
    expect(reply.status).toBe(200);
    cut.end();
    await state(/Conflict/);
    await studio.page.getByText('Two versions of this level').waitFor();
  };
  beforeEach(openCopy);
  const hasDoorstep = async () => (await studio.stored()).level.zones.some((one) => one.id === 'doorstep');

  it('shows both sides, and makes on theirs what of our edits can be made', async () => {
    await meet(async () => {
      await studio.dragThing('sack-plate', 26, 0);
      await studio.dragThing('doorstep', -26, 0);
    });
    const table = await studio.page.locator('nw-conflict-dialog table, .ant-modal table').innerText();
    expect(table).toContain('Doorstep');
    expect(table).toContain('Landing of revision');
    await studio.page.getByRole('button', { name: 'Reapply my edits to theirs' }).click();
    await studio.settled();
    await studio.page.getByText('Another window deleted “Doorstep”, which you were editing.').waitFor();
    await studio.saved();
    expect((await zone('landing')).name).toContain('Landing of revision');
    expect(await hasDoorstep()).toBe(false);
    await studio.page.getByRole('button', { name: 'undo' }).click();
    await studio.saved();
    expect((await zone('landing')).name).toContain('Landing of revision');
  });

  it('takes theirs, and undo brings ours back', async () => {
    await meet(() => studio.dragThing('doorstep', 0, 52));
    await studio.page.getByRole('button', { name: 'Use theirs' }).click();
    await studio.settled();
    await studio.saved();
    expect(await hasDoorstep()).toBe(false);
    await studio.page.getByRole('button', { name: 'undo' }).click();
    await studio.settled();
    await studio.saved();
    expect(await hasDoorstep()).toBe(true);
  });

  it('stores ours as a level of its own beside theirs', async () => {
    await meet(() => studio.dragThing('doorstep', 26, 26));
    await studio.page.getByRole('button', { name: 'Keep both' }).click();
    await studio.settled();
    await studio.saved();
    const { levels } = (await (await fetch(`${studio.server.address}/api/levels`)).json()) as { levels: { name: string }[] };
    expect(levels.map((level) => level.name)).toContain('Nettlewick tide mill (ours)');
  });
});

it('maps what was edited without the server over what somebody else has saved, without a question', async () => {
  await openCopy();
  const { etag, level } = await studio.stored();
  const before = await zone('doorstep');
  const id = studio.page.url().split('/')[4]!;
  const cut = await studio.intercept('**/api/levels/**', (route) => route.abort('connectionreset'));
  await studio.dragThing('doorstep', -26, 0);
  await state(/Offline, saved in this browser/);
  const theirs = { ...level, zones: level.zones.map((one) => (one.id === 'landing' ? { ...one, name: 'Their landing' } : one)) };
  const headers = { 'content-type': 'application/json', 'if-match': etag };
  await fetch(`${studio.server.address}/api/levels/${id}`, { method: 'PUT', headers, body: JSON.stringify(theirs) });
  // Also when the page was loaded anew in between.
  await studio.page.reload();
  await studio.page.locator('nw-board .figure').first().waitFor();
  await state(/Offline/);
  cut.end();
  await studio.saved();
  expect((await zone('landing')).name).toBe('Their landing');
  expect((await zone('doorstep')).at.x).toBeLessThan(before.at.x);
});

it('goes back to an earlier revision, which says what it changed; undo takes that back', async () => {
  await openCopy();
  await studio.dragThing('landing', 26, 0);
  await studio.saved();
  const moved = (await zone('landing')).at.x;
  await studio.page.getByRole('button', { name: 'history' }).click();
  await studio.settled();
  const list = studio.page.locator('nw-revision-list');
  await list.getByText('Move Race landing').waitFor();
  await list.getByRole('button', { name: 'Compare revision 1' }).click();
  await list.getByRole('button', { name: 'Compare with 1' }).click();
  const table = studio.page.getByRole('dialog').locator('nw-level-differences');
  await table.getByRole('row').filter({ hasText: 'Race landing' }).waitFor();
  expect(await table.getByRole('row').count()).toBe(2);
  await studio.press('Escape');
  await table.waitFor({ state: 'detached' });
  await studio.page.getByRole('button', { name: 'Restore' }).last().click();
  await list.waitFor({ state: 'detached' });
  await studio.saved();
  expect((await zone('landing')).at.x).not.toBe(moved);
  await studio.press('Control+z');
  await studio.saved();
  expect((await zone('landing')).at.x).toBe(moved);
});

describe('The list of levels', () => {
  it('begins, renames, deletes and recovers a level', async () => {
    const { page } = studio;
    await page.goto(studio.server.address);
    await page.getByLabel('New level').fill('Eel weir');
    await page.getByRole('button', { name: 'Create level' }).click();
    await studio.settled();
    await page.locator('nw-draw-view').waitFor();
    await page.locator('[data-tip="All levels" i]').click();
    await studio.settled();
    const row = page.locator('li').filter({ hasText: 'Eel weir' });
    await row.getByRole('button', { name: 'rename' }).click();
    await studio.settled();
    await page.getByLabel('New name').fill('Eel ladder');
    await studio.press('Enter');
    await page.getByRole('link', { name: 'Eel ladder' }).waitFor();
    await page.getByRole('button', { name: 'Delete Eel ladder' }).click();
    await studio.settled();
    await page.getByRole('link', { name: 'Eel ladder' }).waitFor({ state: 'detached' });
    await page.locator('li').filter({ hasText: 'Eel ladder' }).getByRole('button', { name: 'Recover' }).click();
    await studio.settled();
    await page.getByRole('link', { name: 'Eel ladder' }).waitFor();
  });

  it('says what is wrong with a file, with the place, and opens nothing', async () => {
    const { page } = studio;
    const buffer = Buffer.from(JSON.stringify({ format: 'nettlewick-level', version: 1, name: 'Torn', zoness: [] }));
    await page.locator('input[type=file]').setInputFiles({ name: 'torn.json', mimeType: 'application/json', buffer });
    await page.getByText('Could not open torn.json: 1 error.').waitFor();
    await page.getByText('Unknown field "zoness" (did you mean "zones"?)').waitFor();
    // By choice what could be saved of it is opened, as a level of its own.
    await page.getByText('A repaired copy can be opened, with 1 change').click();
    await page.getByText('taken as “zones”').waitFor();
    await page.getByRole('button', { name: 'Open repaired copy' }).click();
    await page.getByRole('heading', { name: 'Torn' }).waitFor({ state: 'attached' });
  });

  it('opens a file that is let go of anywhere: of the studio, too, whose level stays as it was', async () => {
    const { page } = studio;
    await studio.openDemo();
    const [file] = await Promise.all([page.waitForEvent('download'), page.getByRole('button', { name: 'export' }).click()]);
    const text = readFileSync(await file.path(), 'utf8').replace('Nettlewick tide mill', 'Brought along');
    const drop = (name: string, content: string): Promise<void> =>
      studio.drop(page.locator('nw-board').first(), name, content, 'open as a new level');
    const before = page.url();
    await drop('brought.json', text);
    await page.getByRole('heading', { name: 'Brought along' }).waitFor({ state: 'attached' });
    expect(page.url()).not.toBe(before);
    await page.locator('nw-board .figure').first().waitFor();
    await drop('cut.json', text.slice(0, 400));
    await page.getByText(/Could not open cut\.json: \d+ errors?\./).waitFor();
    await studio.drop(page.locator('main'), 'brought.json', text, 'open as a new level');
    await page.locator('nw-board .figure').first().waitFor();
    await page.goto(studio.server.address);
    await page.getByRole('link', { name: 'Nettlewick tide mill' }).first().waitFor();
    expect(await page.getByRole('link', { name: 'Brought along' }).count()).toBeGreaterThan(1);
  });

  it('finds one of many levels by its name on the first screen, and sees it drawn', async () => {
    const { page } = studio;
    // Few levels, one of them the mill's, and no page that asks for one of the others.
    await page.goto('about:blank');
    const { levels } = (await (await fetch(`${studio.server.address}/api/levels`)).json()) as {
      levels: { id: string; name: string }[];
    };
    const kept = levels.find(({ name }) => name === 'Nettlewick tide mill')!;
    for (const { id } of levels)
      if (id !== kept.id) await fetch(`${studio.server.address}/api/levels/${id}`, { method: 'DELETE' });
    await page.goto(studio.server.address);
    await page.locator('.shelf .open').first().waitFor();
    expect(await page.getByLabel('Find a level').count()).toBe(0);
    const mill = await page.getByRole('link', { name: 'Nettlewick tide mill' }).first().evaluate(idOf);
    const { level } = (await (await fetch(`${studio.server.address}/api/levels/${mill}`)).json()) as { level: object };
    for (let i = 1; i <= 60; i++)
      await fetch(`${studio.server.address}/api/levels`, {
        method: 'POST',
        headers: { 'content-type': 'application/json' },
        body: JSON.stringify({ level: { ...level, name: `Reed bed ${i}` } }),
      });
    await page.reload();
    await page.getByText(/levels 1–48 of \d+/).waitFor();
    await page.getByLabel('Find a level').fill('reed bed 7');
    await page.getByText(/levels 1–/).waitFor({ state: 'detached' });
    expect(await page.locator('.shelf .open').allInnerTexts()).toEqual(['Reed bed 7']);
    await page.locator('.shelf nw-small-plan path').first().waitFor();
    await page.getByLabel('Find a level').fill('heron');
    await page.getByText('No matching levels.').waitFor();
  });
});

const idOf = (link: Element): string => link.getAttribute('href')!.split('/')[2]!;
