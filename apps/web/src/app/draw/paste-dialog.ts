import { ChangeDetectionStrategy, Component, computed, inject, input, output, signal } from '@angular/core';
import { FormsModule } from '@angular/forms';
import { A_COPY, AS_IT_IS, copyPlan, offered } from '@nettlewick/core';
import type { CopyPlan, CopyQuestion } from '@nettlewick/core';
import { NzModalModule } from 'ng-zorro-antd/modal';
import { NzSelectModule } from 'ng-zorro-antd/select';
import { DialogName } from '../controls/dialog-name';
import { Editor } from '../state/editor';
import { SearchLabel } from '../controls/search-label';
import { Pager, partOf } from '../controls/pager';
import type { PasteRequest } from '../editing/copying';

/** The number of names listed; the others are counted. */
const NAMES = 3;
/** The number of questions shown at once. */
const PAGE_SIZE = 40;

/** Before copies are put in: what they are to point to, and which chains that act on the first ones are to act on them, too. */
@Component({
  selector: 'nw-paste-dialog',
  imports: [DialogName, FormsModule, SearchLabel, NzModalModule, NzSelectModule, Pager],
  templateUrl: './paste-dialog.html',
  styleUrl: './paste-dialog.css',
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class PasteDialog {
  readonly putting = input.required<PasteRequest>();
  readonly answered = output<CopyPlan>();
  readonly closed = output();
  private readonly editor = inject(Editor);
  private readonly answers = signal<ReadonlyMap<string, string>>(new Map());
  protected readonly plan = computed(() => copyPlan(this.editor.level(), this.putting().fragment, this.answers()));
  protected readonly copied = computed(() => listed(this.putting().fragment.things.map(({ thing }) => thing.name.trim())));
  protected readonly first = signal(0);
  protected readonly atOnce = PAGE_SIZE;
  protected readonly questions = computed(() =>
    partOf(this.plan().questions, this.first(), PAGE_SIZE).map((question) => ({
      ...question,
      about: question.is === 'named' ? `${listed(question.by)} ${verb(question)} it` : `acts on ${listed(question.by)}`,
      ask: `${question.name.trim()}, ${question.word}`,
      options: this.optionsFor(question),
    })),
  );

  protected answer(id: string, answer: string): void {
    this.answers.update((before) => new Map([...before, [id, answer]]));
  }

  protected put(): void {
    this.answered.emit(this.plan());
  }

  private optionsFor({ id, is, accepts, isHere }: CopyQuestion): { value: string; label: string }[] {
    const copy = { value: A_COPY, label: is === 'named' ? 'A copy of it' : 'Copy it too' };
    if (is === 'acting') return [copy, { value: AS_IT_IS, label: isHere ? 'Keep it on the originals' : 'Do not copy' }];
    const same = { value: AS_IT_IS, label: isHere ? 'The same' : 'None (Check will report it)' };
    return [same, copy, ...offered(this.editor.level(), accepts).filter(({ value }) => value !== id)];
  }
}

function verb({ by }: CopyQuestion): string {
  return by.length === 1 ? 'names' : 'name';
}

/** Names in a sentence: the first few, and how many more. */
function listed(names: readonly string[]): string {
  const few = names.slice(0, NAMES).map((name) => `“${name}”`);
  const rest = names.length - few.length;
  if (rest > 0) return `${few.join(', ')} and ${rest} more`;
  return few.length > 1 ? `${few.slice(0, -1).join(', ')} and ${few.at(-1)!}` : few.join('');
}
