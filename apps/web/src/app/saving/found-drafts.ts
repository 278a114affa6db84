import { DatePipe } from '@angular/common';
import { ChangeDetectionStrategy, Component, inject, signal } from '@angular/core';
import { Editor } from '../state/editor';
import { LevelStore } from '../state/level-store';
import { LevelLoader } from './opening';
import type { Draft } from '../workers/draft-database';
import { failureText } from '../workers/api-client';
import { LevelsApi } from './levels-api';
import { replacing } from './replacing';
import { replayed } from './replayed';

/** Offers what other tabs of this browser, closed by now, have left unsent of the open level. Nothing goes unasked. */
@Component({
  selector: 'nw-found-drafts',
  imports: [DatePipe],
  template: `
    @for (draft of found(); track draft.session) {
      <div class="notice-bar" role="region" aria-label="Unsaved edits from another window">
        <span
          >Unsaved edits from another window
          @if (draft.keptAt > 0) {
            ({{ draft.keptAt | date: 'd MMM, HH:mm' }}),
          }
          based on revision {{ draft.revision }}.</span
        >
        <button type="button" class="button first" (click)="take(draft)">Apply them here</button>
        <button type="button" class="button" (click)="keepApart(draft)">Save as new level</button>
        <button type="button" class="button" (click)="discard(draft)">Discard</button>
        @if (error(); as reason) {
          <span class="wrong" role="alert">{{ reason }}</span>
        }
      </div>
    }
  `,
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class FoundDrafts {
  private readonly opening = inject(LevelLoader);
  private readonly api = inject(LevelsApi);
  private readonly editor = inject(Editor);
  private readonly store = inject(LevelStore);
  protected readonly found = this.store.found;
  protected readonly error = signal<string | null>(null);

  /** Its edits are made on the open level, as one edit that can be undone. */
  protected async take(draft: Draft): Promise<void> {
    const now = this.editor.level();
    const made = await replayed(this.api, draft.levelId, draft.revision, draft.level, now);
    if (!made.ok) {
      this.error.set(`${made.error} Save as new level instead.`);
      return;
    }
    this.editor.edit(replacing(now, made.level));
    this.store.tell(made);
    this.settled(draft);
  }

  protected async keepApart(draft: Draft): Promise<void> {
    const name = `${draft.level.name.trim().slice(0, 66)} (other window)`;
    const answer = await this.api.create({ ...draft.level, name });
    if (answer.ok) this.settled(draft);
    else this.error.set(failureText(answer));
  }

  protected discard(draft: Draft): void {
    this.settled(draft);
  }

  private settled({ session }: Draft): void {
    this.error.set(null);
    void this.opening.settle(session);
  }
}
