import type { CdkVirtualScrollViewport, VirtualScrollStrategy } from '@angular/cdk/scrolling';
import { Subject, distinctUntilChanged } from 'rxjs';

/** How much is kept ready above and below what is seen, in pixels. */
const BUFFER = 500;

/**
 * Virtual scrolling of lines whose heights are known and differ: where each begins is kept as a running sum, and found by
 * halving.
 */
export class LineHeights implements VirtualScrollStrategy {
  private readonly index = new Subject<number>();
  readonly scrolledIndexChange = this.index.pipe(distinctUntilChanged());
  private viewport: CdkVirtualScrollViewport | null = null;
  /** Where each line begins, and last where the last ends, in pixels. */
  private tops: Float64Array = new Float64Array(1);

  /** The heights of all lines, in pixels. */
  setHeights(heights: readonly number[]): void {
    const tops = new Float64Array(heights.length + 1);
    heights.forEach((height, i) => (tops[i + 1] = tops[i]! + height));
    this.tops = tops;
    this.measure();
  }

  attach(viewport: CdkVirtualScrollViewport): void {
    this.viewport = viewport;
    this.measure();
  }

  detach(): void {
    this.viewport = null;
  }

  onContentScrolled(): void {
    this.render();
  }

  onDataLengthChanged(): void {
    this.measure();
  }

  onContentRendered(): void {
    // What is drawn has the heights that were said.
  }

  onRenderedOffsetChanged(): void {
    // The offset is set here, and by nobody else.
  }

  scrollToIndex(index: number, behavior: ScrollBehavior): void {
    this.viewport?.scrollToOffset(this.topOf(index), behavior);
  }

  /** Where a line begins, in pixels. */
  topOf(index: number): number {
    return this.tops[Math.max(0, Math.min(index, this.tops.length - 1))]!;
  }

  private measure(): void {
    this.viewport?.setTotalContentSize(this.tops.at(-1)!);
    this.render();
  }

  private render(): void {
    const { viewport } = this;
    if (viewport === null) return;
    const lines = Math.min(viewport.getDataLength(), this.tops.length - 1);
    const from = viewport.measureScrollOffset();
    const start = this.lineAt(from - BUFFER);
    const end = Math.min(lines, this.lineAt(from + viewport.getViewportSize() + BUFFER) + 1);
    viewport.setRenderedRange({ start: Math.min(start, end), end });
    viewport.setRenderedContentOffset(this.topOf(Math.min(start, end)));
    this.index.next(this.lineAt(from));
  }

  /** The line that covers a height. */
  private lineAt(height: number): number {
    let [low, high] = [0, Math.max(0, this.tops.length - 2)];
    while (low < high) {
      const middle = (low + high + 1) >> 1;
      if (this.tops[middle]! <= height) low = middle;
      else high = middle - 1;
    }
    return low;
  }
}

/** How wide texts are in a font, measured with the browser's own rules; without a canvas, as an average says. */
export function textMeasure(font: string): (text: string) => number {
  const context = document.createElement('canvas').getContext?.('2d') ?? null;
  if (context === null) return (text) => text.length * 7;
  context.font = font;
  const known = new Map<string, number>();
  return (text) => {
    let width = known.get(text);
    if (width === undefined) {
      width = context.measureText(text).width;
      if (known.size > 20_000) known.clear();
      known.set(text, width);
    }
    return width;
  };
}

/** How many lines a text takes in a width, broken between words as the browser does. */
export function linesOf(text: string, width: number, measure: (text: string) => number): number {
  if (measure(text) <= width) return 1;
  let lines = 1;
  let left = width;
  for (const word of text.split(/(?<=\s)/)) {
    const long = measure(word.trimEnd());
    if (long > left && left < width) {
      lines += 1;
      left = width;
    }
    // A word that is longer than a line is broken.
    if (long > width) {
      const more = Math.ceil(long / width) - 1;
      lines += more;
      left = width - (long - more * width);
      continue;
    }
    left -= measure(word);
  }
  return lines;
}
