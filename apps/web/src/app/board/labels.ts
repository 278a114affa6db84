/** A name that would like to stand somewhere on the board, in pixels. */
export interface LabelRequest {
  id: string;
  text: string;
  /** A second line in small; it gives way before the name does. */
  note: string;
  /** The middle of where its first line would like to stand. */
  x: number;
  y: number;
  /** How wide what it names is: a name is shortened to that and a bit, rather than left out. */
  room: number;
  /** The higher, the sooner it is placed. */
  rank: number;
}

/** A name that has its place. */
export interface PlacedLabel {
  id: string;
  text: string;
  note: string;
  x: number;
  y: number;
  /** What it covers. */
  box: { left: number; top: number; right: number; bottom: number };
}

/** Measures a text: how many pixels wide it is, as a name or as a note. */
export type Measure = (text: string, small: boolean) => number;

const LINE = 14;
const NOTE = 13;
/** Between two names at least, in pixels. */
const APART = 2;
/** The shortest that a name is cut to, in letters. */
const SHORTEST = 4;

/**
 * Gives names their places so that no two overlap: the higher rank first; what does not fit gives up its note, then letters, and is
 * left out where nothing helps. No name lies on a box that is `covered`.
 */
export function place(
  wishes: readonly LabelRequest[],
  measure: Measure,
  bounds: { width: number; height: number },
  covered: readonly PlacedLabel['box'][] = [],
): PlacedLabel[] {
  const placed: PlacedLabel[] = [];
  const taken = new Crowd(bounds);
  for (const box of covered) taken.add(box);
  for (const wish of [...wishes].sort((a, b) => b.rank - a.rank)) {
    const found = attempt(wish, measure, taken);
    if (found === null) continue;
    taken.add(found.box);
    placed.push(found);
  }
  return placed;
}

function attempt(wish: LabelRequest, measure: Measure, taken: Crowd): PlacedLabel | null {
  const { id, text, note, x, y } = wish;
  for (const small of note === '' ? [''] : [note, '']) {
    const box = boxOf(measure(text, false), small === '' ? 0 : measure(small, true), x, y);
    if (taken.isFree(box)) return { id, text, note: small, x, y, box };
  }
  for (let letters = text.length - 2; letters >= SHORTEST; letters = Math.floor(letters * 0.7)) {
    const short = `${text.slice(0, letters).trimEnd()}…`;
    const width = measure(short, false);
    // To cut a name that would stand free if it were shorter than what it names helps nobody.
    if (width > wish.room + 24 && letters > SHORTEST * 2) continue;
    const box = boxOf(width, 0, x, y);
    if (taken.isFree(box)) return { id, text: short, note: '', x, y, box };
  }
  return null;
}

function boxOf(width: number, noteWidth: number, x: number, y: number): PlacedLabel['box'] {
  const half = Math.max(width, noteWidth) / 2 + APART;
  return { left: x - half, right: x + half, top: y - LINE + 3, bottom: y + 3 + (noteWidth > 0 ? NOTE : 0) };
}

/** Boxes that are taken, found by the cells that they lie in. */
class Crowd {
  private readonly cells = new Map<number, PlacedLabel['box'][]>();

  constructor(private readonly bounds: { width: number; height: number }) {}

  isFree(box: PlacedLabel['box']): boolean {
    if (box.right < 0 || box.bottom < 0 || box.left > this.bounds.width || box.top > this.bounds.height) return false;
    for (const cell of cellsOf(box)) {
      for (const other of this.cells.get(cell) ?? []) {
        if (box.left < other.right && other.left < box.right && box.top < other.bottom && other.top < box.bottom) return false;
      }
    }
    return true;
  }

  add(box: PlacedLabel['box']): void {
    for (const cell of cellsOf(box)) {
      const known = this.cells.get(cell);
      if (known === undefined) this.cells.set(cell, [box]);
      else known.push(box);
    }
  }
}

const CELL = 64;

function cellsOf({ left, top, right, bottom }: PlacedLabel['box']): number[] {
  const found: number[] = [];
  for (let y = Math.floor(top / CELL); y <= Math.floor(bottom / CELL); y++)
    for (let x = Math.floor(left / CELL); x <= Math.floor(right / CELL); x++) found.push(y * 10_000 + x);
  return found;
}
