import type { Request } from 'express';
import { refuse } from './problems';

/** The ETag of a revision: its number in quotes (RFC 9110, section 8.8.3). */
export function etagOf(revision: number): string {
  return `"${revision}"`;
}

/**
 * What If-Match accepts (RFC 9110, section 13.1.1): `*` any revision, otherwise those listed, compared strongly.
 * Refuses the request if the header is missing.
 */
export function accepted(request: Request): (revision: number) => boolean {
  const header = request.get('if-match');
  if (header === undefined || header.trim() === '') {
    refuse('revision-required', {
      detail: 'Send If-Match with the ETag of the revision that you changed, for example If-Match: "7". Nothing was changed.',
    });
  }
  if (header.trim() === '*') return () => true;
  const tags = header.split(',').map((tag) => tag.trim());
  return (revision) => tags.includes(etagOf(revision));
}
