import { ChangeDetectionStrategy, Component, computed, inject, input, linkedSignal, output } from '@angular/core';
import { FormsModule } from '@angular/forms';
import {
  TRIGGERING,
  clauseKindsOf,
  clauseParts,
  clauseWith,
  clausesOf,
  clausesText,
  collections,
  conditionCompletions,
  emptyClause,
  thingSetOf,
  thingSetSubject,
  thingSetWords,
  idsByTag,
  idsFor,
  isClauseComplete,
  isClausePerVisitor,
  isClauseWhole,
  lookup,
  membersOf,
  namesFor,
  visitorKinds,
  wordOf,
} from '@nettlewick/core';
import type { Clause, ClauseKind, Clauses, ThingSet, ThingWord } from '@nettlewick/core';
import { NzInputNumberModule } from 'ng-zorro-antd/input-number';
import { NzSelectModule } from 'ng-zorro-antd/select';
import { CompletingField } from '../controls/completing-field';
import { Editor } from '../state/editor';
import { Icon } from '../controls/icon';
import { SearchLabel } from '../controls/search-label';

interface Option {
  value: string;
  label: string;
}

const triggering: Option = { value: TRIGGERING, label: 'the triggering visitor' };

/** The number of completions listed. */
const MAX_COMPLETIONS = 12;

/** A condition: chosen clause by clause, or typed by names. Every change that can be read is given at once. */
@Component({
  selector: 'nw-condition-editor',
  imports: [CompletingField, FormsModule, Icon, SearchLabel, NzInputNumberModule, NzSelectModule],
  templateUrl: './condition-editor.html',
  styleUrl: './condition-editor.css',
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class ConditionEditor {
  readonly text = input.required<string>();
  readonly label = input.required<string>();
  readonly path = input.required<string>();
  readonly error = input<string | null>(null);
  readonly given = output<string>();
  readonly done = output();
  protected readonly editor = inject(Editor);
  /** What cannot be said in clauses is typed. */
  protected readonly typing = linkedSignal(() => clausesOf(this.text()) === null);
  /** The condition as it is being typed, by names. */
  protected readonly typed = linkedSignal(() => namesFor(this.text(), (id) => this.editor.nameOf(id)));
  protected readonly unknown = linkedSignal<string, string | null>({ source: this.typed, computation: () => null });
  protected readonly completions = computed(() => {
    const text = this.typed();
    const { from, options } = conditionCompletions(this.editor.level(), text);
    const begun = text.slice(from).toLowerCase();
    if (options.some((one) => one.toLowerCase() === begun)) return [];
    return options.slice(0, MAX_COMPLETIONS).map((option) => text.slice(0, from) + option);
  });
  /** The clauses, with those that are not complete yet. */
  protected readonly read = linkedSignal<Clauses>(() => clausesOf(this.text()) ?? { join: 'and', clauses: [] });
  /** Whether somebody wanted to be done while a clause was not complete. */
  protected readonly unfinished = linkedSignal({ source: this.read, computation: () => false });
  /** Whether a clause waits for the thing it is about. */
  protected readonly open = linkedSignal(() => this.read().clauses.length === 0);
  protected readonly subjects = computed(() => {
    const level = this.editor.level();
    // Facts are asked of most: they come first.
    const facts = ['flags', 'counters'] as const;
    const rest = collections.filter((one) => one !== 'flags' && one !== 'counters');
    const things = [...facts, ...rest].flatMap((collection) =>
      level[collection].flatMap((thing) => {
        const word = wordOf(collection, thing);
        return clauseKindsOf(word).length === 0 ? [] : [{ value: thing.id, label: `${thing.name.trim()} (${word})` }];
      }),
    );
    return [...things, triggering, ...this.sets()];
  });
  /** Several things at once that something can be asked about: those with a tag, and all visitors of a kind. */
  private readonly sets = computed<Option[]>(() => {
    const things = lookup(this.editor.level());
    const all = (['all', 'any'] as const).flatMap((match): ThingSet[] => [
      ...this.tags().map((tag) => ({ match, tag })),
      ...visitorKinds.map((kind) => ({ match, kind })),
    ]);
    return all.flatMap((set) => {
      const value = thingSetSubject(set);
      return membersOf(set, things).length === 0 || this.kindsOfSet(set).length === 0
        ? []
        : [{ value, label: thingSetWords(value)! }];
    });
  });
  protected readonly tags = computed(() => [...idsByTag(lookup(this.editor.level())).keys()].sort((a, b) => a.localeCompare(b)));
  protected readonly rows = computed(() =>
    this.read().clauses.map((clause) => ({
      clause,
      parts: clauseParts(clause.asks).map((part) =>
        typeof part === 'string' ? { slot: null, text: part } : { ...part, text: '' },
      ),
      asks: this.kindsFor(clause).map((value) => ({ value, label: labelOf(value) })),
      others: this.othersFor(clause.asks),
      tags: this.tags().map((tag) => ({ value: tag, label: tag })),
      isWhole: isClauseWhole(clause.asks),
    })),
  );
  protected readonly joins = [
    { value: 'and', label: 'and' },
    { value: 'or', label: 'or' },
  ];

  protected join(join: 'and' | 'or'): void {
    this.giveClauses({ ...this.read(), join });
  }

  protected ofChanged(at: number, of: string): void {
    const now = this.read().clauses[at];
    const kinds = this.kindsFor(emptyClause(of, now?.asks ?? 'in-play'));
    const asks = now !== undefined && kinds.includes(now.asks) ? now.asks : kinds[0];
    if (asks !== undefined) this.set(at, { ...(now ?? emptyClause(of, asks)), of, asks });
  }

  protected asksChanged(at: number, asks: ClauseKind): void {
    const now = this.read().clauses[at]!;
    const isOther = this.othersFor(asks).some(({ value }) => value === now.with);
    const number = isClauseWhole(asks) ? Math.round(now.number) : now.number;
    this.set(at, { ...now, asks, number, with: isOther ? now.with : '' });
  }

  protected changed(at: number, value: Partial<Pick<Clause, 'with' | 'text'>>): void {
    this.set(at, { ...this.read().clauses[at]!, ...value });
  }

  protected numberChanged(at: number, number: number | null): void {
    const now = this.read().clauses[at]!;
    if (number !== null && (Number.isInteger(number) || !isClauseWhole(now.asks))) this.set(at, { ...now, number });
  }

  protected take(at: number): void {
    this.giveClauses({ ...this.read(), clauses: this.read().clauses.toSpliced(at, 1) });
  }

  /** Ends the editing, unless something of a clause would be lost. */
  protected finish(): void {
    if (this.typing() || this.read().clauses.every(isClauseComplete)) this.done.emit();
    else this.unfinished.set(true);
  }

  /** Takes what was typed, unless it names something that is not there. */
  protected commit(): void {
    const { text: ids, unknown } = idsFor(this.typed().trim(), lookup(this.editor.level()));
    const [first] = unknown;
    if (first !== undefined)
      this.unknown.set(`Unknown name “${first.name}”.${first.meant === null ? '' : ` Did you mean “${first.meant}”?`}`);
    else if (ids !== this.text()) this.given.emit(ids);
  }

  /** What can be asked of the subject of a clause: of tags only where there are some. */
  private kindsFor(clause: Clause): ClauseKind[] {
    const hasTag = (asks: ClauseKind): boolean =>
      clauseParts(asks).some((part) => typeof part === 'object' && part.slot === 'tag');
    return this.allKindsFor(clause).filter((asks) => this.tags().length > 0 || asks === clause.asks || !hasTag(asks));
  }

  private allKindsFor({ of, asks }: Clause): ClauseKind[] {
    const set = thingSetOf(of);
    if (set !== null) return this.kindsOfSet(set);
    const found = this.editor.find(of);
    if (of !== TRIGGERING && found === undefined) return [asks];
    const each = of === TRIGGERING || (found!.thing as { per?: string }).per === 'visitor';
    return clauseKindsOf(of === TRIGGERING ? TRIGGERING : found!.word).filter((kind) => each || !isClausePerVisitor(kind));
  }

  private kindsOfSet(set: ThingSet): ClauseKind[] {
    const things = lookup(this.editor.level());
    const words = new Set(membersOf(set, things).map((id) => things.get(id)!.word));
    return clauseKindsOf([...words]).filter((kind) => !isClausePerVisitor(kind));
  }

  /** What can stand for the other thing of a clause. */
  private othersFor(asks: ClauseKind): Option[] {
    const words: readonly ThingWord[] = clauseWith(asks);
    if (words.length === 0) return [];
    const level = this.editor.level();
    const things = collections.flatMap((collection) =>
      level[collection].flatMap((thing) =>
        words.includes(wordOf(collection, thing)) ? [{ value: thing.id, label: thing.name.trim() }] : [],
      ),
    );
    return words.includes('player') ? [triggering, ...things] : things;
  }

  private set(at: number, clause: Clause): void {
    const { clauses } = this.read();
    this.open.set(false);
    this.giveClauses({ ...this.read(), clauses: at < clauses.length ? clauses.with(at, clause) : [...clauses, clause] });
  }

  /** What is not complete is kept here until it is. */
  private giveClauses(clauses: Clauses): void {
    this.read.set(clauses);
    if (clauses.clauses.every(isClauseComplete)) this.given.emit(clausesText(clauses));
  }
}

function labelOf(asks: ClauseKind): string {
  return clauseParts(asks)
    .map((part) => (typeof part === 'string' ? part : '…'))
    .join('');
}
