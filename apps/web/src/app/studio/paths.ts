/** The value at a path with dots, or undefined. */
export function valueAt(root: unknown, path: string): unknown {
  return path
    .split('.')
    .reduce<unknown>(
      (here, key) => (here === null || typeof here !== 'object' ? undefined : (here as Record<string, unknown>)[key]),
      root,
    );
}

/** A copy of plain data with another value at a path with dots; what is not on the path is shared. */
export function withValue<T>(root: T, path: string, value: unknown): T {
  const [key, ...rest] = path.split('.');
  if (key === undefined || key === '') return value as T;
  const below = (root as Record<string, unknown>)[key];
  const next = rest.length === 0 ? value : withValue(below, rest.join('.'), value);
  if (Array.isArray(root)) return root.with(Number(key), next) as T;
  return { ...root, [key]: next };
}
