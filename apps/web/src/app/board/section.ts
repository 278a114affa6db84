import { ChangeDetectionStrategy, Component, ElementRef, computed, inject, input, output, signal } from '@angular/core';
import { BOX, bodyAt, boxAt, isBodied, isMachine, kindOfFixture, pictureOf } from '@nettlewick/core';
import type { Level, Shape, Thing, Vector, Visitor } from '@nettlewick/core';
import { looksOf } from './figures';
import type { Moment } from './figures';
import { tidy } from './handles';
import { Slabs } from './slabs';
import type { Grip, Slab, SlabPointer } from './slabs';
import type { Stretch, Viewport } from './viewport';

/** Which way one looks at the section: what is to the right then. */
export const facings = ['north', 'south', 'east', 'west'] as const;
export type Facing = (typeof facings)[number];

/** A drag in the section: by how much along the axis that is seen (in the axes of the room), and up, in metres. */
export interface SectionDrag {
  thing: string;
  grip: Grip;
  by: Vector;
  moved: number;
  done: boolean;
}

/** More things than this are not drawn from the side: it would be a wall of lines. */
const DRAWN = 300;

/** How large something without a body is drawn where its kind does not say, in metres. */
const unseen = { x: 0.3, y: 0.3, z: 0.3 };

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
  readonly stretched = output<Stretch>();
  readonly pressed = output<{ thing: string | null; shift: boolean }>();
  readonly dragged = output<SectionDrag>();

  private readonly host = inject<ElementRef<HTMLElement>>(ElementRef);
  private readonly height = signal(200);
  private down: { thing: string; grip: Grip; x: number; y: number } | null = null;

  constructor() {
    if (typeof ResizeObserver !== 'undefined')
      new ResizeObserver(([entry]) => this.height.set(entry!.contentRect.height)).observe(this.host.nativeElement);
  }

  private readonly extents = computed(() => this.level().rooms.find(({ id }) => id === this.room()));

  /** Pixels a metre, and how metres become pixels: along the axis that is seen, and up. */
  protected readonly scale = computed(() => {
    const room = this.extents();
    const view = this.viewport().view();
    const facing = this.facing();
    const alongEast = facing === 'north' || facing === 'south';
    const sign = facing === 'north' || facing === 'west' ? 1 : -1;
    const { scale, size } = view;
    const middle = alongEast ? (view.seen.west + view.seen.east) / 2 : (view.seen.south + view.seen.north) / 2;
    const ground = room?.ground ?? 0;
    const floor = this.height() - 26;
    return {
      scale,
      ground,
      floor,
      alongEast,
      sign,
      width: size.width,
      across: (metres: number) => size.width / 2 + sign * (metres - middle) * scale,
      up: (metres: number) => floor - (metres - ground) * scale,
      /** And back: metres along the axis that is seen, and up. */
      along: (x: number) => middle + (sign * (x - size.width / 2)) / scale,
      height: (y: number) => ground + (floor - y) / scale,
    };
  });

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

  /** What stands still while a hand drags what is selected: drawn once. */
  protected readonly still = computed<Slab[]>(() => {
    const chosen = new Set(this.selection());
    return this.slabsOf((id) => !chosen.has(id), nothing);
  });
  protected readonly held = computed<Slab[]>(() => {
    const chosen = new Set(this.selection());
    return chosen.size === 0 ? [] : this.slabsOf((id) => chosen.has(id), this.preview());
  });

  /** The things of the room that are wanted, as they are seen from the side; `preview` has some as they would be. */
  private slabsOf(wanted: (id: string) => boolean, preview: ReadonlyMap<string, Thing>): Slab[] {
    const level = this.level();
    const moment = this.moment();
    const picture = pictureOf(level, moment?.doors ?? new Map(), preview);
    const chosen = new Set(this.selection());
    const slabs: Slab[] = [];
    const add = (thing: Thing, manner: string, shape: Shape | null, ways: Slab['ways'] = [], lines = ''): void => {
      if (shape === null) return;
      const base = tidy(shape.z);
      const name = thing.name.trim();
      slabs.push({
        id: thing.id,
        name,
        manner,
        chosen: chosen.has(thing.id),
        ...this.rectangle(shape),
        ways,
        lines,
        label: `${name}, from ${base} m to ${tidy(shape.z + shape.height)} m`,
      });
    };
    const now = <T extends Thing>(thing: T): T => (preview.get(thing.id) as T | undefined) ?? thing;
    const here = (thing: { id: string; room: string }): boolean =>
      slabs.length < DRAWN && wanted(thing.id) && thing.room === this.room();
    for (const zone of level.zones) if (here(zone)) add(zone, zone.enabled ? 'zone' : 'zone off', picture.shape(zone.id));
    for (const one of level.solids) {
      if (!here(one)) continue;
      const solid = now(one);
      add(solid, 'solid', boxAt(solid.at, solid.size, solid.heading));
    }
    for (const one of level.fixtures) {
      if (!here(one)) continue;
      const fixture = now(one);
      const { shown, solid: firm, seeThrough } = looksOf(fixture, moment);
      const manner = `fixture${shown ? '' : ' hidden'}${firm ? ' firm' : ''}${seeThrough ? ' glass' : ''}`;
      const { side } = kindOfFixture(fixture.kind);
      if (!isBodied(fixture)) {
        add(fixture, manner, boxAt(fixture.at, side.size ?? unseen, fixture.heading), [], side.lines);
        continue;
      }
      const ways = isMachine(fixture) ? this.waysOf(fixture.id, picture.positions(fixture.id), 'stops' in fixture) : [];
      add(fixture, manner, picture.shape(fixture.id), ways, side.lines);
    }
    for (const one of level.visitors) {
      const room = moment?.rooms.get(one.id) ?? one.room;
      if (room !== this.room() || !here({ id: one.id, room })) continue;
      const visitor = now<Visitor>(one);
      add(visitor, 'visitor', bodyAt(visitor.body, moment?.visitors.get(visitor.id) ?? visitor.at));
    }
    return slabs;
  }

  private waysOf(id: string, positions: readonly Shape[], stops: boolean): Slab['ways'] {
    return positions.map((shape, at) => ({
      key: `${id} ${at}`,
      grip: stops ? { part: 'stop' as const, at } : { part: 'travel' as const },
      ...this.rectangle(shape),
      label: stops ? `stop ${at + 1}, ${tidy(shape.z)} m` : at === 0 ? '' : `${tidy(shape.z)} m`,
    }));
  }

  private rectangle({ x, y, z, height, halfX, halfY, cos, sin, form }: Shape): Pick<Slab, 'x' | 'y' | 'width' | 'height'> {
    const { across, up, scale, alongEast } = this.scale();
    const turned = alongEast ? Math.abs(cos) * halfX + Math.abs(sin) * halfY : Math.abs(sin) * halfX + Math.abs(cos) * halfY;
    const half = form === BOX ? turned : halfX;
    const middle = across(alongEast ? x : y);
    return { x: middle - half * scale, y: up(z + height), width: 2 * half * scale, height: Math.max(2, height * scale) };
  }

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

  /** The point of the room that the pointer is on, drawn to corners and edges that are near. */
  private pointAt(event: PointerEvent): Vector {
    const { left, top } = this.host.nativeElement.getBoundingClientRect();
    const [x, y] = [event.clientX - left, event.clientY - top];
    const { alongEast, floor, along, height } = this.scale();
    const rectangles = [...this.still(), ...this.held()].flatMap((slab) => [slab, ...slab.ways]);
    const lines = { x: rectangles.flatMap((one) => [one.x, one.x + one.width / 2, one.x + one.width]), y: [floor] };
    lines.y.push(...rectangles.flatMap((one) => [one.y, one.y + one.height]));
    const at = { x: nearestTo(lines.x, x), y: nearestTo(lines.y, y) };
    const metres = tidy(along(at.x));
    return { x: alongEast ? metres : 0, y: alongEast ? 0 : metres, z: tidy(height(at.y)) };
  }

  protected press({ event, thing, grip }: SlabPointer): void {
    if (event.button !== 0) return;
    event.stopPropagation();
    if (this.measuring()) {
      this.host.nativeElement.setPointerCapture(event.pointerId);
      const at = this.pointAt(event);
      this.stretched.emit({ from: at, to: at, on: this.scale().alongEast ? 'x' : 'y' });
      return;
    }
    this.pressed.emit({ thing, shift: event.shiftKey });
    if (thing === null || !this.editable()) return;
    this.host.nativeElement.setPointerCapture(event.pointerId);
    this.down = { thing, grip, x: event.clientX, y: event.clientY };
  }

  protected pressPaper(event: PointerEvent): void {
    this.press({ event, thing: null, grip: { part: 'whole' } });
  }

  protected move(event: PointerEvent): void {
    const tape = this.tape();
    if (this.measuring() && tape !== null && tape.on !== 'plan' && event.buttons === 1)
      this.stretched.emit({ ...tape, to: this.pointAt(event) });
    if (this.down !== null) this.tell(event, false);
  }

  protected release(event: PointerEvent): void {
    if (this.down === null) return;
    this.tell(event, true);
    this.down = null;
  }

  private tell(event: PointerEvent, done: boolean): void {
    const { thing, grip, x, y } = this.down!;
    const { scale, alongEast, sign } = this.scale();
    const along = (sign * (event.clientX - x)) / scale;
    const by = { x: alongEast ? along : 0, y: alongEast ? 0 : along, z: (y - event.clientY) / scale };
    this.dragged.emit({ thing, grip, by, moved: Math.hypot(event.clientX - x, event.clientY - y), done });
  }
}

/** So near to a line, in pixels, the tape is drawn to it. */
const NEAR = 8;

function nearestTo(lines: readonly number[], wanted: number): number {
  let best = wanted;
  let least = NEAR;
  for (const line of lines) {
    const apart = Math.abs(line - wanted);
    if (apart >= least) continue;
    least = apart;
    best = line;
  }
  return best;
}
