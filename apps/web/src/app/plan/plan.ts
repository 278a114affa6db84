import { NgTemplateOutlet } from '@angular/common';
import {
  ChangeDetectionStrategy,
  Component,
  DestroyRef,
  ElementRef,
  afterNextRender,
  computed,
  effect,
  inject,
  input,
  output,
  signal,
  untracked,
  viewChild,
} from '@angular/core';
import type { Level } from '@nettlewick/core';
import { scaleLinear } from 'd3-scale';
import { changingFigures, roomBox, stillFigures } from './figures';
import type { Figure, Moment } from './figures';
import { handlesOf } from './handles';
import type { Handle, HandleName } from './handles';
import { Viewport } from './viewport';
import type { Box, Point } from './viewport';

/** Something done on the plan with a pointer: where, on which thing or handle, and with which keys held. */
export interface PlanPointer {
  at: Point;
  /** How many pixels from where the pointer was pressed. */
  moved: number;
  thing: string | null;
  handle: HandleName | null;
  shift: boolean;
  alt: boolean;
}

/** A room drawn to scale, seen from above, with rulers, a grid, and the coordinates under the pointer. */
@Component({
  selector: 'nw-plan',
  imports: [NgTemplateOutlet],
  templateUrl: './plan.html',
  styleUrl: './plan.css',
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class Plan {
  readonly level = input.required<Level>();
  readonly room = input.required<string>();
  readonly selection = input<readonly string[]>([]);
  readonly moment = input<Moment | null>(null);
  /** A rectangle or a line being drawn, in metres. */
  readonly draft = input<Box | null>(null);
  /** Ways that visitors take, in metres. */
  readonly ways = input<readonly Point[][]>([]);
  readonly editable = input(false);
  /** Whether a drag on empty paper draws; else it pans. */
  readonly drawing = input(false);
  /** Without rulers and measures, for a small plan. */
  readonly bare = input(false);
  readonly label = input('Plan');

  readonly pressed = output<PlanPointer>();
  readonly dragged = output<PlanPointer>();
  readonly released = output<PlanPointer>();

  readonly viewport = new Viewport();
  private readonly canvas = viewChild.required<ElementRef<SVGSVGElement>>('canvas');
  private down: { x: number; y: number; thing: string | null; handle: HandleName | null; pans: boolean } | null = null;
  private measured = false;
  protected readonly panning = signal(false);
  readonly pointer = signal<Point | null>(null);

  private readonly still = computed(() => stillFigures(this.level(), this.room()));
  private readonly changing = computed(() => changingFigures(this.level(), this.room(), this.moment()));
  /** Only what can be seen is drawn; what stands still is not looked at again while a rehearsal plays. */
  protected readonly drawnStill = computed(() => this.seen(this.still()));
  protected readonly drawnChanging = computed(() => this.seen(this.changing()));
  protected readonly drawn = computed(() => [...this.drawnStill(), ...this.drawnChanging()]);
  /** So many that dashes and hatching could not be told apart, and would only cost time. */
  protected readonly crowded = computed(() => this.drawn().length > 1200);
  protected readonly named = computed(() => {
    const scale = this.viewport.scale();
    const chosen = new Set(this.selection());
    const many = this.drawn().length > 400;
    return this.drawn()
      .filter(
        (figure) =>
          chosen.has(figure.id) || (!many && scale >= 12 && figure.kind !== 'solid') || (many && scale * figure.reach > 30),
      )
      .map((figure) => ({ figure, at: this.viewport.toScreen(figure.at), drop: labelDrop(figure, scale) }));
  });
  protected readonly chosen = computed(() => new Set(this.selection()));
  protected readonly roomOutline = computed(() => {
    const box = roomBox(this.level(), this.room());
    return {
      ...box,
      width: box.east - box.west,
      height: box.north - box.south,
      path: `M${box.west} ${box.south}H${box.east}V${box.north}H${box.west}Z`,
    };
  });
  protected readonly measures = computed(() => {
    const box = this.roomOutline();
    const northWest = this.viewport.toScreen({ x: box.west, y: box.north });
    const southEast = this.viewport.toScreen({ x: box.east, y: box.south });
    return {
      left: northWest.x,
      top: northWest.y,
      right: southEast.x,
      bottom: southEast.y,
      width: metresText(box.width),
      height: metresText(box.height),
    };
  });
  protected readonly grid = computed(() => {
    const { west, east, south, north } = this.viewport.seen();
    const { width, height } = this.viewport.size();
    const lines = (from: number, to: number, across: number): { value: number; label: string }[] => {
      const scale = scaleLinear().domain([from, to]);
      const count = Math.max(2, Math.round(across / 80));
      const format = scale.tickFormat(count);
      return scale.ticks(count).map((value) => ({ value, label: format(value).replace('−', '-') }));
    };
    const eastward = lines(west, east, width).map((line) => ({ ...line, at: this.viewport.toScreen({ x: line.value, y: 0 }).x }));
    const northward = lines(south, north, height).map((line) => ({
      ...line,
      at: this.viewport.toScreen({ x: 0, y: line.value }).y,
    }));
    const path =
      eastward.map(({ at }) => `M${at} 0V${height}`).join('') + northward.map(({ at }) => `M0 ${at}H${width}`).join('');
    return { eastward, northward, path };
  });
  protected readonly handles = computed<(Handle & { screen: Point })[]>(() => {
    const ids = this.selection();
    if (!this.editable() || ids.length !== 1) return [];
    return handlesOf(this.level(), ids[0]!, 28 / this.viewport.scale()).map((handle) => ({
      ...handle,
      screen: this.viewport.toScreen(handle.at),
    }));
  });
  protected readonly hatch = computed(() => `scale(${1 / this.viewport.scale()}) rotate(45)`);
  protected readonly draftBox = computed(() => {
    const draft = this.draft();
    if (draft === null) return null;
    const from = this.viewport.toScreen({ x: draft.west, y: draft.north });
    const to = this.viewport.toScreen({ x: draft.east, y: draft.south });
    return {
      x: from.x,
      y: from.y,
      width: to.x - from.x,
      height: to.y - from.y,
      text: `${metresText(draft.east - draft.west)} × ${metresText(draft.north - draft.south)}`,
    };
  });
  protected readonly wayPaths = computed(() =>
    this.ways().map((way) => way.map(({ x, y }, i) => `${i === 0 ? 'M' : 'L'}${x} ${y}`).join('')),
  );

  constructor() {
    const destroy = inject(DestroyRef);
    // Another room is another sheet.
    effect(() => {
      this.room();
      untracked(() => this.fit());
    });
    afterNextRender(() => {
      const element = this.canvas().nativeElement;
      const observer = new ResizeObserver(() => {
        const { width, height } = element.getBoundingClientRect();
        if (width === 0 || height === 0) return;
        this.viewport.size.set({ width, height });
        if (!this.measured) this.fit();
        this.measured = true;
      });
      observer.observe(element);
      // Added by hand: a wheel listener has to be active for the page not to scroll.
      const wheel = (event: WheelEvent): void => this.wheel(event);
      element.addEventListener('wheel', wheel, { passive: false });
      destroy.onDestroy(() => {
        observer.disconnect();
        element.removeEventListener('wheel', wheel);
      });
    });
  }

  /** Shows the whole room. */
  fit(): void {
    this.viewport.fit(roomBox(this.level(), this.room()), this.bare() ? 12 : 56);
  }

  /** Brings a thing into view if it is not. */
  reveal(id: string): void {
    const figure = [...this.still(), ...this.changing()].find((one) => one.id === id);
    const { west, east, south, north } = this.viewport.seen();
    if (figure !== undefined && (figure.at.x < west || figure.at.x > east || figure.at.y < south || figure.at.y > north))
      this.viewport.center.set(figure.at);
  }

  private seen(figures: readonly Figure[]): Figure[] {
    const { west, east, south, north } = this.viewport.seen();
    return figures.filter(
      ({ at, reach }) => at.x + reach > west && at.x - reach < east && at.y + reach > south && at.y - reach < north,
    );
  }

  protected onPointerDown(event: PointerEvent): void {
    const target = event.target as Element;
    const thing = target.closest('[data-thing]')?.getAttribute('data-thing') ?? null;
    const handle = (target.closest('[data-handle]')?.getAttribute('data-handle') ?? null) as HandleName | null;
    const pans =
      event.button === 1 || (event.button === 0 && thing === null && handle === null && !this.drawing() && !event.shiftKey);
    if (event.button > 1) return;
    this.down = { x: event.clientX, y: event.clientY, thing, handle, pans };
    this.canvas().nativeElement.setPointerCapture(event.pointerId);
    this.canvas().nativeElement.focus({ preventScroll: true });
    if (event.button === 0) this.pressed.emit(this.describe(event));
  }

  protected onPointerMove(event: PointerEvent): void {
    this.pointer.set(this.planPoint(event));
    if (this.down === null) return;
    if (this.down.pans) {
      this.panning.set(true);
      this.viewport.pan(event.movementX, event.movementY);
      return;
    }
    this.dragged.emit(this.describe(event));
  }

  protected onPointerUp(event: PointerEvent): void {
    if (this.down === null) return;
    this.released.emit(this.describe(event));
    this.down = null;
    this.panning.set(false);
  }

  protected onPointerLeave(): void {
    this.pointer.set(null);
  }

  private wheel(event: WheelEvent): void {
    event.preventDefault();
    const bounds = this.canvas().nativeElement.getBoundingClientRect();
    const lines = event.deltaMode === 1 ? 16 : 1;
    this.viewport.zoom(Math.exp(-event.deltaY * lines * 0.0015), {
      x: event.clientX - bounds.left,
      y: event.clientY - bounds.top,
    });
  }

  private planPoint(event: PointerEvent): Point {
    const bounds = this.canvas().nativeElement.getBoundingClientRect();
    return this.viewport.toPlan({ x: event.clientX - bounds.left, y: event.clientY - bounds.top });
  }

  private describe(event: PointerEvent): PlanPointer {
    const down = this.down!;
    const moved = Math.hypot(event.clientX - down.x, event.clientY - down.y);
    return { at: this.planPoint(event), moved, thing: down.thing, handle: down.handle, shift: event.shiftKey, alt: event.altKey };
  }
}

/** How far below a thing's middle its name stands, in pixels. */
function labelDrop(figure: Figure, scale: number): number {
  if (figure.kind === 'zone') return -figure.halfDepth * scale - 5;
  return figure.halfDepth * scale + 14;
}

function metresText(value: number): string {
  return `${Math.round(value * 100) / 100} m`;
}
