import { Directive, ElementRef, afterEveryRender, inject, input } from '@angular/core';

/** Gives the search field inside of a list the name of the list: for those who hear it, it is the field that is in hand. */
@Directive({ selector: 'nz-select[nwNamed]' })
export class Named {
  readonly nwNamed = input.required<string>();

  constructor() {
    const host = inject<ElementRef<HTMLElement>>(ElementRef).nativeElement;
    afterEveryRender(() => {
      const field = host.querySelector('input');
      if (field !== null && field.getAttribute('aria-label') !== this.nwNamed()) field.setAttribute('aria-label', this.nwNamed());
    });
  }
}
