import { select } from 'd3-selection';
import { zoom, zoomIdentity } from 'd3-zoom';
import type { D3ZoomEvent, ZoomTransform } from 'd3-zoom';
import { scales } from './viewport';
import type { Viewport } from './viewport';
import type { Point } from '@nettlewick/core';

/** Where a pointer is: in pixels of the board, with what it was pressed on. */
export interface Hand {
  at: Point;
  event: PointerEvent;
}

/** What a board makes of the gestures on it. */
export interface Gestured {
  /** Whether a press with this pointer pans the board instead of drawing or moving. */
  pans(hand: Hand): boolean;
  pressed(hand: Hand, pans: boolean): void;
  moved(hand: Hand): void;
  released(hand: Hand): void;
  /** What was begun is not to be: a second finger came, or the pointer was taken away. */
  cancelled(): void;
  left(): void;
  /** The view moves. */
  viewMoved(panning: boolean): void;
}

/** By which power of two a turn of the wheel zooms. */
export function wheelDelta({ deltaY, deltaMode }: WheelEvent): number {
  return -deltaY * (deltaMode === 1 ? 16 : 1) * 0.00216;
}

/**
 * Pointer, wheel and pinch on an element as one small set of gestures. Wheel, pinch and panning are those of d3-zoom, kept in step
 * with the viewport; all else is a press that is moved and released, or cancelled. Gives what takes the listeners away.
 */
export function gesturesOn(element: HTMLElement, viewport: Viewport, gestured: Gestured): () => void {
  let pressed: number | null = null;
  let pans = false;
  const hand = (event: PointerEvent): Hand => {
    const bounds = element.getBoundingClientRect();
    return { at: { x: event.clientX - bounds.left, y: event.clientY - bounds.top }, event };
  };
  const down = (event: PointerEvent): void => {
    if (event.button > 1 || !event.isPrimary) return;
    element.focus({ preventScroll: true });
    pans = event.button === 1 || gestured.pans(hand(event));
    pressed = event.pointerId;
    element.setPointerCapture(event.pointerId);
    if (event.button === 0) gestured.pressed(hand(event), pans);
  };
  const move = (event: PointerEvent): void => gestured.moved(hand(event));
  const up = (event: PointerEvent): void => {
    if (event.pointerId !== pressed) return;
    pressed = null;
    gestured.released(hand(event));
  };
  const cancel = (event: PointerEvent): void => {
    if (event.pointerId !== pressed) return;
    pressed = null;
    gestured.cancelled();
  };

  const now = (): ZoomTransform => {
    const { width, height } = viewport.size();
    const { x, y } = viewport.center();
    const scale = viewport.scale();
    return zoomIdentity.translate(width / 2 - x * scale, height / 2 + y * scale).scale(scale);
  };
  const behaviour = zoom<HTMLElement, unknown>()
    .scaleExtent([...scales])
    .filter((event: MouseEvent | TouchEvent | WheelEvent) => {
      // The view is also moved by keys and buttons: a gesture begins where it is now.
      (element as HTMLElement & { __zoom: ZoomTransform }).__zoom = now();
      if (event.type === 'wheel') return true;
      if (event.type === 'dblclick') return false;
      if ('touches' in event) return event.touches.length > 1 || pans;
      return pans;
    })
    .wheelDelta(wheelDelta)
    .on('zoom', (event: D3ZoomEvent<HTMLElement, unknown>) => {
      const { x, y, k } = event.transform;
      const { width, height } = viewport.size();
      viewport.scale.set(k);
      viewport.center.set({ x: (width / 2 - x) / k, y: (y - height / 2) / k });
      const source = event.sourceEvent as Event | null;
      gestured.viewMoved(source !== null && source.type !== 'wheel');
      if (source !== null && 'touches' in source && (source as TouchEvent).touches.length > 1 && pressed !== null && !pans) {
        pressed = null;
        gestured.cancelled();
      }
    });
  // Pointers first: whether a press pans is asked before d3-zoom hears of the same press as a mouse or a touch.
  const listening = new AbortController();
  const { signal } = listening;
  element.addEventListener('pointerdown', down, { signal });
  element.addEventListener('pointermove', move, { signal });
  element.addEventListener('pointerup', up, { signal });
  element.addEventListener('pointercancel', cancel, { signal });
  element.addEventListener('pointerleave', () => gestured.left(), { signal });
  // A finger that moves something stays ours when a second one comes.
  element.addEventListener('touchmove', (event) => event.cancelable && event.preventDefault(), { signal, passive: false });
  element.addEventListener('contextmenu', (event) => event.preventDefault(), { signal });
  const chosen = select<HTMLElement, unknown>(element).call(behaviour);
  return () => {
    chosen.on('.zoom', null);
    listening.abort();
  };
}
