import { ChangeDetectionStrategy, Component, computed, input, model } from '@angular/core';

/** Which part of a long list is shown, and the way to the parts before and after; nothing where all of it is. */
@Component({
  selector: 'nw-pager',
  template: `
    @if (total() > size()) {
      <button
        type="button"
        class="button small"
        [attr.aria-label]="'Previous ' + what()"
        [disabled]="first() === 0"
        (click)="at.set(first() - size())"
      >
        ‹
      </button>
      <span class="quiet" aria-live="polite">{{ what() }} {{ first() + 1 }}–{{ last() }} of {{ total() }}</span>
      <button
        type="button"
        class="button small"
        [attr.aria-label]="'Next ' + what()"
        [disabled]="last() === total()"
        (click)="at.set(first() + size())"
      >
        ›
      </button>
    }
  `,
  styles: `
    :host {
      display: inline-flex;
      align-items: center;
      gap: 4px;
      white-space: nowrap;
      font: 13px var(--face-label);
    }
    :host:empty {
      display: none;
    }
  `,
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class Pager {
  /** What is listed, in the plural. */
  readonly what = input.required<string>();
  readonly total = input.required<number>();
  /** How many are shown at once. */
  readonly size = input.required<number>();
  /** The first that is shown, from 0; what is beyond the end stands for the last part. */
  readonly at = model.required<number>();
  protected readonly first = computed(() => firstOf(this.at(), this.total(), this.size()));
  protected readonly last = computed(() => Math.min(this.total(), this.first() + this.size()));
}

/** The part of a list that is shown. */
export function partOf<T>(list: readonly T[], at: number, size: number): T[] {
  const first = firstOf(at, list.length, size);
  return list.slice(first, first + size);
}

/** The first of the part of a list that is shown: a list that has become shorter is shown from its last part on. */
export function firstOf(at: number, total: number, size: number): number {
  return Math.max(0, Math.min(at, Math.floor((total - 1) / size) * size));
}
