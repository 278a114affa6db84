/** What brings a document of one version to the next. Dated, in order; none is ever changed once it has been released. */
export interface Migration {
  from: number;
  on: string;
  why: string;
  apply(document: Record<string, unknown>): Record<string, unknown>;
}

export const migrations: readonly Migration[] = [
  {
    from: 1,
    on: '2026-11-23',
    why: 'the guard of a chain is an expression; before, it was a list of flags that had to be on or off',
    apply: (document) => ({
      ...document,
      ...(Array.isArray(document['chains']) && { chains: document['chains'].map(withExpression) }),
    }),
  },
];

function withExpression(chain: unknown): unknown {
  if (chain === null || typeof chain !== 'object' || !('guard' in chain) || !Array.isArray(chain.guard)) return chain;
  const tests = chain.guard.map((test: { flag?: unknown; is?: unknown } | null) => {
    return `${test?.is === false ? '!' : ''}flag(${JSON.stringify(String(test?.flag ?? ''))})`;
  });
  return { ...chain, guard: tests.join(' && ') };
}

/** The document brought forward step by step, as far as there are migrations for it. The argument stays as it is. */
export function migrate(document: Record<string, unknown>, steps: readonly Migration[] = migrations): Record<string, unknown> {
  let current = document;
  for (const step of steps) {
    if (current['version'] === step.from) current = { ...step.apply(current), version: step.from + 1 };
  }
  return current;
}
