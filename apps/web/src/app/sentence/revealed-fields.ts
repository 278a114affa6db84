import { Injectable, computed, inject } from '@angular/core';
import { patchState, signalState } from '@ngrx/signals';
import type { Offer } from '@nettlewick/core';
import { Editor } from '../state/editor';

interface RevealedPaths {
  /** What was asked for: the thing, and the path in it. */
  all: ReadonlySet<string>;
  /** The value to be edited next: its thing, and its path in it. */
  next: { thing: string; path: string } | null;
}

/**
 * What is said of things although it is as usual, because it was asked for; and the value that is to be typed next. Both are
 * forgotten when the page is left.
 */
@Injectable()
export class RevealedFields {
  private readonly state = signalState<RevealedPaths>({ all: new Set<string>(), next: null });
  readonly all = this.state.all;
  readonly next = this.state.next;
  private readonly editor = inject(Editor);

  /** The paths asked for within a part of a thing, relative to that part. */
  within(thing: string, prefix = ''): ReadonlySet<string> {
    const start = `${thing} ${prefix}/`;
    return new Set([...this.all()].filter((one) => one.startsWith(start)).map((one) => one.slice(start.length - 1)));
  }

  /** Whether anything was asked for: read by those who show sentences. */
  readonly any = computed(() => this.all().size > 0);

  /** Says which value is to be edited next; null when it is being edited. */
  editNext(next: RevealedPaths['next']): void {
    patchState(this.state, { next });
  }

  /** Takes up an offer: what it sets is set in one step, and the value that it names is edited next. */
  take(thing: string, prefix: string, offer: Offer): void {
    const path = offer.next === undefined ? null : prefix + offer.next;
    if (path !== null) patchState(this.state, ({ all }) => ({ all: new Set([...all, `${thing} ${path}`]) }));
    const error = this.editor.setAll(
      thing,
      offer.sets.map((one) => ({ path: prefix + one.path, value: one.value })),
    );
    if (error !== null) this.editor.say(error);
    else if (path !== null) this.editNext({ thing, path });
  }
}
