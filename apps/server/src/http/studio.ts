import { randomBytes } from 'node:crypto';
import { existsSync, readFileSync } from 'node:fs';
import { join } from 'node:path';
import express, { Router } from 'express';
import helmet from 'helmet';

/** A nonce for the style elements that Angular writes while it runs, new for each page. */
const NONCE = 'nettlewick-style-nonce';

/**
 * Serves the built studio from `folder`, with a content security policy under which it runs: everything from here, no
 * inline script, and style elements only with this page's nonce.
 */
export function studio(folder: string): Router {
  const routes = Router();
  const page = join(folder, 'index.html');
  routes.use((_request, response, next) => {
    response.locals['nonce'] = randomBytes(16).toString('base64');
    next();
  });
  routes.use(
    helmet({
      contentSecurityPolicy: {
        useDefaults: false,
        directives: {
          defaultSrc: ["'self'"],
          scriptSrc: ["'self'"],
          workerSrc: ["'self'"],
          styleSrc: ["'self'", (_request, response) => `'nonce-${String((response as express.Response).locals['nonce'])}'`],
          imgSrc: ["'self'", 'data:'],
          fontSrc: ["'self'"],
          connectSrc: ["'self'"],
          objectSrc: ["'none'"],
          baseUri: ["'self'"],
          formAction: ["'self'"],
          frameAncestors: ["'none'"],
        },
      },
      strictTransportSecurity: false,
    }),
  );
  routes.use(express.static(folder, { index: false, maxAge: '1y', immutable: true, fallthrough: true }));
  routes.get(/^\/(?!api\/|healthz)[^.]*$/, (_request, response, next) => {
    if (!existsSync(page)) {
      next();
      return;
    }
    const html = readFileSync(page, 'utf8').replaceAll(NONCE, String(response.locals['nonce']));
    response.set('cache-control', 'no-store').type('html').send(html);
  });
  return routes;
}
