import { computed, linkedSignal } from '@angular/core';
import type { Signal } from '@angular/core';
import type { Level, Thing, Point } from '@nettlewick/core';
import { momentFigures, previewFigures, startFigures } from './figures';
import type { Figure, Moment } from './figures';
import { Scene, heapAt, pick } from './scene';
import type { Box, Viewport } from './viewport';

/** A click within this distance of a thing selects it, in pixels. */
const HIT_MARGIN_PX = 5;
/** The number of visible things that assistive technology can reach; the largest come first. */
const REACHED = 250;
/** Above so many figures in view, names are placed anew only when the view rests. */
export const MANY = 250;
/** Of many, only what is this wide has its name written, in pixels. */
const WIDE = 14;

/** What a board shows. */
export interface BoardInput {
  level: Signal<Level>;
  room: Signal<string>;
  moment: Signal<Moment | null>;
  preview: Signal<ReadonlyMap<string, Thing>>;
  /** What is not shown, and what a press does not take. */
  veiled: Signal<ReadonlySet<string>>;
  locked: Signal<ReadonlySet<string>>;
}

/** What there is to be seen of a room: what stands as at the start, what is elsewhere now, and what of it is in view. */
export class VisibleScene {
  private readonly figures: Signal<Figure[]>;
  private readonly locked: Signal<ReadonlySet<string>>;
  readonly scene: Signal<Scene>;
  /** What is elsewhere, or looks otherwise, than at the start: drawn anew in every picture. */
  readonly live: Signal<Figure[]>;
  /** What does not stand where it stood at the start. */
  readonly hidden: Signal<ReadonlySet<string>>;
  /** What stands where it stood at the start. */
  readonly standing: Signal<readonly Figure[]>;
  private readonly byId: Signal<ReadonlyMap<string, Figure>>;
  /** What of that is in view. */
  readonly near: Signal<readonly Figure[]>;
  /** What of that would have its name written, if there is room. */
  readonly nameable: Signal<readonly Figure[]>;

  constructor(
    { level, room, moment, preview, veiled, locked }: BoardInput,
    private readonly viewport: Viewport,
  ) {
    this.locked = locked;
    this.figures = computed(() => {
      const veil = veiled();
      const all = startFigures(level(), room());
      return veil.size === 0 ? all : all.filter(({ id }) => !veil.has(id));
    });
    this.scene = linkedSignal<Figure[], Scene>({
      source: this.figures,
      computation: (figures, before) => Scene.of(figures, before?.value),
    });
    this.live = computed(() => {
      const now = moment();
      if (now === null) return previewFigures(level(), room(), preview());
      const veil = veiled();
      return momentFigures(level(), room(), now).filter(({ id }) => !veil.has(id));
    });
    this.hidden = linkedSignal<ReadonlySet<string>, ReadonlySet<string>>({
      source: () => moment()?.changing ?? new Set(preview().keys()),
      // The same set for the same things, so that a gesture hides them once.
      computation: (now, before) => (before !== undefined && sameSet(now, before.value) ? before.value : now),
    });
    this.standing = computed(() => this.withoutHidden(this.figures()));
    this.byId = computed(() => new Map(this.standing().map((figure) => [figure.id, figure])));
    this.near = computed(() => this.withoutHidden(this.scene().within(viewport.seen())));
    this.nameable = computed(() => {
      const near = this.near();
      const scale = viewport.scale();
      const many = near.length > MANY;
      return near.filter(({ kind, radius }) => kind !== 'solid' && (!many || 2 * radius * scale >= WIDE));
    });
  }

  /** A thing as it is drawn now. */
  find(id: string): Figure | undefined {
    return this.live().find((figure) => figure.id === id) ?? this.byId().get(id);
  }

  /** What lies under a point, in metres. */
  hit(at: Point): Figure | null {
    const slack = HIT_MARGIN_PX / this.viewport.scale();
    const near = this.scene().within({ west: at.x - slack, east: at.x + slack, south: at.y - slack, north: at.y + slack });
    return pick(this.free([...this.withoutHidden(near), ...this.live()]), at, slack);
  }

  /** All that lies on each other at a point, the topmost first. */
  heap(at: Point): Figure[] {
    const near = this.scene().within({ west: at.x, east: at.x, south: at.y, north: at.y });
    return heapAt(this.free([...this.withoutHidden(near), ...this.live()]), at);
  }

  /** All there is, as one reads a page: from north to south, from west to east. */
  inReadingOrder(): Figure[] {
    return [...this.standing(), ...this.live()].sort((a, b) => Math.round(b.at.y) - Math.round(a.at.y) || a.at.x - b.at.x);
  }

  /** What is in view for those who do not see it: of very many things those in hand and the largest. */
  reachable(seen: Box, chosen: ReadonlySet<string>): readonly Figure[] {
    const near = this.withoutHidden(this.scene().within(seen));
    if (near.length <= REACHED) return near;
    const rank = (figure: Figure): number => (chosen.has(figure.id) ? Infinity : figure.radius);
    const kept = new Set([...near].sort((a, b) => rank(b) - rank(a)).slice(0, REACHED));
    return near.filter((figure) => kept.has(figure));
  }

  /** Those that a press may take. */
  private free(figures: Figure[]): Figure[] {
    const locked = this.locked();
    return locked.size === 0 ? figures : figures.filter(({ id }) => !locked.has(id));
  }

  private withoutHidden(figures: readonly Figure[]): readonly Figure[] {
    const hidden = this.hidden();
    return hidden.size === 0 ? figures : figures.filter(({ id }) => !hidden.has(id));
  }
}

function sameSet(a: ReadonlySet<string>, b: ReadonlySet<string>): boolean {
  if (a === b) return true;
  if (a.size !== b.size) return false;
  for (const one of a) if (!b.has(one)) return false;
  return true;
}
