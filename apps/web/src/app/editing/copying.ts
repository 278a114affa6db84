import { signal } from '@angular/core';
import { copyPlan, fragmentOf } from '@nettlewick/core';
import type { CopyPlan, Fragment } from '@nettlewick/core';
import { readClipboard, writeClipboard } from './clipboard';
import type { Doing } from './commands';
import type { Editor } from '../state/editor';

/** What is to be put in, and the room that it goes to; none for copies that stay in their own. */
export interface PasteRequest {
  fragment: Fragment;
  room?: string;
}

/** Copies with their wiring, for another room, level or window, or beside the first ones. What they are to point to is asked. */
export class PasteController {
  /** The copies that wait for an answer. */
  readonly waiting = signal<PasteRequest | null>(null);

  constructor(
    private readonly editor: Editor,
    private readonly room: () => string,
  ) {}

  commands(): Record<'copy' | 'paste' | 'duplicate-wired', Doing> {
    const when = (): boolean => this.editor.selection().length > 0;
    return {
      copy: { when, run: () => this.copy() },
      paste: {
        run: () => {
          const fragment = readClipboard();
          if (fragment === null) this.editor.say('Nothing to paste. Select something and press Ctrl+C.');
          else this.put({ fragment, room: this.room() });
        },
      },
      'duplicate-wired': { when, run: () => this.put({ fragment: this.wired() }) },
    };
  }

  /** Puts what waited in, as it was answered. */
  answered(plan: CopyPlan): void {
    const room = this.waiting()?.room;
    this.waiting.set(null);
    this.editor.paste(plan, room);
  }

  private copy(): void {
    const fragment = this.wired();
    const many = fragment.things.length;
    this.editor.say(
      writeClipboard(fragment)
        ? `Copied ${many} ${many === 1 ? 'thing' : 'things'} with wiring. Press Ctrl+V in any room or level.`
        : 'Could not copy: this browser blocks storage. Use Duplicate instead.',
    );
  }

  private put(putting: PasteRequest): void {
    const plan = copyPlan(this.editor.level(), putting.fragment, new Map());
    if (plan.questions.length === 0) this.editor.paste(plan, putting.room);
    else this.waiting.set(putting);
  }

  private wired(): Fragment {
    return fragmentOf(this.editor.level(), this.editor.selection(), true);
  }
}
