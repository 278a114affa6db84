import { Directive, ElementRef, inject, input } from '@angular/core';
import { NgModel } from '@angular/forms';
import { NzSliderComponent } from 'ng-zorro-antd/slider';

/**
 * A slider for everybody: it has a name, says its value, and is one stop of the keyboard, which stays in hand while the value
 * changes. The handle inside of it is made anew with each value, so it is the slider that is focused and spoken of.
 */
@Directive({
  selector: 'nz-slider[nwSlider]',
  host: {
    role: 'slider',
    tabindex: '0',
    '[attr.aria-label]': 'nwSlider()',
    '[attr.aria-valuemin]': 'slider.nzMin',
    '[attr.aria-valuemax]': 'slider.nzMax',
    '[attr.aria-valuenow]': 'now()',
    '[attr.aria-valuetext]': 'says()',
    '(focusin)': 'keepFocus($event)',
    '(keydown)': 'onKey($event)',
  },
})
export class SliderName {
  readonly nwSlider = input.required<string>();
  /** Its value, and how that is said. */
  readonly now = input.required<number>();
  readonly says = input.required<string>();
  protected readonly slider = inject(NzSliderComponent);
  private readonly model = inject(NgModel);
  private readonly host = inject<ElementRef<HTMLElement>>(ElementRef).nativeElement;

  constructor() {
    const out = (): void =>
      this.host.querySelectorAll('.ant-slider-handle[tabindex="0"]').forEach((one) => one.setAttribute('tabindex', '-1'));
    new MutationObserver(out).observe(this.host, { childList: true, subtree: true });
  }

  protected keepFocus({ target }: FocusEvent): void {
    if (target !== this.host) this.host.focus();
  }

  /** What the arrow keys are to small steps these are to large ones. */
  protected onKey(event: KeyboardEvent): void {
    const { nzMin, nzMax } = this.slider;
    const page = Math.max(1, Math.round((nzMax - nzMin) / 10));
    // What the last key came to, also before it is drawn.
    const now = Number(this.model.viewModel);
    const to = { Home: nzMin, End: nzMax, PageUp: now + page, PageDown: now - page }[event.key];
    if (to === undefined) return;
    event.preventDefault();
    const value = Math.min(nzMax, Math.max(nzMin, to));
    this.model.control.setValue(value);
    this.model.viewToModelUpdate(value);
  }
}
