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
    const heights = Array.from({ length: 1000 }, (_, i) => 30 + 19 * (i % 3));
    const lines = new LineHeights();
    const { seen, viewport: scroller } = viewport(heights.length, 400);
    lines.setHeights(heights);
    lines.attach(scroller);
    expect(seen.total).toBe(heights.reduce((sum, height) => sum + height, 0));
    for (const index of [0, 10, 500, 999]) {
      lines.scrollToIndex(index, 'auto');
      lines.onContentScrolled();
      expect(seen.range.start).toBeLessThanOrEqual(index);
      expect(seen.range.end).toBeGreaterThan(index);
      expect(seen.range.end - seen.range.start).toBeLessThan(60);
      expect(seen.at).toBe(heights.slice(0, seen.range.start).reduce((sum, height) => sum + height, 0));
    }
  });

  it('of which there are none draw nothing', () => {
    const lines = new LineHeights();
    const { seen, viewport: scroller } = viewport(0, 400);
    lines.attach(scroller);
    lines.setHeights([]);
    expect([seen.total, seen.range.end]).toEqual([0, 0]);
  });
});
