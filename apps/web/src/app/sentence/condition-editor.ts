import { ChangeDetectionStrategy, Component, computed, inject, input, linkedSignal, output } from '@angular/core';
import { FormsModule } from '@angular/forms';
import {
  clauseKindsOf,
  clauseSays,
  clausesOf,
  clausesText,
  collections,
  idsFor,
  lookup,
  namesFor,
  wordOf,
} from '@nettlewick/core';
import type { Clause, ClauseKind, Clauses } from '@nettlewick/core';
import { NzInputNumberModule } from 'ng-zorro-antd/input-number';
import { NzSelectModule } from 'ng-zorro-antd/select';
import { Editor } from '../state/editor';
import { Mark } from '../controls/mark';
import { Named } from '../controls/named';

/** A condition: chosen clause by clause, or typed by names. Every change that can be read is given at once. */
@Component({
  selector: 'nw-condition-editor',
  imports: [FormsModule, Mark, Named, NzInputNumberModule, NzSelectModule],
  templateUrl: './condition-editor.html',
  styleUrl: './condition-editor.css',
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class ConditionEditor {
  readonly text = input.required<string>();
  readonly label = input.required<string>();
  readonly path = input.required<string>();
  readonly wrong = input<string | null>(null);
  readonly given = output<string>();
  readonly done = output();
  protected readonly editor = inject(Editor);
  /** What cannot be said in clauses is typed. */
  protected readonly typing = linkedSignal(() => clausesOf(this.text()) === null);
  protected readonly unknown = linkedSignal<string, string>({ source: this.text, computation: () => '' });
  protected readonly byNames = computed(() => namesFor(this.text(), (id) => this.editor.nameOf(id)));
  protected readonly read = linkedSignal<Clauses>(() => clausesOf(this.text()) ?? { join: 'and', clauses: [] });
  /** Whether a clause waits for the thing it is about. */
  protected readonly open = linkedSignal(() => this.read().clauses.length === 0);
  protected readonly subjects = computed(() => {
    const level = this.editor.level();
    // Facts are asked of most: they come first.
    const facts = ['flags', 'counters'] as const;
    const rest = collections.filter((one) => one !== 'flags' && one !== 'counters');
    return [...facts, ...rest].flatMap((collection) =>
      level[collection].flatMap((thing) => {
        const word = wordOf(collection, thing);
        return clauseKindsOf(word).length === 0 ? [] : [{ value: thing.id, label: `${thing.name.trim()} (${word})` }];
      }),
    );
  });
  protected readonly rows = computed(() =>
    this.read().clauses.map((clause) => {
      const says = clauseSays(clause.asks);
      const word = this.editor.find(clause.of)?.word;
      const kinds = word === undefined ? [clause.asks] : clauseKindsOf(word);
      return {
        clause,
        numbered: says.length === 2,
        after: says[1] ?? '',
        asks: kinds.map((value) => ({ value, label: clauseSays(value).join('…') })),
      };
    }),
  );
  protected readonly joins = [
    { value: 'and', label: 'and' },
    { value: 'or', label: 'or' },
  ];

  protected join(join: 'and' | 'or'): void {
    this.giveClauses({ ...this.read(), join });
  }

  protected ofChanged(at: number, of: string): void {
    const word = this.editor.find(of)?.word;
    const [first] = word === undefined ? [] : clauseKindsOf(word);
    if (first === undefined) return;
    const { clauses } = this.read();
    const now = clauses[at];
    const asks = now !== undefined && clauseKindsOf(word!).includes(now.asks) ? now.asks : first;
    this.set(at, { of, asks, number: now?.number ?? 1 });
  }

  protected asksChanged(at: number, asks: ClauseKind): void {
    this.set(at, { ...this.read().clauses[at]!, asks });
  }

  protected numberChanged(at: number, number: number | null): void {
    if (number !== null && Number.isInteger(number)) this.set(at, { ...this.read().clauses[at]!, number });
  }

  protected take(at: number): void {
    this.giveClauses({ ...this.read(), clauses: this.read().clauses.toSpliced(at, 1) });
  }

  protected commit(text: string): void {
    const { text: ids, unknown } = idsFor(text, lookup(this.editor.level()));
    const [first] = unknown;
    if (first !== undefined)
      this.unknown.set(`Unknown name “${first.name}”.${first.meant === null ? '' : ` Did you mean “${first.meant}”?`}`);
    else this.given.emit(ids);
  }

  protected key(event: KeyboardEvent, text: string): void {
    event.stopPropagation();
    if (event.key === 'Enter') this.commit(text);
    if (event.key === 'Escape') this.done.emit();
  }

  private set(at: number, clause: Clause): void {
    const { clauses } = this.read();
    this.open.set(false);
    this.giveClauses({ ...this.read(), clauses: at < clauses.length ? clauses.with(at, clause) : [...clauses, clause] });
  }

  private giveClauses(clauses: Clauses): void {
    this.read.set(clauses);
    this.given.emit(clausesText(clauses));
  }
}
