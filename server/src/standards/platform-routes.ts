import type { Platform } from '@gate-roster/contract';
import { tidyName } from '@gate-roster/core';
import { and, eq, isNull, sql } from 'drizzle-orm';
import { randomBytes } from 'node:crypto';
import { makeToken } from '../accounts/tokens.ts';
import { ids, iso, onlyOne, type Queryable, rows, type Transaction } from '../database/connect.ts';
import * as tables from '../database/schema.ts';
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
      const courses = await db
        .select({ id: tables.courseNow.id, name: tables.courseNow.name })
        .from(tables.courseNow)
        .where(eq(tables.courseNow.archived, false))
        .orderBy(tables.courseNow.name, tables.courseNow.id);
      return { platforms: await platformList(db), address: `${settings.publicUrl}/xapi`, courses };
    },

    async makePlatform({ body: { name, allCourses, courses } }) {
      const { token, hash } = makeToken();
      return db.transaction(async (tx) => {
        const made = await onlyOne(
          tx
            .insert(tables.source)
            .values({
              key: `platform-${randomBytes(4).toString('hex')}`,
              secret: randomBytes(32).toString('base64url'),
              name: tidyName(name),
              passwordHash: hash,
              allCourses,
            })
            .returning({ id: tables.source.id, key: tables.source.key }),
        );
        await nameCourses(tx, made.id, courses);
        return { ...made, password: token };
      });
    },

    async editPlatform({ params: { platformId }, body: { name, allCourses, courses } }) {
      await db.transaction(async (tx) => {
        await outsidePlatform(tx, platformId);
        await tx
          .update(tables.source)
          .set({ name: tidyName(name), allCourses })
          .where(eq(tables.source.id, platformId));
        await nameCourses(tx, platformId, courses);
      });
    },

    async platformPassword({ params: { platformId } }) {
      await outsidePlatform(db, platformId);
      const { token, hash } = makeToken();
      await db.update(tables.source).set({ passwordHash: hash }).where(eq(tables.source.id, platformId));
      return { password: token };
    },

    async endPlatform({ params: { platformId } }) {
      await outsidePlatform(db, platformId);
      await db
        .update(tables.source)
        .set({ endedAt: sql`now()`, passwordHash: null })
        .where(eq(tables.source.id, platformId));
    },
  };
}

/** @throws ProblemError `not-found` for one that ended, or that comes with the application. */
async function outsidePlatform(db: Queryable, id: number): Promise<void> {
  const [source] = await db
    .select({ key: tables.source.key })
    .from(tables.source)
    .where(and(eq(tables.source.id, id), isNull(tables.source.endedAt)))
    .for('update');
  if (ownKeys.includes(found(source).key)) throw notFound();
}

const ownKeys = [playerKey, paymentKey, resultsKey];

/** @throws ProblemError `not-found` when one of the courses is none. */
async function nameCourses(tx: Transaction, sourceId: number, courses: readonly number[]): Promise<void> {
  await tx.delete(tables.sourceCourse).where(eq(tables.sourceCourse.sourceId, sourceId));
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
