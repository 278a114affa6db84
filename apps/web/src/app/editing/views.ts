import { Injectable, computed, inject } from '@angular/core';
import { Router } from '@angular/router';
import { LevelStore } from '../state/level-store';
import { ChainLayout } from './bands';
import { Editor } from '../state/editor';
import { Rooms } from '../state/rooms';

/** The views of the studio, in the order of the work. */
export const viewNames = ['draw', 'wire', 'rehearse', 'check'] as const;
export type ViewName = (typeof viewNames)[number];

/** The addresses of the views of the open level. */
@Injectable()
export class Views {
  private readonly levelId = inject(LevelStore).levelId;
  private readonly router = inject(Router);
  private readonly editor = inject(Editor);
  private readonly rooms = inject(Rooms);
  private readonly bands = inject(ChainLayout);

  /** Goes where a thing can be seen, with it in hand: a walk where it is rehearsed, a chain where it is wired, all else where it is drawn. */
  show(id: string): void {
    const collection = this.editor.find(id)?.collection;
    if (collection === 'walks') return this.rehearse(id, null);
    this.rooms.takeInHand(id);
    if (collection === 'chains') this.bands.ask(id);
    void this.router.navigate(this.path(collection === 'chains' ? 'wire' : 'draw'));
  }

  /** Opens a walk in Rehearse, at a tick if one is given. */
  rehearse(walk: string, tick: number | null): void {
    void this.router.navigate(this.path('rehearse'), { queryParams: tick === null ? { walk } : { walk, tick } });
  }

  /** Opens “Why not?” in Rehearse for a thing. */
  askWhy(about: string): void {
    void this.router.navigate(this.path('rehearse'), { queryParams: { about } });
  }

  /** The same list until another level is opened: opening another level makes new links. */
  path(view: ViewName): string[] {
    return this.paths()[view];
  }
  private readonly paths = computed(() => {
    const to = (view: ViewName): string[] => ['/levels', this.levelId() ?? '', view];
    return { draw: to('draw'), wire: to('wire'), rehearse: to('rehearse'), check: to('check') };
  });
}
