import type { Level, Point } from '@nettlewick/core';
import { momentFigures, roomBox, startFigures } from './figures';
import type { Figure, Moment } from './figures';
import type { Pin } from './pins';

/** What of a room is drawn on a sheet of its own. */
export interface PlanPage {
  level: Level;
  room: string;
  moment: Moment | null;
  ways: readonly Point[][];
  pins: readonly Pin[];
}

/** Paper and ink of a sheet that is handed on: it is printed, so it is light. */
export const inks = { paper: '#fbf7ec', ink: '#2b2620', soft: '#63594a', blue: '#1d4f7c', red: '#a3301b', hatch: '#cfc3a8' };
/** The padding around the room, in metres, and the size of letters. */
const PADDING_M = 1;

/** A room as an SVG of its own, to scale, one metre a unit: things with their names, ways, and what happens as numbered pins. */
export function planSvg({ level, room, moment, ways, pins }: PlanPage): string {
  const box = roomBox(level, room);
  const { west: x, south: y } = box;
  const [width, height] = [box.east - x, box.north - y];
  const letters = Math.max(0.2, Math.min(width, height) / 50);
  const stroke = letters / 8;
  const changing = moment?.changing ?? new Set<string>();
  const figures = [
    ...startFigures(level, room).filter(({ id }) => !changing.has(id)),
    ...(moment === null ? [] : momentFigures(level, room, moment)),
  ];
  const name = level.rooms.find(({ id }) => id === room)?.name.trim() ?? '';
  // The sheet is seen with north up; SVG counts downwards.
  const flip = (at: Point): string => `x="${at.x.toFixed(3)}" y="${(-at.y).toFixed(3)}"`;
  return [
    `<svg xmlns="http://www.w3.org/2000/svg" viewBox="${x - PADDING_M} ${-(y + height) - PADDING_M} ${width + 2 * PADDING_M} ${height + 2 * PADDING_M}" width="${Math.round((width + 2 * PADDING_M) * 40)}" height="${Math.round((height + 2 * PADDING_M) * 40)}" font-family="sans-serif" font-size="${letters.toFixed(3)}" role="img">`,
    `<title>${escaped(`${level.name.trim()}: ${name}`)}</title>`,
    `<rect x="${x - PADDING_M}" y="${-(y + height) - PADDING_M}" width="${width + 2 * PADDING_M}" height="${height + 2 * PADDING_M}" fill="${inks.paper}"/>`,
    `<g transform="scale(1 -1)" fill="none" stroke="${inks.ink}" stroke-width="${stroke.toFixed(3)}" stroke-linejoin="round">`,
    `<rect x="${x}" y="${y}" width="${width}" height="${height}" stroke-width="${(stroke * 2).toFixed(3)}"/>`,
    ...figures.map((figure) => inked(figure, stroke)),
    ...ways
      .filter((way) => way.length > 1)
      .map((way) => `<path d="${lined(way)}" stroke="${inks.blue}" stroke-dasharray="${stroke * 2} ${stroke * 2}"/>`),
    '</g>',
    ...named(figures, letters).map(
      ({ at, figure }) =>
        `<text ${flip(at)} text-anchor="middle" fill="${figure.kind === 'zone' ? inks.blue : inks.ink}" stroke="${inks.paper}" stroke-width="${(stroke * 3).toFixed(3)}" paint-order="stroke">${escaped(figure.name)}</text>`,
    ),
    ...pins.map(
      ({ at, text, label }) =>
        `<g><title>${escaped(label)}</title><circle c${flip(at).replace(' y=', ' cy=')} r="${(letters * 0.8).toFixed(3)}" fill="${inks.paper}" stroke="${inks.red}" stroke-width="${stroke.toFixed(3)}"/><text ${flip({ x: at.x, y: at.y - letters * 0.35 })} text-anchor="middle" fill="${inks.red}">${escaped(text)}</text></g>`,
    ),
    '</svg>',
  ].join('\n');
}

/**
 * Where names stand, below what they name, and above a zone: who walks first, then what is smaller; where another stands there is none.
 * What is solid is drawn without one, as on the board.
 */
function named(figures: readonly Figure[], letters: number): { figure: Figure; at: Point }[] {
  const placed: { figure: Figure; at: Point; half: number }[] = [];
  const rank = ({ kind, radius }: Figure): number => (kind === 'zone' ? 1e3 : 0) + radius;
  for (const figure of figures.filter(({ kind }) => kind !== 'solid').sort((a, b) => rank(a) - rank(b))) {
    const { x, y } = figure.at;
    const at = { x, y: figure.kind === 'zone' ? y + figure.halfDepth + letters * 0.4 : y - figure.halfDepth - letters };
    const half = figure.name.length * letters * 0.28;
    const isFree = placed.every((one) => Math.abs(one.at.y - at.y) > letters || Math.abs(one.at.x - at.x) > one.half + half);
    if (isFree) placed.push({ figure, at, half });
  }
  return placed;
}

function inked({ path, ghost, ink, kind, faint, hidden }: Figure, stroke: number): string {
  const colour = kind === 'zone' ? inks.blue : inks.ink;
  const fill = ink === 'hatched' ? inks.hatch : 'none';
  const dashes = hidden ? `${stroke} ${stroke * 2}` : kind === 'zone' ? `${stroke * 6} ${stroke * 3}` : '';
  const dashed = dashes === '' ? '' : ` stroke-dasharray="${dashes}"`;
  const second = ghost === '' ? '' : `<path d="${ghost}" stroke="${inks.soft}" stroke-width="${(stroke / 2).toFixed(3)}"/>`;
  return `<g${faint ? ' opacity="0.5"' : ''}><path d="${path}" stroke="${colour}" fill="${fill}"${dashed}/>${second}</g>`;
}

function lined(points: readonly Point[]): string {
  return points.map(({ x, y }, at) => `${at === 0 ? 'M' : 'L'}${x.toFixed(3)} ${y.toFixed(3)}`).join('');
}

/** A text as it may stand in XML and HTML. */
export function escaped(text: string): string {
  return text
    .replace(/[^\x09\x0a\x0d\x20-\ud7ff\ue000-\ufffd\u{10000}-\u{10ffff}]/gu, '\ufffd')
    .replaceAll('&', '&amp;')
    .replaceAll('<', '&lt;')
    .replaceAll('>', '&gt;')
    .replaceAll('"', '&quot;');
}
