import { isMachine, motionOf } from '../../kinds/fixtures';
import type { Fixture } from '../../kinds/fixtures';
import type { Visitor } from '../../document/people';
import type { Zone } from '../../document/places';
import type { ZoneShape } from '../../vocabulary/forms';
import { boxAt, zoneAt } from '../../space/shapes';
import { overlaps } from '../../space/overlap';
import { direction } from '../../space/headings';
import type { WarningRule, CheckContext, Warning } from './warning';

const brief = (metres: number): string => `${Math.round(metres * 100) / 100} m`;

/** A door that is sent away and covers part of its doorway still when it is open. */
export const coversItsDoorway: WarningRule = (look) =>
  look.level.fixtures.flatMap((one, at): Warning[] => {
    if (!isMachine(one) || motionOf(one).clearsTheWay !== true || !('showing' in one) || one.showing !== null) return [];
    const [first, last] = motionOf(one).positions(one);
    const by = { x: last!.by.x - first!.by.x, y: last!.by.y - first!.by.y, z: last!.by.z - first!.by.z };
    const far = Math.hypot(by.x, by.y, by.z);
    if (far === 0) return [];
    const { cos, sin } = direction(one.heading);
    const way = { x: by.x / far, y: by.y / far, z: by.z / far };
    const thick =
      one.size.x * Math.abs(cos * way.x + sin * way.y) +
      one.size.y * Math.abs(cos * way.y - sin * way.x) +
      one.size.z * Math.abs(way.z);
    if (far > thick - 0.005) return [];
    return [
      {
        kind: 'covers-its-doorway',
        weight: 'warning',
        thing: one.id,
        also: [],
        path: `/fixtures/${at}/travel`,
        reason: `${look.name(one.id)} travels ${brief(far)} but is ${brief(thick)} thick, so ${brief(thick - far)} blocks the doorway when open.`,
        mend: `Let it travel ${brief(thick)}.`,
        edit: look.set(one.id, '/travel', { x: way.x * thick, y: way.y * thick, z: way.z * thick }),
      },
    ];
  });

/** What an enter of a zone sends, and a leave of it sends back, moves away from the zone: starting is leaving. */
export const leftBehindByItsArea: WarningRule = (look) =>
  look.level.zones.flatMap((zone): Warning[] => {
    const causes = look.causesOf(zone.id);
    const enters = causes.find(({ cause }) => cause.on === 'enter');
    if (enters === undefined || zone.attachedTo !== '') return [];
    const acting = (on: 'enter' | 'leave'): Set<string> => {
      const lists = new Set<readonly string[]>();
      for (const { cause, chain } of causes)
        if (cause.on === on) for (const step of chain.steps) if (sends.has(step.kind)) lists.add(look.targets(step));
      return new Set([...lists].flat());
    };
    const back = acting('leave');
    const there = [...acting('enter')].find((id) => back.has(id) || returns(look, id));
    const machine = there === undefined ? undefined : (look.things.get(there)?.thing as Fixture | undefined);
    if (machine === undefined || !isMachine(machine) || !carries(look, machine, zone)) return [];
    return [
      {
        kind: 'area-stays-behind',
        weight: 'warning',
        thing: zone.id,
        also: [machine.id],
        path: enters.path,
        reason: `${look.name(machine.id)} moves out of its trigger ${look.name(zone.id)}, so riders leave the trigger.`,
        mend: `Let ${look.name(zone.id)} move with it.`,
        edit: look.set(zone.id, '/attachedTo', machine.id),
      },
    ];
  });

/** The steps that send a machine somewhere. */
const sends = new Set<string>(['send', 'open', 'close', 'play']);

function returns(look: CheckContext, id: string): boolean {
  const one = look.things.get(id)?.thing as { whenLeft?: string } | undefined;
  return one?.whenLeft === 'return';
}

/** Whether an area lies over something flat that carries who steps on it. */
function rideable(look: CheckContext, machine: Fixture, area: Zone): boolean {
  return (
    carries(look, machine, area) ||
    (isMachine(machine) && machine.size.z <= look.level.stepHeight && !motionOf(machine).clearsTheWay)
  );
}

/** Whether an area lies over something that goes up and down with its rider. */
function carries(look: CheckContext, machine: Fixture, area: Zone): boolean {
  if (!isMachine(machine) || machine.room !== area.room || !('size' in machine)) return false;
  const up = motionOf(machine).positions(machine);
  if (!up.some(({ by }) => Math.abs(by.z) > look.level.stepHeight)) return false;
  const over = boxAt({ ...machine.at, z: Math.min(machine.at.z, area.at.z) }, { ...machine.size, z: 1000 }, machine.heading);
  const { x, y } = area.at;
  return overlaps(zoneAt({ kind: 'box', size: { x: 0.01, y: 0.01, z: 0.01 } }, { x, y, z: area.at.z + 0.1 }, 0), over);
}

/** An area that rides along with a machine, and is wider than it: it is set off before anybody stands on it. */
export const widerThanItServes: WarningRule = (look) =>
  look.level.zones.flatMap((zone, at): Warning[] => {
    const machine = look.things.get(zone.attachedTo)?.thing as Fixture | undefined;
    if (machine === undefined || !isMachine(machine) || !('size' in machine) || !rideable(look, machine, zone)) return [];
    const [wide, deep] = across(zone.shape);
    const over = Math.max(wide - machine.size.x, deep - machine.size.y);
    if (over <= 0.25) return [];
    const size = { x: Math.min(wide, machine.size.x), y: Math.min(deep, machine.size.y), z: tall(zone.shape) };
    return [
      {
        kind: 'area-too-wide',
        weight: 'warning',
        thing: zone.id,
        also: [machine.id],
        path: `/zones/${at}/shape`,
        reason: `${look.name(zone.id)} extends ${brief(over / 2)} beyond ${look.name(machine.id)}, so it fires before a visitor is on it.`,
        mend: 'Resize it to match its fixture.',
        edit: look.set(zone.id, '/shape', { kind: 'box', size }),
      },
    ];
  });

function across(shape: ZoneShape): [number, number] {
  return shape.kind === 'box' ? [shape.size.x, shape.size.y] : [2 * shape.radius, 2 * shape.radius];
}

function tall(shape: ZoneShape): number {
  return shape.kind === 'box' ? shape.size.z : shape.kind === 'pillar' ? shape.height : 2 * shape.radius;
}

/** Something that is sent up and that nothing brings back. */
export const nothingBringsItBack: WarningRule = (look) =>
  look.level.fixtures.flatMap((one, at): Warning[] => {
    if (!('stops' in one) || one.returnAfter !== null || one.whenLeft === 'return') return [];
    const sent = look.stepsOn(one.id, ['send', 'play']);
    const stops = look.once(
      sent,
      'stops',
      () => new Set(sent.map(({ step }) => (step.kind === 'send' ? step.stop : step.kind === 'play' ? step.way : ''))),
    );
    if (sent.length === 0 || stops.has(one.startsAt) || stops.has('backwards')) return [];
    const rides = one.stops.some(({ z }) => z > look.level.stepHeight);
    if (!rides) return [];
    return [
      {
        kind: 'nothing-brings-it-back',
        weight: 'warning',
        thing: one.id,
        also: look.chainsOf(sent),
        path: `/fixtures/${at}`,
        reason: `${look.name(one.id)} is sent away from stop ${one.startsAt}, and nothing brings it back.`,
        mend: 'Let it return when its last rider has left it.',
        edit: look.set(one.id, '/whenLeft', 'return'),
      },
    ];
  });

/** A door that is opened and never closes. Often that is meant. */
export const neverCloses: WarningRule = (look) =>
  look.level.fixtures.flatMap((one, at): Warning[] => {
    if (!isMachine(one) || motionOf(one).clearsTheWay !== true || one.returnAfter !== null) return [];
    const opened = look.stepsOn(one.id, ['open']);
    if (opened.length === 0 || look.stepsOn(one.id, ['close', 'toggle', 'reset', 'play']).length > 0) return [];
    return [
      {
        kind: 'never-closes',
        weight: 'remark',
        thing: one.id,
        also: look.chainsOf(opened),
        path: `/fixtures/${at}`,
        reason: `${look.name(one.id)} is opened, and never closes.`,
        mend: 'Let it return by itself, if that is not meant.',
        edit: look.set(one.id, '/returnAfter', 3),
      },
    ];
  });

/** A zone that a fast visitor crosses between two ticks. */
export const thinnerThanATick: WarningRule = (look) => {
  // Of each room whoever leaves the widest gap between two ticks.
  const fastest = new Map<string, { one: Visitor; step: number; gap: number }>();
  for (const one of look.level.visitors) {
    const step = one.speed / look.level.rate;
    const gap = step - Math.min(...across(one.body));
    if (gap > (fastest.get(one.room)?.gap ?? -Infinity)) fastest.set(one.room, { one, step, gap });
  }
  return look.level.zones.flatMap((zone, at): Warning[] => {
    if (zone.swept || look.causesOf(zone.id).length === 0) return [];
    const thin = Math.min(...across(zone.shape));
    const fast = fastest.get(zone.room);
    if (fast === undefined || fast.gap <= thin) return [];
    return [
      {
        kind: 'thinner-than-a-tick',
        weight: 'warning',
        thing: zone.id,
        also: [fast.one.id],
        path: `/zones/${at}/shape`,
        reason: `${look.name(zone.id)} is ${brief(thin)} thick and ${look.name(fast.one.id)} moves ${brief(fast.step)} per tick, so it can cross it between ticks.`,
        mend: 'Turn on swept detection.',
        edit: look.set(zone.id, '/swept', true),
      },
    ];
  });
};

/** A wall that becomes solid where its own zone lies: it closes on who sets it off. */
export const closesOnTheVisitor: WarningRule = (look) =>
  look.level.zones.flatMap((zone) => {
    /** What turns solid when the zone is entered, with the first cause of it. */
    const turned = new Map<string, { chain: string; path: string }>();
    const seen = new Set<readonly string[]>();
    for (const { chain, cause, path } of look.causesOf(zone.id))
      if (cause.on === 'enter')
        for (const step of chain.steps) {
          if (step.kind !== 'make-solid') continue;
          const walls = look.targets(step);
          if (seen.has(walls)) continue;
          seen.add(walls);
          for (const id of walls) if (!turned.has(id)) turned.set(id, { chain: chain.id, path });
        }
    return [...turned].flatMap(([id, { chain, path }]): Warning[] => {
      const wall = look.things.get(id)?.thing as (Fixture & { size?: never }) | undefined;
      if (wall === undefined || wall.room !== zone.room || wall.size === undefined) return [];
      if (!overlaps(zoneAt(zone.shape, zone.at, zone.heading), boxAt(wall.at, wall.size, wall.heading))) return [];
      return [
        {
          kind: 'closes-on-the-visitor',
          weight: 'warning',
          thing: id,
          also: [zone.id, chain],
          path,
          reason: `${look.name(id)} turns solid inside its trigger ${look.name(zone.id)} and may trap the visitor.`,
          mend: 'Move one away from the other.',
          edit: null,
        },
      ];
    });
  });
