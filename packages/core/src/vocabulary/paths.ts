/**
 * A place in a document or in a thing of it, everywhere: a JSON Pointer (RFC 6901), such as `/chains/3/steps/0/door`. Sentences say
 * where their values stand in the thing that they are about, references and faults where they stand in the document.
 */
export type Path = string;

/** The path of some keys. */
export function pointer(keys: readonly PropertyKey[]): Path {
  return keys.map((key) => '/' + String(key).replace(/~/g, '~0').replace(/\//g, '~1')).join('');
}

/** The keys of a path. */
export function keysOf(path: Path): string[] {
  return path
    .split('/')
    .slice(1)
    .map((key) => key.replace(/~1/g, '/').replace(/~0/g, '~'));
}

/** The value at a path, or undefined. */
export function valueAt(root: unknown, path: Path): unknown {
  return keysOf(path).reduce<unknown>(
    (here, key) => (here === null || typeof here !== 'object' ? undefined : (here as Record<string, unknown>)[key]),
    root,
  );
}

/** A copy of plain data with another value at a path; what is not on the path is shared. */
export function withValue<T>(root: T, path: Path, value: unknown): T {
  return withValueAt(root, keysOf(path), value);
}

function withValueAt<T>(root: T, [key, ...rest]: readonly string[], value: unknown): T {
  if (key === undefined) return value as T;
  const next = withValueAt((root as Record<string, unknown>)[key], rest, value);
  if (Array.isArray(root)) return root.with(Number(key), next) as T;
  return { ...root, [key]: next };
}
