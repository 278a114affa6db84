import { DestroyRef, Directive, ElementRef, afterEveryRender, inject, input } from '@angular/core';
import { NzSelectComponent } from 'ng-zorro-antd/select';

/**
 * Gives the search field inside a list the name of the list, because a screen reader announces the field. An open list that scrolls can be
 * reached by the keyboard.
 */
@Directive({ selector: 'nz-select[nwNamed]' })
export class SearchLabel {
  readonly nwNamed = input.required<string>();

  constructor() {
    const host = inject<ElementRef<HTMLElement>>(ElementRef).nativeElement;
    const opened = inject(NzSelectComponent).nzOpenChange.subscribe((isOpen) => {
      if (isOpen)
        setTimeout(() =>
          document.querySelector('.cdk-overlay-container cdk-virtual-scroll-viewport')?.setAttribute('tabindex', '0'),
        );
    });
    inject(DestroyRef).onDestroy(() => opened.unsubscribe());
    afterEveryRender(() => {
      const field = host.querySelector('input');
      if (field !== null && field.getAttribute('aria-label') !== this.nwNamed()) field.setAttribute('aria-label', this.nwNamed());
    });
  }
}
