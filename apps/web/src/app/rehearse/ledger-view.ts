import { CdkFixedSizeVirtualScroll, CdkVirtualForOf, CdkVirtualScrollViewport } from '@angular/cdk/scrolling';
import {
  ChangeDetectionStrategy,
  Component,
  computed,
  effect,
  inject,
  input,
  output,
  signal,
  untracked,
  viewChild,
} from '@angular/core';
import { entrySentence, secondsOf } from '@nettlewick/core';
import type { Entry, Thing } from '@nettlewick/core';
import { Editor } from '../studio/editor';
import { Mark } from '../studio/mark';
import type { MarkName } from '../studio/mark';
import { Playback } from './playback';
import { Rehearser } from './rehearser';

interface Line {
  entry: Entry;
  depth: number;
  text: string;
  mark: MarkName;
}

const ROW = 30;
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
  imports: [CdkFixedSizeVirtualScroll, CdkVirtualForOf, CdkVirtualScrollViewport, Mark],
  templateUrl: './ledger-view.html',
  styleUrl: './ledger-view.css',
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class LedgerView {
  /** Only entries about this thing, if one is given. */
  readonly thing = input<Thing | null>(null);
  readonly everything = output();
  protected readonly editor = inject(Editor);
  protected readonly playback = inject(Playback);
  protected readonly rehearser = inject(Rehearser);
  protected readonly row = ROW;
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
    // The ledger follows what is played: the current entry stays in view.
    effect(() => {
      const now = this.playback.now();
      const lines = untracked(this.lines);
      const scroller = this.scroller();
      if (scroller === undefined || now === 0) return;
      const at = lines.findLastIndex((line) => line.entry.number <= now);
      const { start, end } = {
        start: scroller.measureScrollOffset() / ROW,
        end: (scroller.measureScrollOffset() + scroller.getViewportSize()) / ROW - 1,
      };
      if (at < start || at > end - 1) scroller.scrollToIndex(Math.max(0, at - 4));
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
