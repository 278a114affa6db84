import { isBodied, isMachine, shapeOfFixture, startsSolid } from '../../kinds/fixtures';
import type { Level } from '../../document/level';
import { Grid, footprint } from '../../space/grid';
import { boxAt } from '../../space/shapes';
import type { Shape } from '../../space/shapes';
import type { Vector } from '../../vocabulary/quantities';
import type { CheckContext } from './warning';

/** Something that is solid when a rehearsal begins. */
export interface Block {
  id: string;
  at: Vector;
  size: Vector;
  heading: number;
  shape: Shape;
  /** Whether it stays where it is, for everybody. */
  isFixed: boolean;
}

/** What is solid in a room, by where it stands. */
interface Blocks {
  grid: Grid;
  all: Block[];
}

/** The blocks of a room that are near a shape, in listing order. */
export function blocksNear(look: CheckContext, room: string, shape: Shape): Block[] {
  const here = look.once(look.level, 'blocks', blocksIn).get(room);
  if (here === undefined) return [];
  return here.grid
    .find(footprint(shape))
    .sort((a, b) => a - b)
    .map((number) => here.all[number]!);
}

function blocksIn(level: Level): Map<string, Blocks> {
  const rooms = new Map<string, Blocks>();
  const add = (room: string, block: Block): void => {
    const here = rooms.get(room) ?? { grid: new Grid(), all: [] };
    rooms.set(room, here);
    here.grid.add(here.all.length, footprint(block.shape));
    here.all.push(block);
  };
  for (const { id, room, at, size, heading } of level.solids)
    add(room, { id, at, size, heading, shape: boxAt(at, size, heading), isFixed: true });
  for (const one of level.fixtures) {
    if (!isBodied(one) || !startsSolid(one)) continue;
    const { id, at, size, heading } = one;
    const letsThrough = 'letsThrough' in one && (one.letsThrough.owner || one.letsThrough.tags.length > 0);
    add(one.room, { id, at, size, heading, shape: shapeOfFixture(one), isFixed: !letsThrough && !isMachine(one) });
  }
  return rooms;
}

/** A coordinate that lies between two, so far from both that somebody has room there, in metres. */
export function within(metres: number, low: number, high: number): number {
  const room = Math.min(0.5, (high - low) / 2);
  return Math.min(high - room, Math.max(low + room, metres));
}
