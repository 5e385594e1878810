import type { Platform } from '@gate-roster/contract';
import { tidyName } from '@gate-roster/core';
import { sql } from 'drizzle-orm';
import { randomBytes } from 'node:crypto';
import { makeToken } from '../accounts/tokens.ts';
import { ids, iso, oneRow, type Queryable, rows, type Transaction } from '../database/connect.ts';
import type { Deps } from '../http/deps.ts';
import type { Handlers } from '../http/handle.ts';
import { found, notFound } from '../http/problem.ts';
import { paymentKey } from '../payment-service/service.ts';
import { resultsKey } from '../progress/result-files.ts';
import { playerKey } from '../player/player.ts';

/** Course platforms that send statements; an administrator's. */
export function platformHandlers({ db, settings }: Deps): Handlers {
  return {
    async platforms() {
      const courses = await rows<{ id: number; name: string }>(
        db,
        sql`select id, name from course_now where not archived order by name, id`,
      );
      return { platforms: await platformList(db), address: `${settings.publicUrl}/xapi`, courses };
    },

    async makePlatform({ body: { name, allCourses, courses } }) {
      const { token, hash } = makeToken();
      return db.transaction(async (tx) => {
        const made = await oneRow<{ id: number; key: string }>(
          tx,
          sql`
          insert into source (key, secret, name, password_hash, all_courses)
          values (${`platform-${randomBytes(4).toString('hex')}`}, ${randomBytes(32).toString('base64url')}, ${tidyName(name)}, ${hash}, ${allCourses}) returning id, key`,
        );
        await nameCourses(tx, made.id, courses);
        return { ...made, password: token };
      });
    },

    async editPlatform({ params: { platformId }, body: { name, allCourses, courses } }) {
      await db.transaction(async (tx) => {
        await outsidePlatform(tx, platformId);
        await tx.execute(sql`update source set name = ${tidyName(name)}, all_courses = ${allCourses} where id = ${platformId}`);
        await nameCourses(tx, platformId, courses);
      });
    },

    async platformPassword({ params: { platformId } }) {
      await outsidePlatform(db, platformId);
      const { token, hash } = makeToken();
      await db.execute(sql`update source set password_hash = ${hash} where id = ${platformId}`);
      return { password: token };
    },

    async endPlatform({ params: { platformId } }) {
      await outsidePlatform(db, platformId);
      await db.execute(sql`update source set ended_at = now(), password_hash = null where id = ${platformId}`);
    },
  };
}

/** @throws ProblemError `not-found` for one that ended, or that comes with the application. */
async function outsidePlatform(db: Queryable, id: number): Promise<void> {
  const [source] = await rows<{ key: string }>(db, sql`select key from source where id = ${id} and ended_at is null for update`);
  if (ownKeys.includes(found(source).key)) throw notFound();
}

const ownKeys = [playerKey, paymentKey, resultsKey];

/** @throws ProblemError `not-found` when one of the courses is none. */
async function nameCourses(tx: Transaction, sourceId: number, courses: readonly number[]): Promise<void> {
  await tx.execute(sql`delete from source_course where source_id = ${sourceId}`);
  const named = await tx.execute(
    sql`insert into source_course (source_id, course_id) select ${sourceId}, id from course_now where id = any(${ids(courses)})`,
  );
  if (named.rowCount !== new Set(courses).size) throw notFound();
}

async function platformList(db: Queryable): Promise<Platform[]> {
  const list = await rows<Platform & { lastAt: string | null }>(
    db,
    sql`
    select s.id, s.name, s.key, s.password_hash is not null as "hasPassword", s.all_courses as "allCourses", s.key = ${playerKey} as "isOwn",
      (select coalesce(jsonb_agg(jsonb_build_object('id', c.id, 'name', c.name) order by c.name, c.id), '[]') from course_now c
        where s.key <> ${playerKey} and exists (select 1 from source_course o where o.source_id = s.id and o.course_id = c.id)) as courses,
      r.statements, r."notCounted", r."lastAt"
    from source s cross join lateral (
      select count(*)::int as statements, count(*) filter (where not_counted is not null)::int as "notCounted", (select max(received_at) from report where source_id = s.id) as "lastAt"
      from report where source_id = s.id and received_at > now() - interval '30 days'
    ) r
    where s.ended_at is null and s.key not in (${paymentKey}, ${resultsKey}) order by s.key = ${playerKey} desc, s.name, s.id`,
  );
  return list.map((each) => ({ ...each, lastAt: each.lastAt && iso(each.lastAt) }));
}
