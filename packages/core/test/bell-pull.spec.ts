import { Conditions } from '../src/conditions/conditions';
import { lookup } from '../src/index';
import { at as vec, cause, chain, fixture, flag, goTo, levelOf, run, step, told, visitor, wait, walk } from './build';

type Raw = Record<string, unknown>;

describe('A bell-pull', () => {
  const quay = (more: Raw = {}, visitors: Raw[] = [visitor('Ferryman', 0, 0)]) =>
    run({
      fixtures: [fixture('bell-pull', 'Ferry bell', 3, 0, { size: vec(2, 2, 2), ...more })],
      flags: [flag('Ferry called')],
      visitors,
      chains: [
        chain('Calls', [cause('on', 'ferry-bell')], [step('set-flag', { flag: 'ferry-called', to: true })]),
        chain('Rests', [cause('off', 'ferry-bell')], [step('set-flag', { flag: 'ferry-called', to: false })]),
      ],
      walks: [walk(Object.fromEntries(visitors.map(({ id }, i) => [id, [wait(i), goTo(3, i / 4), wait(2), goTo(6, 0)]])))],
    }).entries;

  it('is pulled for as long as somebody stays in reach, and is asked by conditions', () => {
    const entries = quay();
    expect(told(entries, 'on', 'off')).toEqual(['18 on ferry-bell by ferryman', '63 off ferry-bell by ferryman']);
    const [enter, leave] = entries.filter((entry) => entry.kind === 'enter' || entry.kind === 'leave');
    expect(entries.filter((entry) => entry.kind === 'on' || entry.kind === 'off').map(({ cause: by }) => by)).toEqual([
      enter!.number,
      leave!.number,
    ]);
    expect(told(entries, 'changed')).toEqual(['18 changed ferry-called by ferryman', '63 changed ferry-called by ferryman']);
    const [enough] = new Conditions(lookup(levelOf({ fixtures: [fixture('bell-pull', 'Ferry bell', 3, 0)] })), () => true)
      .of('on("ferry-bell")')
      .verdict().read;
    expect(enough).toBe('on("ferry-bell") = true');
  });

  it('stays on while others are still in reach, whoever leaves first', () => {
    const two = [visitor('Ferryman', 0, 0), visitor('Miller', 0, 0)];
    expect(told(quay({}, two), 'on', 'off').map((line) => line.split(' ').slice(1).join(' '))).toEqual([
      'on ferry-bell by ferryman',
      'off ferry-bell by miller',
    ]);
  });

  it('is not pulled by who does not count, who raises no overlaps, or while it is disabled', () => {
    expect(told(quay({ pulledBy: ['creature'] }), 'on', 'off')).toEqual([]);
    expect(told(quay({}, [visitor('Ferryman', 0, 0, { raisesOverlaps: false })]), 'on', 'off')).toEqual([]);
    expect(told(quay({ enabled: false }), 'on', 'off')).toEqual([]);
    expect(told(quay({ pulledBy: [] }, [visitor('Goose', 0, 0, { kind: 'creature' })]), 'on', 'off')).toHaveLength(2);
  });
});
