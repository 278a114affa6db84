import { box, oftenQuestion, whoQuestion } from './piece';
import type { SetPiece } from './piece';

export const generalTrigger: SetPiece = {
  id: 'general-trigger',
  title: 'One general trigger',
  says: 'A zone with a chain for the first visitor that enters and one for the last that leaves, filtered and limited. Add your own steps.',
  questions: [whoQuestion, oftenQuestion],
  make: (kit) => {
    const zone = kit.zone('Trigger', 0, 0, box(2, 2));
    const flag = kit.fact('flags', 'Somebody is there');
    const enters = ['On entering', kit.step('set-flag', { flag, to: true })] as const;
    const leaves = ['On leaving', kit.step('set-flag', { flag, to: false })] as const;
    kit.whileInside(zone, kit.who(), enters, leaves, kit.limit());
  },
};

export const tokensGate: SetPiece = {
  id: 'tokens-gate',
  title: 'Things to collect, the last of which opens a gate',
  says: 'Players gather them by walking through; when all are gathered, the gate sinks.',
  questions: [
    { id: 'many', ask: 'How many are there?', kind: 'number', unit: '', usual: 3, min: 1, max: 50 },
    { id: 'gate', ask: 'Which door opens?', kind: 'thing', accepts: ['door'], none: 'a gate of its own' },
  ],
  make: (kit) => {
    const many = Math.round(kit.number('many'));
    const counter = kit.fact('counters', 'Gathered');
    for (let at = 0; at < many; at++) {
      const row = Math.floor(at / 6);
      kit.fixture('collectible', `Token ${at + 1}`, -3 + (at % 6) * 1.2, at % 2 === 0 ? -1.2 - row : 1.2 + row, { counter });
    }
    const door = kit.thing('gate') ?? kit.sinkingGate('Token gate', 4);
    const all = kit.fact('watches', 'All gathered', { when: `counter("${counter}") >= ${many}` });
    kit.chain('The last opens the gate', kit.cause('became-true', all), [kit.step('open', { door })]);
  },
};

export const bumpPost: SetPiece = {
  id: 'bump-post',
  title: 'A post to bump into',
  says: 'It blinks once, and lets a gate go.',
  questions: [{ id: 'gate', ask: 'Which gate does it let go?', kind: 'thing', accepts: ['door'], none: 'a gate of its own' }],
  make: (kit) => {
    const post = kit.fixture('barrier', 'Post', -1.5, 0, { size: { x: 0.4, y: 0.4, z: 1.2 }, solid: true });
    const blink = kit.fixture('cue', 'Blink', -1.5, 0.9, { medium: 'light', seconds: 0.4 }, 1.2);
    const door = kit.thing('gate') ?? kit.sinkingGate('Released gate', 2, { wide: 2.4, seconds: 0.8 });
    kit.chain('The post lets the gate go', kit.cause('bump', post, { kinds: ['player'], limit: 1 }), [
      kit.step('cue', { cue: blink }),
      kit.step('open', { door }),
    ]);
  },
};

export const mapMarker: SetPiece = {
  id: 'map-marker',
  title: 'A marker that comes up on the map',
  says: 'Some seconds after the place was reached, by anybody, its marker is shown; at the start it is not there.',
  questions: [
    whoQuestion,
    { id: 'after', ask: 'How long after it was reached?', kind: 'number', unit: 's', usual: 3, min: 0, max: 3600 },
  ],
  make: (kit) => {
    const marker = kit.fixture('marker', 'Map marker', 0, 1.2, { text: 'Found', shown: false });
    const zone = kit.zone('Place to reach', 0, 0, box(2, 2));
    kit.chain('The marker comes up', kit.cause('enter', zone, { kinds: kit.who(), limit: 1 }), [
      kit.step('show', { fixture: marker, delay: kit.number('after') }),
    ]);
  },
};

export const oneThenAnother: SetPiece = {
  id: 'one-then-another',
  title: 'Two things appear in sequence',
  says: 'Entering counts once: a first thing appears, then a second; a state is set, and what watches it makes a third go.',
  questions: [
    whoQuestion,
    { id: 'later', ask: 'How much later comes the second?', kind: 'number', unit: 's', usual: 5, min: 0, max: 3600 },
  ],
  make: (kit) => {
    const size = { x: 0.6, y: 0.6, z: 1.2 };
    const hidden = { size, solid: false, shown: false };
    const first = kit.fixture('barrier', 'First to appear', 1, 1, hidden);
    const second = kit.fixture('barrier', 'Second to appear', 2, 1, hidden);
    const third = kit.fixture('barrier', 'What goes', 1.5, -1.5, { size: { x: 1.4, y: 0.3, z: 2 }, solid: true });
    const zone = kit.zone('Where it begins', -1.5, 0, box(1.5, 2));
    const flag = kit.fact('flags', 'Both have appeared');
    const watch = kit.fact('watches', 'Both are there', { when: `flag("${flag}")` });
    kit.chain('One, then another', kit.cause('enter', zone, { kinds: kit.who(), limit: 1 }), [
      kit.step('show', { fixture: first }),
      kit.step('show', { fixture: second, delay: kit.number('later') }),
      kit.step('set-flag', { flag, to: true }),
    ]);
    kit.chain('Watched elsewhere', kit.cause('became-true', watch), [
      kit.step('hide', { fixture: third }),
      kit.step('make-passable', { fixture: third, start: 'with' }),
    ]);
  },
};

export const elevatorRidden: SetPiece = {
  id: 'elevator-ridden',
  title: 'A platform up a wall',
  says: 'It goes up when it is stepped on, after a short wait, and down when the last rider has left it.',
  questions: [
    { ...whoQuestion, ask: 'For whom does it go?' },
    { id: 'rise', ask: 'How high does it go?', kind: 'number', unit: 'm', usual: 3, min: 0.1, max: 1000 },
    { id: 'wait', ask: 'How long does it wait before it starts?', kind: 'number', unit: 's', usual: 0.5, min: 0, max: 60 },
  ],
  make: (kit) => {
    const elevator = kit.fixture('elevator', 'Platform', 0, 0, {
      size: { x: 2, y: 2, z: 0.2 },
      stops: [
        { x: 0, y: 0, z: 0 },
        { x: 0, y: 0, z: kit.number('rise') },
      ],
      timing: { by: 'speed', speed: 1.5 },
      easing: 'gentle',
      startDelay: kit.number('wait'),
      whenLeft: 'return',
    });
    // The area is as wide as the platform, moves along, and is tall enough that riding is not leaving.
    const area = kit.zone('On the platform', 0, 0, box(1.8, 1.8, 2.4), { attachedTo: elevator });
    kit.solid('Upper floor', 2.5, 0, { x: 3, y: 3, z: kit.number('rise') + 0.2 });
    kit.chain('The platform goes up', kit.cause('enter', area, { kinds: kit.who() }), [kit.step('send', { elevator, stop: 2 })]);
  },
};

export const elevatorCalled: SetPiece = {
  id: 'elevator-called',
  title: 'An elevator, called by a switch',
  says: 'A switch at each floor calls it; after a pause at the top it comes down by itself when nobody is on it.',
  questions: [
    { id: 'rise', ask: 'How far apart are the floors?', kind: 'number', unit: 'm', usual: 3, min: 0.1, max: 1000 },
    { id: 'pause', ask: 'How long does it pause at the top?', kind: 'number', unit: 's', usual: 4, min: 0, max: 3600 },
  ],
  make: (kit) => {
    const rise = kit.number('rise');
    const elevator = kit.fixture('elevator', 'Elevator', 0, 0, {
      size: { x: 2, y: 2, z: 0.2 },
      stops: [
        { x: 0, y: 0, z: 0 },
        { x: 0, y: 0, z: rise },
      ],
      timing: { by: 'speed', speed: 1.5 },
      easing: 'gentle',
      startDelay: 0.5,
      returnAfter: kit.number('pause'),
      returnWhen: 'empty',
    });
    kit.solid('Upper floor', 2.6, 0, { x: 3, y: 3, z: rise + 0.2 });
    const below = kit.fixture('switch', 'Switch below', -1.5, 1.2, { works: 'momentary' });
    const above = kit.fixture('switch', 'Switch above', 1.5, 1.2, { works: 'momentary' }, rise + 0.2);
    const kinds = ['player'];
    // It rests below, where whoever is there steps on and uses the switch in reach; from above it is called up.
    kit.chain(
      'Sent or called up',
      [kit.cause('use', below, { kinds }), kit.cause('use', above, { kinds })],
      [kit.step('send', { elevator, stop: 2 })],
    );
  },
};

export const sinkingLift: SetPiece = {
  id: 'sinking-lift',
  title: 'Sinking platform',
  says: 'It stands level with an upper floor, sinks when stepped on until only part of it is left showing, and rises when left. Or the reverse: it lies sunk and takes its rider up.',
  questions: [
    { id: 'thick', ask: 'How thick is it?', kind: 'number', unit: 'm', usual: 2, min: 0.1, max: 1000 },
    { id: 'showing', ask: 'How much of it is left showing?', kind: 'number', unit: 'm', usual: 0.2, min: 0, max: 1000 },
    {
      id: 'begins',
      ask: 'Where does it begin?',
      kind: 'choice',
      options: [
        { value: 'raised', label: 'raised: it takes its rider down' },
        { value: 'sunk', label: 'sunk: it takes its rider up' },
      ],
    },
  ],
  make: (kit) => {
    const thick = kit.number('thick');
    const isSunk = kit.choice('begins') === 'sunk';
    const door = kit.fixture('door', 'Sinking platform', 0, 0, {
      size: { x: 2, y: 2, z: thick },
      manner: 'sink',
      travel: { x: 0, y: 0, z: -thick },
      showing: Math.min(kit.number('showing'), thick),
      timing: { by: 'speed', speed: 1 },
      easing: 'gentle',
      startDelay: 0.5,
      open: isSunk,
    });
    kit.solid('Upper floor', 2.6, 0, { x: 3, y: 3, z: thick });
    const area = kit.zone('On the sinking platform', 0, 0, box(1.8, 1.8, 2.4), { attachedTo: door, at: kit.at(0, 0, thick) });
    const sinks = kit.step('open', { door });
    const rises = kit.step('close', { door });
    if (isSunk) kit.whileInside(area, [], ['Stepped on, it rises', rises], ['Left, it sinks', sinks]);
    else kit.whileInside(area, [], ['Stepped on, it sinks', sinks], ['Left, it rises', rises]);
  },
};
