import { CdkMenu, CdkMenuItem, CdkMenuTrigger } from '@angular/cdk/menu';
import type { ConnectedPosition } from '@angular/cdk/overlay';
import { ChangeDetectionStrategy, Component, inject, input } from '@angular/core';
import type { Offer } from '@nettlewick/core';
import { RevealedFields } from './revealed-fields';

/** What more can be said here, in words: one that is chosen is said, and its value typed next. */
@Component({
  selector: 'nw-more',
  imports: [CdkMenu, CdkMenuItem, CdkMenuTrigger],
  template: `
    @if (offers().length > 0) {
      <button
        type="button"
        class="button bare small more"
        [cdkMenuTriggerFor]="list"
        [cdkMenuPosition]="positions"
        [attr.aria-label]="'More options for ' + about()"
      >
        More…
      </button>
      <ng-template #list>
        <div class="menu" cdkMenu>
          @for (offer of offers(); track offer.label) {
            <button type="button" cdkMenuItem (cdkMenuItemTriggered)="asked.take(thing(), prefix(), offer)">
              {{ offer.label }}
            </button>
          }
        </div>
      </ng-template>
    }
  `,
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class MoreMenu {
  readonly offers = input.required<Offer[]>();
  readonly thing = input.required<string>();
  readonly prefix = input('');
  /** What is spoken of, for those who do not see where the button stands. */
  readonly about = input('this');
  protected readonly asked = inject(RevealedFields);
  protected readonly positions: ConnectedPosition[] = [
    { originX: 'start', originY: 'bottom', overlayX: 'start', overlayY: 'top' },
    { originX: 'start', originY: 'top', overlayX: 'start', overlayY: 'bottom' },
    { originX: 'end', originY: 'bottom', overlayX: 'end', overlayY: 'top' },
  ];
}
