import type { CdkVirtualScrollViewport, VirtualScrollStrategy } from '@angular/cdk/scrolling';
import { Subject, distinctUntilChanged } from 'rxjs';

/** How much is kept ready above and below what is seen, in pixels; after a leap nothing at first, so that it is seen sooner. */
const BUFFER = 200;

/**
 * Virtual scrolling of lines whose heights differ: a line has the least height until it comes near what is seen, and is measured then.
 * What is looked at stays where it is when lines above it turn out to be higher.
 */
export class LineHeights implements VirtualScrollStrategy {
  private readonly index = new Subject<number>();
  readonly scrolledIndexChange = this.index.pipe(distinctUntilChanged());
  private viewport: CdkVirtualScrollViewport | null = null;
  private count = 0;
  private least = 1;
  private heightOf: (index: number) => number = () => this.least;
  /** How much higher than the least each line is, as sums over spans (a binary indexed tree), in pixels. */
  private more = new Float64Array(1);
  private measured = new Uint8Array(0);
  private rendered = { start: 0, end: 0 };
  private filling: ReturnType<typeof setTimeout> | undefined;

  /** All lines anew: how many, how high each is at least, and how high one is, in pixels; that is asked of those near what is seen. */
  setLines(count: number, least: number, heightOf: (index: number) => number): void {
    const { viewport } = this;
    const from = viewport?.measureScrollOffset() ?? 0;
    const at = this.lineAt(from);
    const into = from - this.topOf(at);
    this.count = count;
    this.least = least;
    this.heightOf = heightOf;
    this.more = new Float64Array(count + 1);
    this.measured = new Uint8Array(count);
    this.render(Math.min(at, Math.max(0, count - 1)), into);
  }

  attach(viewport: CdkVirtualScrollViewport): void {
    this.viewport = viewport;
    this.render();
  }

  detach(): void {
    clearTimeout(this.filling);
    this.viewport = null;
  }

  onContentScrolled(): void {
    this.render();
  }

  onDataLengthChanged(): void {
    this.render();
  }

  onContentRendered(): void {
    // What is drawn has the heights that were measured.
  }

  onRenderedOffsetChanged(): void {
    // The offset is set here, and by nobody else.
  }

  scrollToIndex(index: number, behavior: ScrollBehavior): void {
    this.viewport?.scrollToOffset(this.topOf(index), behavior);
  }

  /** Where a line begins, in pixels, as far as is known by now. */
  topOf(index: number): number {
    const at = Math.max(0, Math.min(index, this.count));
    let top = at * this.least;
    for (let i = at; i > 0; i -= i & -i) top += this.more[i]!;
    return top;
  }

  /** Whether all of a line is seen now. */
  isSeen(index: number): boolean {
    const { viewport } = this;
    if (viewport === null) return false;
    const from = viewport.measureScrollOffset();
    const to = from + viewport.getViewportSize();
    // Lines above it that are higher than was known would push it out.
    const first = this.lineAt(from);
    if (this.topOf(index) < to) this.measure(first, index);
    return this.topOf(index) >= from && this.topOf(index + 1) <= to;
  }

  /** Draws what is seen, and some above and below: so that a line, and so many pixels into it, is at the top. */
  private render(at?: number, into = 0): void {
    const { viewport } = this;
    if (viewport === null) return;
    const lines = Math.min(viewport.getDataLength(), this.count);
    const offset = viewport.measureScrollOffset();
    const first = at ?? this.lineAt(offset);
    const within = at === undefined ? offset - this.topOf(first) : into;
    clearTimeout(this.filling);
    const isLeap = first < this.rendered.start || first >= this.rendered.end;
    const buffer = isLeap ? 0 : BUFFER;
    if (isLeap) this.filling = setTimeout(() => this.render());
    // Lines only get higher by being measured: fewer are near then, never more.
    const start = this.measure(this.lineAt(this.topOf(first) + within - buffer), first);
    const from = this.topOf(first) + within;
    this.measure(first, this.lineAt(from + viewport.getViewportSize() + buffer));
    const end = Math.min(lines, this.lineAt(from + viewport.getViewportSize() + buffer) + 1);
    viewport.setTotalContentSize(this.topOf(this.count));
    if (from !== offset) viewport.scrollToOffset(from);
    this.rendered = { start: Math.min(start, end), end };
    viewport.setRenderedRange(this.rendered);
    viewport.setRenderedContentOffset(this.topOf(this.rendered.start));
    this.index.next(first);
  }

  /** Measures the lines of a span that are not yet; gives where it begins. */
  private measure(first: number, last: number): number {
    for (let line = first; line <= last && line < this.count; line++) {
      if (this.measured[line] === 1) continue;
      this.measured[line] = 1;
      const more = Math.max(0, this.heightOf(line) - this.least);
      if (more > 0) for (let i = line + 1; i <= this.count; i += i & -i) this.more[i]! += more;
    }
    return first;
  }

  /** The line that covers a height, as far as is known by now. */
  private lineAt(height: number): number {
    let line = 0;
    let top = 0;
    for (let span = 1 << Math.floor(Math.log2(Math.max(1, this.count))); span > 0; span >>= 1) {
      const next = line + span;
      if (next > this.count) continue;
      const below = top + span * this.least + this.more[next]!;
      if (below > height) continue;
      line = next;
      top = below;
    }
    return Math.min(line, Math.max(0, this.count - 1));
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

/** How many lines a text takes in a width, broken between words as the browser does. Lines have many words in common: each is measured once. */
export function linesOf(text: string, width: number, measure: (text: string) => number): number {
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
