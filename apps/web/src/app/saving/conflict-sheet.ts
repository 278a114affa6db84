import { ChangeDetectionStrategy, Component, computed, inject, output, signal } from '@angular/core';
import { EditError, apply, collectionWord, differences } from '@nettlewick/core';
import type { Edit, Level } from '@nettlewick/core';
import { Store } from '@ngrx/store';
import { NzModalModule } from 'ng-zorro-antd/modal';
import { LevelActions } from '../state/level.actions';
import { studioFeature } from '../state/studio.feature';
import { LevelsApi, failureText } from './levels-api';
import { replacing } from './replacing';

/** Two versions of one level side by side, and the ways out; none of them loses either. */
@Component({
  selector: 'nw-conflict-sheet',
  imports: [NzModalModule],
  templateUrl: './conflict-sheet.html',
  styleUrl: './conflict-sheet.css',
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class ConflictSheet {
  readonly closed = output();
  private readonly store = inject(Store);
  private readonly api = inject(LevelsApi);
  private readonly state = this.store.selectSignal(studioFeature.selectStudioState);
  protected readonly wrong = signal<string | null>(null);
  protected readonly theirs = computed(() => this.state().theirs);
  protected readonly rows = computed(() => {
    const { level, theirs } = this.state();
    if (level === null || theirs === null) return [];
    return differences(level, theirs.level).map((one) => ({
      id: one.id,
      name: (one.first ?? one.second)?.name ?? one.id,
      word: collectionWord[one.collection],
      ours: one.first === null ? 'not there' : one.second === null ? 'there' : brief(one.first, one.fields),
      theirs: one.second === null ? 'not there' : one.first === null ? 'there' : brief(one.second, one.fields),
    }));
  });

  /** Ours becomes the newest revision; theirs stays in the history as the one before. */
  protected keepOurs(): void {
    const { level } = this.state();
    if (level !== null) this.store.dispatch(LevelActions.conflictResolved({ level, edit: this.fromTheirs(level) }));
  }

  /** Theirs is opened, and ours can be had back with undo. */
  protected takeTheirs(): void {
    const { level, theirs } = this.state();
    if (level === null || theirs === null) return;
    this.store.dispatch(LevelActions.conflictResolved({ level: theirs.level, edit: replacing(level, theirs.level) }));
  }

  /** Our edits are made again upon theirs, as far as what they change is still there. */
  protected replay(): void {
    const { undo, theirs } = this.state();
    if (theirs === null) return;
    try {
      const level = undo.reduce<Level>(apply, theirs.level);
      this.store.dispatch(LevelActions.conflictResolved({ level, edit: { kind: 'all', label: 'replay', edits: undo } }));
    } catch (error) {
      if (!(error instanceof EditError)) throw error;
      this.wrong.set(`Our edits do not fit on theirs: ${error.message}. Keep both instead.`);
    }
  }

  /** Ours is stored as a level of its own; this one goes on as theirs. */
  protected async keepBoth(): Promise<void> {
    const { level } = this.state();
    if (level === null) return;
    const name = `${level.name.trim().slice(0, 72)} (ours)`;
    const answer = await this.api.create({ ...level, name });
    if (answer.ok) this.takeTheirs();
    else this.wrong.set(failureText(answer));
  }

  private fromTheirs(level: Level): Edit | null {
    const { theirs } = this.state();
    return theirs === null ? null : replacing(theirs.level, level);
  }
}

function brief(thing: object, fields: readonly string[]): string {
  const text = fields.map((field) => `${field}: ${JSON.stringify((thing as Record<string, unknown>)[field])}`).join('; ');
  return text.length > 160 ? text.slice(0, 157) + '…' : text;
}
