import { fragmentOf } from '@nettlewick/core';
import { copiedLast, keepCopied } from '../studio/clipboard';
import type { Doing } from '../studio/commands';
import type { Editor } from '../studio/editor';

/** The commands that copy what is selected, with its wiring, for another room, level or window, and put it in. */
export function copying(editor: Editor, room: () => string): Record<'copy' | 'paste', Doing> {
  return {
    copy: {
      when: () => editor.selection().length > 0,
      run: () => {
        const fragment = fragmentOf(editor.level(), editor.selection(), true);
        const many = fragment.things.length;
        editor.say(
          keepCopied(fragment)
            ? `${many} ${many === 1 ? 'thing' : 'things'} copied, wiring and all. Ctrl V puts them into any room or level.`
            : 'This browser keeps nothing: duplicate instead.',
        );
      },
    },
    paste: {
      run: () => {
        const fragment = copiedLast();
        if (fragment === null) editor.say('Nothing was copied yet: select something, and press Ctrl C.');
        else editor.paste(fragment, room());
      },
    },
  };
}
