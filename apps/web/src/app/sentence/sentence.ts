import { ChangeDetectionStrategy, Component, input } from '@angular/core';
import type { Phrase } from '@nettlewick/core';
import { Value } from './value';

/** A sentence about a thing, whose values are edited where they stand. */
@Component({
  selector: 'nw-sentence',
  imports: [Value],
  template: `@for (part of phrase(); track isText(part) ? $index : part.path) {
    @if (isText(part)) {
      <span>{{ part }}</span>
    } @else {
      <nw-value [slot]="part" [thing]="thing()" [prefix]="prefix()" />
    }
  }`,
  styles: `
    :host {
      font-family: var(--face-prose);
      white-space: pre-wrap;
    }
  `,
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class Sentence {
  readonly phrase = input.required<Phrase>();
  /** The id of the thing that the sentence is about. */
  readonly thing = input.required<string>();
  /** What stands before the paths of the sentence, within the thing: `causes.0.` */
  readonly prefix = input('');

  protected isText(part: Phrase[number]): part is string {
    return typeof part === 'string';
  }
}
