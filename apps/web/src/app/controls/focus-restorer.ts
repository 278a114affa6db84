import { DestroyRef, Injectable, inject } from '@angular/core';

/** What the keyboard can reach. */
const REACHABLE =
  'button:not(:disabled), a[href], input:not(:disabled), select:not(:disabled), textarea:not(:disabled), [tabindex]:not([tabindex="-1"])';
/** The delay before the focus is restored, in milliseconds: elements that are recreated, or that take the focus, come first. */
const RESTORE_DELAY_MS = 60;

/** The number of neighbours remembered on each side. */
const NEIGHBOURS = 8;

/** What had the focus, and what stood beside it: beside itself first, then beside what it was in. */
interface Kept {
  element: Element;
  beside: Element[];
  /** Whether it lay in a dialog or a list over the page. */
  over: boolean;
}

/**
 * Keeps the focus on the page: when what has it goes away, or can no longer be pressed, it goes to what stood nearest, and not back to the
 * beginning of the page. Only for whoever works by keyboard: after a press with the pointer, keys are meant for the whole place.
 */
@Injectable({ providedIn: 'root' })
export class FocusRestorer {
  constructor() {
    let kept: Kept | null = null;
    /** What had it before it went into a dialog or a list that lies over the page. */
    let under: Kept | null = null;
    let byKeyboard = false;
    let timer: ReturnType<typeof setTimeout> | undefined;
    const give = (): void => {
      const { activeElement, body } = document;
      const isHeld = activeElement !== null && activeElement !== body && activeElement !== kept?.element;
      if (kept === null || isHeld || !isGone(kept.element)) return;
      const beneath = under === null ? [] : [under.element, ...under.beside];
      const near = kept.over ? [...kept.beside.filter(isOver), ...beneath] : kept.beside;
      const next = near.map(reachableIn).find((one) => one !== null);
      kept = null;
      (next ?? document.querySelector<HTMLElement>('main'))?.focus();
    };
    const observer = new MutationObserver(() => {
      if (kept === null || !byKeyboard || !isGone(kept.element)) return;
      clearTimeout(timer);
      timer = setTimeout(give, RESTORE_DELAY_MS);
    });
    observer.observe(document.body, { childList: true, subtree: true, attributeFilter: ['disabled'] });
    const ending = new AbortController();
    const listen = (name: string, does: (event: Event) => void): void =>
      addEventListener(name, does, { capture: true, signal: ending.signal });
    // A key counts for what has the focus. Pressed elsewhere, it does not make what was pressed with the pointer the keyboard's.
    listen('keydown', ({ target }) => (byKeyboard = target instanceof Node && kept?.element.contains(target) === true));
    listen('pointerdown', () => (byKeyboard = false));
    listen('focusin', ({ target }) => {
      const now = target instanceof Element && target !== document.body ? keptOf(target) : null;
      if (now?.over !== true) under = null;
      else if (kept?.over === false) under = kept;
      kept = now;
    });
    inject(DestroyRef).onDestroy(() => {
      ending.abort();
      observer.disconnect();
      clearTimeout(timer);
    });
  }
}

/** What stands beside an element and beside all that it is in, as far as the place that is shown; the nearest first. */
function keptOf(element: Element): Kept {
  const beside: Element[] = [];
  for (let at: Element | null = element; at !== null && !at.matches('main, body'); at = at.parentElement) {
    let [next, before]: (Element | null)[] = [at, at];
    for (let i = 0; i < NEIGHBOURS; i++) {
      next = next?.nextElementSibling ?? null;
      before = before?.previousElementSibling ?? null;
      for (const one of [next, before]) if (one !== null) beside.push(one);
    }
  }
  return { element, beside, over: isOver(element) };
}

/** Whether something lies in a dialog or a list over the page, as long as it is there. */
function isOver(element: Element): boolean {
  return element.closest('.cdk-overlay-container') !== null;
}

function isGone(element: Element): boolean {
  return !element.isConnected || element.matches(':disabled');
}

/** What the keyboard can reach first in an element that is still there; null for nothing. */
function reachableIn(element: Element): HTMLElement | null {
  if (!element.isConnected) return null;
  const found = element.matches(REACHABLE) ? element : element.querySelector(REACHABLE);
  // Where nothing is laid out, everything counts as seen.
  return found instanceof HTMLElement && (found.checkVisibility?.() ?? true) ? found : null;
}
