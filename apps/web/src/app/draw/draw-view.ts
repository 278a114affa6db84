import { CdkMenu, CdkMenuItem, CdkMenuItemCheckbox, CdkMenuItemRadio, CdkMenuTrigger } from '@angular/cdk/menu';
import { ChangeDetectionStrategy, Component, computed, effect, inject, signal, untracked, viewChild } from '@angular/core';
import { setPieces, variantsOf } from '@nettlewick/core';
import type { Point, Stencil, Vector } from '@nettlewick/core';
import { FormsModule } from '@angular/forms';
import { NzSelectModule } from 'ng-zorro-antd/select';
import { Board } from '../board/board';
import type { BoardPointer } from '../board/board';
import type { Pin } from '../board/pins';
import { allOpen } from '../board/figures';
import { Pen } from '../editing/pen';
import { Picking } from '../sentence/picking';
import { Section } from '../board/section';
import type { SectionDrag, SectionPress } from '../board/section';
import { facings } from '../board/section-view';
import type { Facing } from '../board/section-view';
import { Editor } from '../state/editor';
import { stencils } from '../editing/command-table';
import { Commands } from '../editing/commands';
import type { Doing } from '../editing/commands';
import { Rooms } from '../state/rooms';
import { Snap, snapSteps } from '../editing/snap';
import { Icon } from '../controls/icon';
import { PiecePlacing } from './piece-placing';
import { SetPiecePanel } from './set-piece-panel';
import { Tape } from '../state/tape';
import { drawnTo } from './drawn-to';
import { ThingPanel } from './thing-panel';
import { arranging } from '../editing/arranging';
import { arrivalMarks } from './arrivals';
import { PasteDialog } from './paste-dialog';
import { PasteController } from '../editing/copying';
import { BoardMoves } from '../editing/board-moves';
import { poseHandles } from '../editing/poses';
import { SectionFold } from './section-fold';
import { SectionLine } from './section-line';
import { SectionMoves } from '../editing/section-moves';
import { LastViewedMoment } from '../editing/last-look';
import { SearchLabel } from '../controls/search-label';
import { LayerVisibility, layers } from '../editing/veil';
import { Slider } from '../controls/slider';
import { connectionLines } from '../editing/ties';
import { MotionPreview } from './scrub';
import { Tip } from '../controls/tip';
import { PaneDivider } from '../editing/pane-divider';

/** With so many fixtures the section is opened only by who wants it: there is a wall of them from the side. */
const CROWD = 800;

/** Things snap to the lines of other things within this distance, in pixels. */
const GUIDE_SNAP_PX = 7;

/** The first place: the room drawn to scale, and the thing in hand described beside it. */
@Component({
  selector: 'nw-draw-view',
  imports: [
    PaneDivider,
    Tip,
    Slider,
    Board,
    CdkMenu,
    CdkMenuItem,
    CdkMenuItemCheckbox,
    CdkMenuItemRadio,
    CdkMenuTrigger,
    PasteDialog,
    FormsModule,
    Icon,
    SearchLabel,
    NzSelectModule,
    SetPiecePanel,
    Section,
    ThingPanel,
  ],
  templateUrl: './draw-view.html',
  styleUrl: './draw-view.css',
  host: { '[class.split]': 'fold.isOpen() && !fold.isAlone()' },
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class DrawView {
  protected readonly editor = inject(Editor);
  protected readonly rooms = inject(Rooms);
  protected readonly commands = inject(Commands);
  protected readonly veil = inject(LayerVisibility);
  protected readonly layers = layers;
  protected readonly stencils = stencils;
  protected readonly snaps = snapSteps.map((value) => ({ value, label: value === 0 ? 'off' : `${value} m` }));
  protected readonly snap = inject(Snap);
  protected readonly plan = viewChild.required(Board);
  private readonly moves = new BoardMoves(this.editor, this.snap, () => GUIDE_SNAP_PX / this.plan().viewport.scale());
  protected readonly pen = new Pen(
    this.editor,
    () => this.rooms.current(),
    (at) => this.moves.snapped(at),
  );
  private readonly upright = new SectionMoves(this.editor, this.snap.step);
  protected readonly fold = new SectionFold(innerWidth > 860 && this.editor.level().fixtures.length < CROWD);
  /** The rows of the sheet: the rooms if there are several, the plan and the section, the foot. */
  protected readonly rows = computed(() => `${this.rooms.options().length > 1 ? 'auto ' : ''}${this.fold.rows()} auto`);
  protected readonly facing = signal<Facing>('north');
  protected readonly facings = facings.map((value) => ({ value, label: `looking ${value}` }));
  protected readonly section = viewChild(Section);
  protected readonly line = new SectionLine(
    () => this.editor.level().rooms.find(({ id }) => id === this.rooms.current()),
    () => this.facing(),
    () => this.plan().viewport.scale(),
    () => this.fold.isOpen(),
  );
  private pullsLine = false;
  protected readonly tape = inject(Tape);
  protected readonly measuring = signal(false);
  /** The tape on the plan: a line, and what it measures at its end. */
  protected readonly taped = computed<Point[][]>(() => {
    const stretch = this.tape.stretch();
    return stretch?.on !== 'plan' || !this.measuring() ? [] : [[stretch.from, stretch.to]];
  });
  protected readonly tapePins = computed<Pin[]>(() => {
    const stretch = this.tape.stretch();
    const [length] = this.tape.numbers();
    if (stretch?.on !== 'plan' || length === undefined || !this.measuring()) return [];
    return [{ id: 'tape', at: stretch.to, text: `${length.value} m`, label: `The tape measures ${length.value} m` }];
  });
  /** Whether things are drawn as they start, at their other end, or at a moment of the last rehearsal. */
  protected readonly shows = signal<'start' | 'open' | 'moment'>('start');
  protected readonly look = inject(LastViewedMoment);
  private readonly scrub = inject(MotionPreview);
  /** While something is dragged it is drawn as it starts, for that is what is dragged. */
  protected readonly moment = computed(() => {
    if (this.editor.tried().size > 0) return null;
    if (this.shows() === 'start') return this.scrub.moment();
    return this.shows() === 'open' ? allOpen(this.editor.level()) : this.look.moment();
  });
  /** The positions on the way of what is in hand, to be dragged. */
  protected readonly poses = computed(() => {
    const [one, more] = this.editor.selected();
    const own = one === undefined || more !== undefined || this.shows() !== 'start' ? [] : poseHandles(one.thing);
    return [...own, ...this.line.knobs()];
  });
  private readonly ties = connectionLines(this.editor, this.rooms);
  private readonly arrivals = arrivalMarks(this.editor, this.rooms);
  protected readonly overlays = computed<Point[][]>(() => [
    ...this.line.drawn(),
    ...this.taped(),
    ...this.pen.lines(),
    ...this.arrivals().lines,
    ...this.moves.guides(),
    ...this.scrub.outlinesIn(this.rooms.current()),
    ...(this.editor.tried().size > 0 ? [] : this.ties()),
  ]);
  protected readonly flags = computed<Pin[]>(() => [...this.tapePins(), ...this.pen.pins(), ...this.arrivals().pins]);
  protected readonly pieces = new PiecePlacing(this.editor, this.pen, () => this.rooms.current());
  protected readonly copying = new PasteController(this.editor, () => this.rooms.current());
  protected readonly picking = inject(Picking);
  private picked = false;

  /** Whether a note lies on the plan: what is being done, or what is drawn otherwise than it starts. */
  protected readonly says = computed(
    () =>
      this.measuring() ||
      this.picking.request() !== null ||
      this.pieces.piece() !== null ||
      this.pen.armed() !== null ||
      this.shows() === 'open' ||
      (this.shows() === 'moment' && this.look.about() !== null),
  );
  protected readonly pointerText = computed(() => {
    const beside = this.section()?.pointer() ?? null;
    if (beside !== null)
      return `${beside.along.toFixed(2)} ${beside.axis === 'x' ? 'east' : 'north'}, ${beside.up.toFixed(2)} up`;
    const at = this.plan().pointer();
    return at === null ? '' : `${at.x.toFixed(2)} east, ${at.y.toFixed(2)} north`;
  });
  protected readonly scaleText = computed(() => `1 m = ${Math.round(this.plan().viewport.scale())} px`);

  constructor() {
    // A plan that is folded away leaves the view to the section, also when it is measured anew.
    effect(() => {
      const section = this.section();
      if (!this.fold.isAlone() || section === undefined) return;
      this.rooms.current();
      this.plan().viewport.size();
      untracked(() => requestAnimationFrame(() => section.fit()));
    });
    const chosen = (): boolean => this.editor.selection().length > 0;
    // From the list of commands a stencil is placed in the middle at once.
    const drawing = stencils.map(({ name }): [string, Doing] => [
      `draw-${name}`,
      { run: (event) => (event === null ? this.pen.place(name, this.middle()) : this.pen.takeOn(name)) },
    ]);
    const ways = stencils.flatMap(({ name }) =>
      variantsOf(name)
        .slice(1)
        .map(({ id }): [string, Doing] => [`draw-${name}-${id}`, { run: () => this.pen.place(name, this.middle(), id) }]),
    );
    const pieces = setPieces.map((piece): [string, Doing] => [`place-${piece.id}`, { run: () => this.pieces.choose(piece) }]);
    this.commands.offer({
      // On a button or a field the key is meant for that.
      'place-armed': {
        when: (event) => this.pen.armed() !== null && !isOnButton(event),
        run: () => this.pen.place(this.pen.armed()!, this.middle(), this.pen.variant()),
      },
      'set-pieces': () => this.pieces.choose(null),
      section: () => this.fold.toggle(),
      measure: () => this.measure(),
      'all-open': () => this.shows.update((now) => (now === 'open' ? 'start' : 'open')),
      'at-moment': () => this.showMoment(),
      hide: { when: chosen, run: () => this.veil.hide() },
      lock: { when: chosen, run: () => this.veil.lock() },
      lift: () => this.veil.lift(),
      raise: { when: chosen, run: () => this.upright.raise(this.snap.step() || 0.01) },
      lower: { when: chosen, run: () => this.upright.raise(-(this.snap.step() || 0.01)) },
      nudge: {
        when: (event) => (event?.target as Element).closest('nw-board, body')?.matches('nw-board, body') === true,
        run: (event) => this.nudge(event!),
      },
      turn: { when: chosen, run: () => this.moves.turnBy(15) },
      'turn-back': { when: chosen, run: () => this.moves.turnBy(-15) },
      duplicate: { when: chosen, run: () => this.editor.duplicate(this.editor.selection()) },
      ...arranging(this.editor),
      ...this.copying.commands(),
      delete: { when: chosen, run: () => this.editor.remove(this.editor.selection()) },
      'let-go': () => this.letGo(),
      fit: () => this.fit(),
      'cut-on': { when: () => this.fold.isOpen(), run: () => this.line.by(this.snap.step() || 0.1) },
      'cut-back': { when: () => this.fold.isOpen(), run: () => this.line.by(-(this.snap.step() || 0.1)) },
      'section-alone': () => this.fold.alone(),
      'zoom-in': () => this.zoom(1.25),
      'zoom-out': () => this.zoom(0.8),
      ...Object.fromEntries([...drawing, ...ways]),
      ...Object.fromEntries(pieces),
    });
  }

  /** A press of a stencil's button: arms it for the next drag; with the keyboard the thing is placed in the middle at once. */
  protected take(stencil: Stencil, event: MouseEvent): void {
    if (event.detail === 0) this.pen.place(stencil, this.middle());
    else this.pen.take(this.pen.armed() === stencil ? null : stencil);
  }

  /** The middle of what is seen. */
  private middle(): Point {
    const center = this.plan().viewport.center();
    return this.fold.isAlone() ? this.line.at(center) : center;
  }

  /** Arms a stencil that is asked for beside the plan. */
  protected takeStencil(stencil: Stencil): void {
    this.pen.take(stencil);
  }

  protected onPressed(pointer: BoardPointer): void {
    this.pullsLine = pointer.handle === 'cut';
    this.picked = false;
    if (this.pullsLine) return;
    this.picked = this.picking.give({ thing: pointer.thing, at: this.moves.snapped(pointer.at), room: this.rooms.current() });
    if (this.picked) return;
    if (this.measuring()) {
      const near = this.near(pointer.at);
      this.tape.measure({ from: near, to: near, on: 'plan' });
      return;
    }
    if (this.pieces.piece() !== null) {
      this.pieces.place(this.moves.snapped(pointer.at));
      this.picked = true;
      return;
    }
    if (this.pen.armed() !== null || (pointer.shift && pointer.thing === null && pointer.handle === null)) {
      this.pen.press(pointer.at);
      return;
    }
    this.moves.press(pointer);
  }

  protected onDragged(pointer: BoardPointer): void {
    if (this.picked) return;
    if (this.pullsLine) {
      this.line.to(pointer.alt ? pointer.at : this.moves.snapped(pointer.at));
      return;
    }
    if (this.measuring()) {
      const stretch = this.tape.stretch();
      if (stretch !== null) this.tape.measure({ ...stretch, to: this.near(pointer.at) });
      return;
    }
    if (!this.pen.isDown()) this.moves.drag(pointer);
    else if (pointer.moved >= 4) this.pen.draw(pointer.at, pointer.alt);
  }

  protected onReleased(pointer: BoardPointer): void {
    if (this.picked || this.pullsLine) {
      this.picked = this.pullsLine = false;
      return;
    }
    if (this.measuring()) return;
    if (!this.pen.isDown()) {
      this.moves.release(pointer);
      return;
    }
    const marked = this.pen.lift(pointer.at, pointer.alt);
    if (marked === null) return;
    const away = [this.veil.hidden(), this.veil.locked()];
    const found = this.moves.within(marked, this.rooms.current());
    this.editor.select(...found.filter((id) => !away.some((some) => some.has(id))));
  }

  /** A second finger came, or the pointer was taken away: nothing is done. */
  protected onCancelled(): void {
    this.pullsLine = false;
    this.pen.drop();
    this.moves.cancel();
  }

  /** The key that takes the next way of what is armed, if it has one. */
  protected armedKey(): string | undefined {
    return stencils.find(({ name }) => name === this.pen.armed())?.key?.toUpperCase();
  }

  protected tipOf(stencil: (typeof stencils)[number]['name']): string {
    return this.commands.tip(`draw-${stencil}`);
  }

  protected zoom(factor: number): void {
    this.plan().viewport.zoom(factor);
  }

  protected showMoment(): void {
    if (this.look.about() === null) this.editor.say('No rehearsal to show. Rehearse a walk first.');
    else this.shows.update((now) => (now === 'moment' ? 'start' : 'moment'));
  }

  private near(at: Point): Vector {
    return { ...drawnTo(this.editor.level(), this.rooms.current(), at, 10 / this.plan().viewport.scale()), z: 0 };
  }

  /** Takes the tape in hand, or rolls it up. */
  protected measure(): void {
    this.measuring.update((now) => !now);
    this.pen.take(null);
    // Rolled up it is not drawn any more, and its numbers can still be poured into a value.
    if (this.measuring()) this.tape.measure(null);
  }

  protected onSection({ thing, at, shift }: SectionPress): void {
    const to = { ...this.moves.snapped(at), z: this.moves.snapped({ x: at.z, y: 0 }).x };
    this.picked = this.picking.give({ thing, at: to, room: this.rooms.current() });
    if (this.picked) return;
    this.picked = this.pieces.piece() !== null;
    if (this.picked) this.pieces.place(to);
    else if (thing !== null) this.editor.take(thing, shift);
  }

  /** A click on the paper of the section lets go of what is selected. */
  protected onSectionCleared(): void {
    if (!this.picked) this.editor.select();
  }

  protected onSectionCancelled(): void {
    this.pen.drop();
    this.editor.forgetTried();
  }

  /** Shows the whole room, on the plan or, where that is folded away, in the section. */
  protected fit(): void {
    if (this.fold.isAlone()) this.section()?.fit();
    else {
      this.plan().fit();
      this.section()?.settle();
    }
  }

  protected onSectionDragged(drag: SectionDrag): void {
    if (!this.picked) this.upright.drag(drag);
  }

  private nudge(event: KeyboardEvent): void {
    const way = ways[event.key]!;
    const step = (this.snap.step() || 0.01) * (event.shiftKey ? 10 : 1);
    if (this.editor.selection().length === 0) this.plan().viewport.pan(-way.x * 60, way.y * 60);
    else if (this.fold.isAlone() && way.y !== 0) this.upright.raise(way.y * step);
    else if (this.fold.isAlone()) this.moves.nudge(this.line.along(way.x * step));
    else this.moves.nudge({ x: way.x * step, y: way.y * step });
  }

  private letGo(): void {
    if (this.picking.request() !== null) {
      this.picking.end();
      return;
    }
    if (this.moves.cancel()) return;
    if (this.measuring()) this.measure();
    else if (this.pieces.listing()) this.pieces.close();
    else if (this.pen.armed() !== null) this.pen.take(null);
    else this.editor.select();
  }
}

const ways: Record<string, Point> = {
  ArrowLeft: { x: -1, y: 0 },
  ArrowRight: { x: 1, y: 0 },
  ArrowUp: { x: 0, y: 1 },
  ArrowDown: { x: 0, y: -1 },
};

/** Whether a key is pressed on something that does what it says when Enter is pressed. */
function isOnButton(event: Event | null): boolean {
  return event?.target instanceof Element && event.target.closest('button, a, [role=button]') !== null;
}
