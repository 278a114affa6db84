import { ChangeDetectionStrategy, Component, DestroyRef, effect, inject } from '@angular/core';
import { Editor } from '../state/editor';

/** The least time a notice is shown, and the time added per character, in milliseconds. */
const LEAST = 6000;
const EACH = 60;

/** What was just done, or could not be, in words: over the foot of the page, so that nothing moves under the hand; it goes by itself. */
@Component({
  selector: 'nw-passing-notice',
  template: `@if (editor.notice(); as said) {
    <p class="notice" (pointerenter)="stay()" (pointerleave)="pass()" (focusin)="stay()" (focusout)="pass()">
      {{ said }} <button type="button" class="button bare" (click)="editor.say(null)">Dismiss</button>
    </p>
  }`,
  styles: `
    :host {
      position: fixed;
      z-index: 5;
      inset: auto 0 10px;
      display: flex;
      justify-content: center;
      pointer-events: none;
    }
    .notice {
      max-width: min(72ch, 92vw);
      margin: 0;
      padding: 6px 16px;
      background: var(--wash-blue);
      border: 1px solid var(--ink-soft);
      border-left-width: 4px;
      pointer-events: auto;
    }
  `,
  host: { role: 'status' },
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class PassingNotice {
  protected readonly editor = inject(Editor);
  private timer: ReturnType<typeof setTimeout> | undefined;

  constructor() {
    effect(() => {
      this.editor.notice();
      this.pass();
    });
    inject(DestroyRef).onDestroy(() => this.stay());
  }

  /** The notice stays while the pointer or the focus is on it. */
  protected stay(): void {
    clearTimeout(this.timer);
  }

  protected pass(): void {
    this.stay();
    const said = this.editor.notice();
    if (said !== null) this.timer = setTimeout(() => this.editor.say(null), LEAST + EACH * said.length);
  }
}
