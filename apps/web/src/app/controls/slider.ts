import { ChangeDetectionStrategy, Component, ElementRef, computed, inject, input, output, viewChild } from '@angular/core';
import { FormsModule, NgModel } from '@angular/forms';
import { NzSliderModule } from 'ng-zorro-antd/slider';

/**
 * A slider over whole numbers from 0, for everybody: it has a name, says its value, and is one stop of the keyboard, which stays in hand
 * while the value changes. The handle inside of it is made anew with each value, so it is the slider that is focused and spoken of.
 */
@Component({
  selector: 'nw-slider',
  imports: [FormsModule, NzSliderModule],
  template: `<nz-slider
    role="slider"
    tabindex="0"
    nzTooltipVisible="never"
    aria-valuemin="0"
    [attr.aria-label]="name()"
    [attr.aria-valuemax]="last()"
    [attr.aria-valuenow]="value()"
    [attr.aria-valuetext]="says()"
    [nzMin]="0"
    [nzMax]="last()"
    [ngModel]="value()"
    (ngModelChange)="slid.emit($event)"
    (focusin)="keepFocus($event)"
    (keydown)="onKey($event)"
  />`,
  styles: ':host { display: block; }',
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class Slider {
  readonly name = input.required<string>();
  readonly max = input.required<number>();
  readonly value = input.required<number>();
  /** How its value is said. */
  readonly says = input.required<string>();
  readonly slid = output<number>();
  private readonly model = viewChild.required(NgModel);
  protected readonly last = computed(() => Math.max(1, this.max()));

  constructor() {
    const host = inject<ElementRef<HTMLElement>>(ElementRef).nativeElement;
    const out = (): void =>
      host.querySelectorAll('.ant-slider-handle[tabindex="0"]').forEach((one) => one.setAttribute('tabindex', '-1'));
    new MutationObserver(out).observe(host, { childList: true, subtree: true });
  }

  protected keepFocus({ target, currentTarget }: FocusEvent): void {
    if (target !== currentTarget) (currentTarget as HTMLElement).focus();
  }

  /** What the arrow keys are to small steps these are to large ones. */
  protected onKey(event: KeyboardEvent): void {
    const last = this.last();
    const page = Math.max(1, Math.round(last / 10));
    const model = this.model();
    // What the last key came to, also before it is drawn.
    const now = Number(model.viewModel);
    const to = { Home: 0, End: last, PageUp: now + page, PageDown: now - page }[event.key];
    if (to === undefined) return;
    event.preventDefault();
    const value = Math.min(last, Math.max(0, to));
    model.control.setValue(value);
    model.viewToModelUpdate(value);
  }
}
