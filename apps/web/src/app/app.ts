import { OverlayContainer } from '@angular/cdk/overlay';
import { ChangeDetectionStrategy, Component, inject } from '@angular/core';
import { RouterOutlet } from '@angular/router';
import { KeptFocus } from './studio/kept-focus';
import { Theme } from './studio/theme';
import { Tips } from './studio/tips';

@Component({
  selector: 'nw-app',
  imports: [RouterOutlet, Tips],
  template: '<router-outlet /><nw-tips />',
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class App {
  constructor() {
    inject(Theme);
    inject(KeptFocus);
    // What lies over the page is a part of it too, for those who go through it by its parts.
    const over = inject(OverlayContainer).getContainerElement();
    over.setAttribute('role', 'region');
    over.setAttribute('aria-label', 'Open lists and dialogs');
  }
}
