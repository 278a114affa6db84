import { Directive, inject } from '@angular/core';
import { takeUntilDestroyed } from '@angular/core/rxjs-interop';
import { NzModalComponent } from 'ng-zorro-antd/modal';

/** Names the dialog of a modal by its title for those who do not see it; the component itself leaves it without a name. */
@Directive({ selector: 'nz-modal[nzTitle]' })
export class DialogName {
  constructor() {
    const modal = inject(NzModalComponent);
    modal.nzAfterOpen.pipe(takeUntilDestroyed()).subscribe(() => {
      const dialog = [...document.querySelectorAll('nz-modal-container')].at(-1);
      dialog?.setAttribute('aria-label', String(modal.nzTitle ?? ''));
    });
  }
}
