import { ChangeDetectionStrategy, Component, input } from '@angular/core';
import type { Figure } from './figures';
import type { View } from './viewport';

/** A thing as it stands on the board for those who do not see it: its name and kind, and where it is, as a style. */
export interface ReachedThing {
  id: string;
  kind: string;
  chosen: boolean;
  spoken: string;
  box: string;
}

/** Things on the board for those who do not see it, and for whoever looks for them by name: looked at again only when they change. */
@Component({
  selector: 'nw-reached-things',
  template: `@for (one of things(); track one.id) {
    <div
      class="figure {{ one.kind }}"
      role="img"
      [id]="key() + one.id"
      [class.chosen]="one.chosen"
      [attr.data-thing]="one.id"
      [attr.aria-label]="one.spoken"
      [style]="one.box"
    ></div>
  }`,
  styles: `
    :host {
      display: contents;
    }
    .figure {
      position: absolute;
    }
  `,
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class ReachedThings {
  readonly things = input.required<readonly ReachedThing[]>();
  /** What goes before an id, so that it stands once in the page. */
  readonly key = input.required<string>();
}

/** A figure as it stands in a view, in hand or not. */
export function reachedAt({ id, kind, at, radius, spoken, note }: Figure, { seen, scale }: View, chosen: boolean): ReachedThing {
  const half = Math.max(4, radius * scale * 0.7);
  const [x, y] = [(at.x - seen.west) * scale, (seen.north - at.y) * scale];
  return {
    id,
    kind,
    chosen,
    spoken: `${spoken}${note === '' ? '' : `, ${note}`}${chosen ? ', selected' : ''}`,
    box: `left:${x - half}px;top:${y - half}px;width:${2 * half}px;height:${2 * half}px`,
  };
}
