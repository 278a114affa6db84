import { drawFigure } from './ink';
import type { Inks } from './ink';
import type { Scene } from './scene';
import type { Box, View } from './viewport';

/** The number of figures above which dashes and hatching are left out. */
const CROWD = 1200;
/** The margin of the drawing around the view, as a share of the view. */
const MARGIN_SHARE = 0.25;
/** More changes than this are drawn anew all together. */
const PATCHES = 200;
/** The least time between two redraws while the view moves, in milliseconds. */
const REDRAW_MS = 160;

interface Drawn {
  sheet: OffscreenCanvas;
  /** What it covers, in metres. */
  box: Box;
  scale: number;
  ratio: number;
  inks: Inks;
  crowded: boolean;
  scene: Scene;
  without: ReadonlySet<string>;
  at: number;
}

/**
 * All that stands still, drawn once and wider than what is seen: to pan is to shift it, to zoom is to stretch it until the view
 * rests, and what has changed is drawn anew where it was and is. Figures are drawn in any number at the cost of one picture.
 */
export class StaticLayer {
  private drawn: Drawn | null = null;

  /** Puts the figures of a scene, but for some, onto a canvas whose pen is in device pixels. */
  show(
    pen: CanvasRenderingContext2D,
    view: View,
    ratio: number,
    scene: Scene,
    without: ReadonlySet<string>,
    inks: Inks,
    moving: boolean,
  ): void {
    let drawn = this.drawn;
    if (drawn === null || drawn.inks !== inks || drawn.ratio !== ratio) {
      drawn = this.draw(view, ratio, scene, without, inks);
    } else if (drawn.scale !== view.scale || !covers(drawn.box, view.seen)) {
      const waits = moving && performance.now() - drawn.at < REDRAW_MS;
      if (!waits && (!moving || !covers(drawn.box, view.seen))) drawn = this.draw(view, ratio, scene, without, inks);
    }
    if (drawn.scene !== scene || drawn.without !== without) drawn = this.mend(drawn, view, scene, without);
    const { box, sheet } = drawn;
    const left = (box.west - view.seen.west) * view.scale * ratio;
    const top = (view.seen.north - box.north) * view.scale * ratio;
    const width = (box.east - box.west) * view.scale * ratio;
    const height = (box.north - box.south) * view.scale * ratio;
    if (drawn.scale === view.scale) pen.drawImage(sheet, Math.round(left), Math.round(top));
    else pen.drawImage(sheet, left, top, width, height);
  }

  private draw(view: View, ratio: number, scene: Scene, without: ReadonlySet<string>, inks: Inks): Drawn {
    const { seen, scale } = view;
    const dx = (seen.east - seen.west) * MARGIN_SHARE;
    const dy = (seen.north - seen.south) * MARGIN_SHARE;
    const box = { west: seen.west - dx, east: seen.east + dx, south: seen.south - dy, north: seen.north + dy };
    const width = Math.max(1, Math.ceil((box.east - box.west) * scale * ratio));
    const height = Math.max(1, Math.ceil((box.north - box.south) * scale * ratio));
    const old = this.drawn?.sheet;
    const sheet = old?.width === width && old.height === height ? old : new OffscreenCanvas(width, height);
    const pen = sheet.getContext('2d')!;
    pen.setTransform(1, 0, 0, 1, 0, 0);
    pen.clearRect(0, 0, width, height);
    const figures = scene.within(box).filter(({ id }) => !without.has(id));
    const crowded = figures.length > CROWD;
    aim(pen, box, scale, ratio);
    for (const figure of figures) drawFigure(pen, figure, { inks, scale, crowded }, 'plain');
    this.drawn = { sheet, box, scale, ratio, inks, crowded, scene, without, at: performance.now() };
    return this.drawn;
  }

  /** Draws anew only where something has gone, come or changed. */
  private mend(drawn: Drawn, view: View, scene: Scene, without: ReadonlySet<string>): Drawn {
    const turned = (id: string): boolean => without.has(id) !== drawn.without.has(id);
    const changed = [
      ...scene.changesSince(drawn.scene),
      ...(without === drawn.without ? [] : scene.figures.filter(({ id }) => turned(id))),
    ];
    if (changed.length > PATCHES) return this.draw(view, drawn.ratio, scene, without, drawn.inks);
    const { sheet, box, scale, ratio, inks, crowded } = drawn;
    const pen = sheet.getContext('2d')!;
    for (const { at, reach } of changed) {
      const pad = reach + 4 / scale;
      const where = { west: at.x - pad, east: at.x + pad, south: at.y - pad, north: at.y + pad };
      // On whole pixels: a patch with soft edges would fade what it cuts through.
      const size = scale * ratio;
      const left = Math.floor((where.west - box.west) * size);
      const top = Math.floor((box.north - where.north) * size);
      const width = Math.ceil((where.east - box.west) * size) - left;
      const height = Math.ceil((box.north - where.south) * size) - top;
      pen.save();
      pen.setTransform(1, 0, 0, 1, 0, 0);
      pen.beginPath();
      pen.rect(left, top, width, height);
      pen.clip();
      pen.clearRect(left, top, width, height);
      aim(pen, box, scale, ratio);
      for (const figure of scene.within(outwards(where, 1 / size)))
        if (!without.has(figure.id)) drawFigure(pen, figure, { inks, scale, crowded }, 'plain');
      pen.restore();
    }
    this.drawn = { ...drawn, scene, without };
    return this.drawn;
  }
}

/** Lets a pen draw in metres, north up. */
function aim(pen: OffscreenCanvasRenderingContext2D, { west, north }: Box, scale: number, ratio: number): void {
  const size = scale * ratio;
  pen.setTransform(size, 0, 0, -size, -west * size, north * size);
}

function outwards({ west, east, south, north }: Box, by: number): Box {
  return { west: west - by, east: east + by, south: south - by, north: north + by };
}

function covers(outer: Box, inner: Box): boolean {
  return outer.west <= inner.west && outer.east >= inner.east && outer.south <= inner.south && outer.north >= inner.north;
}
