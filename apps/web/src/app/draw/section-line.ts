import { computed, signal } from '@angular/core';
import type { Level, Point } from '@nettlewick/core';
import type { Handle } from '../board/handles';
import type { Facing } from '../board/section-view';
import { tidy } from '@nettlewick/core';

type Room = Level['rooms'][number];

/** The overhang of the section line beyond the room, and the length of its arrows, in pixels. */
const OVERHANG_PX = 18;
const ARROW = 9;

const arrows: Record<Facing, string> = { north: '▲', south: '▼', east: '▶', west: '◀' };

/**
 * The line on the plan that the section is taken along: what lies before it is cut away, and what is drawn in the section stands on it.
 * While it lies before the room nothing is cut away, and what is drawn stands in the middle.
 */
export class SectionLine {
  /** Where it lies, by room and by the way one looks, on the axis that is looked along, in metres. */
  private readonly lines = signal<Readonly<Record<string, number>>>({});

  constructor(
    private readonly room: () => Room | undefined,
    private readonly facing: () => Facing,
    /** Pixels a metre of the plan. */
    private readonly scale: () => number,
    /** Whether there is a section. */
    private readonly isOpen: () => boolean,
  ) {}

  readonly cut = computed<number | null>(() => this.lines()[this.key()] ?? null);
  readonly depth = computed(() => {
    const room = this.room()?.extents;
    if (room === undefined) return 0;
    return this.cut() ?? tidy(this.axis() === 'y' ? (room.south + room.north) / 2 : (room.west + room.east) / 2);
  });

  /** The line and its two arrows, in metres. */
  readonly drawn = computed<Point[][]>(() => {
    const ends = this.ends();
    if (ends === null) return [];
    const far = (ARROW / this.scale()) * this.onwards();
    const tip = ({ x, y }: Point): Point => (this.axis() === 'y' ? { x, y: y + far } : { x: x + far, y });
    return [[tip(ends[0]), ends[0], ends[1], tip(ends[1])]];
  });
  readonly knobs = computed<Handle[]>(() => {
    const ends = this.ends();
    if (ends === null) return [];
    return [{ name: 'cut', at: ends[0], text: arrows[this.facing()], title: 'Section line. Drag to move' }];
  });

  /** A point of the plan, brought onto the line. */
  at(point: Point): Point {
    return { ...point, [this.axis()]: this.depth() };
  }

  /** A shift along the line, to the right as it is seen in the section. */
  along(metres: number): Point {
    const right = this.facing() === 'north' || this.facing() === 'west' ? metres : -metres;
    return this.axis() === 'y' ? { x: right, y: 0 } : { x: 0, y: right };
  }

  /** Draws it to a point of the plan; out of the room, it cuts nothing away any more. */
  to(at: Point): void {
    const room = this.room();
    if (room === undefined) return;
    const wanted = tidy(at[this.axis()]);
    const near = this.near(room);
    const isBefore = (wanted - near) * this.onwards() <= 0;
    const [low, high] = this.axis() === 'y' ? [room.extents.south, room.extents.north] : [room.extents.west, room.extents.east];
    this.lines.update(({ [this.key()]: _before, ...others }) =>
      isBefore ? others : { ...others, [this.key()]: Math.max(low, Math.min(high, wanted)) },
    );
  }

  /** Moves it on, or back, by so many metres. */
  by(metres: number): void {
    const room = this.room();
    if (room === undefined) return;
    const now = this.cut() ?? this.near(room);
    const to = now + metres * this.onwards();
    this.to(this.axis() === 'y' ? { x: 0, y: to } : { x: to, y: 0 });
  }

  private key(): string {
    return `${this.room()?.id ?? ''} ${this.facing()}`;
  }

  /** The axis that is looked along, and in which sense. */
  private axis(): 'x' | 'y' {
    return this.facing() === 'north' || this.facing() === 'south' ? 'y' : 'x';
  }

  private onwards(): 1 | -1 {
    return this.facing() === 'north' || this.facing() === 'east' ? 1 : -1;
  }

  /** The side of the room from which one looks. */
  private near({ extents }: Room): number {
    return { north: extents.south, south: extents.north, east: extents.west, west: extents.east }[this.facing()];
  }

  private ends(): [Point, Point] | null {
    const room = this.room();
    if (room === undefined || !this.isOpen()) return null;
    const beside = OVERHANG_PX / this.scale();
    const at = this.cut() ?? this.near(room) - beside * this.onwards();
    const { west, east, south, north } = room.extents;
    return this.axis() === 'y'
      ? [
          { x: west - beside, y: at },
          { x: east + beside, y: at },
        ]
      : [
          { x: at, y: south - beside },
          { x: at, y: north + beside },
        ];
  }
}
