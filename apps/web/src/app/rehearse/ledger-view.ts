import { CdkVirtualForOf, CdkVirtualScrollViewport, VIRTUAL_SCROLL_STRATEGY } from '@angular/cdk/scrolling';
import {
  ChangeDetectionStrategy,
  Component,
  ElementRef,
  computed,
  effect,
  inject,
  input,
  output,
  signal,
  untracked,
  viewChild,
} from '@angular/core';
import {
  change,
  entrySentence,
  filtering,
  folding,
  matchOf,
  noiseIn,
  roundSentence,
  rulesInWords,
  secondsOf,
} from '@nettlewick/core';
import type { Entry, FoldedLine, Repeats, Thing, Walk } from '@nettlewick/core';
import { NzCheckboxModule } from 'ng-zorro-antd/checkbox';
import { Editor } from '../state/editor';
import { Icon } from '../controls/icon';
import type { IconName } from '../controls/icon';
import { notePainted } from '../controls/painted';
import { LedgerFilters } from './ledger-filters';
import { LedgerQuery } from './ledger-query';
import { LineHeights, linesOf, textMeasure } from './line-heights';
import { Playback } from './playback';
import { RehearsalStore } from './rehearsal-store';
import { AnalysisStore } from './studies';
import { Tip } from '../controls/tip';

/** The time spent on finding lines in one go, in milliseconds; the rest follows when idle. */
const IN_ONE_GO = 8;
/** And in the frame in which they are asked for, which has all else to draw as well. */
const AT_FIRST = 2;

/** The number of rows kept beyond the visible ones. */
const OVERSCAN_ROWS = 100;
/** The number of entries listed between two checks of the clock. */
const SLICE_ENTRIES = 1000;

/** The height of a line of one row, and of each row more, in pixels; what stands beside the text, and its font. */
const ROW = 30;
const LINE_PX = 19;
const COLUMNS_PX = 36 + 58 + 40 + 3 * 6 + 2 * 16 + 4;
const MARK = 24;
const INDENT_PX = 14;
const MAX_INDENT = 8;
const FONT = "14.5px 'Source Serif 4', serif";
const marks: Partial<Record<Entry['kind'], IconName>> = {
  held: 'held',
  step: 'step',
  'chain-started': 'started',
  'chain-finished': 'finished',
  changed: 'changed',
  missed: 'missed',
  blocked: 'blocked',
  runaway: 'blocked',
};

/** The ledger in order: what caused what is indented, what was held says why. */
@Component({
  selector: 'nw-ledger-view',
  imports: [Tip, CdkVirtualForOf, CdkVirtualScrollViewport, LedgerFilters, Icon, NzCheckboxModule],
  providers: [{ provide: VIRTUAL_SCROLL_STRATEGY, useFactory: () => new LineHeights() }],
  templateUrl: './ledger-view.html',
  styleUrl: './ledger-view.css',
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class LedgerView {
  /** Only entries about this thing, if one is given. */
  readonly thing = input<Thing | null>(null);
  readonly walk = input<Walk | null>(null);
  readonly everything = output();
  /** That it is asked why nothing happened at the thing. */
  readonly why = output();
  protected readonly editor = inject(Editor);
  protected readonly playback = inject(Playback);
  protected readonly rehearser = inject(RehearsalStore);
  private readonly heights = inject(VIRTUAL_SCROLL_STRATEGY) as LineHeights;
  private readonly host = inject<ElementRef<HTMLElement>>(ElementRef);
  private readonly width = signal(500);
  /** How high the list is: what led to an entry takes room below it. */
  private readonly tall = signal(0);
  protected readonly showHeld = signal(true);
  private readonly scroller = viewChild(CdkVirtualScrollViewport);

  private readonly studies = inject(AnalysisStore);
  private readonly depths = computed(() => {
    const depths: number[] = [];
    for (const entry of this.playback.entries()) depths.push(entry.cause === null ? 0 : depths[entry.cause - 1]! + 1);
    return depths;
  });
  private readonly noise = computed(() => noiseIn(this.playback.entries()));
  protected readonly heldCount = computed(
    () => this.playback.entries().filter(({ kind, number }) => kind === 'held' && !this.noise().has(number)).length,
  );
  /** The sentences of entries, by their place, as far as they were wanted. */
  private readonly sentences = computed(() => new Array<string | undefined>(this.playback.entries().length));
  /** Whether what comes again and again is one line. */
  protected readonly folds = signal(true);
  /** Whether what something caused stands indented below it, or all in plain order. */
  protected readonly indents = signal(true);
  /** The entries whose repeats are unfolded. */
  private readonly open = signal<ReadonlySet<number>>(new Set());
  protected readonly filter = inject(LedgerQuery);
  /** What is listed, as far as it was found by now, and whether that is all of it. */
  private readonly listing = signal<{ lines: readonly FoldedLine[]; whole: boolean }>({ lines: [], whole: false });
  protected readonly lines = computed(() => this.listing().lines);
  protected readonly whole = computed(() => this.listing().whole);

  /** Finds the lines to be listed, in pieces: a long ledger holds nobody up. */
  private *finding(lines: FoldedLine[]): Generator<void> {
    const about = this.thing()?.id ?? '';
    const [entries, wanted, held, folds, open] = [
      this.playback.entries(),
      this.filter.wanted(),
      this.showHeld(),
      this.folds(),
      this.open(),
    ];
    let listed: Entry[] = [];
    yield* filtering(entries, { ...wanted, about }, (entry) => untracked(() => this.textOf(entry)), listed);
    // A filter for this reason still shows it.
    const noise = wanted.reason === '' ? this.noise() : null;
    if (noise !== null && noise.size > 0) listed = listed.filter(({ number }) => !noise.has(number));
    if (!held) listed = listed.filter(({ kind }) => kind !== 'held');
    if (folds) yield* folding(listed, open, lines);
    else for (const entry of listed) if (lines.push(entry) % SLICE_ENTRIES === 0) yield;
  }

  /** The sentence of an entry, made when it is first wanted. */
  private textOf(entry: Entry): string {
    const known = this.sentences();
    const at = entry.number - 1;
    // While a long ledger is being listed, lines of the one before still stand.
    if (this.playback.entries()[at] !== entry) return entrySentence(entry, (id) => this.editor.nameOf(id), this.editor.level());
    return (known[at] ??= entrySentence(entry, (id) => this.editor.nameOf(id), this.editor.level()));
  }

  /** Which house rule an entry hangs on, in words; empty for none. */
  protected hangsOn(line: FoldedLine): string {
    const one = 'again' in line ? undefined : this.studies.hangs().get(line.number);
    return one === undefined ? '' : `Hangs on a house rule: ${rulesInWords(one).now}`;
  }

  protected lineText(line: FoldedLine): string {
    if (!('again' in line)) return this.textOf(line);
    return `… ${roundSentence(line, (id) => this.editor.nameOf(id))}`;
  }

  /** An entry; of what came again, that which it is like. */
  protected entryOf(line: FoldedLine): Entry {
    return 'again' in line ? line.first : line;
  }

  /** Whether a line says that what is above it came again. */
  protected isFold(line: FoldedLine): line is Repeats {
    return 'again' in line;
  }

  protected depthOf(line: FoldedLine): number {
    if (!this.indents()) return 0;
    // While a long ledger is being listed, lines of the one before still stand.
    return Math.min(this.depths()[this.entryOf(line).number - 1] ?? 0, MAX_INDENT);
  }

  protected markOf(line: FoldedLine): IconName {
    const { kind, cause } = this.entryOf(line);
    return marks[kind] ?? (cause === null ? 'happened' : 'caused');
  }

  protected press(line: FoldedLine): void {
    if ('again' in line) this.open.update((open) => new Set([...open, line.first.number]));
    else this.playback.show(line.number);
  }

  /** The entry that was clicked or stepped to, and those that led to it, the nearest first. */
  protected readonly trail = computed(() => {
    const entries = this.playback.entries();
    const found: { number: number; text: string }[] = [];
    let entry = entries[(this.playback.chosen() ?? 0) - 1];
    while (entry !== undefined) {
      found.push({ number: entry.number, text: entrySentence(entry, (id) => this.editor.nameOf(id), this.editor.level()) });
      entry = entry.cause === null ? undefined : entries[entry.cause - 1];
    }
    return found;
  });
  /** Whom and what the chosen entry is about, and the chain that wrote it. */
  protected readonly concerns = computed(() => {
    const entry = this.playback.entries()[(this.playback.chosen() ?? 0) - 1];
    if (entry === undefined) return '';
    const parts = { who: entry.who, what: entry.what, chain: entry.chain };
    return Object.entries(parts)
      .flatMap(([part, id]) => (id === null ? [] : [`${part} ${this.editor.nameOf(id).trim()}`]))
      .join(' · ');
  });
  protected readonly causes = computed(
    () =>
      new Set(
        this.trail()
          .slice(1)
          .map((one) => one.number),
      ),
  );

  constructor() {
    effect((onCleanup) => {
      const lines: FoldedLine[] = [];
      const work = this.finding(lines);
      let waiting: ReturnType<typeof setTimeout> | undefined;
      let shown = false;
      const some = (takes: number): void => {
        const until = performance.now() + takes;
        let whole = false;
        do whole = work.next().done === true;
        while (!whole && performance.now() < until);
        // The first of them are shown at once, and all when they are all there.
        if (whole || (!shown && lines.length > OVERSCAN_ROWS)) {
          shown = true;
          this.listing.set({ lines: whole ? lines : [...lines], whole });
        }
        if (!whole) waiting = setTimeout(() => some(IN_ONE_GO));
      };
      some(AT_FIRST);
      onCleanup(() => clearTimeout(waiting));
    });
    const measure = textMeasure(FONT);
    // Lines wrap, so that no reason is cut: each is as high as its text needs.
    effect(() => {
      const wide = this.width() - COLUMNS_PX - MARK;
      const lines = this.lines();
      this.studies.hangs();
      this.indents();
      this.heights.setLines(lines.length, ROW, (at) =>
        untracked(() => {
          const line = lines[at]!;
          const text = this.hangsOn(line) === '' ? this.lineText(line) : `${this.lineText(line)} ⇅⇅`;
          return ROW + LINE_PX * (linesOf(text, Math.max(80, wide - this.depthOf(line) * INDENT_PX), measure) - 1);
        }),
      );
    });
    effect((onCleanup) => {
      const list = this.scroller()?.elementRef.nativeElement;
      if (list === undefined || typeof ResizeObserver === 'undefined') return;
      const observer = new ResizeObserver(() => {
        this.width.set(this.host.nativeElement.clientWidth);
        this.tall.set(list.clientHeight);
      });
      observer.observe(list);
      onCleanup(() => observer.disconnect());
    });
    // The ledger follows what is played: the current entry stays in view.
    effect(() => {
      const now = this.playback.now();
      this.whole();
      this.tall();
      const lines = untracked(this.lines);
      const scroller = this.scroller();
      if (scroller === undefined || now === 0) return;
      const at = lines.findLastIndex((line) => this.entryOf(line).number <= now);
      scroller.checkViewportSize();
      if (!this.heights.isSeen(at)) scroller.scrollToIndex(Math.max(0, at - 4));
    });
    effect(() => {
      if (this.rehearser.ran() !== null) notePainted('ledger');
    });
  }

  /** Goes to the next or the previous entry that is listed. */
  step(by: 1 | -1): void {
    const entries = this.lines().filter((line): line is Entry => !('again' in line));
    const now = this.playback.now();
    const exact = entries.findIndex((entry) => entry.number === now);
    const at =
      exact >= 0
        ? exact + by
        : by === 1
          ? entries.findIndex((entry) => entry.number > now)
          : entries.findLastIndex((entry) => entry.number < now);
    const entry = entries[at];
    if (entry !== undefined) this.playback.show(entry.number);
  }

  /** Takes what an entry says as what is expected of this walk. */
  protected keepSo(number: number, never: boolean): void {
    const entry = this.playback.entries()[number - 1];
    const walk = this.walk();
    if (entry === undefined || walk === null) return;
    const own = { id: this.editor.newId('expect'), label: '', entry: matchOf(entry) };
    const one = never ? { ...own, expect: 'never' as const } : { ...own, expect: 'happens' as const };
    this.editor.edit(change('walks', walk, { expectations: [...walk.expectations, one] }));
    this.editor.say(`Added expectation to ${walk.name.trim()}: ${never ? 'this never happens' : 'this happens'}.`);
  }

  toggleHeld(): void {
    this.showHeld.update((shown) => !shown);
  }

  protected byNumber(_at: number, line: FoldedLine): number {
    return 'again' in line ? -line.first.number : line.number;
  }

  protected seconds(entry: Entry): string {
    return secondsOf(entry.tick, this.rehearser.result()?.rate ?? 60).toFixed(2);
  }
}
