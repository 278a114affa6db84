import type { StoredLevel } from '@nettlewick/contract';
import type { Edit, Level } from '@nettlewick/core';
import type { Draft } from '../saving/shelf';
import { createActionGroup, emptyProps, props } from '@ngrx/store';

/** Everything that can happen to the level on the drawing board. */
export const LevelActions = createActionGroup({
  source: 'Level',
  events: {
    Open: props<{ levelId: string }>(),
    Opened: props<{
      level: Level;
      sent: Level;
      revision: number;
      attempts: string[];
      undo: Edit[];
      redo: Edit[];
      theirs: StoredLevel | null;
      offline: boolean;
      session: string;
      found: Draft[];
    }>(),
    Failed: props<{ detail: string }>(),
    Edit: props<{ edit: Edit; gesture?: string }>(),
    Undo: emptyProps(),
    Redo: emptyProps(),
    Select: props<{ ids: string[] }>(),
    'Save Started': props<{ attempt: string }>(),
    Saved: props<{ levelId: string; level: Level; revision: number }>(),
    'Save Failed': props<{ levelId: string; saving: 'offline' | 'refused'; detail: string }>(),
    'Conflict Found': props<{ theirs: StoredLevel }>(),
    'Conflict Resolved': props<{ level: Level; edit: Edit | null }>(),
    /** Another window has saved, and nothing of this one goes against it. */
    'Theirs Taken': props<{ theirs: StoredLevel; edits: Edit[] }>(),
    'Kept Draft': props<{ kept: boolean }>(),
    /** What was found of another tab's has been taken over, kept elsewhere, or thrown away. */
    'Found Settled': props<{ session: string }>(),
  },
});
