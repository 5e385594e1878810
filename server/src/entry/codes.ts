import type { JoinCode } from '@gate-roster/contract';
import { type JoinAsks, joinCodeState, may, type Power, showJoinCode, type Tree } from '@gate-roster/core';
import { sql, type SQL } from 'drizzle-orm';
import type pg from 'pg';
import type { SignedIn } from '../accounts/actor.ts';
import { slowDown, type SlowDown } from '../accounts/slow-down.ts';
import { seenGroups } from '../accounts/reach.ts';
import { ids, iso, maybeRow, type Queryable, rows } from '../database/connect.ts';
import { groupsOf } from '../people/scope.ts';

/** Wrong codes of one network address or person, in ten minutes. */
export const wrongCodeLimiter = (pool: pg.Pool): SlowDown => slowDown(pool, 'join-code', { points: 30, seconds: 600 });

/** A code as it stands, with those of its groups that still stand. */
/** What a code says, as its table has it. */
export interface CodeRow {
  code: string;
  is_chosen: boolean;
  note: string | null;
  group_ids: number[];
  tags: string[];
  powers: Power[] | null;
  first_at: string | null;
  last_at: string | null;
  use_limit: number | null;
  email_ending: string | null;
  needs_decision: boolean;
  paused: boolean;
  price: number | null;
  asks: JoinAsks;
}

export interface StandingCode extends CodeRow {
  id: number;
  row_id: number;
  uses: number;
  /** How many of its uses are held while somebody pays. */
  paying: number;
  made_by: string | null;
  made_at: string;
}

const standing = (condition: SQL): SQL => sql`
  select v.code_id as id, v.row_id, v.code, v.is_chosen, v.note, v.tags, v.powers, v.first_at, v.last_at, v.use_limit, c.uses, v.email_ending, v.needs_decision,
    v.paused, v.price, (select count(*)::int from paid_entry e where e.code_id = v.code_id and e.held_until is not null) as paying, v.asks, trim(n.given_name || ' ' || n.family_name) as made_by, c.made_at,
    array(select g.id from group_now g where g.id = any(v.group_ids) and g.state = 'active' order by array_position(v.group_ids, g.id)) as group_ids
  from join_code_version v join join_code c on c.id = v.code_id left join personal_now n on n.person_id = v.made_by
  where v.until_at is null and ${condition}`;

/** The code that this text means; null when there is none, or no group of it stands. */
export async function maybeCode(db: Queryable, codeKey: string): Promise<StandingCode | null> {
  return withGroups(await maybeRow<StandingCode>(db, standing(sql`v.code_key = ${codeKey}`), { plan: 'kept' }));
}

export async function maybeCodeById(db: Queryable, codeId: number): Promise<StandingCode | null> {
  return withGroups(await maybeRow<StandingCode>(db, standing(sql`v.code_id = ${codeId}`)));
}

const withGroups = (code: StandingCode | null): StandingCode | null => (code && code.group_ids.length > 0 ? code : null);

/** @returns Null when a code lets people in; else why not. */
export const closedBecause = (code: StandingCode, now: Date): 'paused' | 'not yet' | 'ended' | 'full' | null => {
  const state = joinCodeState(termsOf(code), now);
  return state === 'open' ? null : state;
};

const termsOf = (code: StandingCode): Parameters<typeof joinCodeState>[0] => ({
  paused: code.paused,
  firstAt: code.first_at,
  lastAt: code.last_at,
  useLimit: code.use_limit,
  uses: code.uses,
});

/** Does the actor hold what it takes to make a code for these groups: to manage people there, and for leaders' codes all that they give? */
export function mayMakeCode(actor: SignedIn, tree: Tree, code: { groupIds: readonly number[]; powers: readonly Power[] | null }): boolean {
  const needed: Power[] = code.powers === null ? ['managePeople'] : ['appointLeaders', ...code.powers];
  return code.groupIds.every((id) => tree.has(id) && needed.every((power) => may(actor, power, { path: tree.path(id) })));
}

/**
 * Codes that open groups of the scope. A leader sees those that open nothing outside their branches:
 * whoever reads a code can use it.
 */
export async function codesInScope(
  db: Queryable,
  actor: SignedIn,
  tree: Tree,
  { groupId, withSubgroups, now }: { groupId: number; withSubgroups: boolean; now: Date },
): Promise<JoinCode[]> {
  const own = await seenGroups(db, actor);
  const found = await rows<StandingCode>(
    db,
    sql`${standing(sql`v.group_ids && array(${groupsOf(groupId, withSubgroups)})`)} and ${own === null ? sql`true` : sql`v.group_ids <@ ${ids(own)}`} order by v.code_id desc limit 500`,
  );
  const young = new Set(
    (
      await rows<{ id: number }>(
        db,
        sql`select distinct b.group_id as id from group_branch b join group_now g on g.id = b.ancestor_id where g.young_learners`,
      )
    ).map(({ id }) => id),
  );
  return found.flatMap((code) =>
    code.group_ids.length === 0
      ? []
      : [
          {
            id: code.id,
            code: showJoinCode(code.code, code.is_chosen),
            isChosen: code.is_chosen,
            state: joinCodeState(termsOf(code), now),
            note: code.note,
            groups: code.group_ids.map((id) => ({ id, name: tree.node(id).name, path: pathNames(tree, id, own) })),
            tags: code.tags,
            powers: code.powers,
            firstAt: code.first_at && iso(code.first_at),
            lastAt: code.last_at && iso(code.last_at),
            useLimit: code.use_limit,
            uses: code.uses,
            emailEnding: code.email_ending,
            needsDecision: code.needs_decision,
            paused: code.paused,
            asks: code.asks,
            price: code.price,
            paying: code.paying,
            youngLearners: code.group_ids.some((id) => young.has(id)),
            madeBy: code.made_by,
            madeAt: iso(code.made_at),
            mine: mayMakeCode(actor, tree, { groupIds: code.group_ids, powers: code.powers }),
          },
        ],
  );
}

/** Names above a group, without the root and without what the reader may not know of. */
export const pathNames = (tree: Tree, id: number, own: ReadonlySet<number> | null): string[] =>
  tree
    .path(id)
    .slice(0, -1)
    .filter((step) => tree.node(step).parentId !== null && (own === null || own.has(step)))
    .map((step) => tree.node(step).name);
