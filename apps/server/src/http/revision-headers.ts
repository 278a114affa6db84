import type { Request } from 'express';
import { refuse } from './problems';

/** The ETag of a revision: its number in quotes (RFC 9110, section 8.8.3). */
export function etagOf(revision: number): string {
  return `"${revision}"`;
}

/**
 * The revisions that If-Match accepts (RFC 9110, section 13.1.1), compared strongly; null for any (`*`). Refuses the request
 * if the header is missing.
 */
export function accepted(request: Request): number[] | null {
  const header = request.get('if-match');
  if (header === undefined || header.trim() === '') {
    refuse('revision-required', {
      detail: 'Send If-Match with the ETag of the revision that you changed, for example If-Match: "7". Nothing was changed.',
    });
  }
  if (header.trim() === '*') return null;
  return header.split(',').flatMap((tag) => {
    const found = /^"([1-9]\d{0,8})"$/.exec(tag.trim());
    return found === null ? [] : [Number(found[1])];
  });
}
