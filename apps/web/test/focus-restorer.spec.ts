import { TestBed } from '@angular/core/testing';
import { FocusRestorer } from '../src/app/controls/focus-restorer';

/** Whoever works by keyboard is never sent back to the beginning of the page. */

const get = (id: string): HTMLElement => document.getElementById(id)!;
const later = (): Promise<void> => new Promise((resolve) => setTimeout(resolve, 120));

beforeEach(() => {
  document.body.innerHTML = `
    <main tabindex="-1" id="place">
      <section id="sheet"><p><button id="mend">Mend it</button></p><h2>Connections</h2><ul><li><button id="open">Open</button></li></ul></section>
      <p><button id="undo">undo</button><button id="redo">redo</button></p>
    </main>`;
  TestBed.inject(FocusRestorer);
});

afterEach(() => TestBed.resetTestingModule());

function press(id: string, how: 'keydown' | 'pointerdown', does: () => void): void {
  get(id).focus();
  get(id).dispatchEvent(new Event(how, { bubbles: true }));
  does();
}

it('goes to what stood nearest when what had it is gone', async () => {
  press('mend', 'keydown', () => get('mend').parentElement!.remove());
  expect(document.activeElement).toBe(document.body);
  await later();
  expect(document.activeElement).toBe(get('open'));
});

it('goes on to the place when all about it is gone', async () => {
  press('mend', 'keydown', () => get('place').replaceChildren());
  await later();
  expect(document.activeElement).toBe(get('place'));
});

it('goes to what stands beside when what had it can no longer be pressed', async () => {
  press('undo', 'keydown', () => get('undo').setAttribute('disabled', ''));
  await later();
  expect(document.activeElement).toBe(get('redo'));
});

it('is left to whatever takes it meanwhile, and to a press with the pointer', async () => {
  press('mend', 'keydown', () => get('mend').parentElement!.remove());
  get('redo').focus();
  await later();
  expect(document.activeElement).toBe(get('redo'));
  press('open', 'pointerdown', () => get('open').parentElement!.remove());
  await later();
  expect(document.activeElement).toBe(document.body);
});

it('goes back beneath a dialog that is gone: to what had it, or to what stood beside that', async () => {
  const dialog = (): void => {
    document.body.insertAdjacentHTML(
      'beforeend',
      '<div class="cdk-overlay-container"><p><button id="yes">Yes</button><button id="no">No</button></p></div>',
    );
    get('no').focus();
  };
  get('undo').focus();
  dialog();
  press('yes', 'keydown', () => document.querySelector('.cdk-overlay-container')!.remove());
  await later();
  expect(document.activeElement).toBe(get('undo'));
  // What it went away from inside of the dialog stays inside.
  dialog();
  press('yes', 'keydown', () => get('yes').remove());
  await later();
  expect(document.activeElement).toBe(get('no'));
  // And where what had it is gone, too, with the dialog.
  press('no', 'keydown', () => {
    get('undo').remove();
    document.querySelector('.cdk-overlay-container')!.remove();
  });
  await later();
  expect(document.activeElement).toBe(get('redo'));
});

it('is not taken by a list that closes late, when keys are pressed in the place meanwhile', async () => {
  get('undo').focus();
  document.body.insertAdjacentHTML(
    'beforeend',
    '<div class="cdk-overlay-container"><p id="list" tabindex="0"><span id="option">Miller</span></p></div>',
  );
  get('list').focus();
  get('option').dispatchEvent(new Event('pointerdown', { bubbles: true }));
  get('list').blur();
  document.body.dispatchEvent(new Event('keydown', { bubbles: true }));
  document.querySelector('.cdk-overlay-container')!.remove();
  await later();
  expect(document.activeElement).toBe(document.body);
});
