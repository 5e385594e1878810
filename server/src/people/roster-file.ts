import type { PeopleFilter } from '@gate-roster/contract';
import { joinPath, quoteName } from '@gate-roster/core';
import { sql } from 'drizzle-orm';
import { type Queryable, rows } from '../database/connect.ts';
import type { FilterReader } from '../filters/conditions.ts';
import { csv } from '../http/csv.ts';
import { peopleWhere } from './filtered.ts';
import { groupsOf } from './scope.ts';
import { seenTags } from './tags.ts';

const atOnce = 2000;
/** Named as the importer reads them. */
const header = [
  'Family name',
  'Given name',
  'Email',
  'ID number',
  'Sign-in name',
  'Group',
  'Tags',
  'First day',
  'Last day',
  'Name hidden',
  'Guardian’s email',
];

/**
 * A people list as a file that the importer reads back without a change: a line for each person, and a further one
 * where somebody is in groups between other days.
 */
export async function rosterFile(db: Queryable, reader: FilterReader, groupId: number, filter: PeopleFilter): Promise<string> {
  const { actor } = reader;
  const inScope = groupsOf(groupId, filter.subgroups === 'yes');
  const paths = new Map(
    (
      await rows<{ id: number; path: string[] }>(
        db,
        sql`
        select b.group_id as id, array_agg(g.name order by b.depth desc) filter (where b.ancestor_id <> ${groupId} or b.group_id = ${groupId}) as path
        from group_branch b join group_now g on g.id = b.ancestor_id
        where b.group_id in (${groupsOf(groupId, true)}) and b.ancestor_id in (${groupsOf(groupId, true)}) group by 1`,
      )
    ).map(({ id, path }) => [id, path]),
  );
  const lines: string[][] = [];
  for (let after = ['', '', 0] as [string, string, number]; ;) {
    const page = await rows<{
      id: number;
      family_name: string;
      given_name: string;
      email: string | null;
      id_number: string | null;
      sign_in_name: string | null;
      name_hidden: boolean;
      guardian_email: string | null;
      tags: string[];
      spans: { groups: number[]; first: string | null; last: string | null }[] | null;
    }>(
      db,
      sql`
      select p.id, n.family_name, n.given_name, n.email, n.id_number, n.sign_in_name, n.name_hidden, n.guardian_email,
        array(select t.name from person_tag pt join tag_now t on t.id = pt.tag_id where pt.person_id = p.id and pt.until_at is null and ${seenTags(actor)} order by t.name) as tags,
        (select jsonb_agg(jsonb_build_object('groups', s.groups, 'first', s.first_day, 'last', s.last_day) order by s.first_day nulls first, s.last_day nulls first) from (
          select m.first_day, m.last_day, array_agg(m.group_id order by m.group_id) as groups from membership m
          where m.person_id = p.id and m.until_at is null and m.group_id in (${inScope}) group by 1, 2) s) as spans
      from person p join personal_now n on n.person_id = p.id
      where ${peopleWhere(reader, groupId, filter)}
        and (n.family_name collate people_order, n.given_name collate people_order, p.id) > (${after[0]}, ${after[1]}, ${after[2]})
      order by n.family_name collate people_order, n.given_name collate people_order, p.id limit ${atOnce}`,
    );
    for (const person of page)
      for (const { groups, first, last } of person.spans ?? [{ groups: [], first: null, last: null }])
        lines.push([
          person.family_name,
          person.given_name,
          person.email ?? '',
          person.id_number ?? '',
          person.sign_in_name ?? '',
          groups.map((id) => joinPath(paths.get(id) ?? [])).join('; '),
          person.tags.map(quoteName).join(', '),
          first ?? '',
          last ?? '',
          person.name_hidden ? 'yes' : 'no',
          person.guardian_email ?? '',
        ]);
    const end = page.at(-1);
    if (!end || page.length < atOnce) return csv(header, lines);
    after = [end.family_name, end.given_name, end.id];
  }
}
