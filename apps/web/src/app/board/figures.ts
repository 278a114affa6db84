import { BOX, direction, isMachine, kindOfFixture, lookup, motionOf, poseSnapshot } from '@nettlewick/core';
import type { Extent, FixtureName, Ink, Level, Machine, Picture, Shape, Thing, Vector, Point } from '@nettlewick/core';
import type { Box } from './viewport';

/** One thing as it is drawn on the board, in metres. */
export interface Figure {
  id: string;
  kind: 'solid' | 'zone' | FixtureName | 'player' | 'creature' | 'prop';
  /** How its outline is inked; a zone has a line of its own. */
  ink: Ink | 'zone';
  /** Whether its outline is drawn firmly: who walks, and what moves. */
  firm: boolean;
  name: string;
  /** What it is, for those who hear the plan. */
  spoken: string;
  /** What is pressed for it: an outline of straight sides, in metres. */
  points: readonly Point[];
  /** What is drawn of it, in metres: its outline, or the sign of what has no body. */
  path: string;
  /** A second outline: a door's other end, a plate's rim, a visitor's heading. */
  ghost: string;
  /** Whether the second outline is where it will be, not a part of it. */
  elsewhere: boolean;
  at: Point;
  /** The level outline reaches this far from `at` in every direction at most, in metres. */
  reach: number;
  /** The outline itself, without its ghost, reaches this far, in metres. */
  radius: number;
  /** Half of what it measures from south to north, in metres. */
  halfDepth: number;
  /** Which words or numbers belong to it on the drawing. */
  note: string;
  faint: boolean;
  /** Not there to be seen: its outline is of dots. */
  hidden: boolean;
  /** Half seen through: it is inked as glass is. */
  glass: boolean;
  /** Its heading, in degrees: what hatches it turns with it. */
  heading: number;
}

/** The sides of a fixture that change how it looks. */
export const lookOfFixtures = ['shown', 'seeThrough', 'solid', 'enabled'] as const;
type Look = (typeof lookOfFixtures)[number];

export function isLook(field: string): field is Look {
  return (lookOfFixtures as readonly string[]).includes(field);
}

/** How a fixture looks at a moment, or at the start. */
export function looksOf(fixture: Level['fixtures'][number], moment: Moment | null): Record<Look, boolean> {
  const now = (field: Look, atFirst: boolean): boolean => moment?.states.get(`${fixture.id} ${field}`) ?? atFirst;
  return {
    shown: now('shown', fixture.shown),
    seeThrough: now('seeThrough', fixture.seeThrough),
    solid: now('solid', 'solid' in fixture && fixture.solid),
    enabled: now('enabled', fixture.enabled),
  };
}

/** Where things are at one moment of a rehearsal, where that differs from the start. */
export interface Moment {
  /** All that is ever elsewhere, or looks otherwise, than at the start of this rehearsal. */
  changing: ReadonlySet<string>;
  visitors: ReadonlyMap<string, Vector>;
  /** The clocks of what moves by itself. */
  doors: ReadonlyMap<string, number>;
  /** The room that each visitor is in; null while it is out of play. */
  rooms: ReadonlyMap<string, string | null>;
  texts: ReadonlyMap<string, string>;
  /** What is shown, seen through, solid and enabled, where that has changed: by the thing's id and the field. */
  states: ReadonlyMap<string, boolean>;
  pressed: ReadonlySet<string>;
}

/** Some things, with all that is attached to them, directly or over others. */
export function withAttached({ zones, fixtures }: Level, some: ReadonlySet<string>): ReadonlySet<string> {
  const all = new Set(some);
  const attached = [...zones, ...fixtures].filter(({ attachedTo }) => attachedTo !== '');
  for (let before = -1; before !== all.size;) {
    before = all.size;
    for (const { id, attachedTo } of attached) if (all.has(attachedTo)) all.add(id);
  }
  return all;
}

/** Everything that moves in its last position: doors open, elevators at their highest stop, movers at their last pose. */
export function allOpen(level: Level): Moment {
  const machines = level.fixtures.filter(isMachine);
  return momentOf(
    withAttached(level, new Set(machines.map(({ id }) => id))),
    new Map(machines.map((machine) => [machine.id, motionOf(machine).positions(machine).length - 1])),
  );
}

/** A moment at which nothing is otherwise than at the start but where some machines stand, by their clocks. */
export function momentOf(changing: ReadonlySet<string>, doors: ReadonlyMap<string, number>): Moment {
  return {
    changing,
    doors,
    visitors: new Map(),
    rooms: new Map(),
    texts: new Map(),
    states: new Map(),
    pressed: new Set(),
  };
}

/** The corners of a turned rectangle around `at`. */
export function corners(at: Point, size: { x: number; y: number }, heading: number): Point[] {
  const { cos, sin } = direction(heading);
  const x = size.x / 2;
  const y = size.y / 2;
  return [
    [-x, -y],
    [x, -y],
    [x, y],
    [-x, y],
  ].map(([u = 0, v = 0]) => ({ x: at.x + u * cos - v * sin, y: at.y + u * sin + v * cos }));
}

/** The outline of a shape on the ground, its path. */
function outlineOf(shape: Shape): string {
  return outline(pointsOf(shape));
}

/** The outline of a shape on the ground. */
function pointsOf(shape: Shape): Point[] {
  if (shape.form !== BOX) return ring(shape, shape.halfX, 32, 0);
  const { cos, sin } = shape;
  const at = (u: number, v: number): Point => ({ x: shape.x + u * cos - v * sin, y: shape.y + u * sin + v * cos });
  const { halfX: x, halfY: y } = shape;
  return [at(-x, -y), at(x, -y), at(x, y), at(-x, y)];
}

/** Width, depth and height of a shape before it is turned. */
export function sizeOf({ halfX, halfY, height }: Shape): Extent {
  return { x: 2 * halfX, y: 2 * halfY, z: height };
}

/** An outline that is drawn as it is pressed. */
function outlined(points: readonly Point[]): Pick<Figure, 'points' | 'path'> {
  return { points, path: outline(points) };
}

function outline(points: readonly Point[]): string {
  return points.map(({ x, y }, i) => `${i === 0 ? 'M' : 'L'}${round(x)} ${round(y)}`).join('') + 'Z';
}

/** The collections that stand in rooms, in the order in which they are drawn: what lies lowest first. */
const drawn = ['zones', 'solids', 'fixtures', 'visitors'] as const;

/** The figures of things as they stand at the start, and are not attached to anything: they depend on the thing alone. */
const known = new WeakMap<Thing, Figure>();

/** All things of a room as they stand at the start, in the order in which they are drawn. */
export function startFigures(level: Level, room: string): Figure[] {
  const figures: Figure[] = [];
  const picture = poseSnapshot(level);
  for (const collection of drawn) {
    for (const thing of level[collection]) {
      if (thing.room !== room || ('inPlay' in thing && !thing.inPlay)) continue;
      let figure = known.get(thing);
      if (figure === undefined) {
        figure = figureOf(collection, thing, null, picture);
        if (!('attachedTo' in thing) || thing.attachedTo === '') known.set(thing, figure);
      }
      figures.push(figure);
    }
  }
  return figures;
}

/** What of a room changes in a rehearsal, as it is at a moment of it. */
export function momentFigures(level: Level, room: string, moment: Moment): Figure[] {
  const figures: Figure[] = [];
  const picture = poseSnapshot(level, moment.doors);
  const things = lookup(level);
  for (const id of moment.changing) {
    const found = things.get(id);
    if (found === undefined) continue;
    const { collection, thing } = found;
    if (collection !== 'zones' && collection !== 'fixtures' && collection !== 'visitors') continue;
    const standing = thing as Level['zones' | 'fixtures' | 'visitors'][number];
    const now = collection === 'visitors' ? (moment.rooms.get(id) ?? null) : standing.room;
    if (now === room) figures.push(figureOf(collection, standing, moment, picture));
  }
  return figures;
}

/** Things as they would be if an edit were made that is only tried so far. */
export function previewFigures(level: Level, room: string, preview: ReadonlyMap<string, Thing>): Figure[] {
  if (preview.size === 0) return [];
  const things = lookup(level);
  const figures: Figure[] = [];
  const picture = poseSnapshot(level, undefined, preview);
  for (const [id, thing] of preview) {
    const collection = things.get(id)?.collection;
    if (collection !== 'zones' && collection !== 'solids' && collection !== 'fixtures' && collection !== 'visitors') continue;
    const standing = thing as Level['zones' | 'solids' | 'fixtures' | 'visitors'][number];
    if (standing.room !== room) continue;
    figures.push(figureOf(collection, standing, null, picture));
  }
  return figures;
}

function figureOf(collection: (typeof drawn)[number], thing: Thing, moment: Moment | null, picture: Picture): Figure {
  switch (collection) {
    case 'zones':
      return zoneFigure(thing as Level['zones'][number], picture);
    case 'solids': {
      const solid = thing as Level['solids'][number];
      return {
        ...base(solid, 'solid', 'hatched', 'solid', solid.size),
        ...outlined(corners(solid.at, solid.size, solid.heading)),
        faint: !solid.visible,
      };
    }
    case 'fixtures':
      return fixtureFigure(thing as Level['fixtures'][number], moment, picture);
    case 'visitors':
      return visitorFigure(thing as Level['visitors'][number], moment);
  }
}

function zoneFigure(zone: Level['zones'][number], picture: Picture): Figure {
  const shape = picture.shape(zone.id)!;
  return {
    ...base(zone, 'zone', 'zone', 'zone', sizeOf(shape)),
    at: shape,
    ...outlined(pointsOf(shape)),
    faint: !zone.enabled,
    note: zone.enabled ? '' : 'disabled',
  };
}

function visitorFigure(visitor: Level['visitors'][number], moment: Moment | null): Figure {
  const at = moment?.visitors.get(visitor.id) ?? visitor.at;
  const { body } = visitor;
  const size = body.kind === 'box' ? body.size : { x: 2 * body.radius, y: 2 * body.radius, z: body.height };
  const { cos, sin } = direction(visitor.heading);
  const nose = Math.max(size.x, size.y) * 0.9;
  const prop = visitor.kind === 'prop';
  const box = corners(at, size, 0);
  return {
    ...base(visitor, visitor.kind, 'paper', visitor.kind, size),
    firm: !prop,
    elsewhere: false,
    at,
    ...outlined(prop ? box : ring(at, Math.max(size.x, size.y) / 2, visitor.kind === 'creature' ? 3 : 24, visitor.heading)),
    ghost: prop ? cross(box) : `M${round(at.x)} ${round(at.y)}L${round(at.x + cos * nose)} ${round(at.y + sin * nose)}`,
    reach: nose + 0.2,
  };
}

function fixtureFigure(fixture: Level['fixtures'][number], moment: Moment | null, picture: Picture): Figure {
  const looks = looksOf(fixture, moment);
  const { word, ink: ownInk, plan: planOf, can, lies, mark } = kindOfFixture(fixture.kind);
  // What can be solid and is not is drawn as what can be gone through.
  const ink = (ownInk === 'filled' || ownInk === 'hatched') && can.includes('be solid') && !looks.solid ? 'dotted' : ownInk;
  const look = { faint: !looks.shown, hidden: !looks.shown, glass: looks.seeThrough };
  const noted = (note: string): string => [note, ...lookWords(looks)].filter((word) => word !== '').join(', ');
  const shape = picture.shape(fixture.id);
  if (shape === null) {
    const text = 'text' in fixture ? `“${moment?.texts.get(fixture.id) ?? fixture.text}”` : word;
    const wide = lies === true ? 1.1 : STANDING;
    const own = base(fixture, fixture.kind, ink, word, { x: wide, y: wide, z: 1 });
    const path = lies === true ? spotMark(fixture.at, fixture.heading) : standing(mark, fixture.at);
    const points = corners(fixture.at, { x: wide, y: wide }, lies === true ? fixture.heading : 0);
    return { ...own, points, path, reach: 1, note: noted(planOf?.(fixture, { pressed: false }).note ?? text), ...look };
  }
  const size = sizeOf(shape);
  const figure = { ...base(fixture, fixture.kind, ink, word, size), at: shape, ...outlined(pointsOf(shape)), ...look };
  if (isMachine(fixture)) {
    const travel = travelOf(fixture, shape, moment?.doors.get(fixture.id), picture, figure.faint);
    return { ...figure, firm: true, ...travel, note: noted(travel.note) };
  }
  const plan = planOf?.(fixture, { pressed: moment?.pressed.has(fixture.id) ?? false });
  const rim = plan?.rim;
  const ghost = rim === undefined ? '' : outlineOf({ ...shape, halfX: shape.halfX * rim, halfY: shape.halfY * rim });
  return { ...figure, ghost, elsewhere: false, note: noted(plan?.note ?? word) };
}

/** What is not as usual with how something looks, in words. */
function lookWords({ shown, seeThrough, enabled }: Record<Look, boolean>): string[] {
  return [...(shown ? [] : ['hidden']), ...(seeThrough ? ['half seen through'] : []), ...(enabled ? [] : ['disabled'])];
}

/** The way of something that moves: its other positions in ghostly outline, and an arrow along it. */
function travelOf(
  fixture: Machine,
  now: Shape,
  clock: number | undefined,
  picture: Picture,
  faint: boolean,
): Pick<Figure, 'ghost' | 'note' | 'reach' | 'faint'> {
  const motion = motionOf(fixture);
  const positions = picture.positions(fixture.id);
  const starts = motion.starts(fixture);
  const first = positions[starts]!;
  const others = positions.filter((_one, at) => at !== starts);
  const flat = others.filter((one) => one.x !== first.x || one.y !== first.y || one.cos !== first.cos);
  const inOrder = starts > 0 && starts === positions.length - 1 ? positions.toReversed() : positions;
  const arrows = inOrder.slice(1).map((to, at) => {
    const from = inOrder[at]!;
    return to.x === from.x && to.y === from.y ? '' : arrow(from, to);
  });
  const ghost = [...flat.map(outlineOf), ...arrows].join('');
  const far = Math.max(0, ...positions.map((one) => Math.hypot(one.x - first.x, one.y - first.y)));
  const at = clock ?? starts;
  const [from, to] = [positions[0]!, positions.at(-1)!];
  const travel = { x: to.x - from.x, y: to.y - from.y, z: to.z - from.z };
  // What goes up or down and lets others pass is out of the way at its end.
  const away = motion.clearsTheWay === true && travel.z !== 0 && at === positions.length - 1;
  const note = motion.note(at, travel, clock !== undefined);
  return { ghost, reach: radius(sizeOf(now)) + far, faint: faint || away, note };
}

function base(
  thing: { id: string; name: string; at: Vector },
  kind: Figure['kind'],
  ink: Figure['ink'],
  word: string,
  size: Extent,
): Figure {
  const heading = 'heading' in thing ? Number(thing.heading) : 0;
  return {
    id: thing.id,
    kind,
    ink,
    firm: false,
    name: thing.name,
    spoken: `${word} ${thing.name}`,
    points: [],
    path: '',
    ghost: '',
    elsewhere: true,
    at: thing.at,
    reach: radius(size),
    radius: radius(size),
    halfDepth: halfDepth(size, heading),
    note: '',
    faint: false,
    hidden: false,
    glass: false,
    heading,
  };
}

function halfDepth(size: { x: number; y: number }, heading: number): number {
  const { cos, sin } = direction(heading);
  return (size.x * Math.abs(sin) + size.y * Math.abs(cos)) / 2;
}

function radius(size: { x: number; y: number }): number {
  return Math.hypot(size.x, size.y) / 2;
}

/** A regular outline with `sides` corners, the first towards the heading. */
function ring(at: Point, radiusMetres: number, sides: number, heading: number): Point[] {
  return Array.from({ length: sides }, (_, i) => {
    const angle = (heading * Math.PI) / 180 + (i * 2 * Math.PI) / sides;
    const r = sides === 3 ? radiusMetres * 1.35 : radiusMetres;
    return { x: at.x + r * Math.cos(angle), y: at.y + r * Math.sin(angle) };
  });
}

function cross([a, b, c, d]: Point[]): string {
  if (a === undefined || b === undefined || c === undefined || d === undefined) return '';
  return `M${round(a.x)} ${round(a.y)}L${round(c.x)} ${round(c.y)}M${round(b.x)} ${round(b.y)}L${round(d.x)} ${round(d.y)}`;
}

/** A line from one end of a travel to the other, with a head. */
function arrow(from: Point, to: Point): string {
  const length = Math.hypot(to.x - from.x, to.y - from.y);
  const u = { x: (to.x - from.x) / length, y: (to.y - from.y) / length };
  const head = Math.min(0.25, length / 3);
  const wing = (side: number): string =>
    `M${round(to.x)} ${round(to.y)}L${round(to.x - head * (u.x - side * u.y * 0.6))} ${round(to.y - head * (u.y + side * u.x * 0.6))}`;
  return `M${round(from.x)} ${round(from.y)}L${round(to.x)} ${round(to.y)}${wing(1)}${wing(-1)}`;
}

/** The corners of a spot on the ground, as they are taped on a stage, and an arrow along its heading. */
function spotMark(at: Point, heading: number): string {
  const { cos, sin } = direction(heading);
  const point = (x: number, y: number): Point => ({ x: at.x + x * cos - y * sin, y: at.y + x * sin + y * cos });
  const corner = (x: number, y: number): string => {
    const [a, b, c] = [point(x * 0.3, y * 0.55), point(x * 0.55, y * 0.55), point(x * 0.55, y * 0.3)];
    return `M${round(a.x)} ${round(a.y)}L${round(b.x)} ${round(b.y)}L${round(c.x)} ${round(c.y)}`;
  };
  return corner(1, 1) + corner(1, -1) + corner(-1, -1) + corner(-1, 1) + arrow(point(-0.25, 0), point(1, 0));
}

/** How large the sign of a kind is that stands on a plan in place of a body, in metres, and of how many units it is drawn. */
const STANDING = 1;
const UNITS = 16;

/**
 * The sign of a kind about a point of the ground: what has no body looks as it does beside the plan. A sign is drawn 16 by 16 from its
 * upper left, a plan in metres from below: absolute commands are shifted, relative ones only scaled, and arcs turn the other way.
 */
function standing(mark: string, at: Point): string {
  const scale = STANDING / UNITS;
  const east = (x: number): number => at.x + (x - UNITS / 2) * scale;
  const north = (y: number): number => at.y - (y - UNITS / 2) * scale;
  const far = (units: number): number => units * scale;
  const up = (units: number): number => -units * scale;
  const same = (flag: number): number => flag;
  const other = (flag: number): number => 1 - flag;
  const numbers: Record<string, ((given: number) => number)[]> = {
    M: [east, north],
    L: [east, north],
    H: [east],
    V: [north],
    h: [far],
    v: [up],
    l: [far, up],
    a: [far, far, same, same, other, far, up],
  };
  const parts = mark.matchAll(/([a-z])([^a-z]*)/gi);
  return Array.from(parts, ([, command = '', rest = '']) => {
    const own = numbers[command] ?? [];
    const given = (rest.match(/-?[\d.]+/g) ?? []).map(Number);
    return command + given.map((one, place) => round(own[place % own.length]!(one))).join(' ');
  }).join('');
}

/** The rectangle that holds a whole room. */
export function roomBox(level: Level, room: string): Box {
  return level.rooms.find((one) => one.id === room)?.extents ?? { west: -10, south: -8, east: 10, north: 8 };
}

function round(value: number): number {
  return Math.round(value * 1000) / 1000;
}
