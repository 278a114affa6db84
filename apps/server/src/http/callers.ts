import { timingSafeEqual } from 'node:crypto';
import type { NextFunction, Request, Response } from 'express';
import { isLoopback } from '../settings';
import { refuse } from './problems';

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
    refuse('wrong-host', {
      detail: 'This server does not answer to this name. Use the address that it printed, or add the name to ALLOWED_HOSTS.',
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
  if (foreign) refuse('foreign-origin', { detail: 'Only pages of this server may change anything here. Nothing was changed.' });
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

const COOKIE = 'nettlewick';
/** The field of an address that carries the secret once. */
const KEY = 'key';

/**
 * Asks for the secret of this installation: in a cookie, which an address that carries it sets, or as a bearer token (RFC
 * 6750). `where` says where it is kept.
 */
export function admission(secret: string, where: string) {
  return (request: Request, response: Response, next: NextFunction): void => {
    const url = new URL(request.originalUrl, 'http://here');
    const key = url.searchParams.get(KEY);
    if (key !== null && request.method === 'GET' && isSame(key, secret)) {
      url.searchParams.delete(KEY);
      response.cookie(COOKIE, secret, { httpOnly: true, sameSite: 'strict', path: '/', maxAge: 365 * 86_400_000 });
      response.set('cache-control', 'no-store').redirect(303, url.pathname + url.search);
      return;
    }
    const bearer = /^Bearer +(\S+)$/i.exec(request.get('authorization') ?? '')?.[1];
    const given = bearer ?? cookieOf(request.headers.cookie);
    if (given !== undefined && isSame(given, secret)) {
      next();
      return;
    }
    response.set('www-authenticate', 'Bearer realm="nettlewick"');
    refuse('secret-required', {
      detail: `Open the address that npm start printed, which carries the secret of this installation; a program sends it as "Authorization: Bearer …". It is kept in ${where}, which only its owner can read.`,
    });
  };
}

function cookieOf(header: string | undefined): string | undefined {
  for (const part of (header ?? '').split(';')) {
    const [name, value] = part.split('=', 2).map((text) => text.trim());
    if (name === COOKIE && value !== undefined) return decodeURIComponent(/^[\w-]*$/.test(value) ? value : '');
  }
  return undefined;
}

function isSame(given: string, secret: string): boolean {
  const [a, b] = [Buffer.from(given), Buffer.from(secret)];
  return a.length === b.length && timingSafeEqual(a, b);
}
