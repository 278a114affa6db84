import { Injectable, computed, inject, signal } from '@angular/core';
import { Editor } from './editor';

/** Which room of the level is on the board: the one chosen, or the first. */
@Injectable()
export class Rooms {
  private readonly editor = inject(Editor);
  private readonly chosen = signal('');
  readonly current = computed(() => {
    const { rooms } = this.editor.level();
    return rooms.find((room) => room.id === this.chosen())?.id ?? rooms[0]?.id ?? '';
  });

  choose(id: string): void {
    this.chosen.set(id);
  }
}
