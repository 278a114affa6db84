import { Injectable, inject } from '@angular/core';
import {
  add,
  createFact,
  createThing,
  factCollection,
  kindOfFixture,
  fixtureNames,
  stencils,
  createChain,
} from '@nettlewick/core';
import type { Edit, StateKind, FixtureName, Stencil, ThingWord } from '@nettlewick/core';
import { Editor } from '../state/editor';
import { Rooms } from '../state/rooms';

/** More kinds of thing than this are not offered to be made: a list of everything helps nobody. */
const OFFERED = 4;

/** What does not exist yet is made where it is named. */
@Injectable()
export class ThingFactory {
  private readonly editor = inject(Editor);
  private readonly rooms = inject(Rooms);

  /** What of the kinds that fit can be made on the spot. */
  words(accepts: readonly string[]): ThingWord[] {
    const made = accepts.filter((word) => word in factCollection || word in stencils || word === 'chain');
    return made.length > OFFERED ? [] : (made as ThingWord[]);
  }

  called(word: ThingWord): string {
    return fixtureNames.includes(word as FixtureName) ? kindOfFixture(word as FixtureName).word : word;
  }

  /** A new thing of a kind, beside what is in hand where it stands somewhere; not yet in the level. */
  make(word: ThingWord, name: string): { id: string; edit: Edit } {
    const level = this.editor.level();
    const id = this.editor.newId(word);
    if (word in factCollection)
      return { id, edit: add(level, factCollection[word as StateKind], createFact(level, word as StateKind, id, name)) };
    if (word === 'chain') return { id, edit: add(level, 'chains', createChain(level, id, name === '' ? 'New chain' : name, [])) };
    const stencil = word as Stencil;
    const room = level.rooms.find((one) => one.id === this.rooms.current());
    const near = this.editor.selected().find(({ thing }) => 'at' in thing)?.thing as { at: { x: number; y: number } } | undefined;
    const { west, east, south, north } = room?.extents ?? { west: 0, east: 0, south: 0, north: 0 };
    const at = near === undefined ? { x: (west + east) / 2, y: (south + north) / 2 } : { x: near.at.x + 1.5, y: near.at.y };
    const thing = createThing(level, stencil, id, room?.id ?? '', { ...at, z: room?.ground ?? 0 });
    const named = name.trim() === '' ? thing : { ...thing, name: this.editor.freeName(name.trim()) };
    return { id, edit: add(level, stencils[stencil].collection, named) };
  }
}
