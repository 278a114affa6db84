import { DOCUMENT } from '@angular/common';
import { ChangeDetectionStrategy, ChangeDetectorRef, Component, DestroyRef, inject, signal } from '@angular/core';
import { NzTooltipModule } from 'ng-zorro-antd/tooltip';

/**
 * The tip of whatever has one, and is pointed at or reached by the keyboard: one for the whole studio, however many buttons there are.
 * It is put away by Escape, by pressing what it is about, and by going on.
 */
@Component({
  selector: 'nw-tips',
  imports: [NzTooltipModule],
  template: `<span
    nz-tooltip
    aria-hidden="true"
    nzTooltipOverlayClassName="tip"
    nzTooltipPlacement="bottom"
    [nzTooltipTrigger]="null"
    [nzTooltipTitle]="says()"
    [style.left.px]="where().left"
    [style.top.px]="where().top"
    [style.width.px]="where().width"
    [style.height.px]="where().height"
    [nzTooltipVisible]="visible()"
  ></span>`,
  // As large as what the tip is about, and over it.
  styles: `
    span {
      position: fixed;
      pointer-events: none;
    }
  `,
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class Tips {
  protected readonly says = signal('');
  protected readonly where = signal({ left: 0, top: 0, width: 0, height: 0 });
  protected readonly visible = signal(false);
  private about: HTMLElement | null = null;
  private due: ReturnType<typeof setTimeout> | undefined;

  constructor() {
    const document = inject(DOCUMENT);
    const over = new AbortController();
    const listen = <K extends keyof DocumentEventMap>(kind: K, act: (event: DocumentEventMap[K]) => void): void =>
      document.addEventListener(kind, act, { signal: over.signal, capture: true, passive: true });
    listen('pointerover', ({ target, pointerType }) => pointerType === 'touch' || this.lookAt(target, PAUSE));
    listen(
      'focusin',
      ({ target }) => target instanceof HTMLElement && target.matches(':focus-visible') && this.lookAt(target, 0),
    );
    listen('focusout', () => this.putAway());
    listen('pointerdown', () => this.putAway());
    listen('wheel', () => this.putAway());
    const changes = inject(ChangeDetectorRef);
    listen('keydown', ({ key }) => {
      if (key === 'Shift') return;
      const wasVisible = this.visible();
      this.putAway();
      // At once: what lies over the page takes Escape for itself, which is meant for what is being done.
      if (wasVisible) changes.detectChanges();
    });
    inject(DestroyRef).onDestroy(() => {
      over.abort();
      clearTimeout(this.due);
    });
  }

  private lookAt(target: EventTarget | null, pause: number): void {
    const element = target instanceof Element ? target.closest<HTMLElement>('[data-tip]') : null;
    if (element === this.about && this.due !== undefined) return;
    this.putAway();
    const tip = element?.dataset['tip'] ?? '';
    if (element === null || tip === '') return;
    this.about = element;
    this.due = setTimeout(() => {
      this.says.set(element.dataset['tip'] ?? '');
      const { left, top, width, height } = element.getBoundingClientRect();
      this.where.set({ left, top, width, height });
      this.visible.set(element.isConnected);
    }, pause);
  }

  private putAway(): void {
    clearTimeout(this.due);
    this.due = undefined;
    this.about = null;
    if (this.visible()) this.visible.set(false);
  }
}

/** How long the pointer rests before anything is said, in milliseconds. */
const PAUSE = 400;
