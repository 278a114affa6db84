import type { Request, Response } from 'express';
import { rateLimit } from 'express-rate-limit';
import { senderOf } from './callers';
import { problemResponse } from './problems';

const MINUTE = 60_000;
/** The number of costly requests per minute and sender: refused ones, and those that make the server parse a large document. */
const COSTLY = 1200;
/** The number of play messages per minute that are passed on for one sender. */
const MESSAGES = 1200;

const perSender = {
  windowMs: MINUTE,
  standardHeaders: 'draft-8' as const,
  legacyHeaders: false,
  keyGenerator: (request: Request, response: Response) => senderOf(request, response),
  handler: () => problemResponse('too-many', { detail: 'Wait as long as Retry-After says, then go on. Nothing was changed.' }),
};

/** Refuses writes of a sender of whom too many came to nothing, or cost much: what is saved as usual does not count. */
export function costlyWrites() {
  return rateLimit({
    ...perSender,
    limit: COSTLY,
    identifier: 'writes',
    skip: ({ method }) => method === 'GET' || method === 'HEAD' || method === 'OPTIONS',
    skipSuccessfulRequests: true,
    requestWasSuccessful: (_request, response) => response.statusCode < 400 && response.locals['slow'] !== true,
  });
}

/** Refuses messages of a play beyond so many. */
export function playMessages() {
  return rateLimit({ ...perSender, limit: MESSAGES, identifier: 'plays' });
}
