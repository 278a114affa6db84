/** A JSON pointer (RFC 6901) from a path of keys. */
export function pointer(path: readonly PropertyKey[]): string {
  return path.map((key) => '/' + String(key).replace(/~/g, '~0').replace(/\//g, '~1')).join('');
}
