import { CdkVirtualForOf, CdkVirtualScrollViewport, VIRTUAL_SCROLL_STRATEGY } from '@angular/cdk/scrolling';
import {
  ChangeDetectionStrategy,
  Component,
  DestroyRef,
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
import { change, entrySentence, filterLedger, foldRepeats, matchOf, rulesInWords, secondsOf } from '@nettlewick/core';
import type { Entry, Thing, Walk } from '@nettlewick/core';
import { NzCheckboxModule } from 'ng-zorro-antd/checkbox';
import { Editor } from '../studio/editor';
import { Mark } from '../studio/mark';
import type { MarkName } from '../studio/mark';
import { LedgerFilters } from './ledger-filters';
import { LedgerQuery } from './ledger-query';
import { LineHeights, linesOf, textMeasure } from './line-heights';
import { Playback } from './playback';
import { Rehearser } from './rehearser';
import { Studies } from './studies';

interface Line {
  entry: Entry;
  depth: number;
  mark: MarkName;
  /** What is folded into this line: the entries that are the same again. */
  again: readonly Entry[];
  times: number;
}

/** So many lines are measured at once; the rest follow while there is time. */
const AT_ONCE = 400;

/** The height of a line of one row, and of each row more, in pixels; what stands beside the text, and its font. */
const ROW = 30;
const MORE = 19;
const BESIDE = 36 + 58 + 40 + 3 * 6 + 2 * 16 + 4;
const MARK = 24;
const INDENT = 14;
const FONT = "14.5px 'Source Serif 4', serif";
const marks: Partial<Record<Entry['kind'], MarkName>> = {
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
  imports: [CdkVirtualForOf, CdkVirtualScrollViewport, LedgerFilters, Mark, NzCheckboxModule],
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
  protected readonly rehearser = inject(Rehearser);
  private readonly heights = inject(VIRTUAL_SCROLL_STRATEGY) as LineHeights;
  private readonly host = inject<ElementRef<HTMLElement>>(ElementRef);
  private readonly width = signal(500);
  protected readonly showHeld = signal(true);
  private readonly scroller = viewChild(CdkVirtualScrollViewport);

  private readonly studies = inject(Studies);
  private readonly depths = computed(() => {
    const depths: number[] = [];
    for (const entry of this.playback.entries()) depths.push(entry.cause === null ? 0 : depths[entry.cause - 1]! + 1);
    return depths;
  });
  protected readonly heldCount = computed(() => this.playback.entries().filter((entry) => entry.kind === 'held').length);
  private readonly sentences = computed(() => {
    this.playback.entries();
    return new Map<number, string>();
  });
  /** Whether what comes again and again is one line. */
  protected readonly folds = signal(true);
  /** The entries whose repeats are unfolded. */
  private readonly open = signal<ReadonlySet<number>>(new Set());
  protected readonly filter = inject(LedgerQuery);
  protected readonly listed = computed(() => {
    const filter = { ...this.filter.wanted(), about: this.thing()?.id ?? '' };
    const held = this.showHeld();
    const found = filterLedger(this.playback.entries(), filter, (entry) => this.textOf(entry));
    return held ? found : found.filter(({ kind }) => kind !== 'held');
  });
  protected readonly lines = computed<Line[]>(() => {
    const depths = this.depths();
    const lines = this.folds() ? foldRepeats(this.listed(), this.open()) : this.listed().map((entry) => ({ entry }));
    return lines.map((line): Line => {
      const entry = 'entry' in line ? line.entry : line.first;
      return {
        entry,
        depth: Math.min(depths[entry.number - 1]!, 8),
        mark: marks[entry.kind] ?? (entry.cause === null ? 'happened' : 'caused'),
        again: 'again' in line ? line.again : [],
        times: 'again' in line ? line.times : 0,
      };
    });
  });

  /** The sentence of an entry, made when it is first wanted. */
  private textOf(entry: Entry): string {
    const known = this.sentences();
    let text = known.get(entry.number);
    if (text === undefined) {
      text = entrySentence(entry, (id) => this.editor.nameOf(id));
      known.set(entry.number, text);
    }
    return text;
  }

  /** Which house rule an entry hangs on, in words; empty for none. */
  protected hangsOn({ entry, again }: Line): string {
    const one = again.length === 0 ? this.studies.hangs().get(entry.number) : undefined;
    return one === undefined ? '' : `Hangs on a house rule: ${rulesInWords(one).now}`;
  }

  protected lineText(line: Line): string {
    if (line.again.length === 0) return this.textOf(line.entry);
    const last = line.again.at(-1)!;
    const what = line.again.length === line.times ? 'the same' : `the same ${line.again.length / line.times}`;
    return `… ${what} again, ${line.times} times until ${this.seconds(last)} s`;
  }

  protected press(line: Line): void {
    if (line.again.length > 0) this.open.update((open) => new Set([...open, line.entry.number]));
    else this.playback.show(line.entry.number);
  }

  /** The entry that was clicked or stepped to, and those that led to it, the nearest first. */
  protected readonly trail = computed(() => {
    const entries = this.playback.entries();
    const found: { number: number; text: string }[] = [];
    let entry = entries[(this.playback.chosen() ?? 0) - 1];
    while (entry !== undefined) {
      found.push({ number: entry.number, text: entrySentence(entry, (id) => this.editor.nameOf(id)) });
      entry = entry.cause === null ? undefined : entries[entry.cause - 1];
    }
    return found;
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
    const measure = textMeasure(FONT);
    // Lines wrap, so that no reason is cut: each is as high as its text needs.
    effect((onCleanup) => {
      const wide = this.width() - BESIDE - MARK;
      const lines = this.lines();
      this.studies.hangs();
      const heights = new Array<number>(lines.length).fill(ROW);
      let done = 0;
      let waiting: ReturnType<typeof setTimeout> | undefined;
      const some = (): void => {
        const until = Math.min(lines.length, done + AT_ONCE);
        for (; done < until; done++) {
          const line = lines[done]!;
          const rows = linesOf(
            untracked(() => (this.hangsOn(line) === '' ? this.lineText(line) : `${this.lineText(line)} ⇅⇅`)),
            Math.max(80, wide - line.depth * INDENT),
            measure,
          );
          heights[done] = ROW + MORE * (rows - 1);
        }
        this.heights.setHeights(heights);
        if (done < lines.length) waiting = setTimeout(some);
      };
      some();
      onCleanup(() => clearTimeout(waiting));
    });
    const observer =
      typeof ResizeObserver === 'undefined' ? null : new ResizeObserver(([entry]) => this.width.set(entry!.contentRect.width));
    observer?.observe(this.host.nativeElement);
    inject(DestroyRef).onDestroy(() => observer?.disconnect());
    // The ledger follows what is played: the current entry stays in view.
    effect(() => {
      const now = this.playback.now();
      const lines = untracked(this.lines);
      const scroller = this.scroller();
      if (scroller === undefined || now === 0) return;
      const at = lines.findLastIndex((line) => line.entry.number <= now);
      const from = scroller.measureScrollOffset();
      const seen = this.heights.topOf(at) >= from && this.heights.topOf(at + 1) <= from + scroller.getViewportSize() - ROW;
      if (!seen) scroller.scrollToIndex(Math.max(0, at - 4));
    });
    // For whoever measures the time from an edit to the new ledger: the frame after the next begins when it is painted.
    effect(() => {
      if (this.rehearser.ran() !== null)
        requestAnimationFrame(() => requestAnimationFrame(() => performance.mark('nettlewick:ledger-shown')));
    });
  }

  /** Goes to the next or the previous entry that is listed. */
  step(by: 1 | -1): void {
    const lines = this.lines().filter(({ again }) => again.length === 0);
    const now = this.playback.now();
    const exact = lines.findIndex((line) => line.entry.number === now);
    const at =
      exact >= 0
        ? exact + by
        : by === 1
          ? lines.findIndex((line) => line.entry.number > now)
          : lines.findLastIndex((line) => line.entry.number < now);
    const line = lines[at];
    if (line !== undefined) this.playback.show(line.entry.number);
  }

  /** Takes what an entry says as what is expected of this walk. */
  protected keepSo(number: number, never: boolean): void {
    const entry = this.playback.entries()[number - 1];
    const walk = this.walk();
    if (entry === undefined || walk === null) return;
    const own = { id: this.editor.newId('expect'), label: '', entry: matchOf(entry) };
    const one = never ? { ...own, expect: 'never' as const } : { ...own, expect: 'happens' as const };
    this.editor.edit(change('walks', walk, { expectations: [...walk.expectations, one] }));
    this.editor.notice.set(`Expected of ${walk.name.trim()} from now on: ${never ? 'this never happens' : 'this happens'}.`);
  }

  toggleHeld(): void {
    this.showHeld.update((shown) => !shown);
  }

  protected byNumber(_at: number, line: Line): number {
    return line.again.length === 0 ? line.entry.number : -line.entry.number;
  }

  protected seconds(entry: Entry): string {
    return secondsOf(entry.tick, this.rehearser.result()?.rate ?? 60).toFixed(2);
  }
}
