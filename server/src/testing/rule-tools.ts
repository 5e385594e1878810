import { runRules } from '../rules/run-rules.ts';
import { execute, type Site } from './site.ts';

/* What tests of automatic rules ask of a site. */

/** Lets the rules act on everything that has happened. */
export async function rulesSettled({ deps: { db, log, now, settings } }: Site): Promise<void> {
  await runRules({ db, log, now, publicUrl: settings.publicUrl });
}

export const groupsOfPerson = async ({ databaseUrl }: Site, personId: number): Promise<number[]> =>
  (
    await execute<{ id: number }>(
      databaseUrl,
      `select group_id::int as id from membership where person_id = ${personId} and until_at is null order by 1`,
    )
  ).map(({ id }) => id);

export const actsOfRule = ({ databaseUrl }: Site, ruleId: number): Promise<{ person: number; outcome: string; change: number | null }[]> =>
  execute(
    databaseUrl,
    `select person_id::int as person, outcome, change_id::int as change from rule_act where rule_id = ${ruleId} order by id`,
  );

/** Members of a group who are in no other, lead nobody and sign in nowhere in the tests. */
export const plainMembers = async ({ databaseUrl }: Site, groupId: number, count: number): Promise<number[]> =>
  (
    await execute<{ id: number }>(
      databaseUrl,
      `select m.person_id::int as id from membership m join person p on p.id = m.person_id where m.until_at is null and m.group_id = ${groupId} and p.counted
        and (select count(*) from membership o where o.person_id = m.person_id and o.until_at is null) = 1 and not exists (select 1 from leadership l where l.person_id = m.person_id)
        and not exists (select 1 from credential c where c.person_id = p.id) order by md5(m.person_id::text) limit ${count}`,
    )
  ).map(({ id }) => id);
