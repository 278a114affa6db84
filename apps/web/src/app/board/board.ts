import {
  ChangeDetectionStrategy,
  Component,
  DestroyRef,
  ElementRef,
  afterNextRender,
  afterRenderEffect,
  computed,
  effect,
  inject,
  input,
  linkedSignal,
  output,
  signal,
  untracked,
  viewChild,
} from '@angular/core';
import type { Level, Thing, Point } from '@nettlewick/core';
import { scaleLinear } from 'd3-scale';
import { Theme } from '../state/theme';
import { roomBox } from './figures';
import type { Figure, Moment } from './figures';
import { gesturesOn } from './gestures';
import type { Hand } from './gestures';
import { stuckIn } from './pins';
import type { Pin } from './pins';
import { besides, handleUnder, handlesOf, pinUnder } from './handles';
import type { Handle, HandleName } from './handles';
import { inksOf } from './ink';
import type { Inks } from './ink';
import { FrameScheduler } from './in-time';
import { LabelLayout } from './naming';
import { ReachedThings, reachedAt } from './reached-things';
import type { ReachedThing } from './reached-things';
import { VisibleScene } from './sight';
import { StaticLayer } from './static-layer';
import { Surface } from './surface';
import type { GridLine } from './surface';
import { Viewport } from './viewport';
import type { Box, View } from './viewport';

/** Something done on the board with a pointer: where, on which thing or handle, and with which keys held. */
export interface BoardPointer {
  at: Point;
  /** How many pixels from where the pointer was pressed. */
  moved: number;
  thing: string | null;
  /** All that lies on each other where it was pressed, the topmost first. */
  heap: readonly string[];
  handle: HandleName | null;
  /** The pin that was pressed: of such as can be. */
  pin: string | null;
  shift: boolean;
  alt: boolean;
}

const nothing: ReadonlyMap<string, Thing> = new Map();
const nobody: ReadonlySet<string> = new Set();

/** The view rests when it has not moved for so long, in milliseconds. */
const REST = 140;

/** A room drawn to scale on layers of a canvas, with rulers, a grid, and the coordinates under the pointer. */
@Component({
  selector: 'nw-board',
  imports: [ReachedThings],
  templateUrl: './board.html',
  styleUrl: './board.css',
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class Board {
  readonly level = input.required<Level>();
  readonly room = input.required<string>();
  readonly selection = input<readonly string[]>([]);
  readonly moment = input<Moment | null>(null);
  /** Things as a gesture would leave them, before it is done. */
  readonly preview = input<ReadonlyMap<string, Thing>>(nothing);
  /** A rectangle being drawn, in metres. */
  readonly draft = input<Box | null>(null);
  /** Ways that visitors take, in metres. */
  readonly ways = input<readonly Point[][]>([]);
  readonly pins = input<readonly Pin[]>([]);
  /** More handles, beside those of what is selected. */
  readonly knobs = input<readonly Handle[]>([]);
  /** Things that are not shown, and things that a press does not take. */
  readonly veiled = input<ReadonlySet<string>>(nobody);
  readonly locked = input<ReadonlySet<string>>(nobody);
  readonly editable = input(false);
  /** Whether a drag on empty paper draws; else it pans. */
  readonly drawing = input(false);
  /** Without rulers and measures, for a small plan. */
  readonly bare = input(false);
  readonly label = input('Plan');
  /** Says what a place that is pressed would come to; null where the coordinates are not shown on the board itself. */
  readonly where = input<((at: Point) => Point) | null>(null);

  readonly pressed = output<BoardPointer>();
  readonly dragged = output<BoardPointer>();
  readonly released = output<BoardPointer>();
  /** What was pressed is not to be done after all. */
  readonly cancelled = output();

  readonly viewport = new Viewport();
  readonly pointer = signal<Point | null>(null);
  protected readonly panning = signal(false);
  private readonly stage = viewChild.required<ElementRef<HTMLElement>>('stage');
  private readonly canvas = viewChild.required<ElementRef<HTMLCanvasElement>>('canvas');
  private readonly things = viewChild.required<ElementRef<HTMLElement>>('things');
  protected readonly key = `board-${(boards += 1)}-`;

  private readonly theme = inject(Theme);
  private readonly still = new StaticLayer();
  private inks: { dark: boolean; inks: Inks } | null = null;
  private down: {
    at: Point;
    thing: string | null;
    heap: readonly string[];
    handle: HandleName | null;
    pin: string | null;
    pans: boolean;
  } | null = null;
  private measured = false;
  /** How large the window was when it was measured. */
  private window = '';
  private readonly inTime = new FrameScheduler(() => untracked(() => this.draw()));
  private rest: ReturnType<typeof setTimeout> | undefined;
  private readonly moving = signal(false);
  private readonly naming = new LabelLayout();
  /** The view as it was when it rested last. */
  private readonly restingView = linkedSignal<View, View>({
    source: () => this.viewport.view(),
    computation: (now, before) => (before !== undefined && this.moving() ? before.value : now),
  });

  private readonly sight = new VisibleScene(this, this.viewport);
  protected readonly pointed = computed<Figure | null>(() => {
    const at = this.pointer();
    return at === null || this.panning() || this.preview().size > 0 ? null : this.sight.hit(at);
  });
  /** The place under the pointer, as it would be picked. */
  protected readonly whereText = computed(() => {
    const [pointer, snapped] = [this.pointer(), this.where()];
    if (pointer === null || snapped === null) return '';
    const { x, y } = snapped(pointer);
    return `${x.toFixed(2)} east, ${y.toFixed(2)} north`;
  });
  private readonly roomBox = computed(() => roomBox(this.level(), this.room()));
  private readonly grid = computed(() => {
    const { seen, size } = this.viewport.view();
    const lines = (from: number, to: number, across: number, at: (value: number) => number): GridLine[] => {
      const scale = scaleLinear().domain([from, to]);
      const count = Math.max(2, Math.round(across / 80));
      const format = scale.tickFormat(count);
      return scale.ticks(count).map((value) => ({ value, label: format(value).replace('−', '-'), at: at(value) }));
    };
    return {
      eastward: lines(seen.west, seen.east, size.width, (x) => this.viewport.toScreen({ x, y: 0 }).x),
      northward: lines(seen.south, seen.north, size.height, (y) => this.viewport.toScreen({ x: 0, y }).y),
    };
  });
  protected readonly handles = computed<(Handle & { screen: Point })[]>(() => {
    const [id, more] = this.selection();
    const knobs = this.knobs().map((knob) => ({ ...knob, screen: this.viewport.toScreen(knob.at) }));
    const one = this.editable() && id !== undefined && more === undefined ? this.sight.find(id) : undefined;
    if (one === undefined) return knobs;
    const tried = this.preview().get(one.id);
    const middle = this.viewport.toScreen((tried as { at?: Point } | undefined)?.at ?? one.at);
    const own = handlesOf(this.level(), one.id, 28 / this.viewport.scale(), tried).map((handle) => ({
      ...handle,
      screen: besides(handle.name, this.viewport.toScreen(handle.at), middle),
    }));
    return [...own, ...knobs];
  });
  protected readonly stuck = computed(() => stuckIn(this.pins(), (at) => this.viewport.toScreen(at)));
  /** The things that stand on the board for those who do not see it, and for whoever looks for them by name. */
  protected readonly reached = computed(() =>
    this.sight.reachable(this.restingView().seen, new Set(this.selection())).map((figure) => this.reach(figure)),
  );
  /** What is elsewhere now; while something is dragged, it is in somebody's hand. */
  protected readonly reachedLive = computed(() =>
    this.moment() === null ? [] : this.sight.live().map((figure) => this.reach(figure)),
  );
  protected readonly active = computed(() => {
    const id = this.selection().at(-1);
    return id !== undefined && [...this.reached(), ...this.reachedLive()].some((one) => one.id === id) ? this.key + id : null;
  });

  constructor() {
    const destroy = inject(DestroyRef);
    // Another room is another sheet.
    effect(() => {
      this.room();
      untracked(() => this.fit());
    });
    afterRenderEffect(() => {
      // Whatever the picture is made of is asked for here, so that a change of it asks for another picture.
      this.viewport.view();
      this.sight.scene();
      this.sight.live();
      this.sight.hidden();
      this.selection();
      this.pointed();
      this.draft();
      this.ways();
      this.moving();
      this.theme.dark();
      if (this.measured) this.inTime.now();
      else this.inTime.soon();
    });
    afterNextRender(() => {
      const element = this.stage().nativeElement;
      const observer = new ResizeObserver(() => {
        const { width, height } = element.getBoundingClientRect();
        if (width === 0 || height === 0) return;
        // Folded away to a line it keeps the height that it had.
        this.viewport.size.update((before) => ({ width, height: height > 2 ? height : before.height }));
        // Whoever makes the window larger sees the room larger, unless they have gone nearer, or elsewhere, by hand.
        const isOther = this.window !== `${innerWidth} ${innerHeight}`;
        if (!this.measured || (isOther && this.viewport.isAsFitted())) this.fit();
        this.window = `${innerWidth} ${innerHeight}`;
        this.measured = true;
      });
      observer.observe(element);
      const end = gesturesOn(element, this.viewport, {
        pans: (hand) => this.pans(hand),
        pressed: (hand, pans) => this.press(hand, pans),
        moved: (hand) => this.move(hand),
        released: (hand) => this.release(hand),
        cancelled: () => this.cancel(),
        left: () => this.pointer.set(null),
        viewMoved: (panning) => {
          this.panning.set(panning);
          this.stir();
        },
      });
      // The names are written in faces that may come later than the board.
      void document.fonts.ready.then(() => {
        this.naming.forget();
        this.inTime.soon();
      });
      destroy.onDestroy(() => {
        observer.disconnect();
        end();
        this.inTime.end();
        clearTimeout(this.rest);
      });
    });
  }

  /** Shows the whole room. */
  fit(): void {
    const { width, height } = this.viewport.size();
    this.viewport.fit(this.roomBox(), this.bare() ? 12 : Math.min(56, 0.14 * Math.min(width, height)));
  }

  /** Brings a thing into view if it is not. */
  reveal(id: string): void {
    const figure = this.sight.find(id);
    const { west, east, south, north } = this.viewport.seen();
    if (figure !== undefined && (figure.at.x < west || figure.at.x > east || figure.at.y < south || figure.at.y > north))
      this.viewport.center.set(figure.at);
  }

  private reach(figure: Figure): ReachedThing {
    return reachedAt(figure, this.restingView(), this.selection().includes(figure.id));
  }

  /** Full stop and comma take the next thing and the one before, as one reads a page: from north to south, from west to east. */
  protected onKey(event: KeyboardEvent): void {
    if (event.ctrlKey || event.metaKey || event.altKey) return;
    const forward = event.code === 'Period' || event.key === '.';
    if (!forward && event.code !== 'Comma' && event.key !== ',') return;
    const order = this.sight.inReadingOrder();
    if (order.length === 0) return;
    event.preventDefault();
    const now = order.findIndex(({ id }) => id === this.selection().at(-1));
    const step = forward ? 1 : -1;
    const next = order[now < 0 ? (step > 0 ? 0 : order.length - 1) : (now + step + order.length) % order.length]!;
    const pointer = {
      at: next.at,
      moved: 0,
      thing: next.id,
      heap: [next.id],
      handle: null,
      pin: null,
      shift: event.shiftKey,
      alt: false,
    };
    this.pressed.emit(pointer);
    this.released.emit(pointer);
    this.reveal(next.id);
  }

  private pans({ at, event }: Hand): boolean {
    if (this.drawing() || event.shiftKey || handleUnder(event) !== null || pinUnder(event) !== null) return false;
    return this.sight.hit(this.viewport.toPlan(at)) === null;
  }

  private press({ at, event }: Hand, pans: boolean): void {
    // The active gesture takes the press before any thing on the plan does.
    const [handle, pin] = this.drawing() ? [null, null] : [handleUnder(event), pinUnder(event)];
    const thing = handle === null && pin === null ? (this.sight.hit(this.viewport.toPlan(at))?.id ?? null) : null;
    const heap = thing === null ? [] : this.sight.heap(this.viewport.toPlan(at)).map(({ id }) => id);
    this.down = { at, thing, heap, handle, pin, pans };
    this.pressed.emit(this.describe(at, event));
  }

  private move({ at, event }: Hand): void {
    this.pointer.set(this.viewport.toPlan(at));
    if (this.down !== null && !this.down.pans) this.dragged.emit(this.describe(at, event));
  }

  private release({ at, event }: Hand): void {
    this.panning.set(false);
    if (this.down === null) return;
    this.released.emit(this.describe(at, event));
    this.down = null;
  }

  private cancel(): void {
    this.panning.set(false);
    if (this.down === null) return;
    this.down = null;
    this.cancelled.emit();
  }

  private describe(at: Point, event: PointerEvent): BoardPointer {
    const down = this.down!;
    const moved = Math.hypot(at.x - down.at.x, at.y - down.at.y);
    const { thing, heap, handle, pin } = down;
    return { at: this.viewport.toPlan(at), moved, thing, heap, handle, pin, shift: event.shiftKey, alt: event.altKey };
  }

  /** The view moves: what takes long waits until it rests. */
  private stir(): void {
    this.moving.set(true);
    clearTimeout(this.rest);
    this.rest = setTimeout(() => this.moving.set(false), REST);
  }

  private draw(): void {
    const canvas = this.canvas().nativeElement;
    const view = this.viewport.view();
    const ratio = devicePixelRatio;
    const width = Math.round(view.size.width * ratio);
    const height = Math.round(view.size.height * ratio);
    if (canvas.width !== width || canvas.height !== height) {
      canvas.width = width;
      canvas.height = height;
    }
    const pen = canvas.getContext('2d', { alpha: false });
    if (pen === null) return;
    const inks = this.inksNow();
    const surface = new Surface(pen, ratio, view, inks);
    const { eastward, northward } = this.grid();
    surface.ground(this.roomBox(), eastward, northward);
    surface.ways(this.ways());
    pen.setTransform(1, 0, 0, 1, 0, 0);
    this.still.show(pen, view, ratio, this.sight.scene(), this.sight.hidden(), inks, this.moving());
    for (const figure of this.sight.live()) surface.figure(figure, 'plain');
    const pointed = this.pointed();
    if (pointed !== null && this.down === null) surface.figure(pointed, 'pointed');
    for (const id of this.selection()) {
      const figure = this.sight.find(id);
      if (figure !== undefined) surface.figure(figure, 'chosen');
    }
    const handles = this.handles().map(({ screen }) => screen);
    surface.names(this.naming.of(this.sight, surface, view, this.selection(), pointed?.id, this.moving(), handles));
    const draft = this.draft();
    if (draft !== null) surface.draft(draft, `${metres(draft.east - draft.west)} × ${metres(draft.north - draft.south)}`);
    if (!this.bare()) {
      const room = this.roomBox();
      surface.measures(room, metres(room.east - room.west), metres(room.north - room.south));
      surface.rulers(eastward, northward);
    }
    this.keepThingsInStep(view);
    canvas.dataset['drawn'] = 'yes';
  }

  /** While the view moves, what stands on the board for those who do not see it is only shifted. */
  private keepThingsInStep(view: View): void {
    const rested = this.restingView();
    const style = this.things().nativeElement.style;
    if (rested === view) {
      style.transform = '';
      return;
    }
    const by = view.scale / rested.scale;
    const x = (rested.seen.west - view.seen.west) * view.scale;
    const y = (view.seen.north - rested.seen.north) * view.scale;
    style.transformOrigin = '0 0';
    style.transform = `translate(${x}px,${y}px) scale(${by})`;
  }

  private inksNow(): Inks {
    const dark = this.theme.dark();
    if (this.inks?.dark !== dark || document.documentElement.dataset['theme'] !== (dark ? 'dark' : 'light'))
      this.inks = { dark, inks: inksOf(this.stage().nativeElement) };
    return this.inks.inks;
  }
}

let boards = 0;

function metres(value: number): string {
  return `${Math.round(value * 100) / 100} m`;
}
