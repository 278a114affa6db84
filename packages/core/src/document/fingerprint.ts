/**
 * A short text that is the same for the same plain data, whatever the order of its fields, and almost surely another for
 * other data: two 32-bit FNV-1a hashes (G. Fowler, L. C. Noll, K.-P. Vo) of its JSON with sorted fields. It tells
 * documents apart; it is no protection against somebody who makes two alike on purpose.
 */
export function fingerprint(data: unknown): string {
  const text = JSON.stringify(data, (_key, value: unknown) => sorted(value));
  let first = 0x811c9dc5;
  let second = 0x01000193;
  for (let at = 0; at < text.length; at++) {
    const unit = text.charCodeAt(at);
    first = Math.imul(first ^ unit, 0x01000193);
    second = Math.imul(second ^ unit, 0x01000193) ^ (first >>> 15);
  }
  return (first >>> 0).toString(16).padStart(8, '0') + (second >>> 0).toString(16).padStart(8, '0');
}

function sorted(value: unknown): unknown {
  if (value === null || typeof value !== 'object' || Array.isArray(value)) return value;
  return Object.fromEntries(Object.entries(value).sort(([a], [b]) => (a < b ? -1 : 1)));
}
