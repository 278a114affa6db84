import { computed } from '@angular/core';
import type { Signal } from '@angular/core';
import { connections, targetsOf } from '@nettlewick/core';
import type { Chain, Point } from '@nettlewick/core';
import { arrow } from '../board/arrow';
import type { Editor } from '../state/editor';
import type { Rooms } from '../state/rooms';

/** The most connection lines that are drawn. */
const MAX_LINES = 60;

/** What the thing in hand is connected with over chains, as light lines on the sheet: from what sets off to what is acted on. */
export function connectionLines(editor: Editor, rooms: Rooms): Signal<Point[][]> {
  return computed(() => {
    const [one, more] = editor.selected();
    const own = one === undefined || more !== undefined ? null : placeOf(editor, rooms, one.thing.id);
    if (own === null) return [];
    const level = editor.level();
    const { id } = one!.thing;
    const { setsOff, actedOnBy } = connections(level, id);
    const chainOf = (chain: string): Chain | undefined => editor.find(chain)?.thing as Chain | undefined;
    const acted = setsOff.flatMap((chain) => chainOf(chain)?.steps.flatMap((step) => targetsOf(level, step)) ?? []);
    const acting = actedOnBy.flatMap((chain) => chainOf(chain)?.causes.map(({ of }) => of) ?? []);
    const lines = (ids: readonly string[], line: (other: Point) => Point[]): Point[][] =>
      [...new Set(ids)].flatMap((other) => {
        const at = other === id ? null : placeOf(editor, rooms, other);
        return at === null ? [] : [line(at)];
      });
    return [...lines(acted, (to) => arrow(own, to)), ...lines(acting, (from) => arrow(from, own))].slice(0, MAX_LINES);
  });
}

/** Where a thing stands on the sheet that is shown; null if it stands on none, or on another. */
function placeOf(editor: Editor, rooms: Rooms, id: string): Point | null {
  const thing = editor.find(id)?.thing as { at?: Point; room?: string } | undefined;
  return thing?.at === undefined || thing.room !== rooms.current() ? null : thing.at;
}
