import { randomBytes } from 'node:crypto';
import { existsSync, readFileSync } from 'node:fs';
import { extname, join } from 'node:path';
import { pathOf, routes } from '@nettlewick/contract';
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
const hashed = /-[A-Z0-9]{8}\.\w+(?:\.br)?$/;
/** Scripts and styles, of which a build may have compressed ones beside them. */
const packed = /^\/[\w-]+-[A-Z0-9]{8}\.(?:js|css)$/;

/** Serves the built studio from `folder`: what has a hash in its name may be kept for ever, nothing else unasked. */
export function studio(folder: string): Router {
  const routes = Router();
  const page = join(folder, 'index.html');
  const setHeaders = (response: express.Response, path: string): void => {
    response.set('cache-control', hashed.test(path) ? 'public, max-age=31536000, immutable' : 'no-cache');
  };
  const files = express.static(folder, { index: false, cacheControl: false, fallthrough: true, setHeaders });
  routes.use((request, response, next) => {
    if (request.path === '/index.html') {
      next();
      return;
    }
    // What is large was compressed when it was built.
    if (packed.test(request.path) && request.acceptsEncodings('br') === 'br' && existsSync(join(folder, `${request.path}.br`))) {
      response.type(extname(request.path)).set('content-encoding', 'br').vary('accept-encoding');
      request.url = `${request.path}.br`;
    }
    files(request, response, next);
  });
  routes.get(/^\/(?:index\.html|(?!api\/|healthz)[^.]*)$/, (request, response, next) => {
    if (!existsSync(page)) {
      next();
      return;
    }
    const html = readFileSync(page, 'utf8').replaceAll(NONCE, String(response.locals['nonce']));
    const whole = html.replace('</head>', `${aheadOf(request.path, folder)}</head>`);
    response.set('cache-control', 'no-store').type('html').send(whole);
  });
  return routes;
}

/** What whoever opens a level needs soon, for the browser to ask for while it still reads the page: the level, and the studio. */
function aheadOf(path: string, folder: string): string {
  const [, id] = /^\/levels\/([\da-f-]{36})(?:\/|$)/.exec(path) ?? [];
  const list = join(folder, '..', 'ahead.json');
  if (id === undefined || !existsSync(list)) return '';
  const scripts = JSON.parse(readFileSync(list, 'utf8')) as string[];
  return [
    `<link rel="preload" as="fetch" crossorigin href="${pathOf(routes.openLevel, { id })}?ngsw-bypass">`,
    ...scripts.map((script) => `<link rel="modulepreload" href="/${script}">`),
  ].join('');
}
