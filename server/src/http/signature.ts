import { createHmac, timingSafeEqual } from 'node:crypto';

const mostAgeMilliseconds = 5 * 60_000;

/** HMAC-SHA256 over method, path, time and body: what a source signs with its own key. */
export function sign(secret: string, parts: { method: string; path: string; time: string; body: string }): string {
  return createHmac('sha256', secret).update([parts.method, parts.path, parts.time, parts.body].join('\n')).digest('base64url');
}

/** Is this the source's own signature, at most 5 minutes old? `time` is ISO 8601. */
export function isSigned(secret: string, parts: Parameters<typeof sign>[1], signature: string, now: Date): boolean {
  const age = Math.abs(now.getTime() - Date.parse(parts.time));
  if (!(age <= mostAgeMilliseconds)) return false;
  const expected = Buffer.from(sign(secret, parts));
  const given = Buffer.from(signature);
  return expected.length === given.length && timingSafeEqual(expected, given);
}
