import type { NextFunction, Request, Response } from 'express';
import type { Secret } from '../secret';
import { isLoopback } from '../settings';
import { problemResponse } from './problems';
import { SESSION_LASTS } from './sessions';
import type { Sessions } from './sessions';

const safe = new Set(['GET', 'HEAD', 'OPTIONS']);

/** Takes only requests that were sent to this server by one of its own names, so that no other name can be pointed at it. */
export function knownHosts(own: readonly string[]) {
  const names = new Set(own.map((name) => name.toLowerCase()));
  return (request: Request, _response: Response, next: NextFunction): void => {
    const name = hostName(request.headers.host);
    if (name !== null && (isLoopback(name) || names.has(name))) {
      next();
      return;
    }
    problemResponse('wrong-host', {
      detail: 'Host name not allowed. Use the printed address, or add this name to ALLOWED_HOSTS.',
    });
  };
}

/** The name in a Host header without its port, in small letters; null if there is none. */
function hostName(header: string | undefined): string | null {
  const found = /^(\[[0-9a-f:.]+\]|[^:/?#@\s]+)(?::\d{1,5})?$/i.exec(header ?? '');
  return found === null ? null : found[1]!.toLowerCase();
}

/** Takes writes only from pages of this very server, and from programs, which name no origin. */
export function ownOrigin(request: Request, _response: Response, next: NextFunction): void {
  if (safe.has(request.method)) {
    next();
    return;
  }
  const origin = request.get('origin');
  const site = request.get('sec-fetch-site');
  const foreign =
    (origin !== undefined && originHost(origin) !== request.headers.host?.toLowerCase()) ||
    (site !== undefined && site !== 'same-origin' && site !== 'none');
  if (foreign)
    problemResponse('foreign-origin', { detail: 'Only pages of this server may change anything here. Nothing was changed.' });
  next();
}

function originHost(origin: string): string | null {
  try {
    const url = new URL(origin);
    return url.protocol === 'http:' || url.protocol === 'https:' ? url.host.toLowerCase() : null;
  } catch {
    return null;
  }
}

/** The cookie that holds the token of a session. */
const COOKIE = 'nettlewick-session';
/** The field of an address that carries the secret once. */
const KEY = 'key';
/** Of so many cookies of the same name the first are looked at. */
const MOST_COOKIES = 20;

/** Takes only requests whose target is a path that can be read (RFC 9112, section 3.2). */
export function readableTarget(request: Request, _response: Response, next: NextFunction): void {
  if (targetOf(request) === null)
    problemResponse('bad-request', {
      detail:
        'The path of this request cannot be read. It begins with one stroke, and its percent signs are followed by two digits.',
    });
  next();
}

/** What is asked for, as an address; null if it cannot be read. */
function targetOf({ originalUrl }: Request): URL | null {
  try {
    const url = originalUrl.startsWith('/') ? new URL(`http://here${originalUrl}`) : new URL(originalUrl);
    if (url.pathname.startsWith('//')) return null;
    decodeURIComponent(url.pathname);
    return url;
  } catch {
    return null;
  }
}

/**
 * Asks for the secret of this installation: as a bearer token (RFC 6750), or in an address that carries it, which opens a session. A
 * session is bound to the name by which the server was called, and on loopback to one that no other program there has: a cookie
 * knows no ports.
 */
export function authenticate(secret: Secret, sessions: Sessions) {
  return (request: Request, response: Response, next: NextFunction): void => {
    const url = targetOf(request)!;
    const host = hostName(request.headers.host)!;
    const key = url.searchParams.get(KEY);
    if (key !== null && request.method === 'GET' && secret.is(key)) {
      response.set('cache-control', 'no-store');
      if (isLoopback(host) && host !== secret.hostName) {
        const port = /:\d+$/.exec(request.headers.host ?? '')?.[0] ?? '';
        response.redirect(303, `http://${secret.hostName}${port}${url.pathname}${url.search}`);
        return;
      }
      url.searchParams.delete(KEY);
      setCookie(response, sessions.open(host));
      response.redirect(303, url.pathname + url.search);
      return;
    }
    const bearer = /^Bearer +(\S+)$/i.exec(request.get('authorization') ?? '')?.[1];
    if (bearer !== undefined && secret.is(bearer)) {
      next();
      return;
    }
    // Somebody else's cookie may have the same name: whichever is a session's lets in.
    for (const token of tokensOf(request)) {
      const session = sessions.find(token, host);
      if (session === null) continue;
      response.locals['session'] = token;
      if (session.renew) setCookie(response, token);
      next();
      return;
    }
    response.set('www-authenticate', 'Bearer realm="nettlewick"');
    problemResponse('secret-required', {
      detail: `Open the address that npm start printed, which carries the secret of this installation; a program sends it as "Authorization: Bearer …". It is kept in ${secret.file}, which only its owner can read.`,
    });
  };
}

/** Ends the session of a request, and lets the browser forget it. */
export function endSession(sessions: Sessions | null, response: Response): void {
  const token = response.locals['session'] as string | undefined;
  if (token !== undefined) sessions?.end(token);
  response.clearCookie(COOKIE, { httpOnly: true, sameSite: 'strict', path: '/' });
}

/** Who sends a request: a session, or where it comes from. */
export function senderOf(request: Request, response: Response): string {
  return (response.locals['session'] as string | undefined) ?? request.socket.remoteAddress ?? '';
}

function setCookie(response: Response, token: string): void {
  response.cookie(COOKIE, token, { httpOnly: true, sameSite: 'strict', path: '/', maxAge: SESSION_LASTS });
}

function tokensOf({ headers }: Request): string[] {
  return (headers.cookie ?? '')
    .split(';')
    .map((part) => part.trim())
    .filter((part) => part.startsWith(`${COOKIE}=`))
    .slice(0, MOST_COOKIES)
    .map((part) => part.slice(COOKIE.length + 1))
    .filter((token) => /^[\w-]{43}$/.test(token));
}
