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
import { change, entrySentence, matchOf, secondsOf } from '@nettlewick/core';
import type { Entry, Thing, Walk } from '@nettlewick/core';
import { NzCheckboxModule } from 'ng-zorro-antd/checkbox';
import { Editor } from '../studio/editor';
import { Mark } from '../studio/mark';
import type { MarkName } from '../studio/mark';
import { LineHeights, linesOf, textMeasure } from './line-heights';
import { Playback } from './playback';
import { Rehearser } from './rehearser';

interface Line {
  entry: Entry;
  depth: number;
  text: string;
  mark: MarkName;
}

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
  imports: [CdkVirtualForOf, CdkVirtualScrollViewport, Mark, NzCheckboxModule],
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

  private readonly depths = computed(() => {
    const depths: number[] = [];
    for (const entry of this.playback.entries()) depths.push(entry.cause === null ? 0 : depths[entry.cause - 1]! + 1);
    return depths;
  });
  protected readonly heldCount = computed(() => this.playback.entries().filter((entry) => entry.kind === 'held').length);
  protected readonly lines = computed<Line[]>(() => {
    const thing = this.thing();
    const depths = this.depths();
    const held = this.showHeld();
    return this.playback
      .entries()
      .filter(
        (entry) =>
          (held || entry.kind !== 'held') &&
          (thing === null || entry.who === thing.id || entry.what === thing.id || entry.chain === thing.id),
      )
      .map((entry) => ({
        entry,
        depth: Math.min(depths[entry.number - 1]!, 8),
        text: entrySentence(entry, (id) => this.editor.nameOf(id)),
        mark: marks[entry.kind] ?? (entry.cause === null ? 'happened' : 'caused'),
      }));
  });
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
    effect(() => {
      const wide = this.width() - BESIDE - MARK;
      this.heights.setHeights(
        this.lines().map(({ text, depth }) => ROW + MORE * (linesOf(text, Math.max(80, wide - depth * INDENT), measure) - 1)),
      );
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
      if (this.rehearser.result() !== null)
        requestAnimationFrame(() => requestAnimationFrame(() => performance.mark('nettlewick:ledger-shown')));
    });
  }

  /** Goes to the next or the previous entry that is listed. */
  step(by: 1 | -1): void {
    const lines = this.lines();
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
    return line.entry.number;
  }

  protected seconds(entry: Entry): string {
    return secondsOf(entry.tick, this.rehearser.result()?.rate ?? 60).toFixed(2);
  }
}
