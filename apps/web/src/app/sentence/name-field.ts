import { ChangeDetectionStrategy, Component, inject, input, linkedSignal } from '@angular/core';
import { Editor } from '../state/editor';
import { nameLike } from '@nettlewick/core';

/** A thing's name, edited in place. Names are unique in the level; what is wrong with one is said below it. */
@Component({
  selector: 'nw-name-field',
  template: `
    <input
      #field
      class="name"
      autocomplete="off"
      spellcheck="false"
      aria-label="Name"
      [attr.aria-invalid]="error() !== null"
      [value]="text()"
      (input)="text.set(field.value)"
      (blur)="commit()"
      (keydown)="key($event, field)"
    />
    @if (error(); as reason) {
      <span class="wrong" role="alert">{{ reason }}</span>
    }
    @if (alike(); as other) {
      <span class="alike" role="status">Similar to “{{ other }}”. Check that this is a different thing.</span>
    }
  `,
  styles: `
    :host {
      display: block;
    }
    .name {
      width: 100%;
      padding: 1px 4px;
      margin-left: -4px;
      border: 1px solid transparent;
      border-radius: 2px;
      background: none;
      font: 600 21px/1.25 var(--face-label);
    }
    .name:hover {
      border-color: var(--line);
    }
    .name:focus {
      border-color: var(--pencil-red);
      background: var(--card);
      outline: none;
    }
    .wrong,
    .alike {
      font-size: 13px;
    }
    .alike {
      color: var(--held);
    }
  `,
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class NameField {
  readonly thing = input.required<string>();
  readonly name = input.required<string>();
  private readonly editor = inject(Editor);
  protected readonly text = linkedSignal(() => this.name());
  protected readonly error = linkedSignal<string, string | null>({ source: this.thing, computation: () => null });

  /** The name of another thing for which the one that was just given is easily taken. */
  protected readonly alike = linkedSignal<string, string | null>({ source: this.thing, computation: () => null });

  protected commit(): void {
    const name = this.text().trim();
    const isOther = name !== this.editor.find(this.thing())?.thing.name.trim();
    this.error.set(this.editor.set(this.thing(), '/name', name));
    if (isOther) this.alike.set(this.error() === null ? nameLike(this.editor.level(), name, this.thing()) : null);
  }

  protected key(event: KeyboardEvent, field: HTMLInputElement): void {
    event.stopPropagation();
    if (event.key === 'Enter') {
      // Nor is the value pressed that has the focus next.
      event.preventDefault();
      this.commit();
      if (this.error() === null) leave(field);
    }
    if (event.key === 'Escape') {
      // As it is now, not as it was drawn last: it may have been given just before.
      const name = this.editor.find(this.thing())?.thing.name ?? this.name();
      this.text.set(name);
      field.value = name;
      this.error.set(null);
      field.blur();
    }
  }
}

/** It is done: the keys are the place's again, and the first value of what bears the name has them. */
function leave(field: HTMLInputElement): void {
  const value = field.closest('section, nw-chain-band, nw-walk-panel')?.querySelector('button.value');
  if (value instanceof HTMLElement) value.focus();
  else field.blur();
}
