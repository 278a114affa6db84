import { fixtureNames, kindOfFixture } from '../kinds/fixtures';
import type { Fixture, FixtureName } from '../kinds/fixtures';
import type { Vector } from '../vocabulary/quantities';
import type { VisitorKind } from '../vocabulary/visitor-kinds';
import type { Collection } from './level';

/** What a designer can put on the plan. */
export type Stencil = 'room' | 'solid' | 'wall' | 'zone' | FixtureName | 'player' | 'creature' | 'prop';

/** Where a new thing is put, and how large it is wished to be: its width, depth and height, as far as they are wished. */
interface Put {
  id: string;
  name: string;
  room: string;
  at: Vector;
  size: Partial<Vector>;
  variant: string | undefined;
}

/** How a thing is put on the plan. */
interface StencilKind {
  collection: Collection;
  /** What the first that is made is named. */
  firstName: string;
  /** The ways in which it can be drawn, the usual one first. */
  variants?: readonly { id: string; says: string }[];
  /** What it has beside what the schema of its list gives to one that says nothing. */
  begins(put: Put): object;
}

/** The thickness of a new wall, in metres. */
export const WALL_THICKNESS_M = 0.4;

/** A size, as wished, else as usual; in metres. */
const wide = (wished: Partial<Vector>, x: number, y: number, z: number): Vector => ({ x, y, z, ...wished });

/** A block of a usual length and thickness. */
const block = (firstName: string, length: number): StencilKind => ({
  collection: 'solids',
  firstName,
  begins: ({ id, name, room, at, size }) => ({ id, name, room, at, size: wide(size, length, WALL_THICKNESS_M, 3) }),
});

/** A visitor of a kind, with a box of a usual width and height for a body. */
const visitor = (
  kind: VisitorKind,
  firstName: string,
  across: number,
  high: number,
  mass: number,
  speed: number,
): StencilKind => ({
  collection: 'visitors',
  firstName,
  begins: ({ id, name, room, at }) => ({
    ...{ id, name, kind, room, at },
    body: { kind: 'box', size: { x: across, y: across, z: high } },
    ...{ mass, speed },
  }),
});

const zone: StencilKind = {
  collection: 'zones',
  firstName: 'Zone',
  variants: [
    { id: 'box', says: 'as a box' },
    { id: 'pillar', says: 'as a pillar' },
    { id: 'ball', says: 'as a ball' },
  ],
  begins: ({ id, name, room, at, size, variant }) => {
    const box = wide(size, 2, 2, 2.2);
    // What is round is as wide as the least of what is wished.
    const across = [size.x, size.y, variant === 'ball' ? size.z : undefined].filter((one) => one !== undefined);
    const radius = (across.length === 0 ? 2 : Math.min(...across)) / 2;
    if (variant === 'pillar') return { id, name, room, at, shape: { kind: variant, radius, height: box.z } };
    // A ball is where its middle is.
    if (variant === 'ball') return { id, name, room, at: { ...at, z: at.z + radius }, shape: { kind: variant, radius } };
    return { id, name, room, at, shape: { kind: 'box', size: box } };
  },
};

const room: StencilKind = {
  collection: 'rooms',
  firstName: 'Room',
  begins: ({ id, name, at, size }) => {
    const { x, y } = wide(size, 12, 10, 0);
    return { id, name, extents: { west: at.x - x / 2, east: at.x + x / 2, south: at.y - y / 2, north: at.y + y / 2 } };
  },
};

function fixture(kind: FixtureName): StencilKind {
  const { firstName, variants = [], create } = kindOfFixture(kind);
  return {
    collection: 'fixtures',
    firstName,
    variants,
    begins: ({ id, name, room: inRoom, at, size, variant }) => {
      const made = create({ id, name, room: inRoom, at });
      const sized = 'size' in made ? { ...made, size: wide(size, made.size.x, made.size.y, made.size.z) } : made;
      const usual: Fixture = 'travel' in sized ? { ...sized, travel: alongItself(sized.size) } : sized;
      return { ...usual, ...variants.find((one) => one.id === variant)?.as(usual) };
    },
  };
}

/** A door slides along its own length, so that its opening is free. */
function alongItself({ x, y }: { x: number; y: number }): Vector {
  return x >= y ? { x, y: 0, z: 0 } : { x: 0, y, z: 0 };
}

/** Everything that can be put on the plan, and how. */
export const stencils: Record<Stencil, StencilKind> = {
  room,
  solid: block('Solid', 2),
  wall: block('Wall', 4),
  zone,
  ...(Object.fromEntries(fixtureNames.map((name) => [name, fixture(name)])) as Record<FixtureName, StencilKind>),
  player: visitor('player', 'Player', 0.5, 1.8, 75, 1.5),
  creature: visitor('creature', 'Creature', 0.5, 1, 20, 1.2),
  prop: visitor('prop', 'Prop', 0.5, 0.5, 25, 1),
};
