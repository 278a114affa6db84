import { ChangeDetectionStrategy, Component, computed, inject, input, linkedSignal, output, signal } from '@angular/core';
import { completionsOf, readLine, readNewChain } from '@nettlewick/core';
import type { Chain } from '@nettlewick/core';
import { CompletingField } from '../controls/completing-field';
import { Editor } from '../state/editor';

/** The number of completions listed. */
const MAX_COMPLETIONS = 12;

/** A field in which one more line of a chain is typed: a cause, a condition or a step, as it is read in the band. */
@Component({
  selector: 'nw-typed-line',
  imports: [CompletingField],
  template: `
    <nw-completing-field
      [(text)]="text"
      [label]="label()"
      [hint]="hint()"
      [error]="error()"
      [optionsOf]="options"
      (entered)="make()"
      (cancelled)="text.set('')"
    />
  `,
  styles: `
    :host {
      display: block;
      flex: 1;
      min-width: 240px;
    }
  `,
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class TypedLine {
  /** The chain that the line is of; null for a new one, of which the line is the cause, with its steps after a colon. */
  readonly chain = input.required<Chain | null>();
  /** A new chain was made. */
  readonly made = output<string>();
  private readonly editor = inject(Editor);
  protected readonly label = computed(() => {
    const chain = this.chain();
    return chain === null ? 'Type a new chain' : `Type a line of ${chain.name.trim()}`;
  });
  protected readonly hint = computed(() =>
    this.chain() === null
      ? 'Type a new chain: “When player enters …: open …; 2 s later, close …”'
      : 'Type a line: “1 s later, open …”, “When player enters …”, “Only if …”',
  );
  protected readonly text = signal('');
  /** What is wrong with the text, until it is changed. */
  protected readonly error = linkedSignal<string, string | null>({ source: this.text, computation: () => null });
  /** The line as it would be with what can come next; nothing where it says enough already. */
  protected readonly options = computed(() => {
    const text = this.text();
    if (text.trim() === '') return [];
    // Of a new chain, only what is being typed now: its cause, or one of its steps.
    const start = this.chain() === null ? Math.max(0, ...[...text.matchAll(/[:;] /g)].map(({ index }) => index + 2)) : 0;
    const part = text.slice(start);
    const { from, options } = completionsOf(this.editor.level(), 'chain', `    ${part.trimStart()}`);
    const kept = text.slice(0, start) + part.trimStart().slice(0, from - 4);
    const begun = part
      .trimStart()
      .slice(from - 4)
      .toLowerCase();
    if (options.some((one) => one.toLowerCase() === begun)) return [];
    return options.slice(0, MAX_COMPLETIONS).map((option) => kept + option);
  });

  protected make(): void {
    const text = this.text().trim();
    if (text === '') return;
    const [level, chain] = [this.editor.level(), this.chain()];
    const newId = (prefix: string): string => this.editor.newId(prefix);
    const read = chain === null ? readNewChain(text, level, newId) : readLine(text, level, chain, newId);
    if (!read.ok) {
      this.error.set(read.faults[0]!.message);
      return;
    }
    if (read.edit !== null) this.editor.edit(read.edit);
    this.text.set('');
    if (chain === null) this.made.emit(this.editor.level().chains.at(-1)!.id);
  }
}
