import { CdkDropListGroup } from '@angular/cdk/drag-drop';
import {
  ChangeDetectionStrategy,
  Component,
  ElementRef,
  afterNextRender,
  computed,
  effect,
  inject,
  linkedSignal,
  signal,
  untracked,
  viewChild,
} from '@angular/core';
import {
  chainSentence,
  connections,
  eventsOf,
  matrixOf,
  nameOf,
  targetsOf,
  timeline,
  createCause,
  createChain,
} from '@nettlewick/core';
import type { Act, Chain, Found, Point } from '@nettlewick/core';
import { FormsModule } from '@angular/forms';
import { NzCheckboxModule } from 'ng-zorro-antd/checkbox';
import { NzSelectModule } from 'ng-zorro-antd/select';
import { Board } from '../board/board';
import { Under } from '../board/under';
import type { BoardPointer } from '../board/board';
import type { Pin } from '../board/pins';
import { Editor } from '../state/editor';
import { RevealedFields } from '../sentence/revealed-fields';
import { Picking } from '../sentence/picking';
import { Commands } from '../editing/commands';
import { SearchLabel } from '../controls/search-label';
import { Rooms } from '../state/rooms';
import { Snap } from '../editing/snap';
import { OverviewTable } from '../overview/overview-table';
import { ChainLayout, layouts } from '../editing/bands';
import type { Layout, OrderedChain, ChainGroup } from '../editing/bands';
import { ChainBand } from './chain-band';
import { ConnectionList } from '../editing/connection-list';
import { connectionLines } from '../editing/ties';
import { Tip } from '../controls/tip';
import { TypedLine } from './typed-line';
import { WiringText } from './wiring-text';
import { PaneDivider } from '../editing/pane-divider';

/** The number of bands created at first, and then per frame, until the last is beyond the visible part. */
const FIRST = 24;
const MORE = 5;
/** The distance below the visible part up to which bands are created, in pixels. */
const PRELOAD_PX = 2400;

const nothingRun = new Map<string, never>();

/** What stands in the prompt of chains: a heading, or a chain. */
interface Item {
  key: string;
  sheaf?: ChainGroup;
  placed?: OrderedChain;
}

const label: Record<Layout, string> = { order: 'Evaluation order', room: 'By room', source: 'By trigger' };
const said: Record<Layout, string> = {
  order: 'Chains in the order in which they are tried',
  room: 'Chains by room',
  source: 'Chains by trigger',
};

/** The second place: every chain is one band, in the order in which chains are tried. */
@Component({
  selector: 'nw-wire-view',
  imports: [
    PaneDivider,
    Tip,
    Board,
    CdkDropListGroup,
    ChainBand,
    ConnectionList,
    FormsModule,
    SearchLabel,
    NzCheckboxModule,
    NzSelectModule,
    OverviewTable,
    TypedLine,
    WiringText,
  ],
  templateUrl: './wire-view.html',
  styleUrl: './wire-view.css',
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class WireView {
  protected readonly editor = inject(Editor);
  protected readonly rooms = inject(Rooms);
  protected readonly bands = inject(ChainLayout);
  protected readonly said = said;
  protected readonly layouts = layouts.map((value) => ({ value, label: label[value] }));
  protected readonly wanted = signal('');
  protected readonly onlyConnected = signal(false);
  protected readonly matrix = computed(() => (this.bands.asTable() ? matrixOf(this.editor.level(), nothingRun) : null));
  protected readonly limit = signal(FIRST);
  protected readonly inHand = computed(() => this.editor.selected()[0] ?? null);
  /** The thing whose chains can be shown alone: while they are, it stays the same when one of them is taken in hand. */
  protected readonly about = linkedSignal<Found | null, string | null>({
    source: this.inHand,
    computation: (found, before) => {
      if (found?.collection !== 'chains') return found?.thing.id ?? null;
      return untracked(this.onlyConnected) ? (before?.value ?? null) : null;
    },
  });
  protected readonly connected = computed(() => {
    const about = this.about();
    if (about === null) return null;
    const { setsOff, askedBy, actedOnBy, namedBy } = connections(this.editor.level(), about);
    return new Set([...setsOff, ...askedBy, ...actedOnBy, ...namedBy]);
  });
  protected readonly chains = computed<OrderedChain[]>(() => {
    const level = this.editor.level();
    const wanted = this.wanted().trim().toLowerCase();
    const connected = this.onlyConnected() ? this.connected() : null;
    return level.chains
      .map((chain, at) => ({ chain, at }))
      .filter(({ chain }) => connected === null || connected.has(chain.id))
      .filter(
        ({ chain }) =>
          wanted === '' || `${chain.name} ${chainSentence(chain, (id) => nameOf(level, id))}`.toLowerCase().includes(wanted),
      );
  });
  /** The order of the chain in hand, read off the place: what sets it off, and its steps by their numbers and times. */
  protected readonly pins = computed<Pin[]>(() => {
    const found = this.inHand();
    if (found?.collection !== 'chains') return [];
    const level = this.editor.level();
    const chain = found.thing as Chain;
    const room = this.rooms.current();
    const spans = timeline(level, chain);
    const pin = (id: string, of: string, text: string, label: string): Pin[] => {
      const thing = this.editor.find(of)?.thing as { at?: Point; room?: string } | undefined;
      return thing?.at === undefined || thing.room !== room ? [] : [{ id, at: thing.at, text, label }];
    };
    return [
      ...chain.causes.flatMap(({ of }, i) => pin(`cause ${i}`, of, 'when', `triggers ${chain.name.trim()}`)),
      ...chain.steps.flatMap((step, i) =>
        targetsOf(level, step).flatMap((of) =>
          pin(`step ${i} ${of}`, of, String(i + 1), `step ${i + 1}, at ${Math.round(spans[i]!.start * 100) / 100} s`),
        ),
      ),
    ];
  });
  /** What stands below each other: headings of sheaves, and the chains of those that are open. */
  protected readonly items = computed<Item[]>(() => {
    const shut = this.bands.shut();
    return this.bands
      .sheaves(this.chains())
      .flatMap((sheaf): Item[] => [
        ...(this.bands.layout() === 'order' ? [] : [{ key: `of ${sheaf.of}`, sheaf }]),
        ...(shut.has(sheaf.of) ? [] : sheaf.chains.map((placed) => ({ key: placed.chain.id, placed }))),
      ]);
  });
  protected readonly ties = connectionLines(this.editor, this.rooms);
  protected readonly shown = computed(() => this.items().slice(0, this.limit()));
  /** What a new chain would be set off by: the thing in hand, if it raises any event. */
  protected readonly source = computed(() => {
    const found = this.inHand();
    // A chain in hand is no more than the last that was looked at: a new one is not set off by it unasked.
    return found !== null && found.collection !== 'chains' && eventsOf(found.word).length > 0 ? found : null;
  });

  protected readonly commands = inject(Commands);
  private readonly asked = inject(RevealedFields);
  protected readonly picking = inject(Picking);
  private readonly snap = inject(Snap);
  private readonly under = new Under();
  private pressedNothing = false;
  /** What stands below the last band that was made. */
  private readonly rest = viewChild<ElementRef<HTMLElement>>('rest');

  constructor() {
    this.commands.offer({
      'new-chain': () => this.newChain(),
      overview: () => this.bands.toggle('table'),
      text: () => this.bands.toggle('text'),
      fold: { when: () => this.inHand()?.collection === 'chains', run: () => this.bands.fold(this.inHand()!.thing.id) },
      'fold-all': () => this.bands.foldAll(),
    });
    effect((onCleanup) => {
      const rest = this.rest()?.nativeElement;
      if (rest !== undefined) onCleanup(this.growing(rest));
    });
    // A chain that was asked for elsewhere, by its name in a list.
    effect(() => {
      const asked = this.bands.asked();
      if (asked === null || this.editor.find(asked) === undefined) return;
      untracked(() => {
        this.bands.ask(null);
        this.open(asked);
      });
    });
    // Who comes for one chain finds it at once, however far down it is.
    const chosen = this.editor.selection().find((id) => this.editor.find(id)?.collection === 'chains');
    if (chosen !== undefined) {
      if (this.bands.asTable()) this.bands.show('bands');
      if (!this.bands.asText()) afterNextRender(() => this.bring(chosen));
    }
  }

  /** Makes bands for as long as their end is near what is seen; gives what ends that. */
  private growing(rest: HTMLElement): () => void {
    const book = rest.closest('.book');
    let frame = 0;
    const grow = (): void => {
      if (rest.getBoundingClientRect().top > book!.getBoundingClientRect().bottom + PRELOAD_PX) return;
      this.limit.update((limit) => limit + MORE);
      frame = requestAnimationFrame(grow);
    };
    const observer = new IntersectionObserver(grow, { root: book, rootMargin: `${PRELOAD_PX}px 0px` });
    observer.observe(rest);
    return () => {
      observer.disconnect();
      cancelAnimationFrame(frame);
    };
  }

  /** Goes to the chain through which something acts; what acts by itself is taken in hand. */
  protected goTo({ from, act }: { from: string; act: Act }): void {
    if (act.chain === '') this.editor.select(from);
    else this.open(act.chain);
  }

  /** Brings a chain that is asked for into view, in hand. */
  protected open(chain: string): void {
    if (this.bands.asTable()) this.bands.show('bands');
    this.wanted.set('');
    this.onlyConnected.set(false);
    this.editor.select(chain);
    this.bring(chain);
  }

  private bring(chain: string): void {
    this.bands.unfold(chain);
    const at = this.items().findIndex(({ key }) => key === chain);
    this.limit.update((limit) => Math.max(limit, at + 1));
    setTimeout(() => document.querySelector(`[data-chain="${chain}"]`)?.scrollIntoView({ block: 'nearest' }));
  }

  protected newChain(): void {
    const source = this.source();
    const id = this.editor.newId('chain');
    const causes =
      source === null
        ? [createCause(this.editor.newId('cause'), 'enter', '')]
        : [createCause(this.editor.newId('cause'), eventsOf(source.word)[0]!, source.thing.id)];
    const name = source === null ? 'New chain' : `${source.thing.name.trim()} triggers`;
    this.editor.add('chains', createChain(this.editor.level(), id, name, causes));
    if (source === null) this.asked.editNext({ thing: id, path: '/causes/0/of' });
    this.open(id);
  }

  protected readonly snapped = (at: Point): Point => this.snap.to(at);

  protected onPressed(pointer: BoardPointer): void {
    if (this.picking.give({ thing: pointer.thing, at: this.snap.to(pointer.at, pointer.alt), room: this.rooms.current() }))
      return;
    if (pointer.thing !== null) this.editor.select(this.under.next(pointer));
    else this.pressedNothing = true;
  }

  protected onReleased(pointer: BoardPointer): void {
    if (this.pressedNothing && pointer.moved < 4) this.editor.select();
    this.pressedNothing = false;
  }
}
