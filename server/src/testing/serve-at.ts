import { readEnvironment } from '../environment.ts';
import { serve } from '../serve.ts';

/* The server under another clock, for browser tests of what days do by themselves: `serve-at.js 2026-12-01T09:00:00Z`. */

const begins = Date.parse(process.argv[2] ?? '');
if (Number.isNaN(begins)) throw new Error('Say the moment at which the clock begins');
const started = Date.now();
const running = await serve(readEnvironment(process.env), { now: () => new Date(begins + Date.now() - started) });
process.send?.({ url: running.url });
process.on('SIGTERM', () => void running.stop().then(() => process.exit(0)));
