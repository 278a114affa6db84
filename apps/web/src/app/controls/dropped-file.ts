import { DOCUMENT, Injectable, inject } from '@angular/core';
import { Router } from '@angular/router';
import { patchState, signalState } from '@ngrx/signals';

/** What becomes of a file that is let go of where nothing else takes it. */
const USUALLY = 'open as a new level';

/**
 * A file that is dragged over the page, and let go of: anywhere, for it is opened as a new level, on the first screen, which
 * says what is wrong with it if something is. The browser would show it in place of the page. What takes files itself says what
 * becomes of them there, in `data-takes`.
 */
@Injectable({ providedIn: 'root' })
export class DroppedFile {
  private readonly state = signalState<{ becomes: string | null; waiting: readonly File[] }>({ becomes: null, waiting: [] });
  readonly becomes = this.state.becomes;
  readonly waiting = this.state.waiting;
  constructor() {
    const page = inject(DOCUMENT);
    const router = inject(Router);
    page.addEventListener('dragover', (event) => {
      if (event.dataTransfer?.types.includes('Files') !== true) return;
      event.preventDefault();
      const over = event.target instanceof Element ? event.target.closest<HTMLElement>('[data-takes]') : null;
      patchState(this.state, { becomes: over?.dataset['takes'] ?? USUALLY });
    });
    page.addEventListener('dragleave', (event) => {
      if (event.relatedTarget === null) patchState(this.state, { becomes: null });
    });
    page.addEventListener('drop', (event) => {
      const file = event.dataTransfer?.files[0];
      patchState(this.state, { becomes: null });
      if (file === undefined || event.defaultPrevented) return;
      event.preventDefault();
      patchState(this.state, { waiting: [file] });
      void router.navigateByUrl('/');
    });
  }

  /** The file that waits to be opened, which then waits no more. */
  taken(): File | undefined {
    const [file] = this.waiting();
    if (file !== undefined) patchState(this.state, { waiting: [] });
    return file;
  }
}
