import type { Answer, MessageAnswer, MessageRow, MessageSheet, MyMessage, readerLists, Routes, tallyFor } from '@gate-roster/contract';
import { addTo, may } from '@gate-roster/core';
import { eq, sql, type SQL } from 'drizzle-orm';
import type { SignedIn } from '../accounts/actor.ts';
import { seenGroups } from '../accounts/reach.ts';
import { ids, iso, maybeRow, oneRow, onlyOne, type Queryable, rows } from '../database/connect.ts';
import * as tables from '../database/schema.ts';
import { pathTo, wholeTree } from '../groups/queries.ts';
import { found, notFound } from '../http/problem.ts';
import { isYoung } from '../letters/write-letters.ts';
import { groupsOf, onlyGroups, seenPerson } from '../people/scope.ts';
import { reachedBy, wayOfLetter, writtenTo } from './audience.ts';
import { activitiesOf, filesOf, isOver, ownWordsOf, talliesOf } from './message-parts.ts';

const atOnce = 40;
const mineAtOnce = 100;
const threadAtOnce = 200;
const readersAtOnce = 500;

export interface StandingMessage {
  id: number;
  kind: MessageRow['kind'];
  title: string;
  body: string;
  groupId: number;
  group: string;
  toGroups: number[] | null;
  withSubgroups: boolean;
  answers: boolean;
  urgent: boolean;
  pinnedUntil: string | null;
  dueDay: string | null;
  choices: string[] | null;
  several: boolean;
  closes: boolean;
  activityId: number | null;
  ownWords: boolean;
  isNamed: boolean;
  tally: (typeof tallyFor)[number];
  fileIds: number[];
  isClosed: boolean;
  madeBy: number;
  by: string;
  sentAt: string;
  isWaiting: boolean;
}

/** What is read of a message (`v`) with the group in whose name it stands (`g`) and its maker (`n`). */
const columns = sql`
  v.message_id as id, v.kind, v.title, v.body, v.group_id as "groupId", g.name as "group", to_jsonb(v.to_groups) as "toGroups", v.with_subgroups as "withSubgroups", v.answers, v.urgent,
  v.pinned_until as "pinnedUntil", v.due_day as "dueDay", to_jsonb(v.choices) as choices, v.several, v.closes, v.activity_id as "activityId", v.own_words as "ownWords", v.is_named as "isNamed", v.tally, to_jsonb(v.file_ids) as "fileIds",
  (select o.closed_at is not null from message o where o.id = v.message_id) as "isClosed", v.made_by as "madeBy", trim(n.given_name || ' ' || n.family_name) as by, v.sent_at as "sentAt", v.sent_at > now() as "isWaiting"`;
const messageTables = sql`message_version v join group_now g on g.id = v.group_id join personal_now n on n.person_id = v.made_by`;

/** What was written in a scope, latest first. A leader reads what stands in the name of groups of their branches. */
export async function messagesInScope(
  db: Queryable,
  actor: SignedIn,
  scope: { groupId: number; withSubgroups: boolean },
  { after, tag, kind }: { after?: number | undefined; tag?: string | undefined; kind?: MessageRow['kind'] | undefined },
): Promise<Answer<Routes['messages']>> {
  const path = await pathTo(db, actor, scope.groupId);
  const inGroupsOfScope = sql`v.group_id in (${groupsOf(scope.groupId, scope.withSubgroups)})`;
  const inScope = sql`${inGroupsOfScope} and ${after === undefined ? sql`true` : sql`v.message_id < ${after}`}
    and ${tag === undefined ? sql`true` : sql`${tag} = any(v.tags)`} and ${kind === undefined ? sql`true` : sql`v.kind = ${kind}`}`;
  const tags = await rows<{ tag: string }>(
    db,
    sql`select distinct t as tag from message_version v cross join unnest(v.tags) t where v.until_at is null and ${inGroupsOfScope} order by 1 limit 200`,
  );
  const list = await messageRows(db, actor, inScope, atOnce + 1);
  const page = list.slice(0, atOnce);
  return {
    messages: page,
    next: list.length > atOnce ? (page.at(-1)?.id ?? null) : null,
    may: { write: may(actor, 'writeMessages', { path: path.map(({ id }) => id) }) },
    tags: tags.map(({ tag: each }) => each),
  };
}

/** Sets of groups whose people the message `v` reaches. */
const setsOfMessage = sql`(
  select b.set_id from set_in_branch b where v.with_subgroups and b.ancestor_id = any(v.to_groups)
  union select g.set_id from membership_set_group g where not v.with_subgroups and g.group_id = any(v.to_groups))`;

/** Standing messages (`v`) under a condition, latest first, with how many each has reached: counted by sets, and among those who have looked. */
async function messageRows(db: Queryable, actor: SignedIn, condition: SQL, limit: number): Promise<MessageRow[]> {
  const own = await seenGroups(db, actor);
  const list = await rows<MessageRow>(
    db,
    sql`
    select v.message_id as id, v.kind, v.title, jsonb_build_object('id', g.id, 'name', g.name) as "group", v.with_subgroups as "withSubgroups", trim(n.given_name || ' ' || n.family_name) as by,
      v.sent_at as "sentAt", v.sent_at > now() as "isWaiting", v.due_day as "dueDay", v.pinned_until as "pinnedUntil", v.urgent, to_jsonb(v.tags) as tags,
      coalesce((select jsonb_agg(jsonb_build_object('id', t.id, 'name', t.name) order by t.name collate people_order) from group_now t where t.id = any(v.to_groups) and ${onlyGroups(sql`t.id`, own)}), '[]') as "toGroups",
      jsonb_build_object('people', case when v.to_groups is null then (select count(*) from message_reader c where c.message_id = v.message_id and c.is_chosen)
          else (select coalesce(sum(m.counted), 0) from membership_set m where m.id in ${setsOfMessage}) end,
        'seen', k.seen, 'done', k.done, 'answered', k.answered) as reached
    from ${messageTables} cross join lateral (
      select count(r.seen_at)::int as seen, count(r.done_at)::int as done, count(r.choices)::int as answered from message_reader r join person p on p.id = r.person_id
      where r.message_id = v.message_id and case when v.to_groups is null then r.is_chosen else p.counted and p.set_id in ${setsOfMessage} end
    ) k where v.until_at is null and ${condition} order by v.message_id desc limit ${limit}`,
  );
  return list.map((row) => ({ ...row, sentAt: iso(row.sentAt) }));
}

/** A message that stands in the name of a group of the reader's. @throws ProblemError `not-found` */
export async function standingMessage(db: Queryable, actor: SignedIn, messageId: number): Promise<StandingMessage> {
  const message = found(
    await maybeRow<StandingMessage>(
      db,
      sql`select ${columns} from ${messageTables} where v.until_at is null and v.message_id = ${messageId}`,
    ),
  );
  await pathTo(db, actor, message.groupId);
  return message;
}

/** One message with its answers and whom it has reached. */
export async function messageSheet(db: Queryable, actor: SignedIn, messageId: number): Promise<MessageSheet> {
  const message = await standingMessage(db, actor, messageId);
  const row = found((await messageRows(db, actor, sql`v.message_id = ${messageId}`, 1))[0]);
  const reaches = reachedBy({ messageId, ...message });
  const chosen = await rows<{ place: number; people: number }>(
    db,
    sql`
    select c as place, count(*)::int as people from person p join message_reader r on r.message_id = ${messageId} and r.person_id = p.id cross join lateral unnest(r.choices) c where ${reaches} group by c`,
  );
  const counts = new Map(chosen.map(({ place, people }) => [place, people]));
  const tree = await wholeTree(db);
  return {
    ...row,
    body: message.body,
    answers: message.answers,
    several: message.several,
    choices: (message.choices ?? []).map((text, place) => ({ text, people: counts.get(place) ?? 0 })),
    closes: message.closes,
    isNamed: message.isNamed,
    tally: message.tally,
    ownWords: message.ownWords ? await ownWordsOf(db, message, reaches) : null,
    activity: message.activityId === null ? null : ((await activitiesOf(db, [message])).get(message.activityId)?.name ?? null),
    files: (await filesOf(db, [message])).get(messageId) ?? [],
    isClosed: message.isClosed,
    isCommon: isCommon(message),
    thread: (await threadsOf(db, actor, [messageId], sql`true`, { showsNames: true })).get(messageId) ?? [],
    letters: await oneRow<MessageSheet['letters']>(
      db,
      sql`
      select count(*) filter (where t.sent_at is not null)::int as sent, count(*) filter (where t.sent_at is null and t.person_id is not null)::int as waiting,
        count(*) filter (where n.address_failed or exists (select 1 from letter l where l.person_id = p.id and l.kind = 'messages' and l.state = 'bounced' and l.made_at >= ${message.sentAt}::timestamptz))::int as "cameBack",
        count(*) filter (where ${wayOfLetter} = 'none')::int as "noAddress"
      from person p join personal_now n on n.person_id = p.id left join message_notice t on t.message_id = ${messageId} and t.person_id = p.id where ${reaches}`,
    ),
    may: { write: may(actor, 'writeMessages', { path: tree.path(message.groupId) }) },
  };
}

/** Only a message to one whole group has a thread that everybody in it reads. */
export const isCommon = ({ toGroups }: Pick<StandingMessage, 'toGroups'>): boolean => toGroups?.length === 1;

/** Answers `a` by message, the latest of each. To other learners a young learner has no name. */
async function threadsOf(
  db: Queryable,
  actor: SignedIn,
  messageIds: readonly number[],
  which: SQL,
  { showsNames }: { showsNames: boolean },
): Promise<Map<number, MessageAnswer[]>> {
  const list = await rows<MessageAnswer & { messageId: number; isYoung: boolean }>(
    db,
    sql`
    select a.message_id as "messageId", a.id, trim(n.given_name || ' ' || n.family_name) as by, a.person_id as "personId", a.person_id = ${actor.personId} as "isMine", trim(t.given_name || ' ' || t.family_name) as "to",
      a.words, a.at, a.hidden_by is not null as "isHidden", (${isYoung(sql`a.person_id`)} or n.name_hidden) as "isYoung"
    from (select a.*, row_number() over (partition by a.message_id order by a.id desc) as nth from message_answer a where a.message_id = any(${ids(messageIds)}) and a.words <> '' and ${which}) a
    join personal_now n on n.person_id = a.person_id left join personal_now t on t.person_id = a.to_person_id
    where a.nth <= ${threadAtOnce} order by a.message_id, a.id`,
  );
  const threads = new Map<number, MessageAnswer[]>();
  for (const { isYoung: young, messageId, ...each } of list)
    addTo(threads, messageId, {
      ...each,
      at: iso(each.at),
      by: showsNames || each.isMine || !young ? each.by : null,
      personId: showsNames ? each.personId : null,
    });
  return threads;
}

/** Who has seen it, done it or chosen, or has not, as far as the reader may name them. */
export async function readersOf(
  db: Queryable,
  actor: SignedIn,
  messageId: number,
  { list, choice }: { list: (typeof readerLists)[number]; choice?: number | undefined },
): Promise<Answer<Routes['messageReaders']>> {
  const message = await standingMessage(db, actor, messageId);
  if (list === 'chose' && !message.isNamed) throw notFound();
  const fits = {
    seen: sql`r.seen_at is not null`,
    'not seen': sql`r.seen_at is null`,
    done: sql`r.done_at is not null`,
    'not done': sql`r.done_at is null`,
    chose: sql`${choice ?? 0} = any(r.choices)`,
  }[list];
  const people = await rows<{ id: number; name: string; of_all: number }>(
    db,
    sql`
    select p.id, n.family_name || ', ' || n.given_name as name, count(*) over ()::int as of_all from person p join personal_now n on n.person_id = p.id
    left join message_reader r on r.message_id = ${messageId} and r.person_id = p.id where ${reachedBy({ messageId, ...message })} and ${fits} and ${seenPerson(actor, sql`p.id`)}
    order by n.family_name collate people_order, n.given_name collate people_order, p.id limit ${readersAtOnce}`,
  );
  return { people: people.map(({ id, name }) => ({ id, name })), more: Math.max(0, (people[0]?.of_all ?? 0) - people.length) };
}

/** What was written to the reader: pinned ones first, then the latest. */
export async function myMessages(db: Queryable, actor: SignedIn): Promise<Answer<Routes['myMessages']>> {
  const { personId, today } = actor;
  // At a device that many use nothing is read that was written to one of them.
  if (actor.onlyIn !== null) return { messages: [], unseen: 0, letters: 'at once' };
  const list = await rows<StandingMessage & { seen: boolean; done: boolean; chosen: number[]; said: string | null; isPinned: boolean }>(
    db,
    sql`
    select ${columns}, r.seen_at is not null as seen, r.done_at is not null as done, coalesce(to_jsonb(r.choices), '[]') as chosen, r.own_words as said, coalesce(v.pinned_until >= ${today}, false) as "isPinned"
    from ${messageTables} left join message_reader r on r.message_id = v.message_id and r.person_id = ${personId}
    where v.until_at is null and v.sent_at <= now() and ${writtenTo(personId, today)} order by "isPinned" desc, v.sent_at desc, v.message_id desc limit ${mineAtOnce}`,
  );
  const { letters } = await onlyOne(
    db.select({ letters: tables.person.letters }).from(tables.person).where(eq(tables.person.id, personId)),
  );
  const common = list.filter(isCommon).map(({ id }) => id);
  const own = sql`(a.person_id = ${personId} or a.to_person_id = ${personId})`;
  const threads = await threadsOf(
    db,
    actor,
    list.map(({ id }) => id),
    sql`a.hidden_by is null and (${own} or (a.to_person_id is null and a.message_id = any(${ids(common)})))`,
    { showsNames: false },
  );
  const files = await filesOf(db, list);
  const activities = await activitiesOf(db, list);
  const tallies = await talliesOf(
    db,
    list.filter(
      ({ kind, tally, chosen, dueDay }) =>
        kind === 'question' &&
        ((tally === 'who chose' && chosen.length > 0) || (tally === 'after due' && dueDay !== null && dueDay < today)),
    ),
  );
  return {
    messages: list.map(
      ({
        id,
        kind,
        title,
        body,
        group,
        by,
        sentAt,
        isPinned,
        urgent,
        dueDay,
        choices,
        several,
        answers,
        seen,
        done,
        chosen,
        said,
        toGroups,
        activityId,
        ownWords,
        closes,
        isClosed,
      }): MyMessage => ({
        id,
        kind,
        title,
        body,
        group,
        by,
        sentAt: iso(sentAt),
        isPinned,
        urgent,
        dueDay,
        isSeen: seen,
        isDone: done,
        choices: choices ?? [],
        several,
        chosen,
        ownWords: ownWords ? (said ?? '') : null,
        tally: tallies.get(id) ?? null,
        isOver: isOver({ closes, dueDay }, today),
        activity: activityId === null ? null : (activities.get(activityId) ?? null),
        files: files.get(id) ?? [],
        answers: answers && !isClosed,
        isCommon: isCommon({ toGroups }),
        thread: threads.get(id) ?? [],
      }),
    ),
    unseen: list.filter(({ seen }) => !seen).length,
    letters,
  };
}

/** A message that reaches the reader, or that they have done or answered. @throws ProblemError `not-found` */
export async function messageToMe(db: Queryable, actor: SignedIn, messageId: number): Promise<StandingMessage> {
  if (actor.onlyIn !== null) throw notFound();
  return found(
    await maybeRow<StandingMessage>(
      db,
      sql`select ${columns} from ${messageTables} where v.until_at is null and v.sent_at <= now() and v.message_id = ${messageId} and ${writtenTo(actor.personId, actor.today)}`,
    ),
  );
}
