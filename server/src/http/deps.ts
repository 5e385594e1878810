import type { Logger } from 'pino';
import type pg from 'pg';
import type { LargeChanges } from '../changes/large-changes.ts';
import type { Columns } from '../progress/columns/questions.ts';
import type { PastDays } from '../progress/past-days.ts';
import type { Database } from '../database/connect.ts';
import type { Streams } from '../live/streams.ts';

export interface Settings {
  databaseUrl: string;
  port: number;
  host: string;
  /** The address people use, for links and for checking where a write comes from. */
  publicUrl: string;
  /** Behind TLS cookies are `Secure`. */
  isSecure: boolean;
  /** Express's `trust proxy`. */
  trustProxy: boolean | number | string;
  webFolder: string | null;
  /** The stand-in for mail can be read at /post, by anybody; for demonstrations and tests. */
  postOffice: boolean;
  /** The mail server that letters leave by; with the stand-in open, that one. Without either they wait. */
  smtpUrl: string | null;
  /** The payment service; with the stand-ins open, the one that ships with us. Without either nothing can be paid. */
  paymentUrl: string | null;
  /** Where the course platform offers its courses, and the key for it; null: that of the player that ships with us. */
  courseFeed: { url: string | null; key: string | null };
  /** Who letters come from. */
  mailSender: string;
}

/** What handlers reach beyond their input. Time comes from `now`, so that tests can set it. */
export interface Deps {
  db: Database;
  pool: pg.Pool;
  log: Logger;
  settings: Settings;
  streams: Streams;
  /** Keys the hashes of what people who are not signed in sent. */
  requestKey: string;
  now: () => Date;
  /** Past days, for reports of then. */
  pastDays: PastDays;
  /** Enrolments in memory, for reports of today; null: the database answers alone. */
  columns: Columns | null;
  /** Where changes of many people are worked out at a large site; null: where they are asked. */
  largeChanges: LargeChanges | null;
}
