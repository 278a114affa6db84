import { Injectable, inject } from '@angular/core';
import { fingerprint, same } from '@nettlewick/core';
import { Actions, createEffect, ofType } from '@ngrx/effects';
import { Store } from '@ngrx/store';
import { concatMap, distinctUntilChanged, filter, map, switchMap } from 'rxjs';
import { Drafts } from '../saving/drafts';
import type { Draft } from '../saving/drafts';
import { LevelsApi, failureText } from '../saving/levels-api';
import { LevelActions } from './level.actions';
import { studioFeature } from './studio.feature';

/** Opens levels, and keeps a draft of every state of the open one in this browser. */
@Injectable()
export class LevelEffects {
  private readonly actions = inject(Actions);
  private readonly store = inject(Store);
  private readonly api = inject(LevelsApi);
  private readonly drafts = inject(Drafts);

  readonly open = createEffect(() =>
    this.actions.pipe(
      ofType(LevelActions.open),
      switchMap(({ levelId }) => this.read(levelId)),
    ),
  );

  readonly keep = createEffect(() =>
    this.store.select(studioFeature.selectDraft).pipe(
      filter((draft): draft is Draft => draft !== null && (draft.unsent || draft.undo.length + draft.redo.length > 0)),
      distinctUntilChanged(),
      concatMap((draft) => this.drafts.keep(draft)),
      map((kept) => LevelActions.keptDraft({ kept })),
    ),
  );

  /** The level from the server, with what this browser has of it that the server has not. */
  private async read(levelId: string) {
    const [answer, draft] = await Promise.all([this.api.open(levelId), this.drafts.find(levelId)]);
    if (!answer.ok) {
      if (!answer.offline || draft === null) return LevelActions.failed({ detail: failureText(answer) });
      const { level, revision, attempts, undo, redo } = draft;
      return LevelActions.opened({
        level,
        sent: draft.unsent ? { ...level } : level,
        revision,
        attempts,
        undo,
        redo,
        theirs: null,
        offline: true,
      });
    }
    const theirs = answer.value;
    const fresh = {
      level: theirs.level,
      sent: theirs.level,
      revision: theirs.revision,
      attempts: [],
      undo: [],
      redo: [],
      theirs: null,
      offline: false,
    };
    if (draft === null) return LevelActions.opened(fresh);
    const { level, undo, redo } = draft;
    if (same(level, theirs.level)) return LevelActions.opened({ ...fresh, undo, redo });
    if (!draft.unsent) return LevelActions.opened(fresh);
    // The server may have taken a save although its answer was lost.
    const conflict = draft.revision !== theirs.revision && !draft.attempts.includes(fingerprint(theirs.level));
    return LevelActions.opened({
      ...fresh,
      level,
      undo,
      redo,
      revision: conflict ? draft.revision : theirs.revision,
      theirs: conflict ? theirs : null,
    });
  }
}
