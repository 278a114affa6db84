import { ChangeDetectionStrategy, Component, ElementRef, computed, inject, output, signal, viewChild } from '@angular/core';
import { collections, wordOf } from '@nettlewick/core';
import { NzModalModule } from 'ng-zorro-antd/modal';
import { DialogName } from '../controls/dialog-name';
import { keyText } from '../editing/command-table';
import { Commands } from '../editing/commands';
import { Editor } from '../state/editor';
import { Views } from '../editing/views';

interface Choice {
  text: string;
  note: string;
  keys: string;
  run(): void;
}

/** The number of items listed; typing narrows the list. */
const LISTED = 60;

/** Everything that can be done here and every thing of the level, found by typing. */
@Component({
  selector: 'nw-palette',
  imports: [DialogName, NzModalModule],
  template: `
    <nz-modal
      nzTitle="Find a command or a thing"
      [nzVisible]="true"
      [nzFooter]="null"
      [nzWidth]="560"
      [nzClosable]="false"
      (nzAfterOpen)="field()?.nativeElement?.focus()"
      (nzOnCancel)="closed.emit()"
    >
      <ng-container *nzModalContent>
        <input
          #field
          class="field"
          type="text"
          autocomplete="off"
          placeholder="Undo, draw a door, Sack plate…"
          aria-label="Find a command or a thing"
          role="combobox"
          aria-expanded="true"
          aria-controls="palette-list"
          [attr.aria-activedescendant]="found().length > 0 ? 'palette-' + at() : null"
          [value]="wanted()"
          (input)="type($any($event.target).value)"
          (keydown)="key($event)"
        />
        <ol id="palette-list" role="listbox" aria-label="Results">
          @for (one of found(); track $index) {
            <li
              role="option"
              [id]="'palette-' + $index"
              [attr.aria-selected]="$index === at()"
              (click)="choose(one)"
              (pointermove)="at.set($index)"
            >
              <span>{{ one.text }}</span> <em>{{ one.note }}</em> <kbd>{{ one.keys }}</kbd>
            </li>
          } @empty {
            <li class="none">No matches.</li>
          }
        </ol>
      </ng-container>
    </nz-modal>
  `,
  styles: `
    .field {
      width: 100%;
      font-size: 16px;
    }
    ol {
      list-style: none;
      margin: 8px 0 0;
      padding: 0;
      max-height: 46vh;
      overflow-y: auto;
    }
    li {
      display: flex;
      gap: 10px;
      align-items: baseline;
      padding: 4px 8px;
      cursor: pointer;
      border-left: 3px solid transparent;
    }
    li[aria-selected='true'] {
      background: var(--wash-blue);
      border-left-color: var(--pencil-red);
    }
    li.none {
      cursor: default;
      color: var(--ink-soft);
    }
    em {
      color: var(--ink-soft);
      flex: 1;
    }
    kbd:empty {
      display: none;
    }
  `,
  host: { '(document:keydown)': 'early($event)' },
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class Palette {
  readonly closed = output();
  private readonly commands = inject(Commands);
  private readonly editor = inject(Editor);
  private readonly places = inject(Views);
  protected readonly field = viewChild<ElementRef<HTMLInputElement>>('field');
  protected readonly wanted = signal('');
  protected readonly at = signal(0);

  protected readonly found = computed<Choice[]>(() => {
    const words = this.wanted().toLowerCase().split(/\s+/).filter(Boolean);
    const fits = (text: string): boolean => words.every((word) => text.toLowerCase().includes(word));
    const commands = this.commands
      .now()
      .filter(({ id, name, also }) => id !== 'find-command' && fits(`${name} ${also ?? ''}`))
      // What is called so stands before what is meant by it, too.
      .sort((a, b) => Number(fits(b.name)) - Number(fits(a.name)))
      .map(({ name, keys, run }): Choice => ({
        text: name,
        note: '',
        keys: keys[0] === undefined ? '' : keyText(keys[0]),
        run: () => run(null),
      }));
    const things = words.length === 0 ? [] : this.things(fits);
    return [...commands, ...things].slice(0, LISTED);
  });

  /** Whoever types at once loses no letter: while it opens, the window has the focus, and takes it again when it is all there. */
  protected early(event: KeyboardEvent): void {
    const field = this.field()?.nativeElement;
    if (event.target === field) return;
    const { key } = event;
    if (field !== undefined) {
      field.focus();
      this.key(event);
    } else if (key.length === 1 && !event.ctrlKey && !event.metaKey && !event.altKey) {
      this.type(this.wanted() + key);
    }
  }

  protected type(text: string): void {
    this.wanted.set(text);
    this.at.set(0);
  }

  protected key(event: KeyboardEvent): void {
    const { length } = this.found();
    const step = event.key === 'ArrowDown' ? 1 : event.key === 'ArrowUp' ? -1 : 0;
    if (step !== 0 && length > 0) {
      this.at.update((at) => (at + step + length) % length);
      document.getElementById(`palette-${this.at()}`)?.scrollIntoView({ block: 'nearest' });
    } else if (event.key === 'Enter') {
      const choice = this.found()[this.at()];
      if (choice !== undefined) this.choose(choice);
    } else {
      return;
    }
    event.preventDefault();
  }

  protected choose(choice: Choice): void {
    this.closed.emit();
    choice.run();
  }

  /** Things by their names and words: one that is chosen is taken in hand where it can be seen. */
  private things(fits: (text: string) => boolean): Choice[] {
    const level = this.editor.level();
    const found: Choice[] = [];
    for (const collection of collections) {
      for (const thing of level[collection]) {
        const word = wordOf(collection, thing);
        if (!fits(`${thing.name} ${word}`)) continue;
        const run = (): void => this.places.show(thing.id);
        found.push({ text: thing.name.trim(), note: word, keys: '', run });
        if (found.length >= LISTED) return found;
      }
    }
    return found;
  }
}
