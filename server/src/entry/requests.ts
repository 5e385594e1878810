import type { Answer, JoinRequest, Routes } from '@gate-roster/contract';
import { addTo, answersTo, branchesWith, foldName, type JoinQuestion, showJoinCode, type Tree } from '@gate-roster/core';
import { sql, type SQL } from 'drizzle-orm';
import type { SignedIn } from '../accounts/actor.ts';
import { seenGroups } from '../accounts/reach.ts';
import { ids, iso, oneRow, type Queryable, rows } from '../database/connect.ts';
import { groupsOf, seenPerson } from '../people/scope.ts';
import { pathNames } from './codes.ts';

const shownAtOnce = 200;
const matchesEach = 3;
/** Share of trigrams that two names have in common, from which on somebody should look. */
const likeName = 0.6;

/** Requests `r` that the actor decides about. */
const decidedBy = (actor: SignedIn): SQL => {
  const tops = branchesWith(actor, 'decideEntry');
  return sql`r.until_at is null and r.state = 'asking' and ${tops === null ? sql`true` : sql`r.group_id in (select group_id from group_branch where ancestor_id = any(${ids(tops)}))`}`;
};

/** How many people wait for the actor's word. */
export async function countWaiting(db: Queryable, actor: SignedIn): Promise<number> {
  return (
    await oneRow<{ people: number }>(
      db,
      sql`select count(distinct r.person_id)::int as people from join_request r where ${decidedBy(actor)}`,
    )
  ).people;
}

/** Who asks to join groups of the scope, the longest-waiting first, with what they gave and whom they may be. */
export async function requestsInScope(
  db: Queryable,
  actor: SignedIn,
  tree: Tree,
  scope: { groupId: number; withSubgroups: boolean },
): Promise<Answer<Routes['requests']>> {
  const own = await seenGroups(db, actor);
  const found = await rows<{
    ids: number[];
    person_id: number;
    group_ids: number[];
    code: string | null;
    is_chosen: boolean | null;
    asked_at: string;
    answers: Record<string, string>;
    questions: JoinQuestion[] | null;
    given_name: string;
    family_name: string;
    email: string | null;
    sign_in_name: string | null;
    is_new: boolean;
    of_all: number;
  }>(
    db,
    sql`
    with asking as (
      select array_agg(r.row_id order by r.row_id) as ids, r.person_id, r.code_id, array_agg(r.group_id order by r.row_id) as group_ids, min(r.asked_at) as asked_at, (array_agg(r.answers))[1] as answers
      from join_request r where ${decidedBy(actor)} and r.group_id in (${groupsOf(scope.groupId, scope.withSubgroups)}) group by r.person_id, r.code_id
    )
    select a.*, v.code, v.is_chosen, v.asks -> 'questions' as questions, n.given_name, n.family_name, n.email, n.sign_in_name, s.state = 'asking' as is_new, count(*) over ()::int as of_all
    from asking a join personal_now n on n.person_id = a.person_id join person_state s on s.person_id = a.person_id and s.until_at is null
    left join lateral (select code, is_chosen, asks from join_code_version where code_id = a.code_id order by until_at is null desc, row_id desc limit 1) v on true
    order by a.asked_at, a.person_id limit ${shownAtOnce}`,
  );
  const likely = await likelyMatches(
    db,
    actor,
    found.filter(({ is_new }) => is_new).map((each) => ({ ...each, id_number: each.answers['#idNumber'] ?? null })),
  );
  return {
    requests: found.map((each): JoinRequest => ({
      ids: each.ids,
      personId: each.person_id,
      name: `${each.given_name} ${each.family_name}`.trim(),
      email: each.email,
      signInName: each.sign_in_name,
      isNew: each.is_new,
      groups: each.group_ids.map((id) => ({ id, name: tree.node(id).name, path: pathNames(tree, id, own) })),
      code: each.code === null ? '' : showJoinCode(each.code, each.is_chosen ?? false),
      askedAt: iso(each.asked_at),
      answers: answersTo(each.questions ?? [], each.answers),
      idNumber: each.answers['#idNumber'] ?? null,
      matches: likely.get(each.person_id) ?? [],
    })),
    more: Math.max(0, (found[0]?.of_all ?? 0) - found.length),
  };
}

/** People whom the actor may see and who may be the ones who ask: of the same ID number, or of a name that sounds alike. One statement for all. */
async function likelyMatches(
  db: Queryable,
  actor: SignedIn,
  askers: readonly { person_id: number; given_name: string; family_name: string; id_number: string | null }[],
): Promise<Map<number, JoinRequest['matches']>> {
  if (askers.length === 0) return new Map();
  const asked = askers.map(({ person_id, given_name, family_name, id_number }) => ({
    asker: person_id,
    name: `${given_name} ${family_name}`.trim().toLowerCase(),
    id_number,
  }));
  const found = await rows<{ asker: number; id: number; name: string; id_number: string | null; by_number: boolean; group: string | null }>(
    db,
    sql`
    select a.asker, m.id, m.name, m.id_number, m.by_number, m."group" from jsonb_to_recordset(${JSON.stringify(asked)}::jsonb) as a(asker bigint, name text, id_number text)
    cross join lateral (
      select n.person_id as id, n.given_name || ' ' || n.family_name as name, n.id_number, coalesce(n.id_number = a.id_number, false) as by_number,
        (select g.name from membership x join group_now g on g.id = x.group_id where x.person_id = n.person_id and x.until_at is null and ${seenGroup(actor)} order by x.row_id limit 1) as "group"
      from personal_now n join person_state s on s.person_id = n.person_id and s.until_at is null and s.state in ('active', 'paused')
      where n.person_id <> a.asker and (n.id_number = a.id_number or (lower(n.given_name || ' ' || n.family_name) % a.name and similarity(lower(n.given_name || ' ' || n.family_name), a.name) >= ${likeName})) and ${seenPerson(actor, sql`n.person_id`)}
      order by (n.id_number = a.id_number) desc nulls last, similarity(lower(n.given_name || ' ' || n.family_name), a.name) desc limit ${matchesEach}
    ) m`,
  );
  const byAsker = new Map<number, JoinRequest['matches']>();
  for (const { asker, id, name, id_number, by_number, group } of found) {
    const given = askers.find(({ person_id }) => person_id === asker);
    // Trigrams are generous; one of the two names has to agree.
    const parts = foldedParts(name);
    if (!by_number && given && ![given.given_name, given.family_name].some((part) => part !== '' && parts.has(foldName(part)))) continue;
    addTo(byAsker, asker, { id, name, why: by_number ? 'ID number' : 'name', idNumber: id_number, group });
  }
  return byAsker;
}

const foldedParts = (name: string): Set<string> => new Set(name.split(/\s+/u).map(foldName));

function seenGroup(actor: SignedIn): SQL {
  const tops = branchesWith(actor, 'see');
  return tops === null ? sql`true` : sql`x.group_id in (select group_id from group_branch where ancestor_id = any(${ids(tops)}))`;
}
