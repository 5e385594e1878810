import type { Answer, JoinRequest, Routes } from '@gate-roster/contract';
import { sql, type SQL } from 'drizzle-orm';
import type { SignedIn } from '../accounts/actor.ts';
import { iso, type Queryable, rows } from '../database/connect.ts';
import { csv } from '../http/csv.ts';
import { seenPerson } from '../people/scope.ts';

const atOnce = 100;

interface CodeUse {
  personId: number;
  name: string;
  email: string | null;
  at: string;
  answers: JoinRequest['answers'];
  place: number;
}

/** Whose name a leader may not know is left out, and so is what they answered. */
const usesOf = (actor: SignedIn, codeId: number, which: SQL, limit: SQL): SQL => sql`
  select u.person_id as "personId", u.at, u.place, case when k.known then trim(n.given_name || ' ' || n.family_name) else '' end as name,
    case when k.known then n.email end as email, case when k.known then u.answers else '[]' end as answers
  from (select person_id, at, answers, row_number() over (order by at, person_id) as place from join_code_use where code_id = ${codeId}) u
  join person p on p.id = u.person_id join personal_now n on n.person_id = u.person_id
  cross join lateral (select p.erased_at is null and ${seenPerson(actor, sql`u.person_id`)} as known) k
  where ${which} order by u.place desc ${limit}`;

/** Who came in by a code, latest first, a page at a time. */
export async function usesOfCode(
  db: Queryable,
  actor: SignedIn,
  codeId: number,
  after: number | undefined,
): Promise<Answer<Routes['codeUses']>> {
  const uses = await rows<CodeUse>(
    db,
    usesOf(actor, codeId, after === undefined ? sql`true` : sql`u.place < ${after}`, sql`limit ${atOnce + 1}`),
  );
  const page = uses.slice(0, atOnce);
  return {
    uses: page.map(({ personId, name, at, answers }) => ({ personId, name, at: iso(at), answers })),
    next: uses.length > atOnce ? (page.at(-1)?.place ?? null) : null,
  };
}

/** All of them as a CSV file: a column for each question that was ever asked. */
export async function fileOfUses(db: Queryable, actor: SignedIn, codeId: number): Promise<string> {
  const uses = await rows<CodeUse>(db, usesOf(actor, codeId, sql`true`, sql``));
  const questions = [...new Set(uses.flatMap(({ answers }) => answers.map(({ label }) => label)))];
  return csv(
    ['Name', 'Email', 'When', ...questions],
    uses.map(({ name, email, at, answers }) => {
      const byQuestion = new Map(answers.map(({ label, answer }) => [label, answer]));
      return [name, email, iso(at), ...questions.map((label) => byQuestion.get(label) ?? '')];
    }),
  );
}
