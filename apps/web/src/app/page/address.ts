import { Injectable, effect, inject, untracked } from '@angular/core';
import { toSignal } from '@angular/core/rxjs-interop';
import { ActivatedRoute, Router } from '@angular/router';
import { LevelStore } from '../state/level-store';
import { Editor } from '../state/editor';
import { Rooms } from '../state/rooms';

/** More things than this are not written into the address: it is to stay one that can be sent. */
const WRITTEN = 8;

/**
 * The address says which room is shown and which things are in hand, so that reload, back, forward and a sent link come back to
 * the same. The level and the place are in its path, the walk and the entry beside them.
 */
@Injectable()
export class UrlState {
  private readonly router = inject(Router);
  private readonly route = inject(ActivatedRoute);
  private readonly editor = inject(Editor);
  private readonly rooms = inject(Rooms);
  private readonly level = inject(LevelStore).level;
  private readonly asked = toSignal(this.route.queryParamMap);
  /** What was read from the address, or written into it, last. */
  private known = ' ';

  constructor() {
    effect(() => {
      const asked = this.asked();
      if (asked === undefined || this.level() === null) return;
      untracked(() => this.read(asked.get('room'), asked.get('thing')));
    });
    effect(() => {
      if (this.level() === null) return;
      const things = this.editor.selection();
      const room = this.rooms.chosen();
      untracked(() => this.write(room, things));
    });
  }

  private read(room: string | null, thing: string | null): void {
    const key = `${room ?? ''} ${thing ?? ''}`;
    if (room === null && thing === null) {
      // Another place was gone to: what is in hand comes along.
      this.known = ' ';
      this.write(this.rooms.chosen(), this.editor.selection());
      return;
    }
    if (key === this.known) return;
    this.known = key;
    if (room !== null && this.editor.find(room)?.collection === 'rooms') this.rooms.choose(room);
    const ids = (thing ?? '').split(',').filter((id) => this.editor.find(id) !== undefined);
    if (ids.join() !== this.editor.selection().join()) this.editor.select(...ids);
  }

  private write(room: string, things: readonly string[]): void {
    const thing = things.slice(0, WRITTEN).join(',');
    const key = `${room} ${thing}`;
    if (key === this.known) return;
    this.known = key;
    void this.router.navigate([], {
      relativeTo: this.route,
      queryParams: { room: room === '' ? null : room, thing: thing === '' ? null : thing },
      queryParamsHandling: 'merge',
      replaceUrl: true,
    });
  }
}
