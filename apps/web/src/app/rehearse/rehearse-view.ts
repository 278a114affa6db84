import { ChangeDetectionStrategy, Component, computed, effect, inject, input, signal, untracked, viewChild } from '@angular/core';
import { FormsModule } from '@angular/forms';
import { NzSelectModule } from 'ng-zorro-antd/select';
import { NzTabsModule } from 'ng-zorro-antd/tabs';
import { Board } from '../board/board';
import { Under } from '../board/under';
import type { BoardPointer } from '../board/board';
import type { Pin } from '../board/pins';
import { Section } from '../board/section';
import type { SectionPress } from '../board/section';
import { facings } from '../board/section-view';
import type { Facing } from '../board/section-view';
import { Picking } from '../sentence/picking';
import { Editor } from '../state/editor';
import { Commands } from '../editing/commands';
import { Rooms } from '../state/rooms';
import { Snap } from '../editing/snap';
import { ComparePanel } from './compare-panel';
import { ExportMenu } from './export-menu';
import { syncUrl } from './in-address';
import { LanesView } from './lanes-view';
import { LedgerQuery } from './ledger-query';
import { LedgerView } from './ledger-view';
import { LiveBar } from './live-bar';
import { LiveWalk } from './live-walk';
import { MatrixPanel } from './matrix-panel';
import { PlayFeed } from '../state/play-feed';
import { Playback } from './playback';
import { RehearsalStore } from './rehearsal-store';
import { Transport } from './transport';
import { WalkPanel } from './walk-panel';
import { AnalysisStore } from './studies';
import { WhatIfPanel } from './what-if-panel';
import { WhyPanel } from './why-panel';
import { SearchLabel } from '../controls/search-label';
import { Tip } from '../controls/tip';
import { isUndrawn } from '@nettlewick/core';
import type { Point } from '@nettlewick/core';
import { PaneDivider } from '../editing/pane-divider';

/** What lies beside the plan, one at a time. */
const sheets = ['ledger', 'walk', 'why', 'matrix', 'compare', 'what-if'] as const;

/** The third place: a walk through the level, played on the plan, with the ledger beside it. */
@Component({
  selector: 'nw-rehearse-view',
  imports: [
    PaneDivider,
    Tip,
    Board,
    ComparePanel,
    FormsModule,
    ExportMenu,
    LanesView,
    LedgerView,
    LiveBar,
    MatrixPanel,
    SearchLabel,
    NzSelectModule,
    NzTabsModule,
    Section,
    Transport,
    WalkPanel,
    WhatIfPanel,
    WhyPanel,
  ],
  providers: [LedgerQuery, RehearsalStore, Playback, LiveWalk, AnalysisStore],
  templateUrl: './rehearse-view.html',
  styleUrl: './rehearse-view.css',
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class RehearseView {
  /** The walk that the address asks for. */
  readonly wanted = input<string | undefined>();
  /** The revision of the level whose rehearsal of it the address asks for, if it is not the one that is open. */
  readonly revision = input<string | undefined>();
  protected readonly editor = inject(Editor);
  protected readonly rooms = inject(Rooms);
  protected readonly rehearser = inject(RehearsalStore);
  protected readonly playback = inject(Playback);
  protected readonly living = inject(LiveWalk);
  private readonly studies = inject(AnalysisStore);
  private readonly feed = inject(PlayFeed);
  protected readonly sheet = signal<(typeof sheets)[number]>('ledger');
  private readonly ledger = viewChild(LedgerView);
  private readonly walkPanel = viewChild(WalkPanel);
  protected readonly lanes = viewChild(LanesView);
  /** The thing clicked on this plan: the ledger shows only what is about it. */
  protected readonly about = signal<string | null>(null);
  protected readonly thing = computed(() => this.editor.find(this.about() ?? '')?.thing ?? null);
  private readonly matrix = viewChild(MatrixPanel);
  protected readonly marked = computed(() => [
    ...(this.thing() === null ? [] : [this.thing()!.id]),
    ...(this.sheet() === 'matrix' ? (this.matrix()?.ends() ?? []) : []),
  ]);

  protected readonly sheets = sheets;
  /** Whether the room is seen from the side below the plan, and which way one looks. */
  protected readonly sectioned = signal(false);
  protected readonly facing = signal<Facing>('north');
  protected readonly facings = facings.map((value) => ({ value, label: `looking ${value}` }));
  protected readonly board = viewChild(Board);
  /** Whether the lanes lie below the plan. */
  protected readonly laned = signal(false);
  protected readonly picking = inject(Picking);
  private readonly snap = inject(Snap);
  private readonly under = new Under();
  private dragging: { pin: string; gesture: string } | null = null;
  private taken = false;
  protected readonly walks = computed(() => this.editor.level().walks.map(({ id, name }) => ({ value: id, label: name.trim() })));
  /** What is stuck into the plan: the way points of the walk while it is edited, else what happened at this moment. */
  protected readonly pins = computed<readonly Pin[]>(() =>
    this.sheet() === 'walk'
      ? (this.walkPanel()?.pins() ?? [])
      : [
          ...this.playback.trailPins(this.rooms.current()),
          ...this.playback.pins(this.rooms.current(), this.studies.hangs()),
          ...this.feed.pins(this.rooms.current()),
        ],
  );
  /** Ways gone, and while the walk is edited the ways as they are told. */
  protected readonly drawn = computed(() => [
    ...this.ways(),
    ...(this.sheet() === 'walk' ? (this.walkPanel()?.told() ?? []) : [this.playback.trailOn(this.rooms.current())]),
  ]);

  /** Where those who walk have gone, as far as it was in the room that is shown. */
  protected readonly ways = computed(() => this.playback.waysIn(this.rooms.current()));

  protected readonly sideTip = inject(Commands).tip('side');
  protected readonly lanesTip = inject(Commands).tip('lanes');
  protected readonly walkTip = inject(Commands).tip('walk-it');

  /** Asks why nothing happened at something. */
  protected askWhy(about: string): void {
    this.about.set(about);
    this.sheet.set('why');
  }

  constructor() {
    syncUrl(this.about);
    effect(() => {
      const revision = Number(this.revision());
      const walk = this.wanted();
      if (Number.isInteger(revision) && revision > 0 && walk !== undefined)
        untracked(() => void this.studies.showRevision(revision, walk));
    });
    // A walk that nobody walks yet is drawn first.
    effect(() => {
      const walk = this.rehearser.walk();
      if (walk !== null && untracked(this.sheet) === 'ledger' && isUndrawn(walk)) this.sheet.set('walk');
    });
    // The plan goes along into the room of the entry that was stepped to.
    effect(() => {
      const entry = this.playback.entries()[(this.playback.chosen() ?? 0) - 1];
      if (entry === undefined) return;
      const rooms = untracked(this.playback.moment)?.rooms;
      const thing = untracked(() => this.editor.find(entry.what ?? '')?.thing);
      const room = rooms?.get(entry.who ?? '') ?? (thing !== undefined && 'room' in thing ? thing.room : null);
      if (room !== null) untracked(() => this.rooms.choose(room));
    });
    // And to where a cell of the matrix leads from.
    effect(() => {
      const thing = this.editor.find(this.matrix()?.ends()[0] ?? '')?.thing;
      if (thing !== undefined && 'room' in thing) untracked(() => this.rooms.choose(thing.room as string));
    });
    // Whoever walks sees from the side goes as the section is seen.
    effect(() => this.living.look(this.sectioned() ? this.facing() : null));
    const by = (ticks: number) => () => this.playback.seek(this.playback.tick() + ticks);
    inject(Commands).offer({
      'walk-it': { when: () => !this.living.isOn() && this.editor.level().visitors.length > 0, run: () => this.walkIt() },
      play: {
        // On a button or a box, space is for that.
        when: (event) => !(event?.target instanceof Element) || !event.target.matches('button, select, input[type=checkbox]'),
        run: () => this.playback.toggle(),
      },
      'tick-back': by(-1),
      'tick-on': by(1),
      'second-back': by(-60),
      'second-on': by(60),
      'entry-before': () => this.ledger()?.step(-1),
      'entry-next': () => this.ledger()?.step(1),
      'to-start': () => this.playback.seek(0),
      'to-end': () => this.playback.seek(this.playback.last()),
      held: () => this.ledger()?.toggleHeld(),
      lanes: () => this.laned.update((now) => !now),
      side: () => this.sectioned.update((now) => !now),
      everything: () => this.letGo(),
    });
  }

  /** Takes the place of a visitor; the ledger is watched meanwhile. */
  protected walkIt(): void {
    // It begins where a walk does: where there is none yet, one is made.
    if (this.rehearser.walk() === null) this.newWalk();
    this.sheet.set('ledger');
    void this.living.begin().then(() => this.sheet.set('ledger'));
  }

  protected newWalk(): void {
    const level = this.editor.level();
    const visitor = level.visitors.find((one) => one.kind === 'player') ?? level.visitors[0];
    const routes = visitor === undefined ? [] : [{ visitor: visitor.id, instructions: [] }];
    const { id } = this.editor.addWalk('New walk', routes);
    this.rehearser.choose(id);
    this.sheet.set('walk');
  }

  protected readonly snapped = (at: Point): Point => this.snap.to(at);

  protected onPressed(pointer: BoardPointer): void {
    this.taken = true;
    if (this.picking.give({ thing: pointer.thing, at: this.snap.to(pointer.at, pointer.alt), room: this.rooms.current() }))
      return;
    if (pointer.pin !== null) {
      this.dragging = { pin: pointer.pin, gesture: `pin ${pointer.pin} ${Date.now()}` };
      return;
    }
    if (this.walkPanel()?.takePoint(this.snap.to(pointer.at, pointer.alt)) === true) return;
    this.taken = false;
    if (pointer.thing !== null) this.about.set(this.under.next(pointer));
  }

  /** What is pressed from the side lies as deep in the room as the way has come. */
  protected onSection({ thing, at }: SectionPress): void {
    const came = this.walkPanel()?.comesTo() ?? at;
    const isAlongEast = this.facing() === 'north' || this.facing() === 'south';
    const to = this.snap.to(isAlongEast ? { ...at, y: came.y } : { ...at, x: came.x });
    if (this.picking.give({ thing, at: to, room: this.rooms.current() })) return;
    if (this.walkPanel()?.takePoint(to) !== true && thing !== null) this.about.set(thing);
  }

  protected onDragged(pointer: BoardPointer): void {
    if (this.dragging !== null && pointer.moved >= 4)
      this.walkPanel()?.movePin(this.dragging.pin, this.snap.to(pointer.at, pointer.alt), this.dragging.gesture);
  }

  protected onReleased(pointer: BoardPointer): void {
    this.dragging = null;
    if (!this.taken && pointer.thing === null && pointer.moved < 4 && this.sheet() === 'ledger') this.about.set(null);
  }

  protected get asksForPoint(): boolean {
    const asking = this.walkPanel()?.asking();
    return this.picking.request() !== null || (asking !== null && asking !== undefined);
  }

  /** Escape ends what was begun: picking, asking for places, or the filter of the ledger. */
  private letGo(): void {
    const sheet = this.walkPanel();
    if (this.picking.request() !== null) this.picking.end();
    else if (sheet !== undefined && sheet.asking() !== null) sheet.asking.set(null);
    else this.about.set(null);
  }
}
