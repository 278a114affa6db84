import { DestroyRef, Injectable, inject } from '@angular/core';

/** Whether a key was meant for the one who was asked. */
export type KeyHandler = (event: KeyboardEvent) => boolean;

/**
 * Keys pressed anywhere but in a field: the handlers are asked from the newest to the oldest, so that a place comes before
 * the studio around it. A handler ends with the component that added it.
 */
@Injectable()
export class Keys {
  private readonly handlers: KeyHandler[] = [];

  constructor() {
    const listen = (event: KeyboardEvent): void => {
      if (isTyping(event) || event.defaultPrevented) return;
      if (this.handlers.toReversed().some((handler) => handler(event))) event.preventDefault();
    };
    addEventListener('keydown', listen);
    inject(DestroyRef).onDestroy(() => removeEventListener('keydown', listen));
  }

  /** To be called while a component is being made. */
  handle(handler: KeyHandler): void {
    this.handlers.push(handler);
    inject(DestroyRef).onDestroy(() => this.handlers.splice(this.handlers.indexOf(handler), 1));
  }
}

function isTyping(event: KeyboardEvent): boolean {
  const target = event.target;
  if (!(target instanceof HTMLElement)) return false;
  if (target.closest('.ant-modal, .ant-drawer, .menu') !== null) return true;
  if (target instanceof HTMLInputElement) return target.type !== 'checkbox' && target.type !== 'range';
  return target instanceof HTMLTextAreaElement || target instanceof HTMLSelectElement || target.isContentEditable;
}
