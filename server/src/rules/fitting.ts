import { sql, type SQL } from 'drizzle-orm';
import type { SignedIn } from '../accounts/actor.ts';
import { ids, type Queryable, rows } from '../database/connect.ts';
import { filterReader, whoFits } from '../filters/conditions.ts';
import { groupsOf, isCounted } from '../people/scope.ts';
import { haveCourse, occasions, watchOf } from './occasions.ts';
import type { StandingRule } from './standing-rules.ts';

export interface Fitting {
  person_id: number;
  occasion: string;
  at: string | null;
}

type Asked = Pick<StandingRule, 'group_id' | 'when' | 'filter'> & { id: number | null };

/** People `p` of a rule's branch who fit its filter, as its maker sees them. */
export async function fitsFilter(db: Queryable, maker: SignedIn, { group_id, filter }: Asked, more = sql`true`): Promise<SQL> {
  return whoFits(await filterReader(db, maker), sql`${isCounted(group_id, true)} and ${more}`, groupsOf(group_id, true), filter);
}

/** Whom a rule fits today, with the occasion, latest first. `more`: only these people `p`; `only`: only these occasions `o`. */
export async function fitting(
  db: Queryable,
  maker: SignedIn,
  rule: Asked,
  { more = sql`true`, only = sql`true`, limit }: { more?: SQL; only?: SQL; limit?: number } = {},
): Promise<Fitting[]> {
  const inBranch = sql`${isCounted(rule.group_id, true)} and ${more}`;
  return rows<Fitting>(
    db,
    sql`
    select distinct on (o.at, o.person_id) o.person_id, o.occasion, o.at::text as at
    from (${occasions(rule.when, rule.id, inBranch, await watchOf(db, maker, rule.group_id))}) o join person p on p.id = o.person_id
    where o.stands and ${only} and ${await fitsFilter(db, maker, rule, more)} order by o.at desc nulls last, o.person_id ${limit === undefined ? sql`` : sql`limit ${limit}`}`,
  );
}

/** Keeps for a rule who has any of its courses: those who have begin, as of a moment, and those who have no more end. */
export async function syncHolds(
  tx: Queryable,
  rule: Asked,
  maker: SignedIn,
  { more = sql`true`, since }: { more?: SQL; since: string },
): Promise<void> {
  if (rule.when.when !== 'gets' || rule.id === null) return;
  const have = haveCourse(rule.when.courses, sql`${isCounted(rule.group_id, true)} and ${more}`, await watchOf(tx, maker, rule.group_id));
  await tx.execute(sql`
    insert into rule_hold (rule_id, person_id, since) select ${rule.id}, o.person_id, ${since}::timestamptz from (${have}) o on conflict do nothing`);
  await tx.execute(sql`
    delete from rule_hold h using person p where h.rule_id = ${rule.id} and p.id = h.person_id and ${more}
      and h.person_id not in (select o.person_id from (${have}) o)`);
}

/** Puts down what became of occasions. */
export async function noteActs(
  tx: Queryable,
  ruleId: number,
  list: readonly Fitting[],
  outcome: string,
  changeId: number | null = null,
): Promise<void> {
  if (list.length === 0) return;
  await tx.execute(sql`
    insert into rule_act (rule_id, person_id, occasion, outcome, change_id)
    select ${ruleId}, person_id, occasion, ${outcome}, ${changeId}::bigint from jsonb_to_recordset(${JSON.stringify(list)}::jsonb) as r(person_id bigint, occasion text)
    on conflict do nothing`);
}

/** Ids of those it fits, each once. */
export const peopleOf = (list: readonly Fitting[]): number[] => [...new Set(list.map(({ person_id }) => person_id))].sort((a, b) => a - b);

export const onlyPeople = (list: Iterable<number>): SQL => sql`p.id = any(${ids(list)})`;
