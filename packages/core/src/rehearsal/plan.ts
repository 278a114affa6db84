import { kindOfFixture } from '../fixtures';
import type { Door, Plate } from '../fixtures';
import type { CauseEvent } from '../level/chains';
import type { Level } from '../level/level';
import type { Visitor } from '../level/people';
import type { Vector } from '../level/quantities';
import { boxAt } from '../space/bodies';
import type { UprightBox } from '../space/bodies';
import { Grid, around, footprint } from '../space/grid';

/** A chain's cause that listens to an event of a thing, by their places in listing order. */
export interface Listener {
  chain: number;
  cause: number;
}

/** Something that visitors enter and leave: a zone, or a passable fixture with a body. */
export interface Sensed {
  id: string;
  room: string;
  /** Where it stands; null for a door, which moves. */
  fixed: UprightBox | null;
}

/** Something that stops visitors: a solid, or a solid door. */
export interface Obstacle {
  id: string;
  room: string;
  fixed: UprightBox | null;
}

/** What never changes in a rehearsal: the level, arranged for the questions that the kernel asks. */
export interface Plan {
  level: Level;
  doors: Map<string, Door>;
  plates: Plate[];
  chains: Map<string, number>;
  /** Listeners by `event thing`, in listing order. */
  listeners: Map<string, Listener[]>;
  /** Whether a zone or fixture is enabled. */
  enabled: Map<string, boolean>;
  /** In the order in which events are raised: zones, then passable fixtures. By room a grid names them by their place. */
  sensed: Sensed[];
  sensedGrids: Map<string, Grid>;
  /** The places in `sensed` of what moves. */
  sensedDoors: number[];
  obstacles: Obstacle[];
  obstacleGrids: Map<string, Grid>;
  /** Every visitor's body, where the visitor starts. */
  bodies: Map<string, UprightBox>;
}

export function listenerKey(event: CauseEvent, of: string): string {
  return event + ' ' + of;
}

/** Arranges a level for one rehearsal. */
export function planOf(level: Level): Plan {
  const plan: Plan = {
    level,
    doors: new Map(),
    plates: [],
    chains: new Map(),
    listeners: new Map(),
    enabled: new Map(),
    sensed: [],
    sensedGrids: new Map(),
    sensedDoors: [],
    obstacleGrids: new Map(),
    obstacles: level.solids.map((solid) => ({
      id: solid.id,
      room: solid.room,
      fixed: boxAt(solid.at, solid.size, solid.heading),
    })),
    bodies: new Map(level.visitors.map((visitor) => [visitor.id, bodyOf(visitor, visitor.at)])),
  };
  for (const zone of level.zones) {
    plan.enabled.set(zone.id, zone.enabled);
    plan.sensed.push({ id: zone.id, room: zone.room, fixed: boxAt(zone.at, zone.shape.size, zone.heading) });
  }
  for (const fixture of level.fixtures) {
    const kind = kindOfFixture(fixture.kind);
    plan.enabled.set(fixture.id, fixture.enabled);
    if (fixture.kind === 'door') plan.doors.set(fixture.id, fixture);
    if (fixture.kind === 'plate') plan.plates.push(fixture);
    if (fixture.kind === 'sign') continue;
    const fixed = fixture.kind === 'door' ? null : boxAt(fixture.at, fixture.size, fixture.heading);
    if (kind.senses(fixture) && fixed === null) plan.sensedDoors.push(plan.sensed.length);
    if (kind.senses(fixture)) plan.sensed.push({ id: fixture.id, room: fixture.room, fixed });
    if (kind.blocks(fixture)) plan.obstacles.push({ id: fixture.id, room: fixture.room, fixed });
  }
  level.chains.forEach((chain, index) => {
    plan.chains.set(chain.id, index);
    chain.causes.forEach((cause, at) => {
      const key = listenerKey(cause.on, cause.of);
      const listening = plan.listeners.get(key);
      if (listening === undefined) plan.listeners.set(key, [{ chain: index, cause: at }]);
      else listening.push({ chain: index, cause: at });
    });
  });
  arrange(plan, plan.sensed, plan.sensedGrids);
  arrange(plan, plan.obstacles, plan.obstacleGrids);
  return plan;
}

/** Puts things into the grids of their rooms: a door with all the ground that it ever covers, for it slides straight. */
function arrange(plan: Plan, things: readonly (Sensed | Obstacle)[], grids: Map<string, Grid>): void {
  things.forEach(({ id, room, fixed }, number) => {
    let grid = grids.get(room);
    if (grid === undefined) {
      grid = new Grid();
      grids.set(room, grid);
    }
    const door = plan.doors.get(id);
    const where = fixed !== null ? footprint(fixed) : around(footprint(doorBox(door!, 0)), footprint(doorBox(door!, 1)));
    grid.add(number, where);
  });
}

/** The body of a door when its clock stands at `clock`, 0 closed to 1 open. */
export function doorBox(door: Door, clock: number): UprightBox {
  const { at, travel } = door;
  return boxAt({ x: at.x + travel.x * clock, y: at.y + travel.y * clock, z: at.z + travel.z * clock }, door.size, door.heading);
}

/** A visitor's body with its feet at a place. */
export function bodyOf(visitor: Visitor, at: Vector): UprightBox {
  return boxAt(at, visitor.body.size, 0);
}
