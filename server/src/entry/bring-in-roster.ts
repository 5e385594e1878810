import {
  checkRoster,
  emailKey,
  fileLimits,
  type KnownPerson,
  lookAtMoves,
  may,
  membershipSetKey,
  movingClasses,
  type MovingLearner,
  nameKey,
  noEffects,
  type RosterPerson,
  type RosterRow,
  speakingBranch,
} from '@gate-roster/core';
import { sql } from 'drizzle-orm';
import { invite } from '../accounts/set-leaders.ts';
import { asSeen, grantsByCourse, learners, peopleWithGrants, rulesOf } from '../access/load-rules.ts';
import { type Plan, type PlanContext, type Planner, summaryOf } from '../changes/plan.ts';
import type { ChangeWriter } from '../changes/writer.ts';
import { ids, type Queryable, rows, texts, type Transaction } from '../database/connect.ts';
import { pathTo } from '../groups/queries.ts';
import { notFound, ProblemError } from '../http/problem.ts';
import { makePeople } from '../people/make-people.ts';
import { beginTags, ensureTags } from '../people/tagging.ts';

/** Brings in the good rows of a roster, all or nothing. */
export const planBringInRoster: Planner<'bring-in-roster'> = async (context, change) => {
  const { actor, tree } = context;
  // A leader types in people of their own branches; whoever is not known there and has an address is invited.
  const isLeaders = actor.role !== 'administrator' && change.fileName === null;
  const path = await pathTo(context.db, actor, change.into, isLeaders ? 'managePeople' : 'administer');
  const issuer = speakingBranch(actor, 'managePeople', { path: path.map(({ id }) => id) }) ?? path[0]?.id ?? change.into;
  const mayManage = (id: number): boolean => tree.has(id) && may(actor, 'managePeople', { path: tree.path(id) });
  if (change.rows.length > fileLimits.rows || new Set(change.rows.map(({ row }) => row)).size < change.rows.length) {
    throw new ProblemError('bad-request', { where: [{ place: 'body.change.rows', what: 'Row numbers stand once each' }] });
  }
  const known = (await knownPeople(context.db, issuer, change.rows)).filter(
    ({ groups }) => !isLeaders || groups.some((id) => mayManage(id)),
  );
  const checked = checkRoster(change.rows, {
    tree,
    into: change.into,
    hasGroupColumn: change.hasGroupColumn,
    dateOrder: change.dateOrder,
    known,
  });
  const invited = isLeaders ? checked.people.filter(({ personId, email }) => personId === null && email !== null) : [];
  const people = checked.people.filter((person) => !invited.includes(person));
  if (isLeaders) notTheirs(people, mayManage);
  const effects = { ...noEffects(), ...(await accessEffects(context, people)) };
  effects.rows = checked.rows;
  effects.letters = invited.length;
  effects.newPeople = people.filter(({ personId }) => personId === null).length;
  effects.changedPeople = people.flatMap(({ personId, changes, tags }) =>
    personId !== null && changes.length + tags.length > 0 ? [personId] : [],
  );
  effects.joins = joinsOf(people);
  if (checked.people.length === 0) effects.conflicts.push({ code: 'nothing to do', blocks: true, count: 1 });
  const groups = [...new Set([change.into, ...checked.people.flatMap(({ memberships }) => memberships.map(({ groupId }) => groupId))])];

  return {
    effects,
    groups,
    summary: summaryOf({
      groups: [change.into],
      fileName: change.fileName,
      counts: {
        newPeople: effects.newPeople,
        changed: checked.people.filter(({ personId, memberships }) => personId !== null && memberships.length === 0).length,
        leftOut: checked.rows.filter(({ outcome }) => outcome === 'needs a look').length,
        joining: checked.people.filter(({ personId, memberships }) => personId !== null && memberships.length > 0).length,
        invited: invited.length,
      },
    }),
    async write(tx, writer) {
      const group = path.at(-1)?.name ?? '';
      for (const { givenName, familyName, email } of invited)
        await invite(tx, writer, context, {
          groupId: change.into,
          group,
          givenName,
          familyName,
          email: email ?? '',
          powers: null,
          firstDay: null,
          lastDay: null,
        });
      return {
        people: await write(tx, writer, people, { issuer, byLeader: isLeaders, cameBy: change.fileName === null ? 'hand' : 'file' }),
      };
    },
  };
};

/** A leader's rows put nobody where the leader does not manage people, and change no details of known people. */
function notTheirs(people: readonly RosterPerson[], mayManage: (groupId: number) => boolean): void {
  for (const person of people) {
    if (!person.memberships.every(({ groupId }) => mayManage(groupId))) throw notFound();
    if (person.personId !== null) person.changes = [];
  }
}

/** Everybody whom a row might mean, by ID number of this issuer or by email. */
async function knownPeople(db: Queryable, issuer: number, list: readonly RosterRow[]): Promise<KnownPerson[]> {
  const emails = list.flatMap(({ cells }) => (cells.email ? [emailKey(cells.email)] : []));
  const numbers = list.flatMap(({ cells }) => (cells.idNumber ? [cells.idNumber.trim()] : []));
  return rows<KnownPerson>(
    db,
    sql`
    select p.id, n.given_name as "givenName", n.family_name as "familyName", n.email, case when n.id_issuer = ${issuer} then n.id_number end as "idNumber",
      p.role = 'administrator' as "isAdministrator",
      coalesce((select jsonb_agg(m.group_id) from membership m where m.person_id = p.id and m.until_at is null), '[]') as groups,
      coalesce((select jsonb_agg(t.name) from person_tag pt join tag_now t on t.id = pt.tag_id where pt.person_id = p.id and pt.until_at is null), '[]') as tags
    from personal_now n join person p on p.id = n.person_id
    where n.email = any(${texts(emails)}::citext[]) or (n.id_issuer = ${issuer} and n.id_number = any(${texts(numbers)}))`,
  );
}

async function accessEffects(
  context: PlanContext,
  people: readonly RosterPerson[],
): Promise<Pick<Plan['effects'], 'gains' | 'loses' | 'still' | 'newcomers'>> {
  const moving: MovingLearner[] = [];
  const newcomers: { memberships: RosterPerson['memberships']; people: number }[] = [];
  const classes = new Map<string, number>();
  for (const { memberships } of people.filter(({ personId }) => personId === null)) {
    const key = `${membershipSetKey(memberships.map(({ groupId }) => groupId))}@${memberships.map(({ firstDay, lastDay }) => `${firstDay ?? ''}-${lastDay ?? ''}`).join()}`;
    const index = classes.get(key) ?? newcomers.push({ memberships, people: 0 }) - 1;
    classes.set(key, index);
    const found = newcomers[index];
    if (found) found.people++;
  }
  newcomers.forEach(({ memberships, people: count }, index) => {
    moving.push({
      who: { newcomers: index },
      people: count,
      before: null,
      after: { personId: null, active: true, firstDay: null, lastDay: null, memberships },
    });
  });
  const joining = new Map(
    people.flatMap((person) => (person.personId !== null && person.memberships.length > 0 ? [[person.personId, person] as const] : [])),
  );
  const about = await grantsByCourse(context.db, null);
  const withOwn = peopleWithGrants(about);
  moving.push(
    ...movingClasses(
      (await learners(context.db, [...joining.keys()])).map((learner) => ({
        personId: learner.personId,
        before: asSeen(learner, context.seen),
        after: asSeen(
          { ...learner, memberships: [...learner.memberships, ...(joining.get(learner.personId)?.memberships ?? [])] },
          context.seen,
        ),
      })),
      withOwn,
    ),
  );
  const rules = rulesOf(context.tree, about);
  return { ...lookAtMoves(rules, moving, context.today), newcomers: newcomers.map((each) => each.people) };
}

function joinsOf(people: readonly RosterPerson[]): Plan['effects']['joins'] {
  const joins = new Map<number, { persons: number[]; people: number }>();
  for (const { personId, memberships } of people) {
    for (const { groupId } of memberships) {
      const join = joins.get(groupId) ?? { persons: [], people: 0 };
      join.people++;
      if (personId !== null) join.persons.push(personId);
      joins.set(groupId, join);
    }
  }
  return [...joins].map(([groupId, { persons, people: count }]) => ({ groupId, who: { sets: [], persons, newcomers: [] }, people: count }));
}

/** @returns Everybody whose groups changed. */
async function write(
  tx: Transaction,
  writer: ChangeWriter,
  people: readonly RosterPerson[],
  how: { issuer: number; byLeader: boolean; cameBy: 'file' | 'hand' },
): Promise<number[]> {
  const newcomers = people.filter(({ personId }) => personId === null);
  const made = await makePeople(
    tx,
    writer,
    newcomers.map((person) => ({ ...person, groupId: person.memberships[0]?.groupId ?? null })),
    how,
  );
  const idOf = new Map<RosterPerson, number>(
    people.flatMap((person) => (person.personId === null ? [] : [[person, person.personId] as const])),
  );
  newcomers.forEach((person, index) => idOf.set(person, made[index]?.id ?? 0));
  await changeDetails(tx, writer, people, how.issuer);
  await writer.beginMemberships(
    people.flatMap((person) => person.memberships.map((held) => ({ personId: idOf.get(person) ?? 0, ...held }))),
    how.cameBy,
  );
  const tags = await ensureTags(
    tx,
    writer,
    people.flatMap((person) => person.tags),
    how.issuer,
  );
  await beginTags(
    tx,
    writer,
    people.flatMap((person) => person.tags.flatMap((name) => ({ personId: idOf.get(person) ?? 0, tagId: tags.get(nameKey(name)) ?? 0 }))),
  );
  return [...idOf].flatMap(([person, id]) => (person.memberships.length > 0 || person.personId === null ? [id] : []));
}

/** Ends the personal row and begins one with the new details. */
async function changeDetails(tx: Transaction, writer: ChangeWriter, people: readonly RosterPerson[], issuer: number): Promise<void> {
  const changed = new Map(
    people.flatMap(({ personId, changes }) => (personId !== null && changes.length > 0 ? [[personId, changes] as const] : [])),
  );
  const standing = await rows<{ row_id: number; person_id: number }>(
    tx,
    sql`select row_id, person_id from personal_now where person_id = any(${ids(changed.keys())})`,
  );
  await writer.replace(
    'personal',
    standing.map(({ row_id, person_id }) => {
      const values: Record<string, unknown> = {};
      for (const { field, after } of changed.get(person_id) ?? []) values[columnOf[field]] = after;
      if ('id_number' in values) values['id_issuer'] = issuer;
      return { rowId: row_id, values };
    }),
  );
}

const columnOf = { givenName: 'given_name', familyName: 'family_name', email: 'email', idNumber: 'id_number' } as const;
