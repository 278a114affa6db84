import RAPIER from '@dimforge/rapier3d-compat';
import { parseLevel, rehearse, valuesAt } from '@nettlewick/core';
import type { Level, Zone } from '@nettlewick/core';
import { field } from './field';
import type { Finding } from './finding';
import { brief, median } from './median';

const TICKS = 600;

/**
 * Who enters and leaves which zone: 10,000 zones of mixed shapes and 1,000 visitors that walk for 600 ticks, against the
 * sensor colliders of a physics engine, on the same shapes and paths. Other sizes: `npm run bench -- sensing 500 50`; with
 * `all`, 500 zones and 50 visitors, and 100,000 and 1,000, are measured and printed first.
 * Time is that of all ticks; building the world, on both sides, is left out. The two take turns, so that what else the
 * machine does hits both; of each the run of the middle time counts.
 */
export async function sensing([zones = '10000', visitors = '1000']: string[]): Promise<Finding> {
  await RAPIER.init();
  if (zones !== 'all') return measure(Number(zones), Number(visitors));
  console.log(JSON.stringify(measure(500, 50)));
  console.log(JSON.stringify(measure(100_000, 1000)));
  return measure(10_000, 1000);
}

function measure(zones: number, visitors: number): Finding {
  const level = field(zones, visitors, TICKS);
  // The peer comes compiled; ours is compiled while it runs, so it is run until it is.
  const small = field(500, 50, TICKS);
  for (let i = 0; i < WARM_UPS; i++) ours(small);
  const { paths } = ours(level);
  theirs(level, paths);
  const mine: Run[] = [];
  const peers: Run[] = [];
  for (let i = 0; i < ROUNDS; i++) {
    for (let j = 0; j < OURS_A_ROUND; j++) mine.push(ours(level));
    peers.push(theirs(level, paths));
  }
  const { events } = mine[0]!;
  const peer = peers[0]!.events;
  const { only, grazing } = compare(level, events, paths, peer);
  console.log(`${zones} zones, ${visitors} visitors, ${TICKS} ticks: ${events.size} enters and leaves, the peer's ${peer.size}`);
  console.log(`${only} differ; ${grazing} of them graze within a millimetre`);
  if (only !== grazing) throw new Error(`${only - grazing} enters or leaves differ that do not graze`);
  const a = (median(mine.map((run) => run.ms)) / TICKS) * 1000;
  const b = (median(peers.map((run) => run.ms)) / TICKS) * 1000;
  return {
    name: 'sensing',
    unit: 'microseconds a tick',
    ours: brief(a),
    peer: brief(b),
    peerName: 'sensor colliders of rapier3d-compat',
    ratio: brief(b / a),
  };
}

/** Runs of a small field before anything is measured. */
const WARM_UPS = 60;
const ROUNDS = 3;
/** Ours are short, so several are taken for each of the peer. */
const OURS_A_ROUND = 5;

interface Run {
  events: Map<string, number>;
  ms: number;
}

type Paths = (visitor: number, tick: number) => number[];

/** A whole rehearsal less one in which nobody walks: what the ticks cost, with walking, queue and ledger. */
function ours(level: Level): Run & { paths: Paths } {
  const walk = { ...level.walks[0]!, atMost: TICKS / level.rate };
  const from = performance.now();
  rehearse(level, { ...walk, routes: [] });
  const begun = performance.now();
  const { ledger, tracks } = rehearse(level, walk);
  const ms = performance.now() - begun - (begun - from);
  const events = new Map<string, number>();
  for (const { kind, what, who, tick } of ledger)
    if (tick > 0 && (kind === 'enter' || kind === 'leave')) events.set(`${tick} ${kind} ${what} ${who}`, tick);
  const all = level.visitors.map((visitor) => tracks.visitors.get(visitor.id)!);
  return { events, ms, paths: (visitor, tick) => valuesAt(all[visitor]!, tick) };
}

function theirs(level: Level, paths: Paths): Run {
  const world = new RAPIER.World({ x: 0, y: 0, z: 0 });
  world.timestep = 1 / level.rate;
  const names = new Map<number, string>();
  for (const zone of level.zones) names.set(world.createCollider(sensor(zone)).handle, zone.id);
  const bodies = level.visitors.map((visitor, i) => {
    const [x = 0, y = 0, z = 0] = paths(i, 0);
    if (visitor.body.kind !== 'box') throw new Error('Visitors of this field are boxes');
    const { size } = visitor.body;
    const body = world.createRigidBody(RAPIER.RigidBodyDesc.kinematicPositionBased().setTranslation(x, y, z + size.z / 2));
    const shape = RAPIER.ColliderDesc.cuboid(size.x / 2, size.y / 2, size.z / 2)
      .setActiveEvents(RAPIER.ActiveEvents.COLLISION_EVENTS)
      .setActiveCollisionTypes(RAPIER.ActiveCollisionTypes.ALL);
    names.set(world.createCollider(shape, body).handle, visitor.id);
    return { body, half: size.z / 2 };
  });
  const queue = new RAPIER.EventQueue(true);
  world.step(queue);
  queue.drainCollisionEvents(() => undefined);
  const places = Array.from({ length: TICKS + 1 }, (_, tick) => bodies.map((_body, i) => paths(i, tick)));
  const events = new Map<string, number>();
  const ids = new Set(level.zones.map((zone) => zone.id));
  let ms = 0;
  for (let tick = 1; tick <= TICKS; tick++) {
    const from = performance.now();
    bodies.forEach(({ body, half }, i) => {
      const [x = 0, y = 0, z = 0] = places[tick]![i]!;
      body.setTranslation({ x, y, z: z + half }, true);
    });
    world.step(queue);
    queue.drainCollisionEvents((a, b, started) => {
      const [first, second] = [names.get(a)!, names.get(b)!];
      const [zone, visitor] = ids.has(first) ? [first, second] : [second, first];
      if (ids.has(zone)) events.set(`${tick} ${started ? 'enter' : 'leave'} ${zone} ${visitor}`, tick);
    });
    ms += performance.now() - from;
  }
  world.free();
  return { events, ms };
}

/** A zone as a sensor. The engine's cylinders stand along y, so an upright pillar is a turned one. */
function sensor({ shape, at, heading }: Zone): RAPIER.ColliderDesc {
  const turn = (heading * Math.PI) / 360;
  switch (shape.kind) {
    case 'box':
      return RAPIER.ColliderDesc.cuboid(shape.size.x / 2, shape.size.y / 2, shape.size.z / 2)
        .setTranslation(at.x, at.y, at.z + shape.size.z / 2)
        .setRotation({ x: 0, y: 0, z: Math.sin(turn), w: Math.cos(turn) })
        .setSensor(true);
    case 'ball':
      return RAPIER.ColliderDesc.ball(shape.radius).setTranslation(at.x, at.y, at.z).setSensor(true);
    case 'pillar':
      return RAPIER.ColliderDesc.cylinder(shape.height / 2, shape.radius)
        .setTranslation(at.x, at.y, at.z + shape.height / 2)
        .setRotation({ x: Math.SQRT1_2, y: 0, z: 0, w: Math.SQRT1_2 })
        .setSensor(true);
  }
}

/**
 * How many enters and leaves only one of the two has, and how many of those graze: with the zone a millimetre wider or
 * narrower they would have come a tick earlier, later, or not at all.
 */
function compare(
  level: Level,
  mine: Map<string, number>,
  paths: Paths,
  peer: Map<string, number>,
): { only: number; grazing: number } {
  const parts = (key: string): string[] => key.split(' ');
  const only = [...[...mine.keys()].filter((key) => !peer.has(key)), ...[...peer.keys()].filter((key) => !mine.has(key))];
  const zones = new Map(level.zones.map((zone) => [zone.id, zone]));
  const orders = new Map(level.visitors.map((visitor, order) => [visitor.id, order]));
  const grazing = only.filter((key) => {
    const [tick = '', , zoneId = '', visitorId = ''] = parts(key);
    return [Number(tick) - 1, Number(tick)].some((at) => isGrazing(level, zones.get(zoneId)!, orders.get(visitorId)!, paths, at));
  });
  return { only: only.length, grazing: grazing.length };
}

/** Whether at a tick a visitor is inside of a zone grown by a millimetre, and outside of it shrunk by one. */
function isGrazing(level: Level, zone: Zone, order: number, paths: Paths, tick: number): boolean {
  const [x = 0, y = 0, z = 0] = paths(order, Math.max(0, tick));
  const visitor = level.visitors[order]!;
  const inside = (by: number): boolean => {
    const { shape } = zone;
    const grown =
      shape.kind === 'box'
        ? { kind: 'box', size: { x: shape.size.x + 2 * by, y: shape.size.y + 2 * by, z: shape.size.z + 2 * by } }
        : shape.kind === 'ball'
          ? { kind: 'ball', radius: shape.radius + by }
          : { kind: 'pillar', radius: shape.radius + by, height: shape.height + 2 * by };
    const one = { ...zone, shape: grown, at: { ...zone.at, z: zone.at.z - (shape.kind === 'ball' ? 0 : by) } };
    const parsed = parseLevel({
      ...level,
      zones: [one],
      visitors: [{ ...visitor, at: { x, y, z } }],
      walks: [{ id: 'w', name: 'W' }],
    });
    if (!parsed.ok) throw new Error(JSON.stringify(parsed.faults));
    return rehearse(parsed.level, parsed.level.walks[0]!).entries.some((entry) => entry.kind === 'enter');
  };
  return inside(0.001) && !inside(-0.001);
}
