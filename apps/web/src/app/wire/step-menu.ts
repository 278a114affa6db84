import { kindOfStep, searchTerms, stepNames, stepCategories } from '@nettlewick/core';
import type { StepName } from '@nettlewick/core';

/** Kinds of steps that stand together in the menu, and what one wants of them. */
export interface StepGroup {
  wish: string;
  kinds: { name: StepName; label: string }[];
}

const kinds = stepNames.map((name) => ({ name, label: kindOfStep(name).label, sought: searchTerms(name) }));

/** The menu of steps for what was typed, which may be a word that they are only meant by; `fits`: those that come first if nothing is. */
export function stepsFor(typed: string, fits: (name: StepName) => boolean): StepGroup[] {
  const words = typed.toLowerCase().split(/\s+/).filter(Boolean);
  const found = kinds.filter(({ sought }) => words.every((word) => sought.includes(word)));
  // What is called so stands before what is meant by it, too.
  const called = words.length === 0 ? [] : found.filter(({ label }) => words.every((word) => label.toLowerCase().includes(word)));
  called.sort((a, b) => Number(b.label.startsWith(words[0]!)) - Number(a.label.startsWith(words[0]!)));
  const others = found.filter((kind) => !called.includes(kind));
  return [
    { wish: 'Matching name', kinds: called },
    { wish: 'For the selection', kinds: words.length === 0 ? found.filter(({ name }) => fits(name)) : [] },
    ...stepCategories.map((wish) => ({ wish, kinds: others.filter(({ name }) => kindOfStep(name).wish === wish) })),
  ].filter((group) => group.kinds.length > 0);
}
