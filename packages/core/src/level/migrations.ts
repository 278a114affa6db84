/** What brings a document of one version to the next. Dated, in order; none is ever changed once it has been released. */
export interface Migration {
  from: number;
  on: string;
  why: string;
  apply(document: Record<string, unknown>): Record<string, unknown>;
}

/** Version 1 is the first, so nothing has to be brought forward yet. */
export const migrations: readonly Migration[] = [];

/** The document brought forward step by step, as far as there are migrations for it. The argument stays as it is. */
export function migrate(document: Record<string, unknown>, steps: readonly Migration[] = migrations): Record<string, unknown> {
  let current = document;
  for (const step of steps) {
    if (current['version'] === step.from) current = { ...step.apply(current), version: step.from + 1 };
  }
  return current;
}
