import { ChangeDetectionStrategy, Component, ElementRef, computed, inject, input, output, signal } from '@angular/core';
import { scaleLinear } from 'd3-scale';
import type { Level, Thing, Vector } from '@nettlewick/core';
import type { Moment } from './figures';
import { wheelDelta } from './gestures';
import { Pinch } from './pinch';
import { isInView, nearest, slabOf, standing } from './section-things';
import type { SectionProjection } from './section-things';
import { SectionView } from './section-view';
import type { Facing } from './section-view';
import { Slabs } from './slabs';
import type { Grip, Slab, SlabPointer } from './slabs';
import type { Viewport } from './viewport';
import type { Stretch } from '../state/tape';
import { tidy } from '@nettlewick/core';

/** A drag in the section: by how much along the axis that is seen (in the axes of the room), and up, in metres. A side is that of the axis. */
export interface SectionDrag {
  thing: string;
  grip: Grip;
  axis: 'x' | 'y';
  by: Vector;
  moved: number;
  done: boolean;
}

/** A stroke over the section, between two points of the room; `free` of the grid, if that is wished. */
export interface SectionStroke {
  axis: 'x' | 'y';
  from: Vector;
  to: Vector;
  free: boolean;
  moved: number;
  done: boolean;
}

/** A press on the section: on a thing or on paper, and where that is in the room. */
export interface SectionPress {
  thing: string | null;
  at: Vector;
  shift: boolean;
}

/** More things than this are not drawn at once from the side: it would be a wall of lines. */
const DRAWN = 300;

const nothing: ReadonlyMap<string, Thing> = new Map();

/** The room seen from the side, on the same axis as the plan above it: heights, stops and travel, to be dragged. */
@Component({
  selector: 'nw-section',
  imports: [Slabs],
  templateUrl: './section.html',
  styleUrl: './section.css',
  changeDetection: ChangeDetectionStrategy.OnPush,
  host: {
    '(pointermove)': 'move($event)',
    '(pointerup)': 'release($event)',
    '(pointercancel)': 'lift($event)',
    '(pointerleave)': 'pointer.set(null)',
    '(wheel)': 'wheel($event)',
  },
})
export class Section {
  readonly level = input.required<Level>();
  readonly room = input.required<string>();
  readonly selection = input<readonly string[]>([]);
  readonly preview = input<ReadonlyMap<string, Thing>>(nothing);
  readonly moment = input<Moment | null>(null);
  readonly facing = input<Facing>('north');
  readonly editable = input(false);
  /** The plan's view: looking north, what stands in one stands in the other. */
  readonly viewport = input.required<Viewport>();
  /** Whether a press stretches the tape, and what it measures now. */
  readonly measuring = input(false);
  readonly tape = input<Stretch | null>(null);
  /** Whether a press draws, and what has been drawn so far. */
  readonly drawing = input(false);
  readonly draft = input<{ from: Vector; to: Vector } | null>(null);
  /** From where on the room is seen, along the axis that is looked along; null for all of it. */
  readonly cut = input<number | null>(null);
  /** Where on that axis lies what is pressed on, in metres. */
  readonly depth = input(0);
  /** With a ruler of its own: there is no plan above it. */
  readonly ruled = input(false);
  readonly stretched = output<Stretch>();
  readonly pressed = output<SectionPress>();
  readonly dragged = output<SectionDrag>();
  readonly stroked = output<SectionStroke>();
  /** Paper was clicked, and nothing was drawn on it. */
  readonly cleared = output();
  /** What was begun is not to be. */
  readonly cancelled = output();

  /** Where the pointer is: metres along the axis that is seen, and up. */
  readonly pointer = signal<{ along: number; up: number; axis: 'x' | 'y' } | null>(null);

  private readonly host = inject<ElementRef<HTMLElement>>(ElementRef);
  private readonly extents = computed(() => this.level().rooms.find(({ id }) => id === this.room()));
  private readonly view = new SectionView(
    () => this.extents(),
    () => this.viewport(),
    () => this.facing(),
  );
  protected readonly scale = this.view.scale;
  private readonly pinch = new Pinch();
  private down: { does: 'drag'; thing: string; grip: Grip; x: number; y: number } | Panning | Stroking | null = null;

  constructor() {
    if (typeof ResizeObserver !== 'undefined')
      new ResizeObserver(([entry]) => this.view.height.set(entry!.contentRect.height)).observe(this.host.nativeElement);
  }

  protected readonly walls = computed(() => {
    const room = this.extents();
    if (room === undefined) return null;
    const { across, up, alongEast } = this.scale();
    const { west, east, south, north } = room.extents;
    const [a, b] = alongEast ? [across(west), across(east)] : [across(south), across(north)];
    return { x: Math.min(a, b), width: Math.abs(b - a), top: up(room.ground + room.height), floor: up(room.ground) };
  });

  protected readonly heights = computed(() => {
    const { up, ground, scale } = this.scale();
    const step = [0.5, 1, 2, 5, 10, 20, 50].find((one) => one * scale >= 26) ?? 100;
    const found: { label: string; y: number }[] = [];
    for (let metres = 0; up(ground + metres) > 8 && found.length < 60; metres += step)
      found.push({ label: String(tidy(ground + metres)), y: up(ground + metres) });
    return found;
  });

  /** The lines of the ruler along the axis that is seen. */
  protected readonly alongs = computed(() => {
    if (!this.ruled()) return [];
    const { across, along, width } = this.scale();
    const scale = scaleLinear().domain([along(0), along(width)].sort((a, b) => a - b));
    const count = Math.max(2, Math.round(width / 80));
    const format = scale.tickFormat(count);
    return scale.ticks(count).map((value) => ({ label: format(value).replace('−', '-'), x: across(value) }));
  });

  private readonly side = computed<SectionProjection>(() => ({
    level: this.level(),
    room: this.room(),
    moment: this.moment(),
    scale: this.scale(),
    facing: this.facing(),
    cut: this.cut(),
  }));

  /** What stands still while a hand drags what is selected: drawn once. */
  protected readonly still = computed<Slab[]>(() => {
    const side = this.side();
    return nearest(side, this.around(), DRAWN).map((one) => slabOf(side, one, false));
  });
  protected readonly held = computed<Slab[]>(() => {
    const chosen = new Set(this.selection());
    if (chosen.size === 0) return [];
    const side = this.side();
    // What is selected is drawn wherever it is.
    const held = standing(side, (id) => chosen.has(id), this.preview());
    return nearest(side, held, DRAWN).map((one) => slabOf(side, one, true));
  });

  /** How many things of the room stand here and are not drawn, for there are too many. */
  protected readonly left = computed(() => this.around().length - this.still().length);
  private readonly around = computed(() => this.others().filter((one) => isInView(this.side(), one)));
  private readonly others = computed(() => {
    const chosen = new Set(this.selection());
    const [level, room, moment] = [this.level(), this.room(), this.moment()];
    return standing({ level, room, moment }, (id) => !chosen.has(id), nothing);
  });

  /** The tape as it is drawn, if it was stretched along the axis that is seen. */
  protected readonly taped = computed(() => {
    const tape = this.tape();
    const { across, up, alongEast } = this.scale();
    if (!this.measuring() || tape?.on !== (alongEast ? 'x' : 'y')) return null;
    const [from, to] = [tape.from, tape.to].map((one) => ({ x: across(alongEast ? one.x : one.y), y: up(one.z) }));
    const metres = Math.hypot(tape.to.x - tape.from.x, tape.to.y - tape.from.y, tape.to.z - tape.from.z);
    return {
      d: `M${from!.x} ${from!.y}L${to!.x} ${to!.y}`,
      x: to!.x + 6,
      y: to!.y - 6,
      says: `${Math.round(metres * 1000) / 1000} m`,
    };
  });

  /** What is being drawn, as a rectangle with its measures. */
  protected readonly drafted = computed(() => {
    const draft = this.draft();
    if (draft === null) return null;
    const { across, up, alongEast } = this.scale();
    const [from, to] = [draft.from, draft.to].map((one) => ({ along: alongEast ? one.x : one.y, z: one.z }));
    const [x, y] = [Math.min(across(from!.along), across(to!.along)), Math.min(up(from!.z), up(to!.z))];
    return {
      x,
      y,
      width: Math.abs(across(to!.along) - across(from!.along)),
      height: Math.abs(up(to!.z) - up(from!.z)),
      says: `${tidy(Math.abs(to!.along - from!.along))} × ${tidy(Math.abs(to!.z - from!.z))} m`,
    };
  });

  /** What the section is called for those who do not see it. */
  protected readonly called = computed(() => {
    const cut = this.cut();
    const from = cut === null ? '' : `, from ${tidy(cut)} m ${this.scale().alongEast ? 'north' : 'east'} on`;
    return `Section, looking ${this.facing()}${from}`;
  });

  /** Shows the whole room, from its ground to its ceiling. */
  fit(): void {
    this.view.fit();
  }

  /** Draws the floor where it usually is. */
  settle(): void {
    this.view.settle();
  }

  /** The wheel zooms, and the point under the pointer stays where it is. */
  protected wheel(event: WheelEvent): void {
    event.preventDefault();
    this.view.zoom(2 ** wheelDelta(event), this.pixels(event));
  }

  private pixels({ clientX, clientY }: MouseEvent): { x: number; y: number } {
    const { left, top } = this.host.nativeElement.getBoundingClientRect();
    return { x: clientX - left, y: clientY - top };
  }

  /** The point of the room at some pixels, as deep in it as the section is taken. */
  private placeAt({ x, y }: { x: number; y: number }): Vector {
    const { alongEast, along, height } = this.scale();
    const [metres, depth] = [tidy(along(x)), this.depth()];
    return { x: alongEast ? metres : depth, y: alongEast ? depth : metres, z: tidy(height(y)) };
  }

  /** The point of the room that the pointer is on, drawn to corners and edges that are near. */
  private pointAt(event: PointerEvent): Vector {
    const { x, y } = this.pixels(event);
    const { floor } = this.scale();
    const rectangles = [...this.still(), ...this.held()].flatMap((slab) => [slab, ...slab.ways]);
    const lines = { x: rectangles.flatMap((one) => [one.x, one.x + one.width / 2, one.x + one.width]), y: [floor] };
    lines.y.push(...rectangles.flatMap((one) => [one.y, one.y + one.height]));
    return this.placeAt({ x: nearestTo(lines.x, x), y: nearestTo(lines.y, y) });
  }

  protected press({ event, thing, grip }: SlabPointer): void {
    if (event.button !== 0) return;
    event.stopPropagation();
    if (event.pointerType === 'touch' && this.pinch.down(event.pointerId, this.pixels(event), event.isPrimary)) {
      this.cancel();
      return;
    }
    if (this.measuring()) {
      this.host.nativeElement.setPointerCapture(event.pointerId);
      const at = this.pointAt(event);
      this.stretched.emit({ from: at, to: at, on: this.scale().alongEast ? 'x' : 'y' });
      return;
    }
    const at = this.placeAt(this.pixels(event));
    const [x, y] = [event.clientX, event.clientY];
    if (this.drawing()) {
      this.down = { does: 'stroke', from: at, x, y };
    } else {
      this.pressed.emit({ thing, at, shift: event.shiftKey });
      if (thing === null) this.down = { does: 'pan', x, y, moved: 0 };
      else if (this.editable()) this.down = { does: 'drag', thing, grip: this.alongAxis(grip), x, y };
      else return;
    }
    this.host.nativeElement.setPointerCapture(event.pointerId);
  }

  protected pressPaper(event: PointerEvent): void {
    this.press({ event, thing: null, grip: { part: 'whole' } });
  }

  protected move(event: PointerEvent): void {
    const pinched = this.pinch.move(event.pointerId, this.pixels(event));
    if (pinched !== null) {
      this.view.pan(pinched.dx, pinched.dy);
      this.view.zoom(pinched.factor, pinched.middle);
      return;
    }
    const { alongEast, along, height } = this.scale();
    const { x, y } = this.pixels(event);
    this.pointer.set({ along: along(x), up: height(y), axis: alongEast ? 'x' : 'y' });
    const tape = this.tape();
    if (this.measuring() && tape !== null && tape.on !== 'plan' && event.buttons === 1)
      this.stretched.emit({ ...tape, to: this.pointAt(event) });
    const { down } = this;
    if (down?.does !== 'pan') {
      this.tell(event, false);
      return;
    }
    const [dx, dy] = [event.clientX - down.x, event.clientY - down.y];
    this.down = { does: 'pan', x: event.clientX, y: event.clientY, moved: down.moved + Math.hypot(dx, dy) };
    if (this.down.moved >= STILL) this.view.pan(dx, dy);
  }

  protected release(event: PointerEvent): void {
    const { down } = this;
    this.pinch.up(event.pointerId);
    this.tell(event, true);
    this.down = null;
    if (down?.does === 'pan' && down.moved < STILL) this.cleared.emit();
  }

  protected lift(event: PointerEvent): void {
    this.pinch.up(event.pointerId);
    this.cancel();
  }

  private cancel(): void {
    if (this.down === null) return;
    this.down = null;
    this.cancelled.emit();
  }

  /** A side of the screen as a side along the axis of the room. */
  private alongAxis(grip: Grip): Grip {
    return grip.part === 'side' ? { part: 'side', at: (grip.at * this.scale().sign) as -1 | 1 } : grip;
  }

  private tell(event: PointerEvent, done: boolean): void {
    const { down } = this;
    if (down === null || down.does === 'pan') return;
    const { scale, alongEast, sign } = this.scale();
    const [dx, dy] = [event.clientX - down.x, event.clientY - down.y];
    const [axis, moved] = [alongEast ? 'x' : 'y', Math.hypot(dx, dy)] as const;
    if (down.does === 'stroke') {
      this.stroked.emit({ axis, from: down.from, to: this.placeAt(this.pixels(event)), free: event.altKey, moved, done });
      return;
    }
    const along = (sign * dx) / scale;
    const by = { x: alongEast ? along : 0, y: alongEast ? 0 : along, z: -dy / scale };
    this.dragged.emit({ thing: down.thing, grip: down.grip, axis, by, moved, done });
  }
}

/** What a press has begun: to shift the view, or to draw from a point of the room. */
interface Panning {
  does: 'pan';
  x: number;
  y: number;
  moved: number;
}

interface Stroking {
  does: 'stroke';
  from: Vector;
  x: number;
  y: number;
}

/** Whoever moves by less, in pixels, has clicked. */
const STILL = 4;
/** The tape snaps to lines within this distance, in pixels. */
const SNAP_PX = 8;

function nearestTo(lines: readonly number[], wanted: number): number {
  let best = wanted;
  let least = SNAP_PX;
  for (const line of lines) {
    const apart = Math.abs(line - wanted);
    if (apart >= least) continue;
    least = apart;
    best = line;
  }
  return best;
}
