import type { WorkStatement, StatementAgent } from '@gate-roster/contract';
import { addTo, canonicalStatement, emailKey, partStatement, secondsOf, tryOf, verbOf } from '@gate-roster/core';
import { sql } from 'drizzle-orm';
import { createHmac } from 'node:crypto';
import { ids, type Queryable, rows, texts } from '../database/connect.ts';
import { ProblemError } from '../http/problem.ts';
import type { Incoming } from '../progress/take-reports.ts';

/* From statements as they are sent to what is taken of them: whom and which activity each is about. */

export interface StatementReader {
  db: Queryable;
  sourceId: number;
  /** The user name of the source; as an actor of our own address it is the source itself. */
  sourceKey: string;
  publicUrl: string;
  /** Keys the hashes by which the same statement is known again. */
  requestKey: string;
  now: Date;
}

export type NamedStatement = WorkStatement & { id: string };

/**
 * @throws ProblemError `bad-request` with the place in the list when an actor is unknown, or an object is no activity on which the source
 * may report. Nothing of the list is then taken.
 */
export async function readStatements(reader: StatementReader, list: readonly NamedStatement[]): Promise<Incoming[]> {
  const people = await peopleOf(
    reader,
    list.map(({ actor }) => actor),
  );
  const activities = await activitiesOf(reader, list);
  return list.map((statement, place) => {
    const personId = people(statement.actor);
    const verb = verbOf(statement.verb.id);
    const isItself = isSourceItself(reader, statement.actor);
    if (personId === null && !(isItself && verb === 'voided')) throw wrong(place, 'actor', 'Nobody here is known by this');
    const sent = { id: statement.id, ...keptOf(reader, statement, isItself ? null : personId) };
    if (verb === 'voided' && 'objectType' in statement.object && statement.object.objectType === 'StatementRef')
      return { ...sent, voids: statement.object.id };
    const at = statement.timestamp === undefined ? reader.now : new Date(statement.timestamp);
    const activity =
      'objectType' in statement.object && statement.object.objectType === 'StatementRef' ? undefined : activities.get(statement.object.id);
    if (!activity) throw wrong(place, 'object', 'No activity on which this platform may report');
    if (personId === null) throw wrong(place, 'actor', 'Nobody here is known by this');
    if (verb === null || verb === 'voided') return { ...sent, personId, at };
    return {
      ...sent,
      ...activity,
      ...tryOf(verb, statement.result),
      personId,
      at,
      seconds: secondsOf(statement.result?.duration ?? ''),
    };
  });
}

const wrong = (place: number, part: string, what: string): ProblemError =>
  new ProblemError('bad-request', { where: [{ place: `body.${place}.${part}`, what }] });

const isSourceItself = ({ publicUrl, sourceKey }: StatementReader, { account }: StatementAgent): boolean =>
  account?.homePage === publicUrl && account.name === sourceKey;

function keptOf({ requestKey }: StatementReader, statement: NamedStatement, personId: number | null): Pick<Incoming, 'digest' | 'said'> {
  const { plain, personal } = personId === null ? { plain: plainOf(statement), personal: {} } : partStatement(plainOf(statement));
  return { digest: statementDigest(requestKey, statement, personId), said: { personId, plain, personal } };
}

/** A keyed hash of what a statement says, by which the same one is known again. */
export const statementDigest = (key: string, statement: object, personId: number | null): string =>
  createHmac('sha256', key)
    .update(canonicalStatement(plainOf(statement), String(personId)))
    .digest('base64url');

/** Without what only the receiver says. */
export const plainOf = (statement: object): Record<string, unknown> =>
  Object.fromEntries(
    Object.entries(statement).filter(([key, part]) => !['stored', 'authority', 'version'].includes(key) && part !== undefined),
  );

const launchName = /^[0-9a-f]{8}-[0-9a-f]{4}-[1-8][0-9a-f]{3}-[0-9a-f]{4}-[0-9a-f]{12}$/iu;

/**
 * Whom agents are: by an account of ours (a sign-in name, or the id of a launch that lasts), or by a mailbox that they have confirmed.
 * @returns The person of an agent; null: nobody, or more than one.
 */
async function peopleOf(
  { db, publicUrl, now }: StatementReader,
  agents: readonly StatementAgent[],
): Promise<(agent: StatementAgent) => number | null> {
  const names = agents.flatMap(({ account }) => (account?.homePage === publicUrl ? [account.name] : []));
  const boxes = agents.flatMap(({ mbox }) => (mbox === undefined ? [] : [mailbox(mbox)]));
  const found = await rows<{ kind: string; key: string; id: number }>(
    db,
    sql`
    select 'launch' as kind, l.id::text as key, l.person_id as id from launch l where l.id = any(${texts(names.filter((name) => launchName.test(name)))}::uuid[]) and l.ends_at > ${now.toISOString()}
    union all select 'name', lower(n.sign_in_name::text), n.person_id from personal_now n where n.sign_in_name = any(${texts([...new Set(names.map((name) => name.toLowerCase()))])}::citext[])
    union all select 'box', lower(n.confirmed_email::text), n.person_id from personal_now n where n.confirmed_email = any(${texts([...new Set(boxes)])}::citext[])`,
  );
  const byKey = new Map<string, number[]>();
  for (const { kind, key, id } of found) addTo(byKey, `${kind} ${key}`, id);
  const only = (key: string): number | null => {
    const list = byKey.get(key) ?? [];
    return list.length === 1 ? (list[0] ?? null) : null;
  };
  return ({ account, mbox }) => {
    if (mbox !== undefined) return only(`box ${mailbox(mbox)}`);
    if (account?.homePage !== publicUrl) return null;
    const name = account.name.toLowerCase();
    return only(`launch ${name}`) ?? only(`name ${name}`);
  };
}

const mailbox = (mbox: string): string => emailKey(mbox.slice('mailto:'.length));

interface Activity {
  courseId: number;
  unitId: number;
  activityId: number;
}

/** Activities that the player finishes, of courses on which the source may report, by their address. */
async function activitiesOf({ db, sourceId, publicUrl }: StatementReader, list: readonly WorkStatement[]): Promise<Map<string, Activity>> {
  const named = new Map<number, string>();
  for (const { object } of list) {
    const number = object.id.startsWith(`${publicUrl}/activities/`) ? object.id.slice(publicUrl.length + '/activities/'.length) : '';
    if (/^[1-9]\d{0,14}$/u.test(number)) named.set(Number(number), object.id);
  }
  const found = await rows<Activity>(
    db,
    sql`
    select a.course_id as "courseId", a.unit_id as "unitId", a.id as "activityId" from activity_now a join course c on c.id = a.course_id
    where a.id = any(${ids(named.keys())}) and a.finished_by = 'player' and (c.source_id = ${sourceId}
      or exists (select 1 from source s where s.id = ${sourceId} and s.all_courses)
      or exists (select 1 from source_course s where s.source_id = ${sourceId} and s.course_id = a.course_id))`,
  );
  return new Map(found.map((each) => [named.get(each.activityId) ?? '', each]));
}
