import { fixtureNames, kindOfStep, stepNames } from '@nettlewick/core';
import { commandTable, shortcutOf, keyText, stencils } from '../src/app/editing/command-table';
import { stepsFor } from '../src/app/wire/step-menu';

describe('The table of commands', () => {
  it('gives no key to two commands that could be meant at once', () => {
    const all = [...commandTable.values()];
    for (const { keys, name, place } of all) {
      for (const key of keys) {
        const rivals = all.filter(
          (one) => one.keys.includes(key) && (one.place === place || one.place === 'everywhere' || place === 'everywhere'),
        );
        expect(rivals.map((one) => one.name)).toEqual([name]);
      }
    }
  });

  it('has a stencil for every kind of fixture', () => {
    expect(fixtureNames.filter((name) => !stencils.some((stencil) => stencil.name === name))).toEqual([]);
  });

  it.each([
    [{ key: 'z', ctrlKey: true }, 'Ctrl+Z', 'Ctrl Z'],
    [{ key: 'Z', metaKey: true, shiftKey: true }, 'Ctrl+Shift+Z', 'Ctrl Shift Z'],
    [{ key: 'ArrowLeft', shiftKey: true }, 'Shift+ArrowLeft', 'Shift ←'],
    [{ key: ' ' }, ' ', 'space'],
    [{ key: '+', shiftKey: true }, 'Shift++', 'Shift +'],
  ])('reads %j as %j and writes it as %j', (pressed, key, text) => {
    expect(shortcutOf(new KeyboardEvent('keydown', pressed))).toBe(key);
    expect(keyText(key)).toBe(text);
  });
});

describe('A step is found', () => {
  const first = (typed: string): string => stepsFor(typed, () => false)[0]?.kinds[0]?.name ?? 'none';

  it.each(stepNames)('by what the menu calls it, before all that is only meant by it: %s', (name) => {
    const { label } = kindOfStep(name);
    expect(first(label)).toBe(name);
  });

  it.each([
    ['speak', 'cue'],
    ['freeze', 'hold-visitor'],
    ['hold', 'hold-visitor'],
    ['lift', 'send'],
    ['velocity', 'stop-velocity'],
    ['delay', 'wait'],
    ['message', 'signal'],
    ['nonsense', 'none'],
  ])('by what designers say when they want it: %s', (typed, name) => {
    expect(first(typed)).toBe(name);
  });

  it('by nothing typed: what fits comes first, and all of them follow', () => {
    const [near, ...all] = stepsFor('', (name) => name === 'open');
    expect(near!.kinds.map(({ name }) => name)).toEqual(['open']);
    expect(all.flatMap(({ kinds }) => kinds).length).toBe(stepNames.length);
  });
});
