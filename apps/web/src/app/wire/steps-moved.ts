import { change, stepSchema } from '@nettlewick/core';
import type { Chain, Step } from '@nettlewick/core';
import { writePreference, readPreference } from '../state/preferences';
import type { Editor } from '../state/editor';

/** Moves a step of a chain to a place in it, or in another chain, in one step of undo. */
export function moveStepTo(editor: Editor, from: Chain, at: number, to: Chain, place: number): void {
  const step = from.steps[at];
  if (step === undefined || (from.id === to.id && at === place)) return;
  const left = from.steps.toSpliced(at, 1);
  if (from.id === to.id) {
    editor.edit(change('chains', from, { steps: left.toSpliced(place, 0, step) }));
    return;
  }
  const taken = change('chains', from, { steps: left });
  const given = change('chains', to, { steps: to.steps.toSpliced(place, 0, step) });
  editor.edit({ kind: 'all', label: 'move a step between', edits: [taken, given] });
}

/** Keeps a step for other chains, levels and windows of this browser. */
export function copyStep(step: Step): void {
  writePreference('copied step', JSON.stringify(step));
}

/** The step that was copied last; null if there is none, or nothing is left of it. */
export function copiedStep(): Step | null {
  try {
    const read = stepSchema.safeParse(JSON.parse(readPreference('copied step') ?? 'null'));
    return read.success ? read.data : null;
  } catch {
    return null;
  }
}
