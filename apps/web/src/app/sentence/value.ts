import {
  ChangeDetectionStrategy,
  Component,
  ElementRef,
  computed,
  effect,
  inject,
  input,
  signal,
  viewChild,
} from '@angular/core';
import { FormsModule } from '@angular/forms';
import { collections, keptValue, same, shownNumber, slotText, visitorKinds, wordOf } from '@nettlewick/core';
import type { Slot, Thing } from '@nettlewick/core';
import { NzSelectModule } from 'ng-zorro-antd/select';
import { Editor } from '../studio/editor';
import { readNumber, readTags } from './reading';

/** One value in a sentence: a click, or Enter, makes it editable in place; what is wrong is said right below it. */
@Component({
  selector: 'nw-value',
  imports: [FormsModule, NzSelectModule],
  templateUrl: './value.html',
  styleUrl: './value.css',
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class Value {
  readonly slot = input.required<Slot>();
  readonly thing = input.required<string>();
  readonly prefix = input('');

  private readonly editor = inject(Editor);
  private readonly host = inject<ElementRef<HTMLElement>>(ElementRef);
  private readonly field = viewChild<ElementRef<HTMLInputElement>>('field');
  protected readonly editing = signal(false);
  protected readonly wrong = signal<string | null>(null);
  protected readonly kinds = visitorKinds;
  protected readonly text = computed(() => slotText(this.slot(), (id) => this.editor.nameOf(id)));
  protected readonly bounds = computed(() => {
    const { input: asked } = this.slot();
    if (asked.kind !== 'number') return '';
    return `${asked.min} to ${asked.max}${asked.unit === '' ? '' : ` ${asked.unit}`}${asked.none === undefined ? '' : `; empty: ${asked.none}`}`;
  });
  protected readonly broken = computed(() => {
    const { input: asked, value } = this.slot();
    if (asked.kind !== 'reference' || (value === '' && asked.none !== undefined)) return false;
    // Asked of the one thing alone: all that could be chosen is listed only for who chooses.
    const found = this.editor.find(String(value));
    return found === undefined || !asked.accepts.includes(found.word);
  });
  /** What a reference or a choice may be. */
  protected readonly options = computed<{ value: unknown; label: string }[]>(() => {
    const { input: asked } = this.slot();
    if (asked.kind === 'choice') return asked.options;
    if (asked.kind !== 'reference') return [];
    const level = this.editor.level();
    const none = asked.none === undefined ? [] : [{ value: '', label: asked.none }];
    const found = collections.flatMap((collection) =>
      (level[collection] as Thing[])
        .filter((thing) => asked.accepts.includes(wordOf(collection, thing)))
        .map((thing) => ({ value: thing.id, label: thing.name.trim() })),
    );
    return [...none, ...found];
  });
  protected readonly same = same;

  protected readonly chosen = computed(() =>
    this.options().some((option) => option.value === this.slot().value) ? this.slot().value : null,
  );
  protected readonly label = computed(() => `${this.slot().label}: ${this.text()}. Edit`);

  constructor() {
    effect(() => {
      const field = this.field()?.nativeElement;
      if (field !== undefined) {
        field.focus();
        field.select?.();
      }
    });
    // The list's own search field has no name of its own.
    effect(() => {
      if (this.editing())
        setTimeout(() => this.host.nativeElement.querySelector('nz-select input')?.setAttribute('aria-label', this.slot().label));
    });
  }

  protected begin(): void {
    this.wrong.set(null);
    this.editing.set(true);
  }

  protected initial(): string {
    const { value, input: asked } = this.slot();
    if (asked.kind === 'tags') return (value as string[]).join(', ');
    if (value === null) return '';
    return String(asked.kind === 'number' ? shownNumber(this.slot()) : value);
  }

  protected has(kind: string): boolean {
    return (this.slot().value as string[]).includes(kind);
  }

  protected toggleKind(kind: string): void {
    const now = this.slot().value as string[];
    this.give(
      this.kinds.filter((one) => (one === kind ? !now.includes(one) : now.includes(one))),
      true,
    );
  }

  protected pick(value: unknown): void {
    if (value !== null && value !== undefined) this.give(value);
  }

  /** Reads the field and gives the value; stays open with the reason if it is not allowed. */
  protected commit(text: string): void {
    if (!this.editing()) return;
    const { input: asked } = this.slot();
    if (asked.kind === 'number') {
      const read = readNumber(text, asked);
      if ('wrong' in read) this.wrong.set(read.wrong);
      else this.give(keptValue(read.value, asked));
    } else if (asked.kind === 'tags') {
      this.give(readTags(text));
    } else {
      this.give(text);
    }
  }

  /** Leaving the field keeps a good value, and puts the old one back in place of a bad one. */
  protected leave(text: string): void {
    this.commit(text);
    if (this.wrong() === null) return;
    this.editing.set(false);
  }

  protected key(event: KeyboardEvent, text: string): void {
    event.stopPropagation();
    if (event.key === 'Enter') {
      event.preventDefault();
      this.commit(text);
      this.refocus();
    } else if (event.key === 'Escape') {
      this.cancel();
    }
  }

  protected cancel(): void {
    this.editing.set(false);
    this.wrong.set(null);
    this.refocus();
  }

  protected openChanged(open: boolean): void {
    if (!open) this.cancel();
  }

  /** Keys in a list are the list's; Escape and Tab leave it as it was. */
  protected listKey(event: KeyboardEvent): void {
    event.stopPropagation();
    if (event.key !== 'Escape' && event.key !== 'Tab') return;
    if (event.key === 'Escape') event.preventDefault();
    this.cancel();
  }

  private give(value: unknown, stay = false): void {
    const wrong = this.editor.set(this.thing(), this.prefix() + this.slot().path, value);
    this.wrong.set(wrong);
    if (wrong === null && !stay) {
      this.editing.set(false);
      this.refocus();
    }
  }

  private refocus(): void {
    const { nativeElement } = this.host;
    const had = nativeElement.contains(document.activeElement) || document.activeElement === document.body;
    const path = this.prefix() + this.slot().path;
    const thing = nativeElement.closest('nw-sentence');
    setTimeout(() => {
      if (!had || this.editing()) return;
      // A choice may have written the sentence anew: then the value that stands where this one stood is taken.
      const again = nativeElement.isConnected ? nativeElement : thing?.isConnected === true ? thing : document;
      const button =
        again.querySelector<HTMLElement>(`button[data-path="${CSS.escape(path)}"]`) ?? again.querySelector<HTMLElement>('button');
      button?.focus();
    });
  }
}
