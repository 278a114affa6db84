import { Injectable, inject } from '@angular/core';
import { LevelStore } from '../state/level-store';

/** The places of the studio in the order of the work. */
export const placeNames = ['draw', 'wire', 'rehearse', 'check'] as const;
export type PlaceName = (typeof placeNames)[number];

/** Where the places of the open level are. */
@Injectable()
export class Places {
  private readonly levelId = inject(LevelStore).levelId;

  path(place: PlaceName): string[] {
    return ['/levels', this.levelId() ?? '', place];
  }
}
