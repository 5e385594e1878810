import type { Change } from '@gate-roster/contract';
import { addDays, courseOccasions, type Day, nearestReminder, type ReminderOccasion } from '@gate-roster/core';
import { sql } from 'drizzle-orm';
import { turnDay } from '../day-turn.ts';
import { wholeTree } from '../groups/queries.ts';
import { enrolmentsWhere } from '../progress/enrolments.ts';
import { type Client, execute, type Site, startSite } from '../testing/site.ts';
import { remindPeople } from './remind.ts';
import { keptReminders } from './reminders-due.ts';
import { isQuiet, tellAll } from './tell.ts';

/* Who is reminded of what, when and how often, under a clock that is set by hand. */
const gullhaven = 3;
const middleSound = 19;
const start = new Date();
start.setUTCHours(10, 0, 0, 0);
let clock = start;
let site: Site;
let mirela: Client;
let ottoline: Client;
const query = <T extends object>(text: string): Promise<T[]> => execute<T>(site.databaseUrl, text);
const dayAfter = (days: number): Date => new Date(start.getTime() + days * 86_400_000);
const dayOf = (moment: Date): Day => moment.toISOString().slice(0, 10);

beforeEach(async () => {
  clock = start;
  site = await startSite({ now: () => clock });
  [mirela, ottoline] = [await site.as('mirela'), await site.as('ottoline')];
  await query(`update reminder_setting set until_at = now() where until_at is null`);
  await query(`delete from reminded`);
  await query(`update day_turn set reminded_at = now()`);
});
afterEach(() => site.stop());

type Values = Extract<Change, { kind: 'set-reminder' }>['values'];
const set = (who: Client, groupId: number, occasion: ReminderOccasion, values: Values, courseId: number | null = null) =>
  who.apply({ kind: 'set-reminder', groupId, occasion, courseId, values });
const all = (days: number): Values => ({ days, text: null, alsoPassed: true });
/** Everybody whose day has come is reminded; the server's own process may be quicker, and is waited for. */
async function remind(): Promise<void> {
  await turnDay(site.deps.db, clock);
  for (;;) {
    await remindPeople({ db: site.deps.db, now: () => clock });
    const [turn] = await query<{ done: boolean }>(`select reminded_at is not null as done from day_turn where day = '${dayOf(clock)}'`);
    if (turn?.done) return;
    await new Promise((resolve) => setTimeout(resolve, 50));
  }
}
const remindedNow = () =>
  query<{ person: number; occasion: ReminderOccasion; about: number }>(
    `select person_id::int as person, occasion, about_id::int as about from reminded order by 1, 2, 3`,
  );

/** The same without the statement: every enrolment, every group that opens it, the setting that counts there, and the day. */
async function expected(day: Day, before: ReadonlySet<string>): Promise<Set<string>> {
  const { db } = site.deps;
  const tree = await wholeTree(db);
  const settings = await keptReminders(db);
  const found = new Set<string>();
  for (const each of await enrolmentsWhere(db, sql`p.counted`, sql`true`, { today: day, sight: null })) {
    if (each.due === null || each.status === 'done' || each.exempt || each.lacksSeat) continue;
    for (const occasion of ['before due', 'after due'] as const) {
      const days = each.viaGroups.flatMap((groupId) => {
        const setting = nearestReminder(tree, settings, { groupId, courseId: each.courseId, occasion });
        if (setting === null || setting.days === null) return [];
        const on = addDays(each.due ?? day, occasion === 'before due' ? -setting.days : setting.days);
        return setting.fromDay === null || on >= setting.fromDay ? [on] : [];
      });
      const isDue = days.some((on) => on <= day) && (occasion === 'after due' || each.due >= day);
      const key = `${each.personId}/${occasion}/${each.courseId}`;
      if (isDue && !before.has(key)) found.add(key);
    }
  }
  return found;
}

test('over a fortnight of random settings each is reminded once, nobody late is left out, and a person gets one letter a day', async () => {
  let seed = 20_261_129;
  const next = (below: number): number => (seed = (seed * 48_271) % 2_147_483_647) % below;
  await query(`update message set told_at = now() where told_at is null`);
  const groups = (await query<{ id: number }>(`select id::int from group_now order by 1`)).map(({ id }) => id);
  const courses = (await query<{ id: number }>(`select id::int from course_now where not archived order by 1`)).map(({ id }) => id);
  const known = new Set<string>();
  let reminded = 0;
  for (let day = 1; day <= 14; day++) {
    for (let change = 0; change < 3; change++) {
      const occasion = (['before due', 'after due'] as const)[next(2)] ?? 'after due';
      const values = next(5) === 0 ? 'nobody' : { days: next(20), text: null, alsoPassed: next(3) > 0 };
      await mirela
        .apply({
          kind: 'set-reminder',
          groupId: groups[next(groups.length)] ?? 1,
          occasion,
          courseId: next(2) === 0 ? null : (courses[next(courses.length)] ?? null),
          values,
        })
        .catch((error: unknown) => {
          // The same was said before.
          if (!String(error).includes('422') && !String(error).includes('409')) throw error;
        });
    }
    clock = dayAfter(day);
    await turnDay(site.deps.db, clock);
    const due = await expected(dayOf(clock), known);
    await remind();
    const now = (await remindedNow()).filter(({ occasion }) => courseOccasions.includes(occasion));
    const fresh = now.map(({ person, occasion, about }) => `${person}/${occasion}/${about}`).filter((key) => !known.has(key));
    expect(new Set(fresh)).toEqual(due);
    expect(fresh).toHaveLength(due.size);
    for (const key of fresh) known.add(key);
    reminded += fresh.length;
    await tellAll({ db: site.deps.db, publicUrl: site.url, now: () => clock });
    await query(`update letter set made_at = made_at - interval '1 day' where kind = 'messages'`);
    const [most] = await query<{ letters: number }>(
      `select coalesce(max(c), 0)::int as letters from (select count(*) as c from letter where kind = 'messages' and made_at > now() - interval '30 hours' and made_at < now() - interval '20 hours' group by person_id) x`,
    );
    expect(most?.letters).toBeLessThanOrEqual(1);
  }
  expect(reminded).toBeGreaterThan(100);
});

test('before the morning nobody is reminded; afterwards once, however many processes look; and it is in the log', async () => {
  await set(mirela, middleSound, 'after due', all(1));
  clock = new Date(dayAfter(1));
  clock.setUTCHours(4);
  await turnDay(site.deps.db, clock);
  expect(await remindPeople({ db: site.deps.db, now: () => clock })).toBeNull();
  clock = dayAfter(1);
  const counts = await Promise.all([1, 2, 3].map(() => remindPeople({ db: site.deps.db, now: () => clock })));
  await remind();
  const first = await remindedNow();
  expect(first.length).toBeGreaterThan(0);
  expect(counts.filter((count) => count !== null).length).toBeLessThanOrEqual(1);
  clock = dayAfter(2);
  await remind();
  const twice = await query(`select 1 from reminded group by person_id, occasion, about_id, round having count(*) > 1`);
  expect(twice).toEqual([]);
  const { entries } = await mirela.call('log', { query: { limit: 20 } });
  expect(entries.some(({ kind }) => kind === 'remind')).toBe(true);
});

test('the preview says whom it reaches next, the rehearsal says the same of that day, and it comes to that', async () => {
  const change: Change = { kind: 'set-reminder', groupId: gullhaven, occasion: 'after due', courseId: null, values: all(2) };
  const look = await ottoline.call('look', { body: { change } });
  await ottoline.apply(change);
  const tomorrow = dayOf(dayAfter(1));
  const { lines } = await ottoline.call('rehearseReminders', { params: { groupId: gullhaven } });
  const late = lines.filter(({ occasion, day }) => occasion === 'after due' && day === tomorrow);
  expect(late.length).toBeGreaterThan(0);
  const [line] = late;
  const { names, more } = await ottoline.call('rehearseReminders', {
    params: { groupId: gullhaven },
    query: { day: tomorrow, occasion: 'after due', aboutId: line?.aboutId ?? 0 },
  });
  expect(names.length + more).toBe(line?.people);
  clock = dayAfter(1);
  await remind();
  const [reached] = await query<{ people: number; pairs: number }>(
    `select count(distinct r.person_id)::int as people, count(*)::int as pairs from message_version v join message_reader r on r.message_id = v.message_id where v.kind = 'reminder' and v.group_id = ${gullhaven} and r.is_chosen`,
  );
  expect(reached?.pairs).toBe(late.reduce((sum, { people }) => sum + people, 0));
  expect(look.reached).toBe(reached?.people);
});

test('a leader sets reminders in their branch alone, sees nothing of those elsewhere, and undoes one', async () => {
  await set(mirela, middleSound, 'before due', all(9));
  await set(mirela, 1, 'after due', all(4));
  const { changeId } = await set(ottoline, gullhaven, 'before due', {
    days: 3,
    text: { subject: 'Soon: {course}', body: 'By {until}.' },
    alsoPassed: true,
  });
  const { settings } = await ottoline.call('reminders', { params: { groupId: gullhaven } });
  expect(settings.map(({ occasion, days, group, where, by }) => [occasion, days, group?.name ?? null, where, by])).toEqual([
    ['after due', 4, null, 'above', null],
    ['before due', 3, 'Gullhaven', 'here', 'Ottoline Brandt'],
  ]);
  await ottoline.apply({ kind: 'undo', changeId });
  expect((await ottoline.call('reminders', { params: { groupId: gullhaven } })).settings).toHaveLength(1);
  const refused = await ottoline.send('look', {
    body: { change: { kind: 'set-reminder', groupId: middleSound, occasion: 'before due', courseId: null, values: all(1) } },
  });
  expect(refused.status).toBe(404);
});

test.each([
  [23, 22, 7, true],
  [3, 22, 7, true],
  [7, 22, 7, false],
  [12, 22, 7, false],
  [13, 12, 14, true],
  [14, 12, 14, false],
  [5, 0, 0, false],
])('at %i, quiet from %i until %i: %p', (hour, from, until, quiet) => {
  expect(isQuiet(hour, from, until)).toBe(quiet);
});
