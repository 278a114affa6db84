/** The hexadecimal digits of a digest that identify a document. */
const DIGITS = 24;

/**
 * The ETag of a revision (RFC 9110, section 8.8.3): its number, and what its document is known by. A number alone may be that of
 * another document, after a backup was restored.
 */
export function etagOf(revision: number, digest: string): string {
  return `"${revision}-${digest.slice(0, DIGITS)}"`;
}

/** The revision that an ETag names; null for what is none of ours. */
export function readEtag(tag: string): { number: number; digest: string } | null {
  const found = /^"([1-9]\d{0,8})-([\da-f]{24})"$/.exec(tag.trim());
  return found === null ? null : { number: Number(found[1]), digest: found[2]! };
}
