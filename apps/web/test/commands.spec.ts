import { fixtureNames } from '@nettlewick/core';
import { commandTable, keyOf, keyText, stencils } from '../src/app/studio/command-table';

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
    expect(keyOf(new KeyboardEvent('keydown', pressed))).toBe(key);
    expect(keyText(key)).toBe(text);
  });
});
