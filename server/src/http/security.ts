import { randomBytes } from 'node:crypto';
import type { NextFunction, Request, Response } from 'express';
import helmet from 'helmet';
import type { Settings } from './deps.ts';
import { ProblemError } from './problem.ts';

/** Headers for everything; styles that Vuetify makes at run time carry the page's own nonce. */
export function securityHeaders(settings: Settings): (request: Request, response: Response, next: NextFunction) => void {
  return (request, response, next) => {
    const nonce = randomBytes(16).toString('base64');
    response.locals['nonce'] = nonce;
    helmet({
      contentSecurityPolicy: {
        useDefaults: false,
        directives: {
          'default-src': ["'self'"],
          'script-src': ["'self'"],
          'style-src': ["'self'", `'nonce-${nonce}'`],
          'style-src-elem': ["'self'", `'nonce-${nonce}'`],
          'style-src-attr': ["'unsafe-inline'"],
          'img-src': ["'self'", 'data:', 'blob:'],
          'font-src': ["'self'", 'data:'],
          'connect-src': ["'self'"],
          'worker-src': ["'self'"],
          'object-src': ["'none'"],
          'base-uri': ["'none'"],
          'form-action': ["'self'"],
          'frame-ancestors': ["'none'"],
        },
      },
      referrerPolicy: { policy: 'no-referrer' },
      strictTransportSecurity: settings.isSecure,
      crossOriginEmbedderPolicy: false,
    })(request, response, next);
  };
}

/** A browser says where a write comes from; one from another site is refused. Programs say nothing. */
export function originCheck(settings: Settings): (request: Request, response: Response, next: NextFunction) => void {
  return (request, _response, next) => {
    if (request.method === 'GET' || request.method === 'HEAD') {
      next();
      return;
    }
    // Not kept: a server without a port of its own learns its address only when it listens.
    const own = new URL(settings.publicUrl).origin;
    const origin = request.get('origin');
    const site = request.get('sec-fetch-site');
    const isOwn =
      origin === undefined ? site === undefined || site === 'same-origin' || site === 'none' : origin === own || origin === localTwin(own);
    next(isOwn ? undefined : new ProblemError('wrong-origin'));
  };
}

/** `localhost` and `127.0.0.1` on the same port are one place to whoever runs the demo. */
function localTwin(origin: string): string {
  return origin.includes('127.0.0.1') ? origin.replace('127.0.0.1', 'localhost') : origin.replace('localhost', '127.0.0.1');
}
