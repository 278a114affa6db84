import { OverlayContainer } from '@angular/cdk/overlay';
import { ChangeDetectionStrategy, Component, inject } from '@angular/core';
import { RouterOutlet } from '@angular/router';
import { DroppedFile } from './controls/dropped-file';
import { FocusRestorer } from './controls/focus-restorer';
import { Theme } from './state/theme';
import { Tips } from './controls/tips';

@Component({
  selector: 'nw-app',
  imports: [RouterOutlet, Tips],
  template: `
    <router-outlet />
    <nw-tips />
    @if (dropped.becomes(); as what) {
      <p class="letting-go" role="status">Drop to {{ what }}</p>
    }
  `,
  styles: `
    .letting-go {
      position: fixed;
      inset: 8px;
      z-index: 2000;
      margin: 0;
      display: grid;
      place-items: end center;
      padding: 24px;
      outline: 3px dashed var(--pencil-blue);
      font: 600 16px var(--face-label);
      pointer-events: none;
    }
  `,
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class App {
  protected readonly dropped = inject(DroppedFile);

  constructor() {
    inject(Theme);
    inject(FocusRestorer);
    // What lies over the page is a part of it too, for those who go through it by its parts.
    const over = inject(OverlayContainer).getContainerElement();
    over.setAttribute('role', 'region');
    over.setAttribute('aria-label', 'Open lists and dialogs');
  }
}
