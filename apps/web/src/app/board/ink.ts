import type { Figure } from './figures';

/** The inks of the board, and the faces it is written in, as the theme has them. */
export interface Inks {
  paper: string;
  floor: string;
  sheet: string;
  ink: string;
  inkSoft: string;
  line: string;
  grid: string;
  red: string;
  blue: string;
  zone: string;
  label: string;
  mono: string;
}

/** Reads the inks from the tokens of the theme. */
export function inksOf(element: Element): Inks {
  const style = getComputedStyle(element);
  const token = (name: string): string => style.getPropertyValue(name).trim();
  return {
    paper: token('--paper'),
    floor: token('--floor'),
    sheet: token('--sheet'),
    ink: token('--ink'),
    inkSoft: token('--ink-soft'),
    line: token('--line'),
    grid: token('--grid'),
    red: token('--pencil-red'),
    blue: token('--pencil-blue'),
    zone: token('--zone-fill'),
    label: token('--face-label'),
    mono: token('--face-mono'),
  };
}

/** How figures are drawn: at how many pixels a metre, and whether there are so many that dashes and hatching only cost time. */
export interface Drawing {
  inks: Inks;
  scale: number;
  crowded: boolean;
}

type Pen = CanvasRenderingContext2D | OffscreenCanvasRenderingContext2D;

const paths = new WeakMap<Figure, { outline: Path2D; ghost: Path2D | null }>();

function pathsOf(figure: Figure): { outline: Path2D; ghost: Path2D | null } {
  let found = paths.get(figure);
  if (found === undefined) {
    found = { outline: new Path2D(figure.path), ghost: figure.ghost === '' ? null : new Path2D(figure.ghost) };
    paths.set(figure, found);
  }
  return found;
}

/** Draws one figure with a pen whose units are metres, north up. */
export function drawFigure(
  pen: Pen,
  figure: Figure,
  { inks, scale, crowded }: Drawing,
  how: 'plain' | 'chosen' | 'pointed',
): void {
  const { outline, ghost } = pathsOf(figure);
  const chosen = how === 'chosen';
  const wide = chosen
    ? 3
    : (figure.firm || figure.ink === 'dotted' ? 2 : figure.ink === 'zone' ? 1.6 : 1.4) + (how === 'pointed' ? 1.2 : 0);
  pen.globalAlpha = figure.faint ? 0.45 : 1;
  pen.fillStyle = fillOf(pen, figure, inks, scale, crowded, chosen);
  pen.fill(outline);
  pen.lineWidth = wide / scale;
  pen.strokeStyle = chosen ? inks.red : figure.ink === 'zone' ? inks.blue : inks.ink;
  dash(pen, crowded ? [] : dashes(figure), scale);
  pen.stroke(outline);
  if (ghost !== null) {
    pen.lineWidth = (chosen ? 1.6 : figure.elsewhere ? 1 : figure.firm ? 2 : 1.2) / scale;
    pen.strokeStyle = chosen ? inks.red : figure.elsewhere ? inks.inkSoft : inks.ink;
    dash(pen, figure.elsewhere && !crowded ? [5, 3, 1, 3] : [], scale);
    pen.stroke(ghost);
  }
  pen.globalAlpha = 1;
}

/** Zones in dashes, what can be gone through and what is hidden in dots. */
function dashes({ ink, hidden }: Figure): number[] {
  if (hidden) return [1, 4];
  return ink === 'zone' ? [7, 4] : ink === 'dotted' ? [2, 3] : [];
}

function dash(pen: Pen, pixels: number[], scale: number): void {
  pen.setLineDash(pixels.map((length) => length / scale));
}

function fillOf(
  pen: Pen,
  { ink, glass, heading }: Figure,
  inks: Inks,
  scale: number,
  crowded: boolean,
  chosen: boolean,
): string | CanvasPattern {
  if (glass) return crowded ? inks.floor : strokes(pen, chosen ? inks.red : inks.inkSoft, scale, GLASS, heading);
  switch (ink) {
    case 'zone':
    case 'dotted':
      return inks.zone;
    case 'filled':
      return chosen ? inks.red : inks.ink;
    case 'hatched':
      return crowded ? inks.line : strokes(pen, inks.inkSoft, scale, HATCH, heading);
    case 'paper':
      return inks.sheet;
    case 'floor':
      return inks.floor;
  }
}

const tiles = new Map<string, OffscreenCanvas>();

/** Lines six pixels apart; and pairs of short strokes, as glass is drawn. In a field 18 by 18. */
const HATCH = 'M-3 3L3 -3M0 18L18 0M15 21L21 15';
const GLASS = 'M3 9L9 3M8 14L15 7';

/** Fills with strokes that are the same whatever the scale, and lie across what is turned as across what is not. */
function strokes(pen: Pen, ink: string, scale: number, drawn: string, heading: number): CanvasPattern {
  const key = ink + drawn;
  let tile = tiles.get(key);
  if (tile === undefined) {
    // Drawn larger than it is shown, so that it stays fine on a dense screen.
    tile = new OffscreenCanvas(18, 18);
    const line = tile.getContext('2d')!;
    line.strokeStyle = ink;
    line.lineWidth = 3.2;
    line.lineCap = 'square';
    line.stroke(new Path2D(drawn));
    tiles.set(key, tile);
  }
  const pattern = pen.createPattern(tile, 'repeat')!;
  pattern.setTransform(new DOMMatrix().rotate(heading).scale(8.5 / 18 / scale, -8.5 / 18 / scale));
  return pattern;
}
