import { Injectable, computed, inject } from '@angular/core';
import { isBodied } from '@nettlewick/core';
import { Aftermaths } from '../rehearse/aftermaths';
import { Editor } from './editor';

/** What a newcomer does next, in words, and where. */
export type Next =
  { does: 'people' | 'draw' | 'wire' | 'rehearse'; says: string } | { does: 'select'; says: string; thing: string };

/** Says the next step until a first chain fires on a walk. */
@Injectable()
export class NextStep {
  private readonly editor = inject(Editor);
  private readonly aftermaths = inject(Aftermaths);

  readonly now = computed<Next | null>(() => {
    const { visitors, zones, fixtures, chains, walks } = this.editor.level();
    if (!visitors.some(({ kind }) => kind === 'player'))
      return { does: 'people', says: 'Somebody has to walk: put a player on the plan.' };
    const source = zones[0] ?? fixtures.find(isBodied);
    if (source === undefined)
      return { does: 'draw', says: 'Draw the place that sets something off, or place a set piece that works already.' };
    if (chains.length === 0)
      return {
        does: 'select',
        thing: source.id,
        says: `Say what happens at ${source.name.trim()}: take it in hand, and press the event.`,
      };
    if (chains.every(({ steps }) => steps.length === 0))
      return { does: 'wire', says: 'The chain does nothing yet: give it a step.' };
    if (walks.every(({ routes }) => routes.every(({ instructions }) => instructions.length === 0)))
      return { does: 'rehearse', says: 'Walk into it: draw where the player goes, and read what fires.' };
    if (this.aftermaths.found()?.fires === false)
      return { does: 'rehearse', says: `Nothing has fired yet: lead the walk to ${source.name.trim()}, or ask “Why not?”.` };
    return null;
  });
}
