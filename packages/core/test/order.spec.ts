import {
  carry,
  cause,
  chain,
  door,
  drop,
  flag,
  goTo,
  levelOf,
  plate,
  run,
  sign,
  solid,
  step,
  told,
  visitor,
  wait,
  walk,
  zone,
  said,
} from './build';
import { rehearse } from '../src/index';

describe('The walk', () => {
  it('takes a straight leg tick by tick, and tells when the visitor has arrived', () => {
    const { entries, ticks } = run({ visitors: [visitor('Miller', 0, 0)], walks: [walk({ miller: [goTo(1, 0)] })] });
    expect(told(entries)).toEqual(['0 start walk', '10 arrived miller by miller', '10 end settled']);
    expect(ticks).toBe(10);
  });

  it('rounds a leg up to whole ticks and does not carry the rest into the next', () => {
    const { entries } = run({
      visitors: [visitor('Miller', 0, 0)],
      walks: [walk({ miller: [goTo(0.95, 0), goTo(0.95, 0.31), wait(0.05), goTo(0, 0)] })],
    });
    expect(told(entries, 'arrived')).toEqual([
      '10 arrived miller by miller',
      '14 arrived miller by miller',
      '25 arrived miller by miller',
    ]);
  });

  it('enters a zone when interiors meet, and not when the body only touches it', () => {
    const parts = (x: number) => ({
      zones: [zone('Doorstep', 3, 0)],
      visitors: [visitor('Miller', 0, 0)],
      walks: [walk({ miller: [goTo(x, 0)] })],
    });
    expect(told(run(parts(1.75)).entries, 'enter')).toEqual([]);
    expect(told(run(parts(1.8)).entries, 'enter')).toEqual(['18 enter doorstep by miller']);
  });

  it('finds who starts inside at tick 0', () => {
    const { entries } = run({ zones: [zone('Doorstep', 0, 0)], visitors: [visitor('Goose', 0, 0)], walks: [walk({})] });
    expect(told(entries)).toEqual(['0 start walk', '0 enter doorstep by goose', '1 end settled']);
  });

  it('says missed when a visitor is through a thin zone between two ticks', () => {
    const thin = zone('Ribbon', 5, 0.1, { shape: { kind: 'box', size: { x: 0.05, y: 2, z: 2 } } });
    const { entries } = run({
      rate: 1,
      zones: [thin],
      visitors: [visitor('Miller', 2, 0, { speed: 4 })],
      walks: [walk({ miller: [goTo(10, 0)] })],
    });
    expect(told(entries, 'enter', 'missed')).toEqual(['1 missed ribbon by miller']);
  });

  it('stands still before a wall, says so once, and ends when nothing can help', () => {
    const { entries } = run({
      solids: [solid('Wall', 3, 0, { size: { x: 1, y: 100, z: 2 } })],
      visitors: [visitor('Miller', 0, 0)],
      walks: [walk({ miller: [goTo(6, 0)] })],
    });
    expect(told(entries)).toEqual(['0 start walk', '23 blocked wall by miller', '23 end stuck']);
  });

  it('cannot jump through a wall however coarse the ticks are', () => {
    const { entries } = run({
      rate: 1,
      solids: [solid('Wall', 3, 0, { size: { x: 0.1, y: 100, z: 2 } })],
      visitors: [visitor('Miller', 0, 0, { speed: 20 })],
      walks: [walk({ miller: [goTo(6, 0)] })],
    });
    expect(told(entries, 'blocked', 'arrived')).toEqual(['1 blocked wall by miller']);
  });

  it('goes on where it stood when the door in its way has opened, its clock having stood still', () => {
    const gate = door('Gate', 2, 0, {
      size: { x: 0.5, y: 2, z: 2 },
      travel: { x: 0, y: 0, z: -2 },
      timing: { by: 'seconds', seconds: 2 },
    });
    const opens = chain('Opens', [cause('enter', 'doorstep')], [step('open', { door: 'gate' })]);
    const { entries } = run({
      zones: [zone('Doorstep', 1.5, 0)],
      fixtures: [gate],
      chains: [opens],
      visitors: [visitor('Miller', 0, 0)],
      walks: [walk({ miller: [goTo(5, 0)] })],
    });
    // In at tick 3 (0.3 + 0.25 > 0.5); 15 ticks to the gate's face at 1.5; a step high at tick 3 + 15; open at tick 3 + 20.
    expect(told(entries, 'blocked', 'opened', 'arrived')).toEqual([
      '16 blocked gate by miller',
      '23 opened gate by miller',
      '52 arrived miller by miller',
    ]);
  });
});

describe('Carrying', () => {
  const sack = visitor('Sack', 0.5, 0, { kind: 'prop', mass: 25, body: { kind: 'box', size: { x: 0.4, y: 0.4, z: 0.4 } } });

  it('brings a sack to a plate, which weighs carrier and sack together, and keeps it down when the carrier leaves', () => {
    const { entries } = run({
      fixtures: [plate('Plate', 3, 0, { threshold: 20 })],
      visitors: [visitor('Miller', 0, 0, { mass: 80 }), sack],
      walks: [walk({ miller: [carry('sack'), goTo(3, 0), drop('sack'), goTo(6, 0)] })],
    });
    expect(told(entries)).toEqual([
      '0 start walk',
      '1 use sack by miller',
      '24 enter plate by miller',
      '24 press plate by miller',
      '31 arrived miller by miller',
      '32 use sack by miller',
      '32 enter plate by sack',
      '40 leave plate by miller',
      '62 arrived miller by miller',
      '62 end settled',
    ]);
    expect(entries[3]!.details).toEqual({ load: 105, threshold: 20 });
  });

  it('lets the plate up again when the sack is carried off', () => {
    const { entries } = run({
      fixtures: [plate('Plate', 0.5, 0, { threshold: 20 })],
      visitors: [visitor('Miller', -0.5, 0, { mass: 0 }), sack],
      walks: [walk({ miller: [carry('sack'), goTo(-3, 0)] })],
    });
    expect(told(entries, 'press', 'release')).toEqual(['0 press plate by sack', '1 release plate by sack']);
  });

  it('answers why nothing was picked up', () => {
    const { entries } = run({
      visitors: [visitor('Miller', -5, 0), sack],
      walks: [walk({ miller: [carry('sack'), drop('sack')] })],
    });
    expect(told(entries, 'held')).toEqual(['1 held sack by miller out-of-reach', '2 held sack by miller not-carried']);
  });
});

describe('The order within one tick', () => {
  it('raises all leaves, then all enters, each in zone order and then visitor order', () => {
    const { entries } = run({
      zones: [
        zone('East', 2, 0, { shape: { kind: 'box', size: { x: 2, y: 9, z: 2 } } }),
        zone('West', -1, 0, { shape: { kind: 'box', size: { x: 3, y: 9, z: 2 } } }),
      ],
      visitors: [visitor('Miller', 0, 1, { speed: 10 }), visitor('Goose', 0, -1, { speed: 10 })],
      walks: [walk({ goose: [goTo(1.3, -1)], miller: [goTo(1.3, 1)] })],
    });
    expect(told(entries, 'enter', 'leave')).toEqual([
      '0 enter west by miller',
      '0 enter west by goose',
      '1 leave west by miller',
      '1 leave west by goose',
      '1 enter east by miller',
      '1 enter east by goose',
    ]);
  });

  it('tries chains in listing order and puts what steps raise at the end of the queue', () => {
    const { entries } = run({
      zones: [zone('Doorstep', 0, 0)],
      fixtures: [sign('Board')],
      flags: [flag('Seen')],
      visitors: [visitor('Miller', 0, 0)],
      chains: [
        chain(
          'First',
          [cause('enter', 'doorstep')],
          [step('set-flag', { flag: 'seen', to: true }), step('write-sign', { sign: 'board', text: 'in' })],
        ),
        chain('Second', [cause('enter', 'doorstep')], [step('hide', { fixture: 'board' })]),
      ],
      walks: [walk({})],
    });
    expect(told(entries)).toEqual([
      '0 start walk',
      '0 enter doorstep by miller',
      '0 chain-started first doorstep by miller',
      '0 step first seen by miller',
      '0 step first board by miller',
      '0 chain-finished first by miller',
      '0 chain-started second doorstep by miller',
      '0 step second board by miller',
      '0 chain-finished second by miller',
      '0 changed seen by miller',
      '0 changed board by miller',
      '0 changed board by miller',
      '1 end settled',
    ]);
    expect(entries.map((entry) => entry.cause)).toEqual([null, null, 2, 3, 3, 3, 2, 7, 7, 4, 5, 8, null]);
  });

  it('tries a chain once for each of its causes that match', () => {
    const twice = chain('Twice', [cause('enter', 'doorstep'), cause('enter', 'doorstep')], []);
    const { entries } = run({
      zones: [zone('Doorstep', 0, 0)],
      visitors: [visitor('Miller', 0, 0)],
      chains: [twice],
      walks: [walk({})],
    });
    expect(told(entries, 'chain-started')).toHaveLength(2);
  });
});

describe('Steps in time', () => {
  const parts = (steps: Record<string, unknown>[], more: Record<string, unknown> = {}) => ({
    zones: [zone('Doorstep', 0, 0)],
    fixtures: [door('Gate', 20, 0, { timing: { by: 'seconds', seconds: 2 }, ...more }), sign('Board')],
    flags: [flag('Seen')],
    visitors: [visitor('Miller', 0, 0)],
    chains: [chain('Sluice', [cause('enter', 'doorstep')], steps)],
    walks: [walk({})],
  });

  it('runs a step after all before it, or with the one before it, plus its delay', () => {
    const { entries } = run(
      parts([
        step('open', { door: 'gate', delay: 0.5 }),
        step('write-sign', { sign: 'board', text: 'sinking', start: 'with' }),
        step('wait', { seconds: 0.3, start: 'with', delay: 0.1 }),
        step('set-flag', { flag: 'seen', to: true, delay: 1 }),
      ]),
    );
    expect(told(entries, 'step', 'opened', 'chain-finished')).toEqual([
      '5 step sluice gate by miller',
      '5 step sluice board by miller',
      '6 step sluice by miller',
      '25 opened gate by miller',
      '35 step sluice seen by miller',
      '35 chain-finished sluice by miller',
    ]);
  });

  it('counts the return from the end of the motion', () => {
    const { entries } = run(parts([step('open', { door: 'gate' })], { returnAfter: 4 }));
    expect(told(entries, 'moving', 'opened', 'closed')).toEqual([
      '0 moving gate by miller',
      '20 opened gate by miller',
      '60 moving gate by miller',
      '80 closed gate by miller',
    ]);
  });

  it('brings a door that starts open back to open', () => {
    const { entries } = run(parts([step('close', { door: 'gate' })], { returnAfter: 1, open: true }));
    expect(told(entries, 'opened', 'closed')).toEqual(['20 closed gate by miller', '50 opened gate by miller']);
  });

  it('turns a door back from where it stands, in as much time as it had taken, and ends the step that opened it', () => {
    const level = parts([step('open', { door: 'gate' }), step('set-flag', { flag: 'seen', to: true })]);
    const shuts = chain('Shuts', [cause('enter', 'doorstep')], [step('wait', { seconds: 0.5 }), step('close', { door: 'gate' })]);
    const { entries } = run({ ...level, chains: [...level.chains, shuts] });
    expect(
      told(
        entries.slice(entries.findIndex((entry) => entry.tick === 5)),
        'step',
        'moving',
        'changed',
        'closed',
        'opened',
        'chain-finished',
      ),
    ).toEqual([
      '5 step shuts gate by miller',
      '5 step sluice seen by miller',
      '5 chain-finished sluice by miller',
      '5 moving gate by miller',
      '5 changed seen by miller',
      '10 closed gate by miller',
      '10 chain-finished shuts by miller',
    ]);
    const turned = entries.find((entry) => entry.kind === 'moving' && entry.tick === 5)!;
    expect(turned.details).toEqual({
      to: 'closed',
      ticks: 5,
      turnedBack: true,
      endsSteps: [entries.find((entry) => entry.kind === 'step')!.number],
    });
  });

  it('finishes a step at once when there is nothing to do, and together with a motion that is under way', () => {
    const again = parts([
      step('close', { door: 'gate' }),
      step('open', { door: 'gate' }),
      step('open', { door: 'gate', start: 'with', delay: 1 }),
    ]);
    expect(told(run(again).entries, 'step', 'chain-finished', 'opened')).toEqual([
      '0 step sluice gate by miller',
      '0 step sluice gate by miller',
      '10 step sluice gate by miller',
      '20 opened gate by miller',
      '20 chain-finished sluice by miller',
    ]);
  });

  it('begins the wait before a return anew when the door is told again', () => {
    const level = parts([step('open', { door: 'gate' }), step('wait', { seconds: 2 }), step('open', { door: 'gate' })], {
      returnAfter: 3,
    });
    expect(told(run(level).entries, 'moving')).toEqual(['0 moving gate by miller', '70 moving gate by miller']);
  });

  it('moves a door that takes no time in the same tick', () => {
    const { entries } = run(parts([step('open', { door: 'gate' })], { timing: { by: 'seconds', seconds: 0 } }));
    expect(told(entries, 'moving', 'opened', 'chain-finished')).toEqual([
      '0 moving gate by miller',
      '0 opened gate by miller',
      '0 chain-finished sluice by miller',
    ]);
  });

  it('says so when the target of a step is not there, and goes on', () => {
    const { entries } = run(parts([step('open', { door: 'gatte' }), step('set-flag', { flag: 'seen', to: true })]));
    const [first] = entries.filter((entry) => entry.kind === 'step');
    expect(first!.details).toEqual({ do: 'open', problem: 'no such target' });
    expect(told(entries, 'changed')).toEqual(['0 changed seen by miller']);
  });

  it('keeps the visitor in hand all along a cascade', () => {
    const level = parts([step('open', { door: 'gate' })]);
    const then = chain('Then', [cause('opened', 'gate')], [step('set-flag', { flag: 'seen', to: true })]);
    const { entries } = run({ ...level, chains: [...level.chains, then] });
    expect(entries.find((entry) => entry.kind === 'changed')!.who).toBe('miller');
  });
});

describe('Passable doors and those who stand in their way', () => {
  it('raises enter and leave for a passable door, caused by its motion when it is the door that moved', () => {
    const curtain = door('Curtain', 0, 0, { solid: false, travel: { x: 3, y: 0, z: 0 }, timing: { by: 'seconds', seconds: 1 } });
    const { entries } = run({
      zones: [zone('Bell', 5, 0)],
      fixtures: [curtain],
      visitors: [visitor('Miller', 0, 0), visitor('Goose', 5, 0)],
      chains: [chain('Pull', [cause('enter', 'bell')], [step('open', { door: 'curtain' })])],
      walks: [walk({})],
    });
    const leave = entries.find((entry) => entry.kind === 'leave' && entry.what === 'curtain')!;
    expect(entries[leave.cause! - 1]!.kind).toBe('moving');
    expect(entries.find((entry) => entry.kind === 'enter' && entry.what === 'curtain')!.cause).toBeNull();
  });
});

it('names the cycle when a tick runs away', () => {
  const instant = { timing: { by: 'seconds', seconds: 0 } };
  const { entries } = run({
    zones: [zone('Doorstep', 0, 0)],
    fixtures: [door('Gate', 9, 9, instant)],
    visitors: [visitor('Miller', 0, 0)],
    chains: [
      chain('Begin', [cause('enter', 'doorstep')], [step('open', { door: 'gate' })]),
      chain('Shut', [cause('opened', 'gate')], [step('close', { door: 'gate' })]),
      chain('Open again', [cause('closed', 'gate')], [step('open', { door: 'gate' })]),
    ],
    walks: [walk({})],
  });
  const runaway = entries.at(-2)!;
  expect(runaway.kind).toBe('runaway');
  expect(said(runaway)['cycle']).toEqual(
    expect.arrayContaining([expect.stringContaining('of shut'), expect.stringContaining('of open-again')]),
  );
  expect(entries.at(-1)!.details).toEqual({ reason: 'runaway' });
});

it('never changes the level that it rehearses', () => {
  const level = levelOf({ visitors: [visitor('Miller', 0, 0)], walks: [walk({ miller: [goTo(3, 3)] })] });
  const before = JSON.stringify(level);
  rehearse(level, level.walks[0]!);
  expect(JSON.stringify(level)).toBe(before);
});
