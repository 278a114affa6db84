import { Injectable, computed, inject } from '@angular/core';
import { patchState, signalState } from '@ngrx/signals';
import { Editor } from './editor';

/** Which room of the level is on the board: the one chosen, or the first. */
@Injectable()
export class Rooms {
  private readonly state = signalState({ /** The room that was chosen; empty for the first. */ chosen: '' });
  readonly chosen = this.state.chosen;
  private readonly editor = inject(Editor);
  readonly current = computed(() => {
    const { rooms } = this.editor.level();
    return rooms.find((room) => room.id === this.chosen())?.id ?? rooms[0]?.id ?? '';
  });

  /** Every room, for a list to choose from. */
  readonly options = computed(() => this.editor.level().rooms.map(({ id, name }) => ({ value: id, label: name.trim() })));

  choose(id: string): void {
    patchState(this.state, { chosen: id });
  }

  /** Takes a thing in hand and puts the sheet on the board on which it stands, if it stands on one. */
  takeInHand(id: string): void {
    const found = this.editor.find(id);
    if (found === undefined) return;
    if (found.collection === 'rooms') this.choose(id);
    else if ('room' in found.thing) this.choose(String(found.thing.room));
    this.editor.select(id);
  }
}
