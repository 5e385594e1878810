import { execute, type Site } from './site.ts';

const gullhaven = 3;
const crew = 7;

/** People of the demo world by how they stand to the station Gullhaven: wholly in it, in another branch too, leading, elsewhere. */
export async function peopleOfGullhaven(site: Site): Promise<Record<string, number>> {
  const found: Record<string, number> = {};
  const inGullhaven = `(select group_id from group_branch where ancestor_id = ${gullhaven})`;
  const member = `exists (select 1 from membership m where m.person_id = p.id and m.until_at is null and m.group_id in ${inGullhaven})`;
  const outside = `exists (select 1 from membership m where m.person_id = p.id and m.until_at is null and m.group_id not in ${inGullhaven})`;
  // Not those who act here: an act on their account would sign them out.
  const acts = `exists (select 1 from credential c where c.person_id = p.id)`;
  const leads = `exists (select 1 from leadership l where l.person_id = p.id and l.until_at is null)`;
  const first = async (where: string, offset = 0): Promise<number> =>
    (
      await execute<{ id: number }>(
        site.databaseUrl,
        `select p.id::int as id from person p where ${where} order by 1 offset ${offset} limit 1`,
      )
    )[0]?.id ?? 0;
  found['member'] = await first(
    `exists (select 1 from membership m where m.person_id = p.id and m.until_at is null and m.group_id = ${gullhaven}) and not ${outside} and not ${leads}`,
  );
  found['wholly'] = await first(`${member} and not ${outside} and not ${leads} and not ${acts}`);
  found['second'] = await first(`${member} and not ${outside} and not ${leads} and not ${acts}`, 1);
  found['addressed'] = await first(`${member} and exists (select 1 from personal_now n where n.person_id = p.id and n.email is not null)`);
  found['inTwo'] = await first(`${member} and ${outside} and not ${leads}`);
  const keeps = `p.id in (select person_id from leadership where group_id = ${gullhaven} and until_at is null and 'openCourses' <> all(powers))`;
  found['leading'] = await first(keeps);
  // Somebody of Ternholm, which the head of Middle Sound sees and the head of Gullhaven does not.
  found['elsewhere'] = await first(
    `not ${member} and not ${leads} and exists (select 1 from personal_now n where n.person_id = p.id and n.email is not null)
     and exists (select 1 from membership m join group_branch b on b.group_id = m.group_id join group_now g on g.id = b.ancestor_id and g.name = 'Ternholm' where m.person_id = p.id and m.until_at is null)
     and not exists (select 1 from membership m where m.person_id = p.id and m.until_at is null and m.group_id not in (select b.group_id from group_branch b join group_now g on g.id = b.ancestor_id and g.name = 'Middle Sound'))`,
  );
  const asking = `select row_id::int as id from join_request where group_id = ${crew} order by 1 limit 1`;
  const [request] = await execute<{ id: number }>(site.databaseUrl, asking);
  found['request'] = request?.id ?? 0;
  const [written] = await execute<{ id: number }>(
    site.databaseUrl,
    `select message_id::int as id from message_version where until_at is null and group_id in ${inGullhaven} order by 1 limit 1`,
  );
  found['message'] = written?.id ?? 0;
  const [wish] = await execute<{ id: number }>(
    site.databaseUrl,
    `select row_id::int as id from course_request p where until_at is null and state = 'asking' and ${member.replaceAll('p.id', 'p.person_id')} order by 1 limit 1`,
  );
  found['courseRequest'] = wish?.id ?? 0;
  const learner = member.replaceAll('p.id', 'e.person_id');
  const pieces = (where: string) =>
    `select v.id::int as id from work_version v join work w on w.id = v.work_id join enrolment e on e.id = w.enrolment_id where v.state = 'waiting' and ${where} order by 1 limit 1`;
  const [version] = await execute<{ id: number }>(
    site.databaseUrl,
    pieces(
      `${learner} and e.via_groups && (array(select group_id from group_branch where ancestor_id = ${gullhaven}) || array(select ancestor_id from group_branch where group_id = ${gullhaven}))`,
    ),
  );
  found['version'] = version?.id ?? 0;
  const inMiddle = `(select b.group_id from group_branch b join group_now g on g.id = b.ancestor_id and g.name = 'Middle Sound')`;
  const [foreign] = await execute<{ id: number }>(
    site.databaseUrl,
    pieces(
      `not ${learner} and exists (select 1 from membership m where m.person_id = e.person_id and m.until_at is null and m.group_id in ${inMiddle})`,
    ),
  );
  found['versionElsewhere'] = foreign?.id ?? 0;
  const [order] = await execute<{ id: number }>(site.databaseUrl, `select min(order_id)::int as id from invoice where number = 1`);
  found['order'] = order?.id ?? 0;
  return found;
}
