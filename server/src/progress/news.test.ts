import { type Answer, newsKinds, type Routes, stuckDays } from '@gate-roster/contract';
import { addDays } from '@gate-roster/core';
import { gullhaven } from '../testing/outside-changes.ts';
import { plainMembers } from '../testing/rule-tools.ts';
import { type Client, execute, type Site, startSite } from '../testing/site.ts';

/* What is new to a leader since they last looked, against the lists of learners. */

let site: Site;
let ottoline: Client;
beforeAll(async () => {
  site = await startSite();
  ottoline = await site.as('ottoline');
});
afterAll(() => site.stop());

const query = <T extends object>(text: string) => execute<T>(site.databaseUrl, text);
const news = (groupId: number, of?: (typeof newsKinds)[number]) =>
  ottoline.call('progressNews', { params: { groupId }, query: of ? { of } : {} });
/** Ottoline looked last so many days ago, at the beginning of that day where the platform is. */
async function lookedAgo(days: number): Promise<string> {
  const [{ day = '' } = {}] = await query<{ day: string }>(
    `update person p set looked_before = null, looked_at = ((now() at time zone o.time_zone)::date - ${days})::timestamp at time zone o.time_zone
     from personal_now n, organisation o where n.person_id = p.id and n.sign_in_name = 'ottoline' returning ((now() at time zone o.time_zone)::date - ${days})::text as day`,
  );
  return day;
}

test('nobody who never looked is told of anything; who goes on within the hour has not been away', async () => {
  await query(`update person set looked_at = null, looked_before = null`);
  expect(await news(gullhaven)).toEqual({ since: null, counts: { finished: 0, overdue: 0, stuck: 0, joined: 0 }, people: [] });
  await lookedAgo(20);
  const first = await news(gullhaven);
  await ottoline.call('lookedAtProgress', {});
  await ottoline.call('lookedAtProgress', {});
  expect(await news(gullhaven)).toEqual(first);
  await query(`update person set looked_at = now() - interval '2 hours' where looked_at is not null`);
  expect((await news(gullhaven)).since).not.toBe(first.since);
});

test.each([3, 20, 90])('of the last %i days: finished and overdue are those whom the list of learners names', async (days) => {
  const since = await lookedAgo(days);
  const [{ today = '' } = {}] = await query<{ today: string }>(
    `select (now() at time zone time_zone)::date::text as today from organisation`,
  );
  const finished = new Set<number>();
  const overdue = new Set<number>();
  for (let after: string | undefined; ;) {
    const page: Answer<Routes['progressLearners']> = await ottoline.call('progressLearners', {
      params: { groupId: gullhaven },
      query: { limit: 200, ...(after ? { after } : {}) },
    });
    for (const { id, cells } of page.people)
      for (const cell of cells) {
        if (cell === null || cell.exempt) continue;
        if (cell.status === 'done' && (cell.doneDay ?? '') >= since) finished.add(id);
        if (cell.lateness === 'overdue' && (cell.due ?? '') >= since && (cell.due ?? '') < today) overdue.add(id);
      }
    if (page.next === null) break;
    after = page.next;
  }
  const { counts } = await news(gullhaven);
  expect(counts.overdue).toBe(overdue.size);
  expect((await news(gullhaven, 'overdue')).people.every(({ id }) => overdue.has(id))).toBe(true);
  expect(counts.finished).toBe(finished.size);
  expect((await news(gullhaven, 'finished')).people.every(({ id }) => finished.has(id))).toBe(true);
  if (days === 90) expect(Math.min(finished.size, overdue.size)).toBeGreaterThan(0);
});

test('who comes in and who stops in the middle is told, by name and with where', async () => {
  const since = await lookedAgo(2);
  const [person = 0] = await plainMembers(site, gullhaven, 1);
  const crew = 7;
  const before = (await news(gullhaven)).counts;
  await ottoline.apply({ kind: 'add-members', groupId: crew, personIds: [person], firstDay: null, lastDay: null });
  const joined = await news(gullhaven, 'joined');
  expect(joined.counts.joined).toBe(before.joined + 1);
  expect(joined.people.find(({ id }) => id === person)?.about).toHaveLength(1);

  const stopped = addDays(since, 1 - stuckDays);
  const [work] = await query<{ id: number; person: number }>(
    `select e.id::int, e.person_id::int as person from enrolment e join person p on p.id = e.person_id and p.counted join membership m on m.person_id = p.id and m.until_at is null and m.group_id = ${crew}
     where e.status = 'under way' and e.is_current and not e.exempt and exists (select 1 from activity_result r where r.enrolment_id = e.id) order by e.id limit 1`,
  );
  const move = (at: string) => query(`update activity_result set last_at = ${at} where enrolment_id = ${work?.id}`);
  await move('now()');
  const others = (await news(gullhaven, 'stuck')).people.find(({ id }) => id === work?.person)?.about ?? [];
  await move(`'${stopped}T12:00:00Z'`);
  expect((await news(gullhaven, 'stuck')).people.find(({ id }) => id === work?.person)?.about).toHaveLength(others.length + 1);
});
