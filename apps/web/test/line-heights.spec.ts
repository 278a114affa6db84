import type { CdkVirtualScrollViewport } from '@angular/cdk/scrolling';
import { LineHeights, linesOf } from '../src/app/rehearse/line-heights';

const wide = (text: string): number => text.length * 10;

describe('How many lines a text takes', () => {
  it.each([
    ['short', 100, 1],
    ['exactly ten', 110, 1],
    ['two words here', 100, 2],
    ['one two three four five', 90, 3],
    ['unbreakableunbreakable', 100, 3],
    ['', 100, 1],
  ])('%j in %d pixels: %d', (text, width, lines) => expect(linesOf(text, width, wide)).toBe(lines));
});

describe('Lines of different heights', () => {
  const viewport = (length: number, size: number) => {
    const seen = { offset: 0, range: { start: 0, end: 0 }, at: 0, total: 0 };
    const fake = {
      getDataLength: () => length,
      getViewportSize: () => size,
      measureScrollOffset: () => seen.offset,
      setTotalContentSize: (total: number) => (seen.total = total),
      setRenderedRange: (range: { start: number; end: number }) => (seen.range = range),
      setRenderedContentOffset: (at: number) => (seen.at = at),
      scrollToOffset: (offset: number) => (seen.offset = offset),
    };
    return { seen, viewport: fake as unknown as CdkVirtualScrollViewport };
  };

  it('are drawn where they stand, with some above and below, wherever one scrolls', () => {
    const heights = Array.from({ length: 100_000 }, (_, i) => 30 + 19 * (i % 3));
    const lines = new LineHeights();
    const { seen, viewport: scroller } = viewport(heights.length, 400);
    const measured = new Set<number>();
    lines.setLines(heights.length, 30, (index) => {
      expect(measured.has(index)).toBe(false);
      measured.add(index);
      return heights[index]!;
    });
    lines.attach(scroller);
    const known = (index: number): number => (measured.has(index) ? heights[index]! : 30);
    for (const index of [0, 10, 50_000, 49_980, 99_999]) {
      lines.scrollToIndex(index, 'auto');
      lines.onContentScrolled();
      // What was asked for is what is seen, whatever was found out about the lines above it.
      expect(lines.topOf(index)).toBe(seen.offset);
      expect(seen.range.start).toBeLessThanOrEqual(index);
      expect(seen.range.end).toBeGreaterThan(index);
      expect(seen.range.end - seen.range.start).toBeLessThan(60);
      for (let line = seen.range.start; line < seen.range.end; line++) expect(measured.has(line)).toBe(true);
      expect(seen.at).toBe(heights.slice(0, seen.range.start).reduce((sum, _, line) => sum + known(line), 0));
      expect(seen.total).toBe(heights.reduce((sum, _, line) => sum + known(line), 0));
    }
    expect(measured.size).toBeLessThan(300);
  });

  it('are drawn as far as they are seen after a leap, and some above and below right afterwards; at once where one scrolls on', () => {
    jest.useFakeTimers();
    try {
      const lines = new LineHeights();
      const { seen, viewport: scroller } = viewport(10_000, 300);
      lines.setLines(10_000, 30, () => 30);
      lines.attach(scroller);
      const scrollTo = (offset: number): number[] => {
        seen.offset = offset;
        lines.onContentScrolled();
        return [seen.range.start, seen.range.end];
      };
      expect(scrollTo(150_000)).toEqual([5000, 5011]);
      jest.runAllTimers();
      expect([seen.range.start, seen.range.end]).toEqual([4993, 5017]);
      expect(scrollTo(150_090)).toEqual([4996, 5020]);
      // Nothing is left to be done when it is gone.
      scrollTo(30_000);
      lines.detach();
      expect(jest.getTimerCount()).toBe(0);
    } finally {
      jest.useRealTimers();
    }
  });

  it('stay where they are looked at when others follow', () => {
    const lines = new LineHeights();
    const { seen, viewport: scroller } = viewport(300, 400);
    const high = (index: number): number => 30 + 19 * (index % 3);
    lines.setLines(200, 30, high);
    lines.attach(scroller);
    lines.scrollToIndex(100, 'auto');
    lines.onContentScrolled();
    lines.setLines(300, 30, high);
    expect(lines.topOf(100)).toBe(seen.offset);
    expect(seen.range.end).toBeGreaterThan(112);
  });

  it('of which there are none draw nothing', () => {
    const lines = new LineHeights();
    const { seen, viewport: scroller } = viewport(0, 400);
    lines.attach(scroller);
    lines.setLines(0, 30, () => 30);
    expect([seen.total, seen.range.end]).toEqual([0, 0]);
  });
});
