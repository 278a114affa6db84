import type { Level } from '../document/level';
import { boundsOf, rate } from '../vocabulary/quantities';
import type { HouseRules } from '../vocabulary/rules';
import { choiceSlot, lengthSlot, secondsSlot } from '../vocabulary/phrase';
import type { Phrase, Slot, SlotInput } from '../vocabulary/phrase';

/** What holds for the level as a whole, in sentences. */
export function describeLevel(level: Level): Phrase[] {
  const ticks: SlotInput = { kind: 'number', unit: '', ...boundsOf(rate), step: 1, whole: true };
  const number = (path: string, label: string, value: number, unit: string, min: number, max: number): Slot => ({
    path,
    label,
    value,
    input: { kind: 'number', unit, min, max, step: 0.1 },
  });
  const { units } = level;
  return [
    ['Simulated at ', { path: '/rate', label: 'ticks per second', value: level.rate, input: ticks }, ' ticks per second.'],
    [
      'Gravity is ',
      number('/gravity', 'gravity', level.gravity, 'm/s', 0.01, 1000),
      ' per second; visitors step up or down at most ',
      number('/stepHeight', 'maximum step height', level.stepHeight, 'm', 0, 100),
      '.',
    ],
    [
      'Lengths can be typed in ',
      choiceSlot('/units/length', 'unit of length of its own', units.length, [
        { value: null, label: 'metres alone' },
        { value: units.length ?? { name: 'u', metres: 0.025 }, label: 'a custom unit' },
      ]),
      ...(units.length === null
        ? []
        : [
            ': one ',
            textSlot('/units/length/name', 'name of the unit', units.length.name, 20),
            ' is ',
            lengthSlot('/units/length/metres', 'metres of one', units.length.metres),
          ]),
      ', times in ',
      choiceSlot('/units/time', 'unit of time of its own', units.time, [
        { value: null, label: 'seconds alone' },
        { value: units.time ?? { name: 'beats', seconds: 0.1 }, label: 'a custom unit' },
      ]),
      ...(units.time === null
        ? []
        : [
            ': one of the ',
            textSlot('/units/time/name', 'name of the unit', units.time.name, 20),
            ' is ',
            secondsSlot('/units/time/seconds', 'seconds of one', units.time.seconds),
          ]),
      '.',
    ],
    ...rulePhrases(level.rules),
  ];
}

function textSlot(path: string, label: string, value: string, max: number): Slot {
  return { path, label, value, input: { kind: 'text', max } };
}

/** What a house rule says, as a sentence without its full stop: "Watches are evaluated at the end of each phase". */
export function ruleSentence<R extends keyof HouseRules>(rule: R, value: HouseRules[R]): string {
  const { before, values } = ruleWords[rule];
  return `${before}${values[value]}`;
}

/** The house rules in words: how the level's runtime orders what happens together. */
function rulePhrases(rules: HouseRules): Phrase[] {
  return (Object.keys(ruleWords) as (keyof HouseRules)[]).map((rule) => {
    const { before, values } = ruleWords[rule];
    const options = Object.entries(values).map(([value, label]) => ({ value, label }));
    return [
      before,
      choiceSlot(`/rules/${rule}`, `house rule: ${before.trim().toLowerCase()}`, rules[rule] as string, options),
      '.',
    ];
  });
}

const ruleWords: { [R in keyof HouseRules]: { before: string; values: Record<HouseRules[R], string> } } = {
  sameTick: {
    before: 'In one tick, ',
    values: { 'leaves-first': 'leaves are processed before enters', 'enters-first': 'enters are processed before leaves' },
  },
  pairs: {
    before: 'Simultaneous overlaps are processed ',
    values: {
      'zone-then-visitor': 'zone by zone',
      'visitor-then-zone': 'visitor by visitor',
      'nearest-first': 'by distance, the nearest first',
    },
  },
  draining: {
    before: 'Events raised by a step are handled ',
    values: { queued: 'when their turn comes in the queue', immediate: 'at once, before the next step' },
  },
  listeners: {
    before: 'Chains with the same trigger are evaluated ',
    values: { listing: 'from top to bottom', reverse: 'from bottom to top' },
  },
  afterTeleport: {
    before: 'A teleported visitor is sensed at its destination ',
    values: { 'sense-next-tick': 'in the next tick', 'sense-at-once': 'at once' },
  },
  startsInside: {
    before: 'A visitor that starts inside a zone ',
    values: { enters: 'enters it in the first tick', quiet: 'is inside without entering' },
  },
  roomLeftEmpty: {
    before: 'When its last player leaves, a room ',
    values: { keeps: 'stays as it is', 'starts-over': 'starts over' },
  },
  watches: {
    before: 'Watches are evaluated ',
    values: { 'end-of-phase': 'at the end of each phase', 'at-once': 'at once, after every change' },
  },
};
