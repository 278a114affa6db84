import { slideTo } from './browser';
import { Studio } from './studio';

const studio = new Studio();

beforeAll(() => studio.begin());
afterAll(() => studio.end());

const palette = () => studio.page.getByRole('combobox', { name: 'Find a command or a thing' });

async function found(text: string): Promise<string[]> {
  // Typed on without waiting: no letter is lost while it opens, however slowly.
  await studio.page.keyboard.press('Control+k');
  await studio.page.keyboard.type(text, { delay: 20 });
  await palette().waitFor();
  await studio.settled();
  expect(await palette().inputValue()).toBe(text);
  return (await studio.page.locator('#palette-list [role=option] span').allInnerTexts()).map((text) => text.trim());
}

describe('A designer who does not know where anything is', () => {
  beforeAll(() => studio.openDemo());

  it('finds a stencil that has no key, and has the thing placed in the middle of the board', async () => {
    expect(await found('draw sign')).toEqual(['Draw: sign']);
    await studio.press('Enter');
    await studio.saved();
    expect(await studio.page.locator('[data-thing].chosen').getAttribute('aria-label')).toContain('sign');
  });

  it('is told by undo and redo what they would do', async () => {
    const undo = studio.page.getByRole('button', { name: 'undo' });
    expect(await undo.getAttribute('data-tip')).toBe('Undo: add sign Sign (Ctrl Z)');
    await studio.press('Control+z');
    expect(await studio.page.getByRole('button', { name: 'redo' }).getAttribute('data-tip')).toBe('Redo: add sign Sign (Ctrl Y)');
  });

  it('has it placed in the way that was asked for: a door that sinks as far as it is high', async () => {
    expect(await found('draw door sinks')).toEqual(['Draw: door that sinks']);
    await studio.press('Enter');
    await studio.saved();
    expect(await studio.page.locator('nw-thing-panel').innerText()).toMatch(/sinks[^.]*2\.2/);
    await studio.press('Control+z');
  });

  it('takes the form of a zone by its key, pressed until it is the right one', async () => {
    const ways = studio.page.getByRole('group', { name: 'Variant' });
    await studio.press('z');
    expect(await ways.locator('[aria-pressed=true]').innerText()).toBe('as a box');
    await studio.press('z');
    await studio.press('z');
    expect(await ways.locator('[aria-pressed=true]').innerText()).toBe('as a ball');
    await ways.getByRole('button', { name: 'as a pillar' }).click();
    const plan = (await studio.page.locator('nw-board.plan').boundingBox())!;
    await studio.drag(plan.x + plan.width * 0.3, plan.y + plan.height * 0.3, 60, 40);
    await studio.saved();
    expect(await studio.page.locator('nw-thing-panel').innerText()).toMatch(/cylinder/);
    await studio.press('Control+z');
  });

  it('finds a stencil by what others call it', async () => {
    expect(await found('pressure')).toEqual(['Draw: plate']);
    await studio.press('Escape');
    await studio.page.locator('nz-modal-container').waitFor({ state: 'detached' });
  });

  it('finds a thing by its name, in whichever room it is, and takes it in hand', async () => {
    await found('millstone');
    await studio.press('Enter');
    expect(await studio.page.locator('nw-thing-panel nw-name-field input').inputValue()).toBe('Millstone');
    expect(await found('sack opens')).toEqual([expect.stringContaining('The sack opens the sluice')]);
    await studio.press('Enter');
    await studio.page.locator('nw-wire-view').waitFor();
  });

  it('is offered only what can be done here, and nothing when nothing is called that', async () => {
    expect(await found('tick')).toEqual([]);
    await studio.page.getByText('No matches.').waitFor();
    await studio.press('Escape');
    await studio.go('rehearse');
    expect((await found('tick')).length).toBeGreaterThanOrEqual(2);
    await studio.press('Escape');
  });

  it('reads every key in one place', async () => {
    await studio.go('draw');
    await studio.press('?');
    const help = await studio.page.getByRole('dialog').innerText();
    for (const said of ['Ctrl K', 'Undo', 'Draw: zone', 'Make a new chain', 'The next entry']) expect(help).toContain(said);
    await studio.press('Escape');
    // Closed, it gives the focus back to where it was.
    await studio.page.locator('nz-modal-container').waitFor({ state: 'detached' });
  });

  it('gets through the board without a pointer, in the order of reading, and lets a drag go with Escape', async () => {
    await studio.page.locator('nw-draw-view .canvas').focus();
    await studio.press('.');
    const first = await studio.page.locator('[data-thing].chosen').getAttribute('data-thing');
    await studio.press('.');
    await studio.page.locator(`[data-thing].chosen:not([data-thing="${first}"])`).waitFor({ state: 'attached' });
    await studio.press(',');
    await studio.page.locator(`[data-thing="${first}"].chosen`).waitFor({ state: 'attached' });
    await studio.press('Escape');
    await studio.saved();
    const before = (await studio.stored()).revision;
    const box = (await studio.page.locator('[data-thing="doorstep"]').boundingBox())!;
    await studio.page.mouse.move(box.x + 16, box.y + 14);
    await studio.page.mouse.down();
    await studio.page.mouse.move(box.x + 90, box.y + 60);
    await studio.page.mouse.move(box.x + 110, box.y + 70);
    await studio.page.getByText('Base centre at').waitFor();
    await studio.page.keyboard.press('Escape');
    await studio.page.mouse.up();
    await studio.page.waitForTimeout(800);
    expect((await studio.stored()).revision).toBe(before);
    expect(studio.complaints).toEqual([]);
  });
});

describe('What a button does is said beside it', () => {
  const tip = () => studio.page.locator('.tip .ant-tooltip-inner');

  it('while the pointer rests on it, and no longer', async () => {
    await studio.openDemo();
    const measure = studio.page.getByRole('button', { name: 'Measure', exact: true });
    await measure.hover();
    await tip().waitFor();
    expect(await tip().innerText()).toContain('(T)');
    // It is put in its place with the next picture.
    await studio.settled();
    const [said, button] = [await tip().boundingBox(), await measure.boundingBox()];
    expect(Math.abs(said!.x + said!.width / 2 - button!.x - button!.width / 2)).toBeLessThan(60);
    expect(Math.min(Math.abs(said!.y - button!.y - button!.height), Math.abs(said!.y + said!.height - button!.y))).toBeLessThan(
      20,
    );
    await studio.page.mouse.move(600, 300);
    await tip().waitFor({ state: 'hidden' });
  });

  it('when it is reached by the keyboard, until Escape', async () => {
    await studio.page.getByRole('button', { name: 'Set pieces…' }).focus();
    await studio.page.keyboard.press('Tab');
    await tip().filter({ hasText: 'Draw: zone (Z)' }).waitFor();
    expect(await studio.page.locator(':focus').getAttribute('aria-description')).toBe('Draw: zone (Z)');
    await studio.page.keyboard.press('Escape');
    await tip().waitFor({ state: 'hidden' });
  });

  it('and the slider of time keeps the focus while its value changes', async () => {
    await studio.page.getByRole('navigation', { name: 'Views' }).getByRole('link', { name: 'rehearse' }).click();
    const time = studio.page.getByRole('slider', { name: 'Time' });
    await slideTo(time, 60);
    expect(await time.getAttribute('aria-valuetext')).toBe('1.00 seconds');
    await studio.press('ArrowLeft');
    expect([await time.getAttribute('aria-valuenow'), await studio.page.getByTestId('time').innerText()]).toEqual([
      '59',
      expect.stringContaining('tick 59 '),
    ]);
    const { x, y, width, height } = (await time.boundingBox())!;
    await studio.page.mouse.click(x + width / 2, y + height / 2);
    await studio.press('Home');
    expect(await time.getAttribute('aria-valuenow')).toBe('0');
    await studio.page.keyboard.press('Tab');
    expect(await time.evaluate((one) => one.contains(document.activeElement))).toBe(false);
  });
});
