import { ChangeDetectionStrategy, Component, computed, inject, output, signal } from '@angular/core';
import { chainSentence, collectionWord, describe, differences, differingFieldsOfLevel, nameOf, spoken } from '@nettlewick/core';
import type { Chain, Collection, Edit, Level, Thing } from '@nettlewick/core';
import { NzModalModule } from 'ng-zorro-antd/modal';
import { NzTableModule } from 'ng-zorro-antd/table';
import { LevelStore } from '../state/level-store';
import { DialogName } from '../controls/dialog-name';
import { Editor } from '../state/editor';
import { failureText } from '../workers/asking';
import { Pager, partOf } from '../controls/pager';
import { LevelsApi } from './levels-api';
import { replacing } from './replacing';
import { renamedText, replayed } from './replayed';

/** So many differences are shown at once. */
const AT_ONCE = 100;

/** Two versions of one level side by side, and the ways out; none of them loses either. */
@Component({
  selector: 'nw-conflict-sheet',
  imports: [DialogName, NzModalModule, NzTableModule, Pager],
  templateUrl: './conflict-sheet.html',
  styleUrl: './conflict-sheet.css',
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class ConflictSheet {
  readonly closed = output();
  private readonly store = inject(LevelStore);
  private readonly api = inject(LevelsApi);
  private readonly editor = inject(Editor);
  protected readonly wrong = signal<string | null>(null);
  protected readonly theirs = this.store.theirs;
  protected readonly rows = computed(() => {
    const [level, theirs] = [this.store.level(), this.store.theirs()];
    if (level === null || theirs === null) return [];
    const own = differingFieldsOfLevel(level, theirs.level).map((field) => ({
      id: field,
      name: field.replace(/[A-Z]/g, (letter) => ` ${letter.toLowerCase()}`),
      word: 'of the level',
      ours: brief(level[field]),
      theirs: brief(theirs.level[field]),
    }));
    const things = differences(level, theirs.level).map(({ id, collection, first, second, fields }) => {
      const ours = first === null ? null : sentences(level, collection, first);
      const others = second === null ? null : sentences(theirs.level, collection, second);
      return {
        id,
        name: (first ?? second)?.name ?? id,
        word: collectionWord[collection],
        ours: only(ours, others, fields),
        theirs: only(others, ours, fields),
      };
    });
    return [...own, ...things];
  });
  protected readonly first = signal(0);
  protected readonly atOnce = AT_ONCE;
  protected readonly shown = computed(() => partOf(this.rows(), this.first(), AT_ONCE));

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
      this.editor.say(renamedText(made.renamed));
    } else this.wrong.set(`${made.wrong} Keep both instead.`);
  }

  /** Ours is stored as a level of its own; this one goes on as theirs. */
  protected async keepBoth(): Promise<void> {
    const { level } = this.store.now();
    if (level === null) return;
    const name = `${level.name.trim().slice(0, 72)} (ours)`;
    const answer = await this.api.create({ ...level, name });
    if (answer.ok) this.takeTheirs();
    else this.wrong.set(failureText(answer));
  }

  private fromTheirs(level: Level): Edit | null {
    const { theirs } = this.store.now();
    return theirs === null ? null : replacing(theirs.level, level);
  }
}

/** A value of the level in a few words. */
function brief(value: unknown): string {
  return JSON.stringify(value).replace(/[{}"]/g, ' ').replace(/\s+/g, ' ').trim();
}

/** A thing in plain sentences. */
function sentences(level: Level, collection: Collection, thing: Thing): string[] {
  const named = (id: string): string => nameOf(level, id);
  const said =
    collection === 'chains'
      ? [chainSentence(thing as Chain, named)]
      : describe(collection, thing).map((phrase) => spoken(phrase, named));
  return [`Named ${thing.name}`, ...said];
}

/** The sentences of one side that the other does not say; or which fields differ, where no sentence tells. */
function only(side: string[] | null, other: string[] | null, fields: readonly string[]): string {
  if (side === null) return 'Missing';
  if (other === null) return 'It is there.';
  const own = side.filter((sentence) => !other.includes(sentence));
  return own.length > 0 ? own.join(' ') : `It differs in: ${fields.join(', ')}.`;
}
