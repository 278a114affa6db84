import { randomBytes } from 'node:crypto';
import { existsSync, readFileSync } from 'node:fs';
import { join } from 'node:path';
import express, { Router } from 'express';
import type { RequestHandler } from 'express';
import helmet from 'helmet';

/** A nonce for the style elements that Angular writes while it runs, new for each page. */
const NONCE = 'nettlewick-style-nonce';

/** The question with which the service worker asks for the page as it was built, to keep it for when nobody answers. */
const KEEPS = 'ngsw-cache-bust';

/**
 * A content security policy under which the studio runs: everything from here, no inline script, and style elements only with
 * this page's nonce. The page that the service worker keeps has the nonce that it was built with.
 */
export function secured(): RequestHandler[] {
  return [
    (request, response, next) => {
      response.locals['nonce'] = KEEPS in request.query ? NONCE : randomBytes(16).toString('base64');
      next();
    },
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
  ];
}

/** A file whose name has a hash of its contents. */
const hashed = /-[A-Z0-9]{8}\.\w+$/;

/** Serves the built studio from `folder`: what has a hash in its name may be kept for ever, nothing else unasked. */
export function studio(folder: string): Router {
  const routes = Router();
  const page = join(folder, 'index.html');
  const setHeaders = (response: express.Response, path: string): void => {
    response.set('cache-control', hashed.test(path) ? 'public, max-age=31536000, immutable' : 'no-cache');
  };
  const files = express.static(folder, { index: false, cacheControl: false, fallthrough: true, setHeaders });
  routes.use((request, response, next) => {
    if (request.path === '/index.html') next();
    else files(request, response, next);
  });
  routes.get(/^\/(?:index\.html|(?!api\/|healthz)[^.]*)$/, (_request, response, next) => {
    if (!existsSync(page)) {
      next();
      return;
    }
    const html = readFileSync(page, 'utf8').replaceAll(NONCE, String(response.locals['nonce']));
    response.set('cache-control', 'no-store').type('html').send(html);
  });
  return routes;
}
