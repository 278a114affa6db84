import type { Figure } from './figures';
import { place } from './labels';
import type { PlacedLabel, LabelRequest } from './labels';
import { MANY } from './sight';
import type { VisibleScene } from './sight';
import type { Surface } from './surface';
import type { View } from './viewport';
import type { Point } from '@nettlewick/core';

/** A name with its place, which keeps to what it names while the view moves. */
export type Name = PlacedLabel & NameOf;

interface NameOf {
  at: Point;
  zone: boolean;
  chosen: boolean;
  /** How far below a thing's middle its name stands, in pixels. */
  drop: number;
}

/** How wide a handle is, in pixels: the names of what is selected keep clear of its own. */
const HANDLE = 14;

/** The names on a board: those in hand first, then what is under the pointer, then the larger. */
export class LabelLayout {
  private last: { names: Name[]; scale: number } | null = null;
  private readonly widths = new Map<string, number>();

  /** Forgets how wide words are: the faces they are written in have come. */
  forget(): void {
    this.widths.clear();
    this.last = null;
  }

  /** The names to be written now. While the view of very many things moves, those that were placed before go along. None lies on a handle. */
  of(
    sight: VisibleScene,
    surface: Surface,
    view: View,
    chosen: readonly string[],
    pointed: string | undefined,
    moving: boolean,
    handles: readonly Point[] = [],
  ): Name[] {
    const { seen, scale, size } = view;
    if (moving && sight.near().length > MANY) return this.last?.scale === scale ? this.last.names : [];
    const inHand = new Set(chosen);
    const extra = [...chosen, ...(pointed === undefined ? [] : [pointed])].flatMap((id) => sight.find(id) ?? []);
    const wishes: (LabelRequest & NameOf)[] = [];
    for (const figure of new Set([...sight.nameable(), ...sight.live(), ...extra])) {
      const across = 2 * figure.radius * scale;
      const isChosen = inHand.has(figure.id);
      const drop = dropOf(figure, scale, isChosen && handles.length > 0 ? HANDLE : 0);
      wishes.push({
        id: figure.id,
        text: figure.name.trim(),
        note: figure.note,
        x: (figure.at.x - seen.west) * scale,
        y: (seen.north - figure.at.y) * scale + drop,
        room: across,
        rank: isChosen ? 1e9 : figure.id === pointed ? 1e8 : across,
        at: figure.at,
        zone: figure.kind === 'zone',
        chosen: isChosen,
        drop,
      });
    }
    const own = new Map(wishes.map((wish) => [wish.id, wish]));
    const covered = handles.map(({ x, y }) => ({
      left: x - HANDLE / 2,
      right: x + HANDLE / 2,
      top: y - HANDLE / 2,
      bottom: y + HANDLE / 2,
    }));
    const names = place(wishes, (text, small) => this.width(surface, text, small), size, covered).map((one) => {
      const { at, zone, chosen: isChosen, drop } = own.get(one.id)!;
      return { ...one, at, zone, chosen: isChosen, drop };
    });
    this.last = { names, scale };
    return names;
  }

  private width(surface: Surface, text: string, small: boolean): number {
    const key = (small ? '-' : '+') + text;
    let width = this.widths.get(key);
    if (width === undefined) {
      width = surface.measure(text, small);
      this.widths.set(key, width);
    }
    return width;
  }
}

function dropOf(figure: Figure, scale: number, clear: number): number {
  if (figure.kind === 'zone') return -figure.halfDepth * scale - 5 - clear;
  return figure.halfDepth * scale + 14 + clear;
}
