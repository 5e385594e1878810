import { z } from 'zod';

/** Every failure the server can name: its status and the title that developers read. The interface words them by code. */
export const problems = {
  'bad-request': { status: 400, title: 'The request does not have the agreed shape' },
  'not-signed-in': { status: 401, title: 'Sign in first' },
  'wrong-sign-in': { status: 401, title: 'Sign-in name and password do not fit together' },
  'bad-signature': { status: 401, title: 'The source could not be recognised by its signature or password' },
  'wrong-origin': { status: 403, title: 'The request comes from another site' },
  'not-found': { status: 404, title: 'There is nothing here' },
  'looking-only': { status: 403, title: 'Somebody is only looking as somebody else' },
  'code-over': { status: 410, title: 'No such join code, or it lets nobody in now' },
  'still-asking': { status: 403, title: 'The account waits for a decision' },
  'still-paying': { status: 403, title: 'The account works once its way in is paid' },
  'price-changed': { status: 409, title: 'The price is another than the one that was shown' },
  'given-wrong': { status: 422, title: 'What was given is not what was asked' },
  'needs-confirming': { status: 422, title: 'The address has to be shown to be one’s own first' },
  'address-taken': { status: 409, title: 'Another account has confirmed this address' },
  'link-over': { status: 410, title: 'The link was used, or is over' },
  'no-address': { status: 422, title: 'There is no address to write to' },
  'wrong-file': { status: 422, title: 'The file is not of a kind that can be kept' },
  'effects-differ': { status: 409, title: 'What this would do has changed since it was looked at' },
  blocked: { status: 409, title: 'Something stands in the way of this change' },
  'already-begun': { status: 409, title: 'This site has its administrator' },
  'request-id-reused': { status: 409, title: 'Another change was made with this request id' },
  'statement-differs': { status: 409, title: 'Another statement was sent under this id' },
  'too-large': { status: 413, title: 'The request is too large' },
  'file-too-large': { status: 413, title: 'The file would hold more than can be made at once' },
  'too-many-rows': { status: 413, title: 'The file has so many rows that it is made as a job' },
  'too-many-people': { status: 413, title: 'More people than are changed at once' },
  'wrong-password': { status: 422, title: 'The current password is wrong' },
  'not-open': { status: 422, title: 'The course is not open' },
  'being-marked': { status: 409, title: 'Somebody is marking it, or it is marked' },
  'in-line': { status: 422, title: 'The course waits for a free seat' },
  'no-feed': { status: 503, title: 'The course platform does not answer' },
  'feed-unreadable': { status: 422, title: 'The course platform answered something else than courses' },
  'no-payment': { status: 503, title: 'The payment service does not answer' },
  'no-licence': { status: 422, title: 'No licence pays for this course here' },
  'too-many-tries': { status: 429, title: 'Too many tries; wait a little' },
  'disk-full': { status: 507, title: 'The database has no room left' },
  failed: { status: 500, title: 'Something failed on the server' },
  busy: { status: 503, title: 'Too much is going on; the same request may pass in a moment' },
  'not-ready': { status: 503, title: 'This process does not take requests yet' },
  'database-away': { status: 503, title: 'The database does not answer' },
} as const satisfies Record<string, { status: number; title: string }>;

export type ProblemCode = keyof typeof problems;

/** RFC 9457. */
export const problem = z.object({
  type: z.string(),
  title: z.string(),
  status: z.number().int(),
  code: z.enum(Object.keys(problems) as [ProblemCode, ...ProblemCode[]]),
  /** Where in the request the trouble lies: `body.name`. */
  where: z.array(z.object({ place: z.string(), what: z.string() })).optional(),
  /** Seconds to wait. */
  retryAfter: z.number().optional(),
  /** A sign-in that failed: a number to read out to whoever helps. */
  number: z.string().optional(),
  /** With effects-differ and blocked: what the change would do now. */
  look: z.unknown().optional(),
});
export type Problem = z.output<typeof problem>;
