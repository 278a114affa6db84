import { Injectable, computed, inject } from '@angular/core';
import { isBodied, isUndrawn } from '@nettlewick/core';
import { EditImpactStore } from '../state/aftermaths';
import { Editor } from '../state/editor';

/** What a newcomer does next, in words, and where. */
export type Next =
  { does: 'people' | 'draw' | 'wire' | 'rehearse'; says: string } | { does: 'select'; says: string; thing: string };

/** Says the next step until a first chain fires on a walk. */
@Injectable()
export class NextStep {
  private readonly editor = inject(Editor);
  private readonly aftermaths = inject(EditImpactStore);

  readonly now = computed<Next | null>(() => {
    const fires = this.aftermaths.found()?.fires;
    const { visitors, zones, fixtures, chains, walks } = this.editor.level();
    if (!visitors.some(({ kind }) => kind === 'player')) return { does: 'people', says: 'Add a player to walk the level.' };
    const source = zones[0] ?? fixtures.find(isBodied);
    if (source === undefined) return { does: 'draw', says: 'Draw a trigger zone, or place a set piece.' };
    // Passages and things to collect work without a chain.
    if (chains.length === 0 && fires === true) return null;
    if (chains.length === 0)
      return {
        does: 'select',
        thing: source.id,
        says: `Select ${source.name.trim()} and choose an event.`,
      };
    if (chains.every(({ steps }) => steps.length === 0)) return { does: 'wire', says: 'Add a step to the chain.' };
    if (walks.every(isUndrawn)) return { does: 'rehearse', says: 'Draw a walk into the zone and see what fires.' };
    if (fires === false)
      return { does: 'rehearse', says: `Nothing fired. Route the walk through ${source.name.trim()}, or open “Why not?”.` };
    return null;
  });
}
