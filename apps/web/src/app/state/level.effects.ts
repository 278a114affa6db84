import { Injectable, inject } from '@angular/core';
import type { StoredLevel } from '@nettlewick/contract';
import { fingerprint, same } from '@nettlewick/core';
import { Actions, createEffect, ofType } from '@ngrx/effects';
import { Store } from '@ngrx/store';
import { distinctUntilChanged, filter, map, mergeMap, switchMap, withLatestFrom } from 'rxjs';
import { Drafts } from '../saving/drafts';
import { Keeper } from '../saving/keeper';
import type { Draft } from '../saving/shelf';
import { failureText } from '../saving/asking';
import { LevelsApi } from '../saving/levels-api';
import { Session } from '../saving/session';
import { LevelActions } from './level.actions';
import { studioFeature } from './studio.feature';

/** Opens levels, and keeps a draft of every state of the open one in this browser. */
@Injectable()
export class LevelEffects {
  private readonly actions = inject(Actions);
  private readonly store = inject(Store);
  private readonly api = inject(LevelsApi);
  private readonly drafts = inject(Drafts);
  private readonly keeper = inject(Keeper);
  private readonly session = inject(Session);

  readonly open = createEffect(() =>
    this.actions.pipe(
      ofType(LevelActions.open),
      switchMap(({ levelId }) => this.read(levelId)),
    ),
  );

  /** Every newest state is handed over at once: of those that wait to be written only the last is. */
  readonly keep = createEffect(() =>
    this.store.select(studioFeature.selectDraft).pipe(
      filter((draft): draft is Draft => draft !== null && (draft.unsent || draft.undo.length + draft.redo.length > 0)),
      distinctUntilChanged(),
      mergeMap((draft) => this.keeper.keep({ ...draft, keptAt: Date.now() })),
      map((kept) => LevelActions.keptDraft({ kept })),
    ),
  );

  readonly settle = createEffect(
    () =>
      this.actions.pipe(
        ofType(LevelActions.foundSettled),
        withLatestFrom(this.store.select(studioFeature.selectLevelId)),
        mergeMap(([{ session }, levelId]) => (levelId === null ? Promise.resolve() : this.drafts.forget(levelId, session))),
      ),
    { dispatch: false },
  );

  /**
   * The level from the server, with what this tab has of it that the server has not; else with what a tab that is closed by
   * now has left, if that fits. What else was left is offered.
   */
  private async read(levelId: string) {
    const session = await this.session.id;
    const [answer, own, left] = await Promise.all([
      this.api.open(levelId),
      this.drafts.find(levelId, session),
      this.drafts.leftBehind(levelId, (sessions) => this.session.gone(sessions)),
    ]);
    const theirs = answer.ok ? answer.value : null;
    const taken = own ?? left.find((draft) => theirs === null || fitsOn(draft, theirs)) ?? null;
    const found = left.filter((draft) => draft !== taken && (theirs === null || !same(draft.level, theirs.level)));
    if (taken !== null && taken !== own) {
      await this.drafts.keep({ ...taken, session });
      await this.drafts.forget(levelId, taken.session);
    }
    if (theirs === null) {
      if (answer.ok || !answer.offline || taken === null)
        return LevelActions.failed({ detail: answer.ok ? '' : failureText(answer) });
      const { level, revision, attempts, undo, redo, unsent } = taken;
      const sent = unsent ? { ...level } : level;
      return LevelActions.opened({ level, sent, revision, attempts, undo, redo, theirs: null, offline: true, session, found });
    }
    const fresh = {
      level: theirs.level,
      sent: theirs.level,
      revision: theirs.revision,
      attempts: [],
      undo: [],
      redo: [],
      theirs: null,
      offline: false,
      session,
      found,
    };
    if (taken === null) return LevelActions.opened(fresh);
    const { level, undo, redo } = taken;
    if (same(level, theirs.level)) return LevelActions.opened({ ...fresh, undo, redo });
    if (!taken.unsent) return LevelActions.opened(fresh);
    const conflict = !fitsOn(taken, theirs);
    return LevelActions.opened({
      ...fresh,
      level,
      undo,
      redo,
      revision: conflict ? taken.revision : theirs.revision,
      theirs: conflict ? theirs : null,
    });
  }
}

/** Whether nobody else has saved since a draft was begun. The server may have taken a save although its answer was lost. */
function fitsOn(draft: Draft, theirs: StoredLevel): boolean {
  return draft.revision === theirs.revision || draft.attempts.includes(fingerprint(theirs.level));
}
