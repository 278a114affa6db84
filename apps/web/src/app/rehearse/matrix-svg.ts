import { escaped, inks } from '../board/plan-svg';
import { sheetSvg, widthOf, wordsSvg } from '../board/words-svg';

/** A table of what sets off against what acts, as it is drawn: names, and a sign in each cell with what it says. */
export interface DrawnMatrix {
  title: string;
  columns: readonly string[];
  rows: readonly { name: string; cells: readonly { sign: string; says: string }[] }[];
}

const CELL = 40;

/** The table as an SVG of its own: the columns' names stand upright above it. */
export function matrixSvg({ title, columns, rows }: DrawnMatrix): string {
  const left = Math.max(80, ...rows.map(({ name }) => widthOf(name) + 16));
  const top = Math.max(60, ...columns.map((name) => widthOf(name) + 16)) + 24;
  const width = left + columns.length * CELL + 12;
  const height = top + rows.length * 24 + 12;
  const rule = (y: number): string => `<path d="M0 ${y}H${width}" stroke="${inks.soft}" stroke-width="0.5"/>`;
  return sheetSvg(Math.ceil(width), Math.ceil(height), title, [
    wordsSvg(title, 8, 18, 'font-weight="600"'),
    ...columns.map((name, at) => {
      const x = left + at * CELL + CELL / 2 + 4;
      return wordsSvg(name, x, top - 8, `transform="rotate(-90 ${x} ${top - 8})"`);
    }),
    ...rows.flatMap(({ name, cells }, at) => {
      const y = top + at * 24;
      return [
        rule(y),
        wordsSvg(name, 8, y + 17),
        ...cells.map(({ sign, says }, column) => {
          const x = left + column * CELL + CELL / 2;
          return sign === '' ? '' : `<g><title>${escaped(says)}</title>${wordsSvg(sign, x, y + 17, 'text-anchor="middle"')}</g>`;
        }),
      ];
    }),
    rule(top + rows.length * 24),
  ]);
}
