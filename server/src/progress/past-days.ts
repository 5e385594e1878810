import { type Day } from '@gate-roster/core';
import { eq, sql } from 'drizzle-orm';
import type { Logger } from 'pino';
import { connect, type Database, maybeRow, onlyOne, rows } from '../database/connect.ts';
import * as tables from '../database/schema.ts';
import { ProblemError } from '../http/problem.ts';
import { KeptAnswers } from './kept-answers.ts';
import { makePastDay } from './make-past-day.ts';

const mostConnections = 4;
const waitMilliseconds = 8000;
const idleMilliseconds = 300_000;
const sweepMilliseconds = 60_000;
/** Days that nobody has looked at for so long are dropped, and the longest unused ones of more than so many. */
const keptDays = 7;
const mostDays = 60;

interface Opened {
  db: Database;
  kept: KeptAnswers;
  usedAt: number;
}

/** Past days as databases of their own to those who read them. Made at the first look and then kept for a while. */
export class PastDays {
  readonly #db: Database;
  readonly #url: string;
  readonly #log: Logger;
  /** By schema. */
  readonly #open = new Map<string, Opened>();
  readonly #making = new Map<Day, Promise<void>>();
  readonly #timer: NodeJS.Timeout;

  constructor(db: Database, url: string, log: Logger) {
    this.#db = db;
    this.#url = url;
    this.#log = log;
    this.#timer = setInterval(() => {
      for (const [schema, { db: opened, usedAt }] of this.#open)
        if (Date.now() - usedAt > idleMilliseconds) {
          this.#open.delete(schema);
          void opened.$client.end();
        }
    }, sweepMilliseconds);
    this.#timer.unref();
  }

  /**
   * The database as it stood at the end of a day, for reading, the schema whose tables it reads, and what it was asked before.
   * @throws ProblemError `busy` while it is being made and takes longer than a moment: it is ready a little later.
   */
  async at(day: Day, timeZone: string): Promise<{ db: Database; schema: string; kept: KeptAnswers }> {
    const schema = (await this.#find(day)) ?? (await this.#make(day, timeZone));
    const known = this.#open.get(schema);
    const opened = known ?? { db: connect(this.#url, { schema, most: mostConnections }).db, kept: new KeptAnswers(), usedAt: 0 };
    opened.usedAt = Date.now();
    this.#open.set(schema, opened);
    return { db: opened.db, schema, kept: opened.kept };
  }

  async stop(): Promise<void> {
    clearInterval(this.#timer);
    await Promise.allSettled(this.#making.values());
    await Promise.all([...this.#open.values()].map(({ db }) => db.$client.end()));
  }

  async #find(day: Day): Promise<string | null> {
    const found = await maybeRow<{ id: number }>(
      this.#db,
      sql`update past_day set used_at = now() where day = ${day} and is_whole and made_for = ${madeFor} and to_regnamespace('past_day_' || id) is not null returning id`,
    );
    return found && schemaOf(found.id);
  }

  async #make(day: Day, timeZone: string): Promise<string> {
    const making = this.#making.get(day) ?? this.#makeOnce(day, timeZone).finally(() => this.#making.delete(day));
    this.#making.set(day, making);
    const isLate = Symbol('late');
    const first = await Promise.race([
      making,
      new Promise<symbol>((resolve) => {
        setTimeout(() => resolve(isLate), waitMilliseconds).unref();
      }),
    ]);
    if (first === isLate) {
      making.catch((error: unknown) => {
        this.#log.error({ err: error }, 'a past day could not be made');
      });
      throw new ProblemError('busy', { retryAfter: 3 });
    }
    const schema = await this.#find(day);
    if (schema === null) throw new ProblemError('busy', { retryAfter: 1 });
    return schema;
  }

  /** Of several processes one makes it, and the others wait. */
  async #makeOnce(day: Day, timeZone: string): Promise<void> {
    await this.#db.transaction(async (tx) => {
      await tx.execute(sql`set local statement_timeout = 0`);
      await tx.execute(sql`set local lock_timeout = 0`);
      await tx.execute(sql`select pg_advisory_xact_lock(hashtext(${`past day ${day}`}))`);
      if (
        (
          await rows(
            tx,
            sql`select 1 from past_day where day = ${day} and is_whole and made_for = ${madeFor} and to_regnamespace('past_day_' || id) is not null`,
          )
        ).length > 0
      )
        return;
      await tx.delete(tables.pastDay).where(eq(tables.pastDay.day, day));
      const { id } = await onlyOne(tx.insert(tables.pastDay).values({ day, madeFor }).returning({ id: tables.pastDay.id }));
      await makePastDay(tx, schemaOf(id), day, timeZone);
      await tx.execute(sql`update public.past_day set is_whole = true where id = ${id}`);
    });
  }
}

const schemaOf = (id: number): string => `past_day_${id}`;

/** Migrations alter the tables that a past day is a copy of. */
const madeFor = sql`(select count(*)::text from drizzle.__drizzle_migrations)`;

/** What was known of past days is another: accounts were joined or parted, or work went to another person. They are made again when somebody looks. */
export const forgetPastDays = (db: Pick<Database, 'execute'>): Promise<unknown> => db.execute(sql`delete from past_day`);

/** Drops days that nobody looks at, and schemas that no day names any more. A reader may still be reading one that was just forgotten. */
export async function dropOldPastDays(db: Database): Promise<void> {
  await db.execute(sql`
    delete from past_day where used_at < now() - make_interval(days => ${keptDays}::int)
      or id in (select id from past_day order by used_at desc offset ${mostDays})`);
  const gone = await rows<{ name: string }>(
    db,
    sql`
    select n.nspname as name from pg_namespace n where n.nspname ~ '^past_day_[0-9]+$' and not exists (select 1 from past_day d where 'past_day_' || d.id = n.nspname)`,
  );
  for (const { name } of gone) await db.execute(sql`drop schema if exists ${sql.identifier(name)} cascade`);
}
