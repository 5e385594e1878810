import { readFile } from 'node:fs/promises';
import path from 'node:path';
import express, { type Router } from 'express';
import { notFound } from './problem.ts';

const forPagesOnly = [
  'Cross-Origin-Opener-Policy',
  'Origin-Agent-Cluster',
  'X-DNS-Prefetch-Control',
  'X-Download-Options',
  'X-Frame-Options',
  'X-Permitted-Cross-Domain-Policies',
  'X-XSS-Protection',
];

/** The built web application: files that carry a hash are kept by browsers for ever, the page itself never. */
export function webApp(folder: string): Router {
  const router = express.Router();
  router.use(
    '/assets',
    express.static(path.join(folder, 'assets'), {
      immutable: true,
      maxAge: '1y',
      fallthrough: false,
      dotfiles: 'ignore',
      setHeaders(response) {
        // The page's policy rules what the page loads. A script's own counts for workers alone, and theirs is short: some
        // thirty files are loaded at first, each with its headers.
        response.setHeader('Content-Security-Policy', "default-src 'self'");
        for (const header of forPagesOnly) response.removeHeader(header);
      },
    }),
  );
  router.use(express.static(folder, { index: false, maxAge: '1h' }));
  const page = readFile(path.join(folder, 'index.html'), 'utf8');
  router.get('/{*path}', async (request, response) => {
    if (request.path.startsWith('/api/') || path.extname(request.path) !== '') throw notFound();
    response.setHeader('Cache-Control', 'no-store');
    response.type('html').send((await page).replaceAll('__CSP_NONCE__', String(response.locals['nonce'])));
  });
  return router;
}
