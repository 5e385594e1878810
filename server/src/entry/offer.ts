import type { JoinOffer } from '@gate-roster/contract';
import { type Day, lookAtMoves, showJoinCode, type Tree } from '@gate-roster/core';
import { sql } from 'drizzle-orm';
import { grantsByCourse, rulesOf } from '../access/load-rules.ts';
import { ids, isAmong, iso, onlyOne, type Queryable, rows } from '../database/connect.ts';
import * as tables from '../database/schema.ts';
import { seatsOfLook } from '../seats/seats-of-look.ts';
import type { StandingCode } from './codes.ts';
import { priceOfCode } from './hold-place.ts';

/** What a code opens, for whoever holds it. Of young learners' groups nobody is named. */
export async function offerOf(db: Queryable, tree: Tree, code: StandingCode, today: Day): Promise<Omit<JoinOffer, 'mine'>> {
  const { name: organisation } = await onlyOne(db.select({ name: tables.organisation.name }).from(tables.organisation));
  const groups = await rows<{ id: number; name: string; young: boolean; leaders: string[] }>(
    db,
    sql`
    select g.id, g.name, exists (select 1 from group_branch b join group_now a on a.id = b.ancestor_id where b.group_id = g.id and a.young_learners) as young,
      (select coalesce(jsonb_agg(n.given_name || ' ' || n.family_name order by n.family_name collate people_order), '[]') from leadership l join personal_now n on n.person_id = l.person_id
        where l.until_at is null and coalesce(l.first_day <= ${today}, true) and coalesce(l.last_day >= ${today}, true)
          and l.group_id = (select b.ancestor_id from group_branch b join leadership x on x.group_id = b.ancestor_id and x.until_at is null where b.group_id = g.id order by b.depth limit 1)) as leaders
    from unnest(${ids(code.group_ids)}) with ordinality as o(id, place) join group_now g on g.id = o.id order by o.place`,
  );
  return {
    code: showJoinCode(code.code, code.is_chosen),
    organisation,
    groups: groups.map(({ id, name, young, leaders }) => ({
      name,
      path: tree
        .path(id)
        .slice(0, -1)
        .filter((step) => tree.node(step).parentId !== null)
        .map((step) => tree.node(step).name),
      leaders: young ? [] : leaders,
    })),
    courses: code.powers === null ? await coursesOpenedBy(db, tree, code.group_ids, today) : [],
    leads: code.powers !== null,
    youngLearners: groups.some(({ young }) => young),
    needsDecision: code.needs_decision,
    emailEnding: code.email_ending,
    until: code.last_at && iso(code.last_at),
    asks: code.asks,
    price: await priceOfCode(db, code),
  };
}

/** The courses that somebody new would get by being in these groups, today or later. */
async function coursesOpenedBy(db: Queryable, tree: Tree, groupIds: readonly number[], today: Day): Promise<JoinOffer['courses']> {
  const about = await grantsByCourse(db, null);
  const memberships = groupIds.map((groupId) => ({ groupId, firstDay: null, lastDay: null }));
  const newcomer = { personId: null, active: true, firstDay: null, lastDay: null, memberships };
  const { gains } = lookAtMoves(rulesOf(tree, about), [{ who: { newcomers: 0 }, people: 1, before: null, after: newcomer }], today);
  const names = await db
    .select({ id: tables.courseNow.id, name: tables.courseNow.name })
    .from(tables.courseNow)
    .where(
      isAmong(
        tables.courseNow.id,
        gains.map(({ courseId }) => courseId),
      ),
    )
    .orderBy(sql`${tables.courseNow.name} collate people_order`);
  const { line } = await seatsOfLook(
    { db, today, seen: null },
    { tree, courses: about, moving: [{ who: { newcomers: 0 }, people: 1, before: null, after: newcomer }], rowsOfNew: [[0]] },
  );
  return names.map(({ id, name }) => ({
    name,
    opensOn: gains.find(({ courseId }) => courseId === id)?.day ?? null,
    inLine: line.some(({ courseId }) => courseId === id),
  }));
}
