import { DestroyRef, Injectable, inject } from '@angular/core';
import { patchState, signalState } from '@ngrx/signals';
import { commandTable, shortcutOf, keyText } from './command-table';
import type { Command, CommandId } from './command-table';

/** How a command is done where it is offered: what it does, and whether it can be done now. */
export interface Doing {
  run(event: KeyboardEvent | null): void;
  /** Whether it can be done now, by this key; by a list or a button if there is none. */
  when?(event: KeyboardEvent | null): boolean;
}

/** A command that can be done here, and how. */
export interface Offered extends Command, Doing {
  id: CommandId;
}

/**
 * The commands that can be done on this page: places add theirs while they are shown. Keys pressed anywhere but in a field do them;
 * those of a place come before those of the studio around it.
 */
@Injectable()
export class Commands {
  private readonly state = signalState<{ offered: readonly Offered[] }>({ offered: [] });
  readonly offered = this.state.offered;
  constructor() {
    const listen = (event: KeyboardEvent): void => {
      // While a dialog is open, what is typed is meant for it, wherever the focus is.
      if (event.defaultPrevented || document.querySelector('nz-modal-container') !== null) return;
      const key = shortcutOf(event);
      // The list of commands is found from anywhere, as long as nothing else is open.
      if (isTyping(event) && (key !== 'Ctrl+K' || isOver(event))) return;
      const meant = this.offered().findLast(({ keys, when }) => keys.includes(key) && (when?.(event) ?? true));
      if (meant === undefined) return;
      event.preventDefault();
      meant.run(event);
    };
    addEventListener('keydown', listen);
    inject(DestroyRef).onDestroy(() => removeEventListener('keydown', listen));
  }

  /** Offers commands for as long as the component lives that is being made. */
  offer(doing: Partial<Record<CommandId, Doing | Doing['run']>>): void {
    const own = Object.entries(doing).map(([id, how]): Offered => {
      const command = commandTable.get(id as CommandId)!;
      return { ...command, id: id as CommandId, ...(typeof how === 'function' ? { run: how } : (how as Doing)) };
    });
    patchState(this.state, ({ offered }) => ({ offered: [...offered, ...own] }));
    inject(DestroyRef).onDestroy(() =>
      patchState(this.state, ({ offered }) => ({ offered: offered.filter((one) => !own.includes(one)) })),
    );
  }

  /** Those that can be done here and now. */
  now(): Offered[] {
    return this.offered().filter(({ when, keysOnly }) => keysOnly !== true && (when?.(null) ?? true));
  }

  /** Does a command as a button does it, if it can be done now. */
  run(id: CommandId): void {
    this.now()
      .find((one) => one.id === id)
      ?.run(null);
  }

  /** What a button says of a command: "Undo (Ctrl Z)", with what it would do where that is known. */
  tip(id: CommandId, what = ''): string {
    const { name, keys } = commandTable.get(id)!;
    const said = what === '' ? name : `${name}: ${what}`;
    return keys.length === 0 ? said : `${said} (${keyText(keys[0]!)})`;
  }
}

function isOver(event: KeyboardEvent): boolean {
  return event.target instanceof HTMLElement && event.target.closest('.ant-modal, .ant-drawer, .menu') !== null;
}

function isTyping(event: KeyboardEvent): boolean {
  const target = event.target;
  if (!(target instanceof HTMLElement)) return false;
  if (isOver(event)) return true;
  if (target instanceof HTMLInputElement) return target.type !== 'checkbox' && target.type !== 'range';
  return target instanceof HTMLTextAreaElement || target instanceof HTMLSelectElement || target.isContentEditable;
}
