import { DatePipe } from '@angular/common';
import { ChangeDetectionStrategy, Component, computed, effect, inject, input, output, signal } from '@angular/core';
import type { Revision, StoredLevel } from '@nettlewick/contract';
import { NzModalModule } from 'ng-zorro-antd/modal';
import { LevelStore } from '../state/level-store';
import { Editor } from '../state/editor';
import { Pager, partOf } from '../controls/pager';
import { failureText } from '../workers/api-client';
import { LevelDifferences } from './level-differences';
import { LevelsApi } from './levels-api';
import { replacing } from './replacing';

/** The number of revisions listed at once. */
const PAGE_SIZE = 60;

/** The revisions of a level. Going back to one is an edit like any other: it can be undone. */
@Component({
  selector: 'nw-revision-list',
  imports: [DatePipe, LevelDifferences, NzModalModule, Pager],
  template: `
    @if (error(); as reason) {
      <p class="wrong" role="alert">{{ reason }}</p>
    }
    <p class="quiet">
      Kept: every save for a day, one per hour for a week, then one per day. Named and restored revisions are kept forever. You
      can undo a restore.
    </p>
    <nw-pager what="revisions" [total]="revisions().length" [size]="atOnce" [(at)]="first" />
    <ol>
      @for (one of shown(); track one.number) {
        <li>
          <span
            ><b>Revision {{ one.number }}</b
            >, {{ one.savedAt | date: 'd MMM y, HH:mm:ss' }}
            <span class="summary">{{ one.summary ?? (one.number === 1 ? 'Level created' : 'Whole level saved') }}</span>
            <input
              #name
              class="field"
              placeholder="No name"
              autocomplete="off"
              [attr.aria-label]="'Name of revision ' + one.number"
              [value]="one.name ?? ''"
              (keydown.enter)="name.blur()"
              (blur)="call(one, name.value)"
          /></span>
          <span class="ways">
            @if (revisions().length > 1) {
              <button
                type="button"
                class="button"
                [attr.aria-pressed]="chosen() === one.number"
                [attr.aria-label]="compareText(one.number) + (chosen() === null ? ' revision ' + one.number : '')"
                (click)="compare(one.number)"
              >
                {{ compareText(one.number) }}
              </button>
            }
            <button type="button" class="button" [disabled]="one.number === current()" (click)="goBack(one.number)">
              {{ one.number === current() ? 'Current' : 'Restore' }}
            </button>
          </span>
        </li>
      }
    </ol>
    @if (compared(); as two) {
      <nz-modal
        [nzTitle]="'Revisions ' + two[0].revision + ' and ' + two[1].revision"
        [nzVisible]="true"
        [nzWidth]="900"
        [nzFooter]="null"
        (nzOnCancel)="compared.set(null)"
      >
        <nw-level-differences
          *nzModalContent
          [first]="two[0].level"
          [second]="two[1].level"
          [firstTitle]="'revision ' + two[0].revision"
          [secondTitle]="'revision ' + two[1].revision"
          nothing="Nothing differs but the order of lists, if anything."
        />
      </nz-modal>
    }
  `,
  styles: `
    ol {
      list-style: none;
      padding: 0;
      margin: 0;
    }
    .ways {
      display: flex;
      gap: 6px;
    }
    .summary {
      display: block;
      color: var(--ink-soft);
    }
    .field {
      display: block;
      width: 20ch;
      margin-top: 4px;
    }
    li {
      display: flex;
      justify-content: space-between;
      align-items: center;
      padding: 4px 0;
      border-bottom: 1px solid var(--line);
    }
  `,
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class RevisionList {
  readonly levelId = input.required<string>();
  readonly done = output();
  private readonly api = inject(LevelsApi);
  private readonly editor = inject(Editor);
  protected readonly current = inject(LevelStore).revision;
  protected readonly revisions = signal<Revision[]>([]);
  protected readonly error = signal<string | null>(null);
  protected readonly first = signal(0);
  /** The revision that another is to be compared with; and two that are. */
  protected readonly chosen = signal<number | null>(null);
  protected readonly compared = signal<[StoredLevel, StoredLevel] | null>(null);
  protected readonly atOnce = PAGE_SIZE;
  protected readonly shown = computed(() => partOf(this.revisions(), this.first(), PAGE_SIZE));

  constructor() {
    effect(() => void this.load(this.levelId(), this.current()));
  }

  protected async goBack(number: number): Promise<void> {
    const answer = await this.api.openRevision(this.levelId(), number);
    if (!answer.ok) {
      this.error.set(failureText(answer));
      return;
    }
    this.editor.edit(replacing(this.editor.level(), answer.value.level));
    void this.api.keepRevision(this.levelId(), number, { kept: true });
    this.done.emit();
  }

  /** What the button of a revision does: the first press chooses it, the second compares another with it. */
  protected compareText(number: number): string {
    const chosen = this.chosen();
    return chosen === null ? 'Compare' : chosen === number ? 'Choose another' : `Compare with ${chosen}`;
  }

  protected async compare(number: number): Promise<void> {
    const chosen = this.chosen();
    if (chosen === null || chosen === number) {
      this.chosen.set(chosen === null ? number : null);
      return;
    }
    const [first, second] = await Promise.all(
      [Math.min(chosen, number), Math.max(chosen, number)].map((one) => this.api.openRevision(this.levelId(), one)),
    );
    const failed = [first!, second!].find((answer) => !answer.ok);
    this.error.set(failed === undefined || failed.ok ? null : failureText(failed));
    if (first!.ok && second!.ok) this.compared.set([first!.value, second!.value]);
    this.chosen.set(null);
  }

  protected async call(one: Revision, text: string): Promise<void> {
    const name = text.trim() === '' ? null : text.trim();
    if (name === one.name) return;
    const answer = await this.api.keepRevision(this.levelId(), one.number, { name });
    this.error.set(answer.ok ? null : failureText(answer));
    if (answer.ok) this.revisions.update((all) => all.map((other) => (other.number === one.number ? answer.value : other)));
  }

  private async load(levelId: string, _current: number): Promise<void> {
    const answer = await this.api.revisions(levelId);
    if (answer.ok) this.revisions.set(answer.value);
    this.error.set(answer.ok ? null : failureText(answer));
  }
}
