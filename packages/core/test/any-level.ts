import fc from 'fast-check';
import type { Level } from '../src/index';
import { levelOf } from './build';

/**
 * Small yards in which anything may happen: everything lies within a few metres, so that most of it meets. Every kind of
 * zone, fixture, step, gate, instruction and house rule comes up, in two rooms.
 */

type Raw = Record<string, unknown>;

let made = 0;
const fresh = (): string => `n-${(made += 1)}`;
const vec = (x: number, y: number, z = 0): Raw => ({ x, y, z });

const quarter = (min: number, max: number): fc.Arbitrary<number> => fc.integer({ min: min * 4, max: max * 4 }).map((n) => n / 4);
const spot = fc.tuple(quarter(-4, 4), quarter(-4, 4)).map(([x, y]) => vec(x, y));
const high = fc
  .tuple(quarter(-4, 4), quarter(-4, 4), fc.constantFrom(0, 0, 0, 0, 0, 0.25, 1, 2.5))
  .map(([x, y, z]) => vec(x, y, z));
const span = fc.constantFrom(0, 0.1, 0.3, 0.5, 1.3);
const room = fc.constantFrom(...Array<string>(9).fill('yard'), 'loft');
const heading = fc.constantFrom(0, 0, 30, 45, 90, -120);
const tags = fc.subarray(['bird', 'flour']);
const maybe = fc.boolean();
const seldom = fc.nat(5).map((n) => n === 0);
const mostly = fc.nat(14).map((n) => n > 0);

const zoneIds = ['zone-a', 'zone-b', 'zone-c', 'zone-d'];
const people = ['miller', 'goose', 'sack', 'guard'];
const machines = ['gate', 'curtain', 'ram', 'lift', 'wheel'];
const doors = ['gate', 'curtain', 'ram'];
const bodied = [...machines, 'post', 'plate', 'heads', 'lever', 'portal', 'hatch', 'coin', 'rope'];
const fixtures = [...bodied, 'board', 'bell', 'spot'];
const flags = ['flag', 'own-flag'];

const shape = fc.oneof(
  fc.tuple(quarter(0.25, 5), quarter(0.25, 5), quarter(0.25, 3)).map(([x, y, z]) => ({ kind: 'box', size: vec(x, y, z) })),
  quarter(0.25, 3).map((radius) => ({ kind: 'ball', radius })),
  fc.tuple(quarter(0.25, 3), quarter(0.25, 3)).map(([radius, height]) => ({ kind: 'pillar', radius, height })),
);

const attached = fc.constantFrom('', '', '', 'gate', 'lift', 'wheel', 'lever');

const anyZone = (id: string): fc.Arbitrary<Raw> =>
  fc.record({
    id: fc.constant(id),
    name: fc.constant(id),
    room,
    at: high,
    heading,
    shape,
    enabled: mostly,
    swept: maybe,
    dwell: fc.constantFrom(null, null, 0.2, 1),
    attachedTo: attached,
    tags,
  });

const timing = fc.oneof(
  span.map((seconds) => ({ by: 'seconds', seconds })),
  fc.constantFrom(0.5, 2, 7).map((speed) => ({ by: 'speed', speed })),
);
const motion = {
  timing,
  easing: fc.constantFrom('even', 'gentle', 'gathering', 'slowing'),
  startDelay: fc.constantFrom(0, 0, 0.3),
  returnAfter: fc.constantFrom(null, null, 0, 0.7),
  returnWhen: fc.constantFrom('always', 'empty'),
  inTheWay: fc.constantFrom('stop', 'reverse', 'push'),
};
const base = (id: string, kind: string): Record<string, fc.Arbitrary<unknown>> => ({
  id: fc.constant(id),
  name: fc.constant(id),
  kind: fc.constant(kind),
  room,
  at: high,
  heading,
  shown: maybe,
  seeThrough: seldom,
  enabled: mostly,
  tags,
});
const place = fc.oneof(
  { weight: 3, arbitrary: spot },
  {
    weight: 1,
    arbitrary: fc.record({
      x: quarter(-1, 1),
      y: quarter(-1, 1),
      z: fc.constantFrom(0, 0.5, 2),
      of: fc.constantFrom('miller', 'sack', 'gate', 'lift', 'zone-a', 'board', 'spot', 'portal', 'gone'),
      axes: fc.constantFrom('room', 'own'),
      height: fc.constantFrom('datum', 'ground'),
    }),
  },
  { weight: 1, arbitrary: fc.tuple(spot, room).map(([at, own]) => ({ ...at, room: own })) },
);
const someFilter = fc.record({
  kinds: fc.subarray(['player', 'creature', 'prop']),
  anyOf: fc.oneof({ weight: 2, arbitrary: fc.constant([]) }, { weight: 1, arbitrary: tags }),
  noneOf: fc.oneof({ weight: 2, arbitrary: fc.constant([]) }, { weight: 1, arbitrary: tags }),
  named: fc.constantFrom('', '', '', 'miller'),
  ownerOnly: seldom,
});
const filter = fc.oneof({ weight: 6, arbitrary: fc.constant({}) }, { weight: 1, arbitrary: someFilter });
const journey = {
  to: place,
  arrivesFacing: fc.constantFrom('keep', 'take', 'towards'),
  facing: fc.option(spot, { nil: null }),
  velocity: fc.constantFrom('keep', 'stop', 'turn'),
  arrival: fc.constantFrom('quiet', 'loud'),
};
const manners = {
  form: fc.constantFrom('box', 'box', 'pillar', 'ball'),
  cooldown: fc.constantFrom(0, 0, 0.2, 1),
  cooldownFor: fc.constantFrom('all', 'visitor'),
  before: fc.oneof(
    { weight: 2, arbitrary: fc.constant({}) },
    {
      weight: 1,
      arbitrary: fc.record({
        seconds: fc.constantFrom(0, 0.3, 0.9),
        holds: maybe,
        drifts: maybe,
        cue: fc.constantFrom('', 'bell', 'gone'),
      }),
    },
  ),
  after: fc.oneof(
    { weight: 2, arbitrary: fc.constant({}) },
    { weight: 1, arbitrary: fc.record({ seconds: fc.constantFrom(0, 0.4), cue: fc.constantFrom('', 'bell') }) },
  ),
};
const passage = { ...journey, ...manners, takes: fc.constantFrom('who-enters', 'who-uses', 'nobody'), filter };
const small = {
  size: fc.tuple(quarter(0.25, 2), quarter(0.25, 2), quarter(0.25, 2)).map(([x, y, z]) => vec(x, y, z)),
  solid: fc.nat(2).map((n) => n === 0),
  letsThrough: fc.constantFrom({}, {}, {}, { owner: true }, { tags: ['bird'] }),
};

const anyFixtures: fc.Arbitrary<Raw[]> = fc
  .tuple(
    fc.record({
      ...base('gate', 'door'),
      ...motion,
      ...small,
      open: maybe,
      manner: fc.constantFrom('slide', 'slide', 'sink', 'rise', 'swing', 'vanish'),
      travel: high,
      showing: fc.constantFrom(null, null, 0.2),
      swing: fc.record({ degrees: fc.constantFrom(90, -45), hinge: fc.constantFrom('west', 'east') }),
      attachedTo: fc.constantFrom('', '', 'wheel'),
    }),
    fc.record({ ...base('curtain', 'door'), ...motion, ...small, open: maybe, travel: spot }),
    // What comes out of a wall, or up from the ground, and pushes whoever stands there.
    fc.record({
      ...base('ram', 'door'),
      ...motion,
      ...small,
      inTheWay: fc.constantFrom('push', 'push', 'push', 'stop'),
      solid: mostly,
      open: maybe,
      manner: fc.constantFrom('slide', 'slide', 'rise', 'swing'),
      travel: fc.tuple(quarter(-3, 3), quarter(-3, 3), fc.constantFrom(0, 0, 0.5, 1)).map(([x, y, z]) => vec(x, y, z)),
    }),
    fc.record({
      ...base('lift', 'elevator'),
      ...motion,
      ...small,
      stops: fc.array(high, { minLength: 2, maxLength: 3 }),
      startsAt: fc.constantFrom(1, 2),
      whenLeft: fc.constantFrom('stay', 'return'),
    }),
    fc.record({
      ...base('wheel', 'mover'),
      ...motion,
      ...small,
      timing: fc.constant(undefined),
      keyframes: fc.array(fc.record({ by: high, turn: fc.constantFrom(0, 0, 90), seconds: fc.constantFrom(0.2, 0.9) }), {
        minLength: 1,
        maxLength: 3,
      }),
      atEnd: fc.constantFrom('stay', 'stay', 'again', 'to-and-fro'),
      running: fc.constantFrom(false, false, true),
    }),
    fc.record({ ...base('post', 'barrier'), ...small, attachedTo: fc.constantFrom('', '', 'wheel') }),
    fc.record({ ...base('plate', 'plate'), threshold: fc.constantFrom(0, 30, 80) }),
    fc.record({
      ...base('heads', 'plate'),
      threshold: fc.constantFrom(0, 1, 2),
      by: fc.constant('heads'),
      attachedTo: fc.constantFrom('', 'lift'),
    }),
    fc.record({
      ...base('lever', 'switch'),
      ...small,
      works: fc.constantFrom('toggle', 'momentary', 'once'),
      on: maybe,
      reach: fc.constantFrom(1, 5, 20, 20),
      springsBackAfter: span,
    }),
    fc.record({
      ...base('portal', 'teleporter'),
      ...small,
      ...passage,
      twin: fc.constantFrom('', '', '', 'portal'),
      attachedTo: fc.constantFrom('', '', '', 'wheel'),
    }),
    fc.record({ ...base('hatch', 'warp'), ...small, ...passage, twin: fc.constantFrom('', '', 'hatch', 'gone') }),
    fc.record({
      ...base('coin', 'collectible'),
      ...small,
      takenBy: fc.subarray(['player', 'creature']),
      counter: fc.constantFrom('', 'coins', 'own-count'),
    }),
    fc.record({ ...base('rope', 'bell-pull'), ...small, pulledBy: fc.subarray(['player', 'creature', 'prop']) }),
    fc.record({
      ...base('board', 'sign'),
      kind: fc.constantFrom('sign', 'sign', 'marker'),
      attachedTo: fc.constantFrom('', 'lift'),
    }),
    fc.record({ ...base('spot', 'spawn-point'), attachedTo: fc.constantFrom('', 'wheel') }),
    fc.record({
      ...base('bell', 'cue'),
      seconds: span,
      medium: fc.constantFrom('sound', 'speech'),
      speaker: fc.constantFrom('', 'guard'),
      line: fc.constantFrom('', 'Halt!'),
    }),
  )
  .map((all) => all.map((one) => Object.fromEntries(Object.entries(one).filter(([, value]) => value !== undefined))));

const condition = fc.oneof(
  { weight: 2, arbitrary: fc.constant('') },
  {
    weight: 2,
    arbitrary: fc.constantFrom(
      'flag("flag")',
      '!flag("own-flag")',
      'counter("coins") >= 1',
      'counterOf("own-count", "miller") == 0 || flag("flag")',
      'text("note") != "Miller"',
      'on("lever")',
      'on("rope")',
      'pressed("plate") || open("gate")',
      'load("plate") > 20.0',
      'closed("curtain") && !moving("lift")',
      'stop("lift") == 2',
      'shown("post") || solid("post")',
      'seeThrough("gate") || heading("miller") > 90.0',
      'enabled("zone-a") && enabled("chain-0")',
      'collected("coin")',
      'owner("gate") == "miller"',
      'inside("miller", "zone-a") || inside("goose", "zone-b")',
      'count("zone-b") > 1',
      'inPlay("guard") && room("miller") == "yard"',
      'carrier("sack") == "miller"',
      'held("miller")',
      'running("chain-1")',
      'hand() == "miller"',
      'inside(hand(), "zone-a")',
      'inside(hand(), "gate") || counterOf("own-count", hand()) > 0',
      'inPlay(hand()) && room(hand()) == "yard"',
      'flagOf("own-flag", hand()) || carrier("sack") == hand()',
      'carrier(hand()) == "" && !held(hand())',
      'heading(hand()) < 90.0',
      'visitors("zone-a").exists(v, hasTag(v, "bird"))',
      'visitors("lift").filter(v, kind(v) == "player").size() >= 1',
      'players().all(p, inside(p, "zone-b")) || creatures().exists_one(c, inPlay(c))',
      '!props().exists(p, carrier(p) == "miller")',
      'tagged("flour").all(t, hasTag(t, "bird"))',
      'hand() in visitors("zone-a") || size(players()) < 2',
      'kind(hand()) == "creature" && ["coin"].all(c, !collected(c))',
      'visitors("zone-b").map(v, room(v)).exists(r, r != "yard")',
      '1 / counter("coins") == 1',
      'flag("gone")',
    ),
  },
);

const events: [string, string[]][] = [
  ['enter', [...zoneIds, 'plate', 'portal', 'curtain']],
  ['leave', [...zoneIds, 'plate', 'coin']],
  ['dwell', zoneIds],
  ['bump', ['gate', 'post', 'lift', 'wheel']],
  ['use', ['lever', 'gate', 'sack']],
  ['on', ['lever', 'rope']],
  ['off', ['lever', 'rope']],
  ['press', ['plate', 'heads']],
  ['release', ['plate', 'heads']],
  ['moving', machines],
  ['opened', doors],
  ['closed', doors],
  ['arrived', [...people, 'lift', 'wheel']],
  ['signal', ['call']],
  ['changed', ['flag', 'coins', 'note', 'post', 'yard', 'miller', 'chain-0']],
  ['became-true', ['watch-0', 'watch-1']],
  ['became-false', ['watch-0', 'watch-1']],
  ['chain-finished', ['chain-0', 'chain-1']],
  ['teleported', people],
  ['warped', people],
  ['claimed', ['gate']],
  ['collected', ['coin']],
  ['spawned', ['guard']],
  ['removed', people],
  ['cue-started', ['bell']],
  ['cue-finished', ['bell']],
];

/** What visitors bring about by walking; and what follows from it, from which chains go on. */
const first = events.filter(([on]) => ['enter', 'leave', 'bump', 'press', 'release', 'arrived', 'dwell'].includes(on));
const further = events.filter(([on]) =>
  ['moving', 'opened', 'closed', 'signal', 'changed', 'chain-finished', 'became-true'].includes(on),
);
const anyEvent = fc.oneof(
  { weight: 5, arbitrary: fc.constantFrom(...first) },
  { weight: 2, arbitrary: fc.constantFrom(...further) },
  { weight: 2, arbitrary: fc.constantFrom(...events) },
);

const anyCause: fc.Arbitrary<Raw> = anyEvent.chain(([on, of]) =>
  fc
    .record({
      on: fc.constant(on),
      of: fc.constantFrom(...of),
      hears: fc.constantFrom('', 'board', 'goose', 'zone-a'),
      filter,
      counts: fc.constantFrom('each', 'each', 'first-and-last'),
      limit: fc.constantFrom(null, null, null, null, null, null, null, 0, 1, 2),
      cooldown: fc.constantFrom(0, 0, 0, 0.1, 0.5, 1.3),
      cooldownFor: fc.constantFrom('all', 'visitor'),
    })
    .map((one) => ({ id: fresh(), ...one })),
);

const tagged = fc.constantFrom('', '', '', 'bird', 'none');
const who = fc.constantFrom(
  { by: 'cause' },
  { by: 'cause' },
  { by: 'cause' },
  ...people.map((visitor) => ({ by: 'name', visitor })),
  { by: 'tag', tag: 'bird' },
  { by: 'holder', prop: 'sack' },
  { by: 'inside', zone: 'zone-a' },
);
const one = <T>(...all: T[]): fc.Arbitrary<T> => fc.constantFrom(...all);
const kind = (name: string, fields: Record<string, fc.Arbitrary<unknown>>): fc.Arbitrary<Raw> =>
  fc.record({ kind: fc.constant(name), ...fields }) as fc.Arbitrary<Raw>;

const whatSteps: fc.Arbitrary<Raw>[] = [
  ...['open', 'close', 'toggle'].map((name) => kind(name, { door: one(...doors, 'gone'), tagged })),
  kind('send', { elevator: one('lift'), tagged, stop: one(1, 2, 3) }),
  kind('play', { machine: one(...machines), tagged, way: one('forwards', 'backwards', 'from-the-start') }),
  kind('wait', { seconds: span }),
  kind('wait-until', { until: condition, limit: one(null, 0, 0.4) }),
  kind('set-flag', { flag: one(...flags), to: maybe }),
  kind('set-counter', { counter: one('coins', 'own-count'), how: one('set', 'add'), value: one(-1, 0, 1, 2) }),
  kind('set-text', { target: one('note', 'own-note'), text: one('', '{visitor}') }),
  kind('write-sign', { sign: one('board'), text: one('one', 'by {visitor}') }),
  ...['show', 'hide', 'make-see-through', 'make-opaque'].map((name) => kind(name, { fixture: one(...fixtures), tagged })),
  ...['make-solid', 'make-passable'].map((name) =>
    kind(name, { fixture: one(...bodied.filter((id) => id !== 'plate' && id !== 'heads')), tagged }),
  ),
  kind('enable', { thing: one(...zoneIds, ...fixtures, 'chain-0'), tagged, insideEnter: maybe }),
  kind('disable', { thing: one(...zoneIds, ...fixtures, 'chain-0'), tagged }),
  kind('reset', { fixture: one(...fixtures), tagged }),
  kind('signal', {
    signal: one('call'),
    address: one<Raw>({ to: 'all' }, { to: 'tag', tag: 'bird' }, { to: 'radius', metres: 3 }),
  }),
  kind('cue', { cue: one('bell') }),
  kind('teleport', { who, ...journey }),
  kind('teleport', { who, ...journey }),
  kind('warp', { who, ...journey, to: fc.tuple(spot, room).map(([at, own]) => ({ ...at, room: own })) }),
  kind('claim', { thing: one('gate', 'zone-a') }),
  kind('give-up', { thing: one('gate', 'zone-a') }),
  kind('collect', { collectible: one('coin') }),
  kind('spawn', { visitor: one('guard', 'goose'), at: fc.option(place, { nil: null }) }),
  ...['remove', 'hold-visitor', 'release-visitor', 'stop-velocity'].map((name) => kind(name, { who })),
  kind('walk-visitor', { who, to: place }),
  kind('push', { who, velocity: one(vec(3, 0), vec(-2, 4), vec(0, -6)), seconds: span }),
  kind('push', { who, velocity: one(vec(2, 1, 4), vec(0, 0, 5), vec(-3, -1, 2)), seconds: span }),
  kind('turn', { who, degrees: heading, facing: fc.option(spot, { nil: null }) }),
  ...['start-chain', 'stop-chain', 'reset-chain'].map((name) => kind(name, { chain: one('chain-0', 'chain-1', 'chain-2') })),
];
const anyStep = fc
  .tuple(fc.oneof(...whatSteps), fc.record({ start: one('after', 'with'), delay: one(0, 0, 0.1, 0.4) }))
  .map(([what, when]) => ({ id: fresh(), ...what, ...when }));

/** Steps that belong together: to be drawn in, pushed or thrown, and then sent away; to ride up, and be sent away from there. */
const byCause = { by: 'cause' };
const drawnIn = fc.oneof(
  place.map((to) => ({ kind: 'walk-visitor', who: byCause, to })),
  one(vec(3, 0), vec(0, -6), vec(1, 1, 4)).map((velocity) => ({ kind: 'push', who: byCause, velocity, seconds: 0.3 })),
  fc.constant({ kind: 'send', elevator: 'lift', stop: 2 }),
  span.map((seconds) => ({ kind: 'wait', seconds })),
);
const sentAway = fc
  .tuple(drawnIn, fc.record({ kind: one('teleport', 'teleport', 'warp'), who: fc.constant(byCause), ...journey }), maybe, maybe)
  .map(([first, travel, holds, together]) => [
    ...(holds ? [{ kind: 'hold-visitor', who: byCause }] : []),
    first,
    { ...travel, start: together ? 'with' : 'after', velocity: 'stop' },
    ...(holds ? [{ kind: 'release-visitor', who: byCause }] : []),
  ])
  .map((all) => all.map((what) => ({ id: fresh(), ...what })));
const anySteps = fc.oneof(
  { weight: 4, arbitrary: fc.array(anyStep, { minLength: 1, maxLength: 5, size: 'max' }) },
  { weight: 1, arbitrary: sentAway },
);

const anyChain = (i: number): fc.Arbitrary<Raw> =>
  fc.record({
    id: fc.constant(`chain-${i}`),
    name: fc.constant(`Chain ${i}`),
    enabled: mostly,
    causes: fc.array(anyCause, { minLength: 2, maxLength: 4, size: 'max' }),
    guard: fc.oneof({ weight: 6, arbitrary: fc.constant('') }, { weight: 1, arbitrary: condition }),
    whileRunning: one('ignore', 'restart', 'queue', 'overlap'),
    delay: one(0, 0, 0, 0.3),
    givesUp: maybe,
    steps: anySteps,
  });

const goTo = (of: string): Raw => ({ do: 'go-to', to: { ...vec(0, 0), of } });
const thrown = one(vec(3, 0, 3), vec(-1, 2, 5), vec(0, 0, 4), vec(-6, -3, 1), vec(4, 4, -1)).map((velocity) => ({
  do: 'throw',
  prop: 'sack',
  velocity,
}));

/** Instructions that belong together: mostly somebody goes to what they then take or use. */
const anyInstructions: fc.Arbitrary<Raw[]> = fc
  .oneof(
    { weight: 4, arbitrary: place.map((to) => [{ do: 'go-to', to }]) },
    { weight: 6, arbitrary: one(...zoneIds, 'plate', 'heads', 'portal', 'coin', 'lift', 'rope', 'ram').map((of) => [goTo(of)]) },
    { weight: 2, arbitrary: span.map((seconds) => [{ do: 'wait', seconds }]) },
    { weight: 1, arbitrary: one('lever', 'gate', 'portal', 'board').map((fixture) => [goTo(fixture), { do: 'use', fixture }]) },
    { weight: 1, arbitrary: one('lever', 'portal').map((fixture) => [{ do: 'use', fixture }]) },
    { weight: 2, arbitrary: fc.constant([goTo('sack'), { do: 'carry', prop: 'sack' }]) },
    { weight: 1, arbitrary: thrown.map((one) => [goTo('sack'), { do: 'carry', prop: 'sack' }, goTo('zone-a'), one]) },
    {
      weight: 2,
      arbitrary: one('portal', 'hatch', 'lift').map((of) => [
        goTo('sack'),
        { do: 'carry', prop: 'sack' },
        goTo(of),
        goTo('zone-b'),
      ]),
    },
    { weight: 1, arbitrary: fc.oneof(fc.constant({ do: 'drop', prop: 'sack' }), thrown).map((one) => [one]) },
    { weight: 1, arbitrary: heading.map((degrees) => [{ do: 'turn', heading: degrees }]) },
  )
  .map((all) => all.map((what) => ({ id: fresh(), ...what })));
const anyRoute = (minLength: number, maxLength: number): fc.Arbitrary<Raw[]> =>
  fc.array(anyInstructions, { minLength, maxLength, size: 'max' }).map((all) => all.flat());

const anyBody = fc.oneof(
  fc.constantFrom({ kind: 'box', size: vec(0.5, 0.5, 1.5) }, { kind: 'box', size: vec(0.25, 0.75, 0.5) }),
  fc.constant({ kind: 'pillar', radius: 0.25, height: 1 }),
);
const anyVisitor = (id: string, kindOf: string): fc.Arbitrary<Raw> =>
  fc.record({
    id: fc.constant(id),
    name: fc.constant(id[0]!.toUpperCase() + id.slice(1)),
    kind: fc.constant(kindOf),
    room,
    at: high,
    heading,
    body: anyBody,
    mass: one(30, 75),
    tags,
    speed: one(1, 3, 7, 20),
    raisesOverlaps: mostly,
    travels: one(true, true, false),
    blocks: id === 'guard' || id === 'sack' ? maybe : fc.constantFrom(false, false, true),
    inPlay: id === 'guard' ? maybe : fc.constant(true),
  });

const anyRules = fc.record({
  sameTick: one('leaves-first', 'enters-first'),
  pairs: one('zone-then-visitor', 'visitor-then-zone', 'nearest-first'),
  draining: one('queued', 'immediate'),
  listeners: one('listing', 'reverse'),
  afterTeleport: one('sense-next-tick', 'sense-at-once'),
  startsInside: one('enters', 'quiet'),
  roomLeftEmpty: one('keeps', 'starts-over'),
  watches: one('end-of-phase', 'at-once'),
});

const anySolid = (i: number): fc.Arbitrary<Raw> =>
  fc
    .record({
      room,
      at: high,
      heading,
      size: fc.tuple(quarter(0.25, 2), quarter(0.25, 3), one(0.25, 0.5, 2)).map(([x, y, z]) => vec(x, y, z)),
    })
    .map((solid) => ({ ...solid, id: `solid-${i}`, name: `Solid ${i}` }));

/** Walls, whole or with a gap in them, that ways have to lead around. */
const anyWall = (i: number): fc.Arbitrary<Raw[]> =>
  fc
    .record({
      room,
      at: spot,
      turned: fc.constantFrom(0, 0, 90, 90, 30),
      long: quarter(2, 8),
      gap: fc.constantFrom(0, 0, 1, 1.5),
    })
    .map(({ room: own, at: middle, turned, long, gap }) => {
      const wall = (name: string, aside: number, length: number): Raw => {
        const angle = (turned * Math.PI) / 180;
        const to = (n: unknown, by: number): number => Math.round((Number(n) + by) * 1e3) / 1e3;
        const stands = vec(to(middle['x'], aside * Math.cos(angle)), to(middle['y'], aside * Math.sin(angle)));
        return {
          id: `wall-${i}${name}`,
          name: `Wall ${i}${name}`,
          room: own,
          at: stands,
          heading: turned,
          size: vec(length, 0.25, 2),
        };
      };
      const half = (long + gap) / 2;
      return gap === 0 ? [wall('', 0, long)] : [wall('a', -half, long), wall('b', half, long)];
    });

const extents = { west: -20, south: -20, east: 20, north: 20 };

/** Any level of these yards, with one walk. */
export const anyLevel: fc.Arbitrary<Level> = fc
  .record({
    rate: one(1, 10, 10, 10, 30, 30),
    rules: anyRules,
    loft: one('by-house-rule', 'keeps', 'starts-over'),
    zones: fc.tuple(...zoneIds.map(anyZone)),
    fixtures: anyFixtures,
    solids: fc.integer({ min: 0, max: 3 }).chain((count) => fc.tuple(...Array.from({ length: count }, (_, i) => anySolid(i)))),
    walls: fc.constantFrom(0, 1, 1, 2, 3).chain((count) => fc.tuple(...Array.from({ length: count }, (_, i) => anyWall(i)))),
    visitors: fc.tuple(
      anyVisitor('miller', 'player'),
      anyVisitor('goose', 'creature'),
      anyVisitor('sack', 'prop'),
      anyVisitor('guard', 'creature'),
    ),
    chains: fc.integer({ min: 3, max: 8 }).chain((count) => fc.tuple(...Array.from({ length: count }, (_, i) => anyChain(i)))),
    watches: fc.tuple(fc.tuple(condition, maybe), fc.tuple(condition, maybe)),
    routes: fc.tuple(anyRoute(2, 8), anyRoute(0, 5), anyRoute(0, 2)),
    jitter: one({ start: 0, speed: 0 }, { start: 0, speed: 0 }, { start: 0.5, speed: 0.3 }),
  })
  .map(({ rate, rules, loft, zones, fixtures: things, solids, walls, visitors, chains, watches, routes, jitter }) =>
    levelOf({
      rate,
      rules,
      rooms: [
        { id: 'yard', name: 'Yard', extents },
        { id: 'loft', name: 'Loft', extents, ground: 0, leftEmpty: loft },
      ],
      zones,
      fixtures: things,
      solids: [...solids, ...walls.flat()],
      visitors,
      flags: [
        { id: 'flag', name: 'Flag' },
        { id: 'own-flag', name: 'Own flag', per: 'visitor' },
      ],
      counters: [
        { id: 'coins', name: 'Coins' },
        { id: 'own-count', name: 'Own count', per: 'visitor' },
      ],
      texts: [
        { id: 'note', name: 'Note' },
        { id: 'own-note', name: 'Own note', per: 'visitor' },
      ],
      signals: [{ id: 'call', name: 'Call' }],
      chains,
      watches: watches.map(([when, fromStart], i) => ({ id: `watch-${i}`, name: `Watch ${i}`, when, fromStart })),
      walks: [
        {
          id: 'walk',
          name: 'Walk',
          atMost: 6,
          jitter,
          routes: ['miller', 'goose', 'guard'].map((visitor, i) => ({ visitor, instructions: routes[i] })),
        },
      ],
    }),
  );
