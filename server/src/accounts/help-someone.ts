import type { Answer, HelpSheet, Routes } from '@gate-roster/contract';
import {
  branchesWith,
  firstObstacle,
  joinCodeKey,
  joinCodeState,
  may,
  mayActOnAccount,
  type Obstacle,
  type SignInFacts,
  showJoinCode,
  type Tree,
} from '@gate-roster/core';
import { sql } from 'drizzle-orm';
import { ids, iso, maybeRow, oneRow, type Queryable, rows } from '../database/connect.ts';
import { maybeCode } from '../entry/codes.ts';
import { notFound } from '../http/problem.ts';
import { enrolmentsOf } from '../progress/enrolments.ts';
import { maybeAccount } from '../people/account.ts';
import { matches, onlyGroups, seenPerson } from '../people/scope.ts';
import type { SignedIn } from './actor.ts';
import { mayHelp } from './may-help.ts';
import { progressSight, seenGroups } from './reach.ts';

const foundAtOnce = 8;
const recentAtOnce = 20;

/** Whom a helper may mean: by a number read out, a join code, or a name. Outside their branches there is nobody. */
export async function findForHelp(db: Queryable, actor: SignedIn, tree: Tree, q: string, now: Date): Promise<Answer<Routes['helpFind']>> {
  const own = await seenGroups(db, actor);
  const theirs = sql`select g.id, g.name from membership m join group_now g on g.id = m.group_id where m.person_id = n.person_id and m.until_at is null and ${onlyGroups(sql`m.group_id`, own)}`;
  const people = await rows<{ id: number; name: string; group: string | null }>(
    db,
    sql`
    select n.person_id as id, trim(n.given_name || ' ' || n.family_name) as name, (select f.name from (${theirs} limit 1) f) as "group"
    from personal_now n join person p on p.id = n.person_id where p.erased_at is null and ${matches(q)} and ${seenPerson(actor, sql`n.person_id`)}
    order by n.family_name collate people_order, n.given_name collate people_order limit ${foundAtOnce}`,
  );
  return { people, number: await numberFor(db, actor, q), code: await codeFor(db, actor, tree, q, now) };
}

/** Who of the branches in which the actor helps could not get in lately and has not since, the latest first. A sign-in that works forgets the rest. */
export async function recentTrouble(db: Queryable, actor: SignedIn): Promise<Answer<Routes['helpRecent']>> {
  const tops = branchesWith(actor, 'helpSignIn');
  const theirs = sql`
    select g.name from membership m join group_now g on g.id = m.group_id where m.person_id = n.person_id and m.until_at is null
      and ${tops === null ? sql`true` : sql`m.group_id in (select group_id from group_branch where ancestor_id = any(${ids(tops)}))`} order by m.row_id limit 1`;
  const found = await rows<{ id: number; name: string; group: string | null; at: string; tries: number }>(
    db,
    sql`
    select n.person_id as id, trim(n.given_name || ' ' || n.family_name) as name, h.name as "group", t.at, t.tries
    from (select person_id, max(at) as at, count(*)::int as tries from sign_in_trouble where person_id is not null group by person_id) t
    join personal_now n on n.person_id = t.person_id join person p on p.id = t.person_id
    ${tops === null ? sql`left join` : sql`join`} lateral (${theirs}) h on true
    where p.erased_at is null order by t.at desc limit ${recentAtOnce}`,
  );
  return { people: found.map(({ at, ...person }) => ({ ...person, at: iso(at) })) };
}

/** Of a number that was read out: whose it is, when the helper may know them. No account, and not theirs, are one answer. */
async function numberFor(db: Queryable, actor: SignedIn, q: string): Promise<Answer<Routes['helpFind']>['number']> {
  const digits = q.replace(/\s/gu, '');
  if (!/^\d{6}$/u.test(digits)) return null;
  const found = await maybeRow<{ person_id: number; at: string }>(
    db,
    sql`select t.person_id, t.at from sign_in_trouble t where t.number = ${digits} and t.ends_at > now() and t.person_id is not null and ${seenPerson(actor, sql`t.person_id`)}`,
  );
  return found ? { personId: found.person_id, at: iso(found.at) } : { personId: null, at: null };
}

async function codeFor(db: Queryable, actor: SignedIn, tree: Tree, q: string, now: Date): Promise<Answer<Routes['helpFind']>['code']> {
  if (joinCodeKey(q).length < 8) return null;
  const code = await maybeCode(db, joinCodeKey(q));
  if (!code?.group_ids.every((id) => may(actor, 'see', { path: tree.path(id) }))) return null;
  const state = joinCodeState(
    { paused: code.paused, firstAt: code.first_at, lastAt: code.last_at, useLimit: code.use_limit, uses: code.uses },
    now,
  );
  return { code: showJoinCode(code.code, code.is_chosen), state, groups: code.group_ids.map((id) => tree.node(id).name) };
}

/**
 * The first thing that stops somebody, as far as the helper may know.
 * @throws ProblemError `not-found` unless the helper helps people sign in where this person is, or decides about their asking.
 */
export async function helpSheetOf(
  db: Queryable,
  actor: SignedIn,
  tree: Tree,
  personId: number,
  courseId: number | undefined,
): Promise<HelpSheet> {
  const account = await maybeAccount(db, tree, personId);
  const request = await maybeRow<{ group_id: number; group: string; since: string }>(
    db,
    sql`select r.group_id, g.name as "group", r.asked_at as since from join_request r join group_now g on g.id = r.group_id where r.person_id = ${personId} and r.until_at is null and r.state = 'asking' order by r.row_id limit 1`,
  );
  const decides = request !== null && may(actor, 'decideEntry', { path: tree.path(request.group_id) });
  if (!account || !(mayHelp(actor, account) || decides)) throw notFound();
  const own = await seenGroups(db, actor);
  const enrolments = await enrolmentsOf(db, [personId], {
    today: actor.today,
    sight: await progressSight(db, actor),
    dueSoonDays: actor.dueSoonDays,
    withLater: true,
  });
  const wanted = enrolments.find((each) => each.courseId === courseId);
  const waiting = enrolments.find(({ units, inLine }) => units.length > 0 && inLine !== null);
  const facts: SignInFacts = {
    ...(await accountFacts(db, personId, own)),
    asking: request && { group: request.group, since: iso(request.since) },
    course: wanted ? { name: wanted.course, open: wanted.units.length > 0, opensOn: wanted.opensOn, inLine: wanted.inLine } : null,
    waitsFor: waiting && waiting.inLine !== null ? { name: waiting.course, inLine: waiting.inLine } : null,
    coursesOpen: enrolments.filter(({ units, inLine }) => units.length > 0 && inLine === null).length,
  };
  const { name, sign_in_name } = await oneRow<{ name: string; sign_in_name: string | null }>(
    db,
    sql`select trim(given_name || ' ' || family_name) as name, sign_in_name from personal_now where person_id = ${personId}`,
  );
  const obstacle = firstObstacle(facts, actor.today);
  return {
    person: { id: personId, name },
    signInName: sign_in_name,
    obstacle,
    mayMend: mayMend(actor, obstacle, { isTheirs: mayActOnAccount(actor, account), decides, paths: account.paths }),
    groupId:
      account.paths.map((path) => path.at(-1)).find((id) => id !== undefined && (own === null || own.has(id))) ?? request?.group_id ?? null,
    courses: enrolments.map((each) => ({ id: each.courseId, name: each.course, open: each.units.length > 0 })),
  };
}

async function accountFacts(
  db: Queryable,
  personId: number,
  own: ReadonlySet<number> | null,
): Promise<Omit<SignInFacts, 'asking' | 'course' | 'coursesOpen' | 'waitsFor'>> {
  const row = await oneRow<{
    state: SignInFacts['state'];
    first_day: string | null;
    last_day: string | null;
    has_password: boolean;
    email: string | null;
    signed_in: boolean;
    wrong_at: string | null;
    slowed: number | null;
    bounced_at: string | null;
    groups: number;
    resting: string[];
  }>(
    db,
    sql`
    select s.state, s.first_day, s.last_day, exists (select 1 from credential c where c.person_id = p.id) as has_password, n.email, p.signed_in_at is not null as signed_in,
      (select max(at) from sign_in_trouble t where t.person_id = p.id and t.at > coalesce(p.signed_in_at, '-infinity')) as wrong_at,
      (select max(expire) from rate_limit where key like 'sign-in:%' and points >= 5 and expire > extract(epoch from now()) * 1000
        and key like 'sign-in:account ' || p.id || '|%') as slowed,
      (select l.made_at from letter l where l.person_id = p.id and l.id = (select max(id) from letter where person_id = p.id) and l.state = 'bounced') as bounced_at,
      p.counted::int as groups,
      array(select g.name from membership m join group_now g on g.id = m.group_id where m.person_id = p.id and m.until_at is null and not p.counted and ${onlyGroups(sql`g.id`, own)}) as resting
    from person p join personal_now n on n.person_id = p.id join person_state s on s.person_id = p.id and s.until_at is null where p.id = ${personId}`,
  );
  return {
    state: row.state,
    firstDay: row.first_day,
    lastDay: row.last_day,
    hasPassword: row.has_password,
    hasAddress: row.email !== null,
    hasSignedIn: row.signed_in,
    lastWrongAt: row.wrong_at && iso(row.wrong_at),
    slowedUntil: row.slowed === null ? null : new Date(row.slowed).toISOString(),
    bouncedAt: row.bounced_at && iso(row.bounced_at),
    groups: row.groups,
    restingGroups: row.resting,
  };
}

/** Has the helper the power for the one act that mends it? */
function mayMend(
  actor: SignedIn,
  { act }: Obstacle,
  { isTheirs, decides, paths }: { isTheirs: boolean; decides: boolean; paths: readonly (readonly number[])[] },
): boolean {
  if (act === 'decide') return decides;
  if (act === 'see why') return true;
  if (act === 'see seats') return actor.role === 'administrator' || paths.some((path) => may(actor, 'handOutSeats', { path }));
  if (act === 'put in group') return actor.role === 'administrator' || paths.some((path) => may(actor, 'managePeople', { path }));
  return isTheirs;
}
