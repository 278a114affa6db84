import { box, oftenQuestion, pillar, whoQuestion } from './piece';
import type { Question, SetPiece } from './piece';

const seconds = (id: string, ask: string, usual: number): Question => ({
  id,
  ask,
  kind: 'number',
  unit: 's',
  usual,
  min: 0,
  max: 3600,
});

export const doorForVisitors: SetPiece = {
  id: 'door-for-visitors',
  title: 'Automatic door',
  says: 'It slides aside while somebody is near, from both sides, and closes when they have gone.',
  questions: [whoQuestion, seconds('seconds', 'How long does it take to open?', 0.8)],
  make: (kit) => {
    const door = kit.fixture('door', 'Door', 0, 0, {
      size: { x: 0.2, y: 1.6, z: 2.2 },
      travel: { x: 0, y: 1.6, z: 0 },
      timing: { by: 'seconds', seconds: kit.number('seconds') },
      inTheWay: 'reverse',
    });
    const near = kit.zone('At the door', 0, 0, box(3.6, 2.2, 2.4));
    kit.opensWhileInside(door, near, 'The door opens', 'The door closes', kit.who());
  },
};

export const doorBothHalves: SetPiece = {
  id: 'door-both-halves',
  title: 'Double door, opened by use',
  says: 'Two leaves part when either is used, wait, and come together again; they turn back if a visitor stands between.',
  questions: [seconds('seconds', 'How long does it take to part?', 1), seconds('waits', 'How long does it stay open?', 3)],
  make: (kit) => {
    const leaf = (name: string, y: number): string =>
      kit.fixture('door', name, 0, y, {
        size: { x: 0.2, y: 1, z: 2.2 },
        travel: { x: 0, y: y * 2, z: 0 },
        timing: { by: 'seconds', seconds: kit.number('seconds') },
        returnAfter: kit.number('waits'),
        returnWhen: 'empty',
        inTheWay: 'reverse',
      });
    const leaves = [leaf('South leaf', -0.5), leaf('North leaf', 0.5)];
    kit.chain(
      'Both leaves part',
      leaves.map((one) => kit.cause('use', one, { kinds: ['player'] })),
      leaves.map((door, at) => kit.step('open', { door, start: at === 0 ? 'after' : 'with' })),
    );
  },
};

export const claimableDoor: SetPiece = {
  id: 'claimable-door',
  title: 'Claimable door',
  says: 'The first who touches it owns it: a sign says whose it is, it is half seen through, and its owner passes it, nobody else.',
  questions: [],
  make: (kit) => {
    const door = kit.fixture('barrier', 'Claimable door', 0, 0, {
      size: { x: 0.3, y: 1.4, z: 2.2 },
      letsThrough: { owner: true },
    });
    const sign = kit.fixture('sign', 'Whose door', 0, 1.2, {}, 1.6);
    kit.chain(
      'The first owns it',
      kit.cause('bump', door, { kinds: ['player'] }),
      [
        kit.step('claim', { thing: door }),
        kit.step('write-sign', { sign, text: '{visitor}' }),
        kit.step('make-see-through', { fixture: door, start: 'with' }),
      ],
      { guard: `owner("${door}") == ""` },
    );
  },
};

export const weightGate: SetPiece = {
  id: 'weight-gate',
  title: 'Gate held open by a weight plate',
  says: 'It sinks while enough weight lies on the plate, and comes up when the weight is gone.',
  questions: [
    { id: 'load', ask: 'How much weight holds it open?', kind: 'number', unit: 'kg', usual: 20, min: 0.1, max: 10_000 },
  ],
  make: (kit) => {
    const plate = kit.fixture('plate', 'Plate', -2, 0, { threshold: kit.number('load') });
    const door = kit.sinkingGate('Gate', 1.5, { tall: 2.4, seconds: 1.2 });
    kit.visitor('prop', 'Sack', -2, -2, { mass: Math.max(25, kit.number('load')) });
    kit.chain('The weight opens the gate', kit.cause('press', plate), [kit.step('open', { door })]);
    kit.chain('The gate comes up', kit.cause('release', plate), [kit.step('close', { door })]);
  },
};

export const pocketGate: SetPiece = {
  id: 'pocket-gate',
  title: 'A gate that slides into its pocket',
  says: 'A tall round place opens it from both sides within a second; it closes when the last one has left.',
  questions: [whoQuestion, seconds('seconds', 'How long does it slide?', 1)],
  make: (kit) => {
    const door = kit.fixture('door', 'Pocket gate', 0, 0, {
      size: { x: 0.2, y: 2, z: 2.4 },
      travel: { x: 0, y: 2, z: 0 },
      timing: { by: 'seconds', seconds: kit.number('seconds') },
      inTheWay: 'reverse',
    });
    kit.solid('Pocket, west side', -0.25, 2, { x: 0.2, y: 2, z: 2.4 });
    kit.solid('Pocket, east side', 0.25, 2, { x: 0.2, y: 2, z: 2.4 });
    const near = kit.zone('Both sides of the gate', 0, 0, pillar(2, 4));
    kit.opensWhileInside(door, near, 'The gate slides in', 'The gate slides out', kit.who());
  },
};

export const stagedWall: SetPiece = {
  id: 'staged-wall',
  title: 'A wall that sinks in stages',
  says: 'It goes down a third, waits, goes down another third, waits, and is gone.',
  questions: [whoQuestion, seconds('waits', 'How long does it wait at each stage?', 1)],
  make: (kit) => {
    const down = (z: number): object => ({ x: 0, y: 0, z });
    const wall = kit.fixture('elevator', 'Sinking wall', 1.5, 0, {
      size: { x: 0.4, y: 3, z: 2.4 },
      stops: [down(0), down(-0.8), down(-1.6), down(-2.4)],
      timing: { by: 'seconds', seconds: 0.6 },
    });
    const near = kit.zone('Before the wall', -1, 0, box(2, 3));
    const wait = (): object => kit.step('wait', { seconds: kit.number('waits') });
    const send = (stop: number): object => kit.step('send', { elevator: wall, stop });
    kit.chain('The wall sinks in stages', kit.cause('enter', near, { kinds: kit.who(), limit: 1 }), [
      send(2),
      wait(),
      send(3),
      wait(),
      send(4),
    ] as Record<string, unknown>[]);
  },
};

export const closingWall: SetPiece = {
  id: 'closing-wall',
  title: 'A wall that closes behind',
  says: 'It is hidden and lets everybody through until somebody has passed; then it is there, and solid.',
  questions: [whoQuestion, oftenQuestion],
  make: (kit) => {
    const wall = kit.fixture('barrier', 'Closing wall', 0, 0, { size: { x: 0.3, y: 3, z: 2.4 }, solid: false, shown: false });
    // Far enough behind that nobody stands in the wall when it closes.
    const past = kit.zone('Past the wall', 1.6, 0, box(1, 3));
    kit.chain('The wall closes', kit.cause('enter', past, { kinds: kit.who(), limit: kit.limit() }), [
      kit.step('show', { fixture: wall }),
      kit.step('make-solid', { fixture: wall, start: 'with' }),
    ]);
  },
};

export const mazeWalls: SetPiece = {
  id: 'maze-walls',
  title: 'Walls that lead through a maze',
  says: 'At one place a hidden wall appears and turns solid, and a message makes another, found by its tag, go.',
  questions: [whoQuestion],
  make: (kit) => {
    const size = { x: 0.3, y: 2, z: 2.4 };
    const appears = kit.fixture('barrier', 'Wall that appears', -1.5, 1.5, { size, solid: false, shown: false });
    const goes = kit.fixture('barrier', 'Wall that goes', 2, -1.5, { size, solid: true, tags: ['maze wall'] });
    const signal = kit.fact('signals', 'Let them through');
    const spot = kit.zone('Turn of the maze', -3, -0.5, box(1, 1));
    kit.chain('A wall appears, another is told to go', kit.cause('enter', spot, { kinds: kit.who(), limit: 1 }), [
      kit.step('show', { fixture: appears }),
      kit.step('make-solid', { fixture: appears, start: 'with' }),
      kit.step('signal', { signal, address: { to: 'tag', tag: 'maze wall' } }),
    ]);
    kit.chain('The other wall goes', { ...kit.cause('signal', signal), hears: goes }, [
      kit.step('make-passable', { fixture: goes }),
      kit.step('hide', { fixture: goes, start: 'with' }),
    ]);
  },
};
