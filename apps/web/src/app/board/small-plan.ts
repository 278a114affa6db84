import { ChangeDetectionStrategy, Component, computed, input } from '@angular/core';
import type { Level, Thing } from '@nettlewick/core';

interface Outline {
  id: string;
  d: string;
  manner: 'solid' | 'zone' | 'fixture' | 'visitor';
  /** How far it is across, in metres. */
  across: number;
}

/** The most things that a small plan shows. */
const MAX_THINGS = 300;

/** A small drawing of things seen from above, for lists: no names, nothing to press. */
@Component({
  selector: 'nw-small-plan',
  template: `
    <svg [attr.viewBox]="frame()" preserveAspectRatio="xMidYMid meet" aria-hidden="true">
      @if (room(); as edge) {
        <path class="room" [attr.d]="edge" />
      }
      @for (one of outlines(); track one.id) {
        <path [class]="one.manner" [attr.d]="one.d" />
      }
    </svg>
  `,
  styles: `
    :host {
      display: block;
      background: var(--floor);
      border: 1px solid var(--line);
    }
    svg {
      display: block;
      width: 100%;
      height: 100%;
    }
    path {
      fill: none;
      stroke: var(--ink);
      stroke-width: 1.2;
      vector-effect: non-scaling-stroke;
    }
    .room {
      stroke: var(--ink-soft);
    }
    .solid {
      fill: var(--ink-soft);
    }
    .fixture {
      fill: var(--card);
    }
    .zone {
      stroke: var(--pencil-blue);
      stroke-dasharray: 4 3;
      fill: var(--zone-fill);
    }
    .visitor {
      fill: var(--ink);
    }
  `,
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class SmallPlan {
  readonly level = input.required<Level>();
  /** Shows these things alone, fitted into the frame; all of the first room where it is not given. */
  readonly only = input<readonly string[] | null>(null);

  protected readonly outlines = computed<Outline[]>(() => {
    const { rooms, solids, zones, fixtures, visitors } = this.level();
    const only = this.only();
    const wanted = (thing: Thing & { room: string }): boolean =>
      only === null ? thing.room === rooms[0]?.id : only.includes(thing.id);
    const all = [
      ...zones.filter(wanted).map((one) => outline(one.id, one.at, one.heading, sizeOf(one.shape), 'zone')),
      ...solids.filter(wanted).map((one) => outline(one.id, one.at, one.heading, one.size, 'solid')),
      ...fixtures.filter(wanted).map((one) => outline(one.id, one.at, one.heading, 'size' in one ? one.size : dot, 'fixture')),
      ...visitors.filter(wanted).map((one) => outline(one.id, one.at, 0, sizeOf(one.body), 'visitor')),
    ];
    // Of too many the largest: they say what the place is like.
    return all.length <= MAX_THINGS ? all : all.toSorted((a, b) => b.across - a.across).slice(0, MAX_THINGS);
  });

  protected readonly room = computed(() => {
    const edge = this.level().rooms[0]?.extents;
    if (edge === undefined || this.only() !== null) return null;
    return `M${edge.west} ${-edge.north}H${edge.east}V${-edge.south}H${edge.west}Z`;
  });

  protected readonly frame = computed(() => {
    const edge = this.level().rooms[0]?.extents ?? { west: -1, east: 1, south: -1, north: 1 };
    const numbers = this.outlines().flatMap(({ d }) =>
      [...d.matchAll(/(-?[\d.]+) (-?[\d.]+)/g)].map(([, x, y]) => [Number(x), Number(y)]),
    );
    if (this.only() === null || numbers.length === 0)
      return `${edge.west - 1} ${-edge.north - 1} ${edge.east - edge.west + 2} ${edge.north - edge.south + 2}`;
    const xs = numbers.map(([x]) => x!);
    const ys = numbers.map(([, y]) => y!);
    const [west, north] = [Math.min(...xs) - 0.6, Math.min(...ys) - 0.6];
    return `${west} ${north} ${Math.max(...xs) + 0.6 - west} ${Math.max(...ys) + 0.6 - north}`;
  });
}

const dot = { x: 0.3, y: 0.3 };

function sizeOf(shape: { kind: string; size?: { x: number; y: number }; radius?: number }): {
  x: number;
  y: number;
  round?: true;
} {
  if (shape.size !== undefined) return shape.size;
  const across = 2 * (shape.radius ?? 0.5);
  return { x: across, y: across, round: true };
}

/** An outline seen from above: y grows downwards in the drawing. */
function outline(
  id: string,
  at: { x: number; y: number },
  heading: number,
  size: { x: number; y: number; round?: true },
  manner: Outline['manner'],
): Outline {
  const turn = (heading * Math.PI) / 180;
  const round = size.round === true ? 16 : 4;
  const corners = Array.from({ length: round }, (_unused, i) => {
    const angle = ((i + 0.5) / round) * 2 * Math.PI;
    const [x, y] =
      round === 4
        ? [(Math.sign(Math.cos(angle)) * size.x) / 2, (Math.sign(Math.sin(angle)) * size.y) / 2]
        : [(Math.cos(angle) * size.x) / 2, (Math.sin(angle) * size.y) / 2];
    const east = at.x + x * Math.cos(turn) - y * Math.sin(turn);
    const north = at.y + x * Math.sin(turn) + y * Math.cos(turn);
    return `${east.toFixed(3)} ${(-north).toFixed(3)}`;
  });
  return { id, d: `M${corners.join('L')}Z`, manner, across: Math.hypot(size.x, size.y) };
}
