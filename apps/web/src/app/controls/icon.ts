import { fixtureNames, kindOfFixture } from '@nettlewick/core';
import type { FixtureName } from '@nettlewick/core';
import { ChangeDetectionStrategy, Component, computed, input } from '@angular/core';

/** Small drawn signs, 16 by 16, in the manner of the plan. They never stand alone: words or labels say the same. */
const drawings = {
  zone: 'M2 3h3M7 3h3M12 3h2v2M14 8v3M14 13H11M9 13H6M4 13H2v-3M2 8V5',
  solid: 'M2 2h12v12H2zM2 8l6-6M2 14L14 2M8 14l6-6',
  wall: 'M1 6h14v4H1zM3 10l4-4M8 10l4-4',
  player: 'M8 13a5 5 0 1 0 0-10a5 5 0 0 0 0 10zM8 8l5-5',
  creature: 'M3 3l11 5l-11 5z',
  prop: 'M3 3h10v10H3zM3 3l10 10M13 3L3 13',
  happened: 'M8 5a3 3 0 1 0 .01 0zM8 7.5v1',
  caused: 'M8 5a3 3 0 1 0 .01 0z',
  held: 'M8 3a5 5 0 1 0 .01 0zM4.5 11.5l7-7',
  step: 'M3 8h9M9 5l3 3-3 3',
  started: 'M4 3l9 5-9 5z',
  finished: 'M4 4h8v8H4z',
  changed: 'M3 6h10M3 10h10',
  missed: 'M2 8h3M7 8h2M11 8h3M8 3v2M8 11v2',
  blocked: 'M3 8h7M11 3v10',
  piece: 'M2 2h5v5H2zM9 9h5v5H9zM7 4.5h4.5V9M2 11h4M4 9v4',
  remove: 'M4 4l8 8M12 4l-8 8',
  earlier: 'M8 13V3M4 7l4-4 4 4',
  later: 'M8 3v10M4 9l4 4 4-4',
  out: 'M3 9v4h10V9M8 10V2M5 5l3-3 3 3',
  copy: 'M5 5h8v8H5zM3 10V3h7',
  day: 'M8 5a3 3 0 1 0 .01 0zM8 1v2M8 13v2M1 8h2M13 8h2',
  night: 'M11 2a6.5 6.5 0 1 0 3 9a5.5 5.5 0 0 1-3-9z',
} as const;
export type IconName = keyof typeof drawings | FixtureName;

const marks: Record<string, string> = {
  ...drawings,
  ...Object.fromEntries(fixtureNames.map((name) => [name, kindOfFixture(name).mark])),
};

@Component({
  selector: 'nw-mark',
  template: '<svg viewBox="0 0 16 16" width="16" height="16" aria-hidden="true"><path [attr.d]="path()" /></svg>',
  styles: ':host { display: inline-flex; } path { fill: none; stroke: currentcolor; stroke-width: 1.4; }',
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class Icon {
  readonly name = input.required<IconName>();
  protected readonly path = computed(() => marks[this.name()]);
}
