import { ChangeDetectionStrategy, Component, ElementRef, computed, effect, inject, input, signal } from '@angular/core';
import { readPreference, writePreference } from '../state/preferences';

/** The least share of a pane that is shown, in hundredths; less closes it. */
const MIN_SHARE = 16;
const STEP = 2;

/**
 * The line between two panes, moved by dragging or by the arrow keys. The second pane takes a share of their parent, which is set there
 * as `--pane-NAME`, in hundredths; Home and End give everything to one of them (`data-pane-NAME="first"` or `"second"`). This browser
 * remembers it. Enter and a double click bring back the usual share, which is the style sheet's.
 */
@Component({
  selector: 'nw-pane-divider',
  template: '',
  host: {
    role: 'separator',
    tabindex: '0',
    '[class.across]': 'across()',
    '[attr.aria-orientation]': "across() ? 'horizontal' : 'vertical'",
    '[attr.aria-label]': 'label()',
    '[attr.aria-valuenow]': 'shown()',
    'aria-valuemin': '0',
    'aria-valuemax': '100',
    '[attr.aria-valuetext]': 'spoken()',
    'data-tip': 'Drag, or use the arrow keys. Home and End close a pane, Enter resets',
    '(focus)': 'measure()',
    '(pointerdown)': 'grab($event)',
    '(pointermove)': 'follow($event)',
    '(dblclick)': 'give(null)',
    '(keydown)': 'key($event)',
  },
  styles: `
    :host {
      display: block;
      width: 7px;
      background: var(--sheet);
      border-left: 1px solid var(--line);
      cursor: ew-resize;
      touch-action: none;
    }
    :host(.across) {
      width: auto;
      height: 7px;
      flex: none;
      border-left: 0;
      border-top: 1px solid var(--line);
      cursor: ns-resize;
    }
    :host(:hover),
    :host(:focus-visible) {
      background: var(--ink-soft);
    }
    @media (max-width: 860px) {
      :host {
        display: none;
      }
    }
  `,
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class PaneDivider {
  /** Under which it is remembered. */
  readonly name = input.required<string>();
  readonly label = input.required<string>();
  /** Whether it lies between an upper and a lower pane. */
  readonly across = input(false);
  private readonly line = inject<ElementRef<HTMLElement>>(ElementRef).nativeElement;
  /** The share of the second pane in hundredths; null for the usual one. */
  private readonly share = signal<number | null>(null);
  private readonly measured = signal(50);
  protected readonly shown = computed(() => this.share() ?? this.measured());
  protected readonly spoken = computed(() => {
    if (this.share() === 0) return 'second pane closed';
    return this.share() === 100 ? 'first pane closed' : `second pane ${this.shown()} %`;
  });

  constructor() {
    effect(() => {
      const kept = readPreference(`pane-${this.name()}`);
      this.share.set(kept === null || kept === '' || Number.isNaN(Number(kept)) ? null : within(Number(kept)));
    });
    effect(() => {
      const parent = this.line.parentElement!;
      const share = this.share();
      if (share === null) parent.style.removeProperty(`--pane-${this.name()}`);
      else parent.style.setProperty(`--pane-${this.name()}`, `${share}%`);
      const isClosed = share === 0 || share === 100;
      if (isClosed) parent.setAttribute(`data-pane-${this.name()}`, share === 0 ? 'first' : 'second');
      else parent.removeAttribute(`data-pane-${this.name()}`);
    });
  }

  protected give(share: number | null): void {
    this.share.set(share === null ? null : within(share));
    writePreference(`pane-${this.name()}`, String(this.share() ?? ''));
    if (share === null) setTimeout(() => this.measure());
  }

  protected grab({ pointerId }: PointerEvent): void {
    this.line.setPointerCapture(pointerId);
  }

  protected follow({ buttons, clientX, clientY }: PointerEvent): void {
    if (buttons !== 1 || !this.line.parentElement) return;
    const { right, bottom, width, height } = this.line.parentElement.getBoundingClientRect();
    this.give(Math.round((this.across() ? (bottom - clientY) / height : (right - clientX) / width) * 100));
  }

  protected key(event: KeyboardEvent): void {
    const step = STEP * (event.shiftKey ? 5 : 1);
    const [more, less] = this.across() ? ['ArrowUp', 'ArrowDown'] : ['ArrowLeft', 'ArrowRight'];
    this.measure();
    // From a closed pane, the first step opens it again.
    const to: Partial<Record<string, number | null>> = {
      [more!]: this.shown() === 0 ? MIN_SHARE : this.shown() + step,
      [less!]: this.shown() === 100 ? 100 - MIN_SHARE : this.shown() - step,
      Home: 100,
      End: 0,
      Enter: null,
    };
    const share = to[event.key];
    if (share === undefined) return;
    event.preventDefault();
    event.stopPropagation();
    this.give(share);
  }

  /** How much the second pane takes now, where nothing was chosen. */
  protected measure(): void {
    const parent = this.line.parentElement!.getBoundingClientRect();
    const own = this.line.getBoundingClientRect();
    const share = this.across() ? (parent.bottom - own.bottom) / parent.height : (parent.right - own.right) / parent.width;
    this.measured.set(Math.round(share * 100));
  }
}

/** A share in hundredths that shows both panes, or all of one. */
function within(share: number): number {
  if (share < MIN_SHARE) return share < MIN_SHARE / 2 ? 0 : MIN_SHARE;
  if (share > 100 - MIN_SHARE) return share > 100 - MIN_SHARE / 2 ? 100 : 100 - MIN_SHARE;
  return share;
}
