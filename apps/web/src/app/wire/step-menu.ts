import { kindOfStep, soughtAs, stepNames, stepWishes, wishOf } from '@nettlewick/core';
import type { StepName } from '@nettlewick/core';

/** Kinds of steps that stand together in the menu, and what one wants of them. */
export interface StepGroup {
  wish: string;
  kinds: { name: StepName; label: string }[];
}

const kinds = stepNames.map((name) => ({ name, label: kindOfStep(name).label, sought: soughtAs(name) }));

/** The menu of steps for what was typed, which may be a word that they are only meant by; `fits`: those that come first if nothing is. */
export function stepsFor(typed: string, fits: (name: StepName) => boolean): StepGroup[] {
  const words = typed.toLowerCase().split(/\s+/).filter(Boolean);
  const found = kinds.filter(({ sought }) => words.every((word) => sought.includes(word)));
  // What is called so stands before what is meant by it, too.
  const called = found.filter(({ label }) => words.every((word) => label.toLowerCase().includes(word)));
  return [
    words.length === 0
      ? { wish: 'for what is in hand', kinds: found.filter(({ name }) => fits(name)) }
      : { wish: 'by that name', kinds: called.length < found.length ? called : [] },
    ...stepWishes.map((wish) => ({ wish, kinds: found.filter(({ name }) => wishOf[name] === wish) })),
  ].filter((group) => group.kinds.length > 0);
}
