import type { Request } from 'express';
import type { Accepted } from '../storage/level-repository';
import { readEtag } from '../storage/revision-tag';
import { problemResponse } from './problems';

/**
 * The revisions that If-Match accepts (RFC 9110, section 13.1.1), compared strongly; null for any (`*`). Refuses the request
 * if the header is missing.
 */
export function accepted(request: Request): Accepted[] | null {
  const header = request.get('if-match');
  if (header === undefined || header.trim() === '') {
    problemResponse('revision-required', {
      detail: 'Send If-Match with the ETag of the revision that you changed, as it was given to you. Nothing was changed.',
    });
  }
  if (header.trim() === '*') return null;
  return header.split(',').flatMap((tag) => readEtag(tag) ?? []);
}
