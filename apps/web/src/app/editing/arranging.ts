import {
  alignThings,
  alignments,
  centreZone,
  change,
  coverWithZone,
  freeGroup,
  groupEdit,
  servedBy,
  spreadThings,
} from '@nettlewick/core';
import type { Edit, Fixture, Zone } from '@nettlewick/core';
import type { Doing } from './commands';
import type { Editor } from '../state/editor';

/** The commands that bring several things in line or into a group, and those that fit a zone to what it serves. */
export function arranging(editor: Editor): Record<string, Doing> {
  const make = (edit: Edit | null): void => {
    if (edit !== null) editor.edit(edit);
  };
  const several = (edit: () => Edit | null): Doing => ({ when: () => editor.selection().length > 1, run: () => make(edit()) });
  const zone = (): Zone | null => {
    const [one, ...others] = editor.selected();
    return one?.collection === 'zones' && others.length === 0 ? (one.thing as Zone) : null;
  };
  /** Does something with the zone in hand and what it serves, and says which that was. */
  const fitted = (fit: (own: Zone, served: Fixture) => Edit | null): Doing => ({
    when: () => zone() !== null,
    run: () => {
      const own = zone();
      const served = own === null ? null : servedBy(editor.level(), own);
      if (own === null) return;
      if (served === null) {
        editor.say('This room has no fixture to fit the zone to.');
        return;
      }
      make(fit(own, served));
      editor.say(`${own.name.trim()} serves ${served.name.trim()}.`);
    },
  });
  return {
    ...Object.fromEntries(
      alignments.map((how): [string, Doing] => [
        `align-${how}`,
        several(() => alignThings(editor.level(), editor.selection(), how)),
      ]),
    ),
    'spread-x': several(() => spreadThings(editor.level(), editor.selection(), 'x')),
    'spread-y': several(() => spreadThings(editor.level(), editor.selection(), 'y')),
    group: several(() => groupEdit(editor.level(), editor.selection(), freeGroup(editor.level()))),
    ungroup: {
      when: () => editor.selection().length > 0,
      run: () => make(groupEdit(editor.level(), editor.selection(), '')),
    },
    centre: fitted(centreZone),
    cover: fitted(coverWithZone),
    attach: fitted((own, served) => change('zones', own, { attachedTo: served.id })),
  };
}
