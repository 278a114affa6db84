import { ChangeDetectionStrategy, Component, inject, output, signal } from '@angular/core';
import type { Edit, Level } from '@nettlewick/core';
import { NzModalModule } from 'ng-zorro-antd/modal';
import { LevelStore } from '../state/level-store';
import { DialogName } from '../controls/dialog-name';
import { failureText } from '../workers/api-client';
import { LevelDifferences } from './level-differences';
import { LevelsApi } from './levels-api';
import { replacing } from './replacing';
import { replayed } from './replayed';

/** Two versions of one level side by side, and the ways out; none of them loses either. */
@Component({
  selector: 'nw-conflict-dialog',
  imports: [DialogName, LevelDifferences, NzModalModule],
  templateUrl: './conflict-dialog.html',
  styleUrl: './conflict-dialog.css',
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class ConflictDialog {
  readonly closed = output();
  private readonly store = inject(LevelStore);
  private readonly api = inject(LevelsApi);
  protected readonly error = signal<string | null>(null);
  protected readonly theirs = this.store.theirs;
  protected readonly ours = this.store.level;

  /** Ours becomes the newest revision; theirs stays in the history as the one before. */
  protected keepOurs(): void {
    const { level } = this.store.now();
    if (level !== null) this.store.resolveConflict(level, this.fromTheirs(level));
  }

  /** Theirs is opened, and ours can be had back with undo. */
  protected takeTheirs(): void {
    const { level, theirs } = this.store.now();
    if (level === null || theirs === null) return;
    this.store.resolveConflict(theirs.level, replacing(level, theirs.level));
  }

  /** What we have changed since the revision that we began from is changed in theirs, as far as it is still there. */
  protected async replay(): Promise<void> {
    const { level, levelId, revision, theirs } = this.store.now();
    if (level === null || levelId === null || theirs === null) return;
    const made = await replayed(this.api, levelId, revision, level, theirs.level);
    if (made.ok) {
      this.store.resolveConflict(made.level, replacing(theirs.level, made.level));
      this.store.tell(made);
    } else this.error.set(`${made.error} Keep both instead.`);
  }

  /** Ours is stored as a level of its own; this one goes on as theirs. */
  protected async keepBoth(): Promise<void> {
    const { level } = this.store.now();
    if (level === null) return;
    const name = `${level.name.trim().slice(0, 72)} (ours)`;
    const answer = await this.api.create({ ...level, name });
    if (answer.ok) this.takeTheirs();
    else this.error.set(failureText(answer));
  }

  private fromTheirs(level: Level): Edit | null {
    const { theirs } = this.store.now();
    return theirs === null ? null : replacing(theirs.level, level);
  }
}
