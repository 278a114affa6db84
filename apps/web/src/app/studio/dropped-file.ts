import { DOCUMENT, Injectable, inject } from '@angular/core';
import { Router } from '@angular/router';
import { patchState, signalStore, withState } from '@ngrx/signals';

/**
 * A file that is dragged over the page, and let go of: anywhere, for it is opened as a level of its own, on the first screen, which
 * says what is wrong with it if something is. The browser would show it in place of the page.
 */
@Injectable({ providedIn: 'root' })
export class DroppedFile extends signalStore(
  { protectedState: false },
  withState<{ isOver: boolean; waiting: readonly File[] }>({ isOver: false, waiting: [] }),
) {
  constructor() {
    super();
    const page = inject(DOCUMENT);
    const router = inject(Router);
    page.addEventListener('dragover', (event) => {
      if (event.dataTransfer?.types.includes('Files') !== true) return;
      event.preventDefault();
      patchState(this, { isOver: true });
    });
    page.addEventListener('dragleave', (event) => {
      if (event.relatedTarget === null) patchState(this, { isOver: false });
    });
    page.addEventListener('drop', (event) => {
      const file = event.dataTransfer?.files[0];
      patchState(this, { isOver: false });
      if (file === undefined) return;
      event.preventDefault();
      patchState(this, { waiting: [file] });
      void router.navigateByUrl('/');
    });
  }

  /** The file that waits to be opened, which then waits no more. */
  taken(): File | undefined {
    const [file] = this.waiting();
    if (file !== undefined) patchState(this, { waiting: [] });
    return file;
  }
}
