import type { Figure } from './figures';
import { drawFigure } from './ink';
import type { Inks } from './ink';
import type { PlacedLabel } from './labels';
import type { Box, View } from './viewport';
import type { Point } from '@nettlewick/core';

/** A line of the grid: its value in metres, how that is written, and where it is in pixels. */
export interface GridLine {
  value: number;
  label: string;
  at: number;
}

const NAME_FONT = '600 12.5px';
const ZONE_NAME = 'italic 600 12.5px';
const NOTE = '400 11.5px';

/** Draws what lies under and over the things of a board, in pixels unless it is said otherwise. */
export class Surface {
  constructor(
    private readonly pen: CanvasRenderingContext2D,
    private readonly ratio: number,
    private readonly view: View,
    private readonly inks: Inks,
  ) {}

  ground(room: Box, eastward: readonly GridLine[], northward: readonly GridLine[]): void {
    const { pen, inks } = this;
    const { width, height } = this.view.size;
    this.inPixels();
    pen.fillStyle = inks.paper;
    pen.fillRect(0, 0, width, height);
    const { left, top, right, bottom } = this.boxOf(room);
    pen.fillStyle = inks.floor;
    pen.fillRect(left, top, right - left, bottom - top);
    pen.strokeStyle = inks.grid;
    pen.lineWidth = 1;
    pen.setLineDash([]);
    pen.beginPath();
    for (const { at } of eastward) line(pen, Math.round(at) + 0.5, 0, Math.round(at) + 0.5, height);
    for (const { at } of northward) line(pen, 0, Math.round(at) + 0.5, width, Math.round(at) + 0.5);
    pen.stroke();
    pen.strokeStyle = inks.ink;
    pen.lineWidth = 2.5;
    pen.strokeRect(left, top, right - left, bottom - top);
  }

  ways(ways: readonly (readonly Point[])[]): void {
    if (ways.length === 0) return;
    const { pen, inks } = this;
    this.inPixels();
    pen.strokeStyle = inks.blue;
    pen.lineWidth = 1.2;
    pen.setLineDash([2, 4]);
    for (const way of ways) {
      pen.beginPath();
      for (const point of way) {
        const { x, y } = this.at(point);
        pen.lineTo(x, y);
      }
      pen.stroke();
    }
  }

  figure(figure: Figure, how: 'plain' | 'chosen' | 'pointed'): void {
    const { pen, ratio, inks } = this;
    const { seen, scale } = this.view;
    const size = scale * ratio;
    pen.setTransform(size, 0, 0, -size, -seen.west * size, seen.north * size);
    drawFigure(pen, figure, { inks, scale, crowded: false }, how);
  }

  names(placed: readonly (PlacedLabel & { at: Point; zone: boolean; chosen: boolean; drop: number })[]): void {
    const { pen, inks } = this;
    this.inPixels();
    pen.textAlign = 'center';
    pen.textBaseline = 'alphabetic';
    pen.lineJoin = 'round';
    pen.setLineDash([]);
    pen.lineWidth = 3;
    pen.strokeStyle = inks.floor;
    for (const { text, note, at, zone, chosen, drop } of placed) {
      const { x, y } = this.at(at);
      pen.font = `${zone ? ZONE_NAME : NAME_FONT} ${inks.label}`;
      pen.fillStyle = chosen ? inks.red : zone ? inks.blue : inks.ink;
      pen.strokeText(text, x, y + drop);
      pen.fillText(text, x, y + drop);
      if (note === '') continue;
      pen.font = `${NOTE} ${inks.label}`;
      pen.fillStyle = inks.inkSoft;
      pen.strokeText(note, x, y + drop + 13);
      pen.fillText(note, x, y + drop + 13);
    }
  }

  /** How wide a name or a note is, in pixels. */
  measure(text: string, small: boolean): number {
    this.pen.font = `${small ? NOTE : NAME_FONT} ${this.inks.label}`;
    return this.pen.measureText(text).width;
  }

  draft(box: Box, text: string): void {
    const { pen, inks } = this;
    this.inPixels();
    const { left, top, right, bottom } = this.boxOf(box);
    pen.fillStyle = inks.zone;
    pen.fillRect(left, top, right - left, bottom - top);
    pen.strokeStyle = inks.red;
    pen.lineWidth = 1.5;
    pen.setLineDash([4, 3]);
    pen.strokeRect(left, top, right - left, bottom - top);
    pen.font = `12px ${inks.mono}`;
    pen.fillStyle = inks.red;
    pen.textAlign = 'center';
    pen.fillText(text, (left + right) / 2, top - 6);
  }

  /** The width and depth of the room, written along it. */
  measures(room: Box, across: string, deep: string): void {
    const { pen, inks } = this;
    this.inPixels();
    const { left, top, right, bottom } = this.boxOf(room);
    pen.strokeStyle = inks.inkSoft;
    pen.fillStyle = inks.inkSoft;
    pen.lineWidth = 1;
    pen.setLineDash([]);
    pen.beginPath();
    line(pen, left, top - 12, right, top - 12);
    line(pen, left, top - 17, left, top - 7);
    line(pen, right, top - 17, right, top - 7);
    line(pen, right + 12, top, right + 12, bottom);
    line(pen, right + 7, top, right + 17, top);
    line(pen, right + 7, bottom, right + 17, bottom);
    pen.stroke();
    pen.font = `12px ${inks.mono}`;
    pen.textAlign = 'center';
    pen.fillText(across, (left + right) / 2, top - 17);
    pen.save();
    pen.translate(right + 26, (top + bottom) / 2);
    pen.rotate(Math.PI / 2);
    pen.fillText(deep, 0, 0);
    pen.restore();
  }

  rulers(eastward: readonly GridLine[], northward: readonly GridLine[]): void {
    const { pen, inks } = this;
    const { width, height } = this.view.size;
    this.inPixels();
    pen.font = `10px ${inks.mono}`;
    pen.textAlign = 'left';
    pen.setLineDash([]);
    pen.lineWidth = 1;
    pen.strokeStyle = inks.inkSoft;
    pen.fillStyle = inks.sheet;
    pen.fillRect(0, 0, width, 18);
    pen.fillRect(0, 0, 26, height);
    pen.beginPath();
    for (const { at } of eastward) line(pen, at, 11, at, 18);
    for (const { at } of northward) line(pen, 19, at, 26, at);
    pen.stroke();
    pen.fillStyle = inks.inkSoft;
    for (const { at, label } of eastward) pen.fillText(label, at + 3, 10);
    for (const { at, label } of northward) pen.fillText(label, 3, at - 3);
    pen.fillStyle = inks.sheet;
    pen.fillRect(0, 0, 26, 18);
    pen.fillStyle = inks.inkSoft;
    pen.fillText('m', 8, 13);
  }

  private inPixels(): void {
    this.pen.setTransform(this.ratio, 0, 0, this.ratio, 0, 0);
    this.pen.globalAlpha = 1;
  }

  private at({ x, y }: Point): Point {
    const { seen, scale } = this.view;
    return { x: (x - seen.west) * scale, y: (seen.north - y) * scale };
  }

  private boxOf({ west, east, south, north }: Box): { left: number; top: number; right: number; bottom: number } {
    const a = this.at({ x: west, y: north });
    const b = this.at({ x: east, y: south });
    return { left: a.x, top: a.y, right: b.x, bottom: b.y };
  }
}

function line(pen: CanvasRenderingContext2D, x: number, y: number, toX: number, toY: number): void {
  pen.moveTo(x, y);
  pen.lineTo(toX, toY);
}
