import path from 'node:path';
import { z } from 'zod';

const here = import.meta.dirname;
/** An empty variable is one that is not set. */
const optional = <T extends z.ZodType>(shape: T) => z.preprocess((value) => (value === '' ? undefined : value), shape.optional());

const shape = z.object({
  /** The database of the site. */
  DATABASE_URL: z.url({ protocol: /^postgres(ql)?$/u }),
  PORT: z.coerce.number().int().min(0).max(65_535).default(3000),
  HOST: z.string().min(1).default('127.0.0.1'),
  /** The address people use, for links and for checking where a write comes from. `https:` makes cookies `Secure`. */
  PUBLIC_URL: optional(z.url({ protocol: /^https?$/u })),
  /** How many proxies in front of the server are trusted to name the caller's address. */
  TRUST_PROXY: optional(z.coerce.number().int().min(0).max(10)),
  /** `web` answers requests, `worker` does jobs, letters and the turn of the day, `all` both. */
  ROLE: z.enum(['web', 'worker', 'all']).default('all'),
  /** The mail server that letters leave by; without one they wait. */
  SMTP_URL: optional(z.url({ protocol: /^smtps?$/u })),
  MAIL_FROM: z.string().min(3).default('Gate Roster <roster@gate-roster.example>'),
  /** The payment service; without one nothing can be paid. */
  PAYMENT_URL: optional(z.url({ protocol: /^https?$/u })),
  /** The key shared with it. */
  PAYMENT_KEY: optional(z.string().min(16)),
  /** Where the course platform offers its courses; without one, that of the player that ships with us. */
  COURSE_FEED_URL: optional(z.url({ protocol: /^https?$/u })),
  /** The key that it gave for it. */
  COURSE_FEED_KEY: optional(z.string().min(16)),
  /** `open`: letters go to a simulated mail server, and everybody can read them at /post; orders are paid at a simulated service. For demonstrations and tests only. */
  POST_OFFICE: z.enum(['open', 'closed']).default('closed'),
  /** Bearer token for /metrics; without one there are none. */
  METRICS_KEY: optional(z.string().min(16)),
  LOG_LEVEL: z.enum(['silent', 'error', 'warn', 'info', 'debug']).default('info'),
  /** Seconds that requests and jobs under way get when the process is told to stop. */
  STOP_SECONDS: z.coerce.number().int().min(1).max(300).default(20),
  WEB_FOLDER: z.string().default(path.join(here, '../../web/dist')),
  MIGRATIONS_FOLDER: z.string().default(path.join(here, '../drizzle')),
  PLAYER_PAGES: z.string().default(path.join(here, '../src/player/page')),
});
export type Environment = z.output<typeof shape>;

/** @throws Error with each variable that is missing or wrong, and why. */
export function readEnvironment(env: Record<string, string | undefined>): Environment {
  const read = shape.safeParse(env);
  if (read.success) return read.data;
  const wrong = read.error.issues.map(({ path: [name], message }) => `${String(name)}: ${message}`);
  throw new Error(`The environment does not fit:\n  ${wrong.join('\n  ')}`);
}

/** What is in force, for the log at the start: passwords and keys are left out. */
export function withoutSecrets(environment: Environment): Record<string, unknown> {
  const bare = (address: string): string => {
    const url = new URL(address);
    if (url.password) url.password = '***';
    return url.href;
  };
  const { DATABASE_URL, SMTP_URL, METRICS_KEY, PAYMENT_KEY, COURSE_FEED_KEY, ...rest } = environment;
  return {
    DATABASE_URL: bare(DATABASE_URL),
    SMTP_URL: SMTP_URL && bare(SMTP_URL),
    METRICS_KEY: METRICS_KEY && 'set',
    PAYMENT_KEY: PAYMENT_KEY && 'set',
    COURSE_FEED_KEY: COURSE_FEED_KEY && 'set',
    ...rest,
  };
}
