import { ChangeDetectionStrategy, Component, computed, inject, output, signal } from '@angular/core';
import { RouterLink } from '@angular/router';
import {
  collectionWord,
  collections,
  connections,
  createThing,
  describe,
  describeLevel,
  kindOfFixture,
  wordOf,
} from '@nettlewick/core';
import type { Fixture, Collection, Thing } from '@nettlewick/core';
import { Sentence } from '../sentence/sentence';
import { NameField } from '../sentence/name-field';
import { ConnectionList } from '../wire/connection-list';
import { Editor, THE_LEVEL } from '../studio/editor';
import { Rooms } from '../studio/rooms';

interface Line {
  id: string;
  name: string;
  word: string;
}

const shownAtMost = 300;

/** The sheet beside the plan: the selected thing in sentences, or the index of everything in the level. */
@Component({
  selector: 'nw-thing-sheet',
  imports: [Sentence, NameField, ConnectionList, RouterLink],
  templateUrl: './thing-sheet.html',
  styleUrl: './thing-sheet.css',
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class ThingSheet {
  readonly revealed = output<string>();
  protected readonly editor = inject(Editor);
  private readonly rooms = inject(Rooms);
  protected readonly theLevel = THE_LEVEL;
  protected readonly levelPhrases = computed(() => describeLevel(this.editor.level()));
  protected readonly wanted = signal('');
  protected readonly one = computed(() => (this.editor.selected().length === 1 ? this.editor.selected()[0]! : null));
  protected readonly phrases = computed(() => {
    const one = this.one();
    return one === null ? [] : describe(one.collection, one.thing);
  });
  protected readonly word = computed(() => {
    const one = this.one();
    return one === null ? '' : longWord(one.collection, one.thing);
  });
  /** By its id alone: a thing that is being dragged is wired as it was. */
  private readonly id = computed(() => this.one()?.thing.id ?? null);
  protected readonly isWired = computed(() => {
    const id = this.id();
    if (id === null) return false;
    const { setsOff, askedBy, actedOnBy } = connections(this.editor.level(), id);
    return setsOff.length + askedBy.length + actedOnBy.length > 0;
  });
  protected readonly index = computed<Line[]>(() => {
    const wanted = this.wanted().trim().toLowerCase();
    const level = this.editor.level();
    return collections
      .filter((collection) => collection !== 'chains' && collection !== 'walks')
      .flatMap((collection) =>
        level[collection].map((thing) => ({ id: thing.id, name: thing.name.trim(), word: longWord(collection, thing) })),
      )
      .filter(({ name, word }) => wanted === '' || name.toLowerCase().includes(wanted) || word.includes(wanted));
  });
  protected readonly listed = computed(() => this.index().slice(0, shownAtMost));

  protected choose(id: string): void {
    this.editor.select(id);
    this.revealed.emit(id);
  }

  /** A room is a coordinate space of its own: the new one is put on the board at once. */
  protected addRoom(): void {
    const id = this.editor.newId('room');
    this.editor.add('rooms', createThing(this.editor.level(), 'room', id, '', { x: 0, y: 0, z: 0 }));
    this.rooms.choose(id);
    this.editor.select(id);
  }

  protected addFlag(): void {
    const id = this.editor.newId('flag');
    this.editor.addFlag(id);
    this.editor.select(id);
  }
}

function longWord(collection: Collection, thing: Thing): string {
  if (collection === 'fixtures') return kindOfFixture((thing as Fixture).kind).word;
  return collection === 'visitors' ? wordOf(collection, thing) : collectionWord[collection];
}
