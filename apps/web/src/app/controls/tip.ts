import { Directive, input } from '@angular/core';

/** What a button does, and its keys: shown beside it by `Tips`, and told to who does not see it. */
@Directive({ selector: '[nwTip]', host: { '[attr.data-tip]': 'nwTip()', '[attr.aria-description]': 'nwTip()' } })
export class Tip {
  readonly nwTip = input.required<string>();
}
