import { DatePipe } from '@angular/common';
import { ChangeDetectionStrategy, Component, computed, effect, inject, input, output, signal } from '@angular/core';
import type { Revision } from '@nettlewick/contract';
import { LevelStore } from '../state/level-store';
import { Editor } from '../state/editor';
import { Pager, partOf } from '../controls/pager';
import { failureText } from '../workers/asking';
import { LevelsApi } from './levels-api';
import { replacing } from './replacing';

/** So many revisions are listed at once. */
const AT_ONCE = 60;

/** The revisions of a level. Going back to one is an edit like any other: it can be undone. */
@Component({
  selector: 'nw-revision-list',
  imports: [DatePipe, Pager],
  template: `
    @if (wrong(); as reason) {
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
            ><b>{{ one.number }}</b> {{ one.savedAt | date: 'd MMM y, HH:mm:ss' }}
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
          <button type="button" class="button" [disabled]="one.number === current()" (click)="goBack(one.number)">
            {{ one.number === current() ? 'Current' : 'Restore' }}
          </button>
        </li>
      }
    </ol>
  `,
  styles: `
    ol {
      list-style: none;
      padding: 0;
      margin: 0;
    }
    .field {
      width: 14ch;
      margin-left: 8px;
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
  protected readonly wrong = signal<string | null>(null);
  protected readonly first = signal(0);
  protected readonly atOnce = AT_ONCE;
  protected readonly shown = computed(() => partOf(this.revisions(), this.first(), AT_ONCE));

  constructor() {
    effect(() => void this.load(this.levelId(), this.current()));
  }

  protected async goBack(number: number): Promise<void> {
    const answer = await this.api.openRevision(this.levelId(), number);
    if (!answer.ok) {
      this.wrong.set(failureText(answer));
      return;
    }
    this.editor.edit(replacing(this.editor.level(), answer.value.level));
    void this.api.keepRevision(this.levelId(), number, { kept: true });
    this.done.emit();
  }

  protected async call(one: Revision, text: string): Promise<void> {
    const name = text.trim() === '' ? null : text.trim();
    if (name === one.name) return;
    const answer = await this.api.keepRevision(this.levelId(), one.number, { name });
    this.wrong.set(answer.ok ? null : failureText(answer));
    if (answer.ok) this.revisions.update((all) => all.map((other) => (other.number === one.number ? answer.value : other)));
  }

  private async load(levelId: string, _current: number): Promise<void> {
    const answer = await this.api.revisions(levelId);
    if (answer.ok) this.revisions.set(answer.value);
    this.wrong.set(answer.ok ? null : failureText(answer));
  }
}
