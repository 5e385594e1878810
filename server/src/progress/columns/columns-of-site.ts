import { dayOfMoment } from '@gate-roster/core';
import type { Logger } from 'pino';
import { type Database, firstOf } from '../../database/connect.ts';
import * as tables from '../../database/schema.ts';
import type { SiteSize } from '../../people/site-size.ts';
import { Thread } from '../../threads/thread.ts';
import type { AnswerTo, ColumnQuestion, Columns } from './questions.ts';

const lookMilliseconds = 300_000;

/**
 * Columns of a site, kept by a thread that a large site begins. Without an answer from it (it is reading, it
 * broke, the site is small) the database answers.
 */
export class ColumnsOfSite implements Columns {
  readonly #db: Database;
  readonly #site: SiteSize;
  readonly #log: Logger;
  readonly #thread: Thread;
  #timer: NodeJS.Timeout | undefined;

  constructor(db: Database, site: SiteSize, databaseUrl: string, log: Logger) {
    this.#db = db;
    this.#site = site;
    this.#log = log;
    this.#thread = new Thread('columns-thread', { databaseUrl });
  }

  async answer<Q extends ColumnQuestion>(question: Q): Promise<AnswerTo<Q> | null> {
    if (!this.#thread.isThere || !(await this.#site.isLarge())) return null;
    try {
      return (await this.#thread.ask(question)) as AnswerTo<Q> | null;
    } catch (error) {
      this.#log.warn({ err: error }, 'columns of enrolments gave no answer; the database answers');
      return null;
    }
  }

  /**
   * Has them read before somebody asks for a report, now and after midnight: the first of the day would be answered by the database.
   * @param now Tells which day it is at the site.
   */
  keepReady(now: () => Date): void {
    const look = async (): Promise<void> => {
      const site = await firstOf(this.#db.select({ timeZone: tables.organisation.timeZone }).from(tables.organisation));
      if (!site) return;
      const actor = { today: dayOfMoment(now(), site.timeZone), timeZone: site.timeZone };
      await this.answer({ kind: 'ready', reader: { actor } });
    };
    const lookQuietly = (): void => {
      look().catch((error: unknown) => {
        this.#log.warn({ err: error }, 'columns of enrolments were not looked at');
      });
    };
    this.#timer = setInterval(lookQuietly, lookMilliseconds).unref();
    lookQuietly();
  }

  stop(): Promise<void> {
    clearInterval(this.#timer);
    return this.#thread.stop();
  }
}
