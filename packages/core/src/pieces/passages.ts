import { box, triggeringVisitor, oftenQuestion, whoQuestion } from './piece';
import type { SetPiece } from './piece';

/** Where a pad's visitors come out: ahead of it, by its own heading. */
const ahead = (of: string, x: number): Record<string, unknown> => ({ x, y: 0, z: 0, of, axes: 'own', height: 'datum', room: '' });

interface Place {
  x: number;
  y: number;
  z: number;
}

export const portalPair: SetPiece = {
  id: 'portal-pair',
  title: 'A pair of portals',
  says: 'Two linked portals. Each locks controls, plays a 0.5 s cue, then releases the visitor at rest, facing away. Copies work unchanged.',
  questions: [
    whoQuestion,
    { id: 'apart', ask: 'How far apart do they begin?', kind: 'number', unit: 'm', usual: 6, min: 3, max: 1000 },
  ],
  make: (kit) => {
    const half = kit.number('apart') / 2;
    const shimmer = kit.fixture('cue', 'Shimmer', 0, 0, { medium: 'light', seconds: 0.5 }, 1);
    const frame = {
      size: { x: 1, y: 1.4, z: 2.4 },
      filter: { kinds: kit.who() },
      // Out in front of the other, where nobody is inside of it: nobody is sent straight back.
      to: { x: 1.2, y: 0, z: 0, axes: 'own' },
      arrivesFacing: 'take',
      before: { seconds: 0.5, holds: true, drifts: true, cue: shimmer },
    };
    const [west, east] = [kit.idFor('teleporter'), kit.idFor('teleporter')];
    kit.fixture('teleporter', 'West portal', -half, 0, { ...frame, id: west, heading: 180, twin: east });
    kit.fixture('teleporter', 'East portal', half, 0, { ...frame, id: east, heading: 0, twin: west });
  },
};

export const padWithArrival: SetPiece = {
  id: 'pad-with-arrival',
  title: 'A pad with an arrival of its own',
  says: 'A visitor that steps on the pad arrives at its marker, at rest, with the marker’s heading. Copy both for another pad.',
  questions: [{ ...whoQuestion, ask: 'Whom does it take?' }],
  make: (kit) => {
    const arrival = kit.fixture('marker', 'Arrival of the pad', 3, 0, { text: 'arrival', shown: false });
    kit.fixture('teleporter', 'Pad', -3, 0, {
      size: { x: 1, y: 1, z: 2 },
      to: ahead(arrival, 0),
      arrivesFacing: 'take',
      velocity: 'stop',
      filter: { kinds: kit.who() },
    });
  },
};

export const padPair: SetPiece = {
  id: 'pad-pair',
  title: 'Two-way teleport pads',
  says: 'Stepping on one puts the visitor beside the other, and the other way round; neither sends anybody straight back.',
  questions: [{ ...whoQuestion, ask: 'Whom do they take?' }],
  make: (kit) => {
    const [first, second] = [kit.idFor('teleporter'), kit.idFor('teleporter')];
    const pad = {
      size: { x: 1, y: 1, z: 2 },
      filter: { kinds: kit.who() },
      // Beside the other pad, where nobody is inside of it: nobody is sent straight back.
      to: { x: 1.2, y: 0, z: 0, axes: 'own' },
      arrivesFacing: 'take',
    };
    kit.fixture('teleporter', 'First pad', -3, 0, { ...pad, id: first, heading: 180, twin: second });
    kit.fixture('teleporter', 'Second pad', 3, 0, { ...pad, id: second, twin: first });
  },
};

export const warpAndBack: SetPiece = {
  id: 'warp-and-back',
  title: 'A room warp with its way back',
  says: 'It takes visitors to a point of another room, and a warp there brings them back; neither works again for a while.',
  questions: [
    { id: 'room', ask: 'Which room does it lead to?', kind: 'thing', accepts: ['room'], none: 'a new room' },
    { id: 'pause', ask: 'How long until it works again?', kind: 'number', unit: 's', usual: 2, min: 0, max: 3600 },
  ],
  make: (kit) => {
    const there = kit.thing('room') ?? kit.newRoom('Room beyond');
    const warp = (name: string, room: string, at: Place, to: Place & { room: string }) =>
      kit.fixture('warp', name, 0, 0, {
        room,
        at,
        size: { x: 1, y: 1.2, z: 2.2 },
        filter: { kinds: ['player'] },
        to: { ...to, of: '', axes: 'room', height: 'ground' },
        velocity: 'stop',
        cooldown: kit.number('pause'),
      });
    warp('Warp there', kit.room, kit.at(0, 0), { x: -1.4, y: 0, z: 0, room: there });
    warp('Warp back', there, { x: -3, y: 0, z: 0 }, { ...kit.at(1.6, 0), z: 0, room: kit.room });
  },
};

export const useToBeThere: SetPiece = {
  id: 'use-to-be-there',
  title: 'Teleport by using an object',
  says: 'A visitor that uses the first object arrives at the second, at a height above the ground.',
  questions: [{ id: 'above', ask: 'How high above the ground?', kind: 'number', unit: 'm', usual: 0, min: 0, max: 100 }],
  make: (kit) => {
    const used = kit.fixture('switch', 'Lever to be there', -3, 0, { works: 'momentary' });
    const there = kit.fixture('marker', 'Where one will be', 3, 0, { text: 'here' });
    const to = { x: 0, y: 0, z: kit.number('above'), of: there, axes: 'room', height: 'ground', room: '' };
    kit.chain('Be there', kit.cause('use', used, { kinds: ['player'] }), [
      kit.step('teleport', { ...triggeringVisitor, to, arrivesFacing: 'take', velocity: 'stop' }),
    ]);
  },
};

export const thrownFetches: SetPiece = {
  id: 'thrown-fetches',
  title: 'Thrown teleport',
  says: 'Picked up it is armed; thrown, it brings its thrower beside where it lands, and is disarmed.',
  questions: [],
  make: (kit) => {
    const float = kit.visitor('prop', 'Float', 0, 0, { mass: 2 });
    const armed = kit.fact('flags', 'Float is armed');
    kit.chain(
      'Picked up, it is armed',
      kit.cause('use', float, { kinds: ['player'] }),
      [kit.step('set-flag', { flag: armed, to: true })],
      { guard: `carrier("${float}") != ""` },
    );
    kit.chain(
      'Landed, it fetches its thrower',
      kit.cause('arrived', float),
      [
        kit.step('set-flag', { flag: armed, to: false }),
        kit.step('teleport', {
          who: { by: 'holder', prop: float },
          to: { x: -0.6, y: 0, z: 0, of: float, axes: 'room', height: 'ground', room: '' },
        }),
      ],
      { guard: `flag("${armed}") && carrier("${float}") == ""` },
    );
  },
};

export const guardPiece: SetPiece = {
  id: 'guard',
  title: 'A guard who steps into the way',
  says: 'Controls are held, the guard steps up, speaks, pushes the visitor back, and returns to the post.',
  questions: [{ ...oftenQuestion, ask: 'How often does the guard do it?' }],
  make: (kit) => {
    const guard = kit.visitor('creature', 'Guard', 2, 1.5, { speed: 3, mass: 80, blocks: true });
    const near = kit.zone('Too near', -1, 0, box(1, 3));
    const speech = kit.fixture(
      'cue',
      'What the guard says',
      2,
      2.4,
      { medium: 'speech', speaker: guard, line: 'Not before the tide!', seconds: 1.5 },
      1.5,
    );
    const self = { who: { by: 'name', visitor: guard } };
    const spot = (x: number, y: number) => ({ ...kit.at(x, y), of: '', axes: 'room', height: 'datum', room: '' });
    kit.chain('Nobody passes', kit.cause('enter', near, { kinds: ['player'], limit: kit.limit() }), [
      kit.step('hold-visitor', triggeringVisitor),
      kit.step('walk-visitor', { ...self, to: spot(0.6, 0) }),
      kit.step('cue', { cue: speech }),
      kit.step('push', { ...triggeringVisitor, velocity: { x: -3, y: 0, z: 0 }, seconds: 0.8 }),
      kit.step('walk-visitor', { ...self, to: spot(2, 1.5) }),
      kit.step('release-visitor', triggeringVisitor),
    ]);
  },
};
