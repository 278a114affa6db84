import { CdkConnectedOverlay, CdkOverlayOrigin } from '@angular/cdk/overlay';
import { ChangeDetectionStrategy, Component, computed, input, linkedSignal, model, output, signal } from '@angular/core';

let count = 0;

/** A text field that lists how its text can go on. */
@Component({
  selector: 'nw-completing-field',
  imports: [CdkConnectedOverlay, CdkOverlayOrigin],
  template: `
    <input
      #origin="cdkOverlayOrigin"
      cdkOverlayOrigin
      class="field"
      role="combobox"
      autocomplete="off"
      spellcheck="false"
      aria-autocomplete="list"
      [class.code]="isCode()"
      [attr.data-path]="path()"
      [attr.aria-label]="label()"
      [attr.aria-invalid]="isFaulty() || error() !== null"
      [attr.aria-expanded]="isOpen()"
      [attr.aria-controls]="isOpen() ? listId : null"
      [attr.aria-activedescendant]="active() < 0 || !isOpen() ? null : listId + active()"
      [placeholder]="hint()"
      [value]="text()"
      (input)="text.set($any($event.target).value)"
      (focus)="hasFocus.set(true)"
      (blur)="hasFocus.set(false); left.emit()"
      (keydown)="onKey($event)"
    />
    <ng-template cdkConnectedOverlay [cdkConnectedOverlayOrigin]="origin" [cdkConnectedOverlayOpen]="isOpen()">
      <ul role="listbox" [id]="listId" aria-label="What can come next" [class.code]="isCode()">
        @for (option of options(); track option) {
          <li
            role="option"
            [id]="listId + $index"
            [attr.aria-selected]="$index === active()"
            (mousedown)="$event.preventDefault(); take(option)"
          >
            {{ option }}
          </li>
        }
      </ul>
    </ng-template>
    @if (error(); as reason) {
      <p class="wrong" role="alert">{{ reason }}</p>
    }
  `,
  styles: `
    :host {
      display: block;
      flex: 1;
      min-width: 240px;
    }
    input {
      width: 100%;
      font-family: var(--face-prose);
    }
    input:not(:hover, :focus) {
      border-color: var(--line);
      background: none;
    }
    input.code,
    ul.code {
      font: 14px var(--face-mono);
    }
    ul {
      min-width: 320px;
      max-width: 620px;
      margin: 2px 0 0;
      padding: 4px 0;
      list-style: none;
      background: var(--slip);
      border: 1px solid var(--slip-edge);
      box-shadow: 2px 2px 0 var(--shade);
      font-family: var(--face-prose);
    }
    li {
      padding: 3px 10px;
      min-height: 24px;
      cursor: pointer;
    }
    li:hover,
    li[aria-selected='true'] {
      background: var(--wash-blue);
      outline: 1px solid var(--pencil-blue);
    }
    .wrong {
      margin: 4px 0 0;
      color: var(--pencil-red);
    }
  `,
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class CompletingField {
  readonly text = model('');
  readonly label = input.required<string>();
  readonly hint = input('');
  /** What is wrong with the text, in a sentence; null for nothing. */
  readonly error = input<string | null>(null);
  /** Whether what is wrong with the text is said elsewhere. */
  readonly isFaulty = input(false);
  /**
   * Returns the whole texts that could stand here instead, the likeliest first. It is called again for each key, because keys can come
   * faster than the page is rendered.
   */
  readonly optionsOf = input<() => readonly string[]>(() => []);
  protected readonly options = computed(() => this.optionsOf()());
  /** Whether the text is an expression, and not a sentence. */
  readonly isCode = input(false);
  /** Where in the document the text is kept; null for nowhere. */
  readonly path = input<string | null>(null);
  /** Enter was pressed. */
  readonly entered = output();
  readonly cancelled = output();
  readonly left = output();

  protected readonly hasFocus = signal(false);
  protected readonly isOpen = computed(() => this.hasFocus() && this.options().length > 0);
  /** The option that is chosen with the arrow keys; -1 for none. */
  protected readonly active = linkedSignal({ source: this.options, computation: () => -1 });
  protected readonly listId = `completions-${(count += 1)}-`;

  protected take(option: string): void {
    this.text.set(`${option}${/["(]$/.test(option) ? '' : ' '}`);
  }

  /** Arrows choose from the list, Tab goes on with what is chosen or the likeliest. */
  protected onKey(event: KeyboardEvent): void {
    const options = this.isOpen() ? this.options() : [];
    const chosen = options[Math.max(0, this.active())];
    switch (event.key) {
      case 'ArrowDown':
      case 'ArrowUp':
        if (options.length === 0) return;
        this.active.update(
          (at) => (at + (event.key === 'ArrowDown' ? 1 : options.length + (at < 0 ? 1 : 0) - 1)) % options.length,
        );
        break;
      case 'Tab':
        if (chosen === undefined || event.shiftKey) return;
        this.take(chosen);
        break;
      case 'Enter':
        if (this.active() >= 0 && chosen !== undefined) this.take(chosen);
        else this.entered.emit();
        break;
      case 'Escape':
        // Where there is nothing to give up, it is somebody else's.
        if (this.text() === '') return;
        this.cancelled.emit();
        break;
      default:
        return;
    }
    // The next key may come before the page is drawn again.
    (event.target as HTMLInputElement).value = this.text();
    event.preventDefault();
    event.stopPropagation();
  }
}
