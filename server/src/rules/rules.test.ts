import type { RuleValues } from '@gate-roster/contract';
import { addDays } from '@gate-roster/core';
import { randomUUID } from 'node:crypto';
import { takeReports } from '../progress/take-reports.ts';
import { crew, draft, elsewhere, gullhaven } from '../testing/outside-changes.ts';
import { type Client, execute, type Site, startSite } from '../testing/site.ts';
import { actsOfRule, groupsOfPerson, plainMembers, rulesSettled } from '../testing/rule-tools.ts';
import { longestChain } from './run-rules.ts';

const inshore = 4;
const cadets = 8;
let site: Site;
let mirela: Client;
let ottoline: Client;
beforeAll(async () => {
  site = await startSite();
  mirela = await site.as('mirela');
  ottoline = await site.as('ottoline');
});
afterAll(() => site.stop());

const query = <T extends object>(text: string): Promise<T[]> => execute<T>(site.databaseUrl, text);
const settled = (): Promise<void> => rulesSettled(site);
const groupsOf = (personId: number): Promise<number[]> => groupsOfPerson(site, personId);
const actsOf = (ruleId: number) => actsOfRule(site, ruleId);
const someOf = (groupId: number, count: number): Promise<number[]> => plainMembers(site, groupId, count);
let number = 0;
const values = (given: Partial<RuleValues>): RuleValues => ({
  name: `Rule ${++number}`,
  when: { when: 'enters', groupId: crew },
  filter: [],
  then: [{ act: 'tag', name: 'seen' }],
  ...given,
});
async function set(
  given: Partial<RuleValues>,
  {
    state = 'later ones',
    by = mirela,
    groupId = gullhaven,
  }: { state?: 'off' | 'later ones' | 'those it fits too'; by?: Client; groupId?: number } = {},
): Promise<{ ruleId: number; changeId: number }> {
  const { changeId } = await by.apply({ kind: 'set-rule', ruleId: null, groupId, values: values(given), state });
  const [made] = await query<{ id: number }>(`select max(rule_id)::int as id from rule_version`);
  return { ruleId: made?.id ?? 0, changeId };
}
const join = (personId: number, groupId: number) =>
  mirela.apply({ kind: 'add-members', groupId, personIds: [personId], firstDay: null, lastDay: null });
const leave = (personId: number, groupId: number) => mirela.apply({ kind: 'remove-members', groupId, personIds: [personId] });

test('a rule acts on who comes later, once for each time they come, and each act can be undone and is then not done again', async () => {
  const [first = 0, second = 0] = await someOf(inshore, 2);
  const { ruleId } = await set({ then: [{ act: 'put in', groupId: cadets }] });
  expect(await actsOf(ruleId)).toEqual([]);
  await join(first, crew);
  await settled();
  expect(await groupsOf(first)).toEqual([inshore, crew, cadets]);
  const [act] = await actsOf(ruleId);
  expect(act).toMatchObject({ person: first, outcome: 'acted' });
  const { entries } = await mirela.call('log', { query: {} });
  const entry = entries.find(({ id }) => id === act?.change);
  expect(entry).toMatchObject({ kind: 'add-members', rule: `Rule ${number}`, canUndo: true });
  expect(
    (
      await query<{ by: string }>(
        `select came_by as by from membership where person_id = ${first} and group_id = ${cadets} and until_at is null`,
      )
    )[0]?.by,
  ).toBe('rule');

  await mirela.apply({ kind: 'undo', changeId: act?.change ?? 0 });
  await settled();
  expect(await groupsOf(first)).toEqual([inshore, crew]);
  expect((await mirela.call('whyNot', { params: { ruleId, personId: first } })).reason).toBe('undone');
  expect((await mirela.call('whyNot', { params: { ruleId, personId: second } })).reason).toBe('not happened');

  // Another stretch in the group is another occasion.
  await leave(first, crew);
  await settled();
  await join(first, crew);
  await settled();
  expect(await groupsOf(first)).toEqual([inshore, crew, cadets]);
  expect(await actsOf(ruleId)).toHaveLength(2);
  await mirela.apply({ kind: 'end-rule', ruleId });
});

test('an undo sets nothing off', async () => {
  const [person = 0] = await someOf(crew, 1);
  const { changeId } = await leave(person, crew).then(() => join(person, crew));
  await leave(person, crew);
  const { ruleId } = await set({ when: { when: 'enters', groupId: crew } });
  const [last] = (await mirela.call('log', { query: {} })).entries.filter(({ kind }) => kind === 'remove-members');
  expect(changeId).toBeLessThan(last?.id ?? 0);
  await mirela.apply({ kind: 'undo', changeId: last?.id ?? 0 });
  await settled();
  expect((await actsOf(ruleId)).filter(({ outcome }) => outcome === 'acted')).toEqual([]);
  expect((await mirela.call('whyNot', { params: { ruleId, personId: person } })).reason).not.toBe('acted');
  await mirela.apply({ kind: 'end-rule', ruleId });
});

test('switched on with those it fits, it shows them first, acts in one change, and is undone as a whole', async () => {
  const rule = values({
    when: { when: 'enters', groupId: crew },
    then: [
      { act: 'put in', groupId: inshore },
      { act: 'tag', name: 'both' },
    ],
  });
  const { fits, people } = await mirela.call('rehearseRule', { params: { groupId: gullhaven }, body: { values: rule } });
  const change = { kind: 'set-rule' as const, ruleId: null, groupId: gullhaven, values: rule, state: 'those it fits too' as const };
  const look = await mirela.call('look', { body: { change } });
  const [inCrew] = await query<{ all: number; new: number }>(
    `select count(distinct m.person_id)::int as all, count(distinct m.person_id) filter (where not exists (select 1 from membership o where o.person_id = m.person_id and o.group_id = ${inshore} and o.until_at is null))::int as new
      from membership m join person p on p.id = m.person_id and p.counted where m.group_id = ${crew} and m.until_at is null`,
  );
  expect(fits).toBe(inCrew?.all);
  expect(people.length).toBeGreaterThan(0);
  expect(look.joins).toMatchObject([{ groupId: inshore, people: inCrew?.new }]);
  expect(look.changedPeople).toBe(inCrew?.all);
  const before = await query(`select person_id, group_id from membership where until_at is null order by 1, 2`);
  const { changeId } = await mirela.apply(change);
  expect(
    await query(`select 1 from person_tag t join tag_now n on n.id = t.tag_id and n.name = 'both' where t.until_at is null`),
  ).toHaveLength(fits);
  await mirela.apply({ kind: 'undo', changeId });
  await settled();
  expect(await query(`select person_id, group_id from membership where until_at is null order by 1, 2`)).toEqual(before);
  expect(await query(`select 1 from rule_version where until_at is null and name = '${rule.name}'`)).toEqual([]);
});

test('whoever gets a course is put in a group, again when it opens anew; a group that opens it is refused as a loop, with the loop', async () => {
  const [person = 0] = await someOf(cadets, 1);
  const lookout = (await query<{ id: number }>(`select id::int from course_now where name = 'Tower lookout'`))[0]?.id ?? 0;
  const towerWatch =
    (await query<{ id: number }>(`select id::int from group_now where name = 'Tower watch' and parent_id = ${gullhaven}`))[0]?.id ?? 0;
  const when = { when: 'gets' as const, courses: [lookout] };
  const loop = await mirela.call('look', {
    body: {
      change: {
        kind: 'set-rule',
        ruleId: null,
        groupId: gullhaven,
        values: values({ when, then: [{ act: 'put in', groupId: towerWatch }] }),
        state: 'later ones',
      },
    },
  });
  expect(loop.conflicts).toMatchObject([{ code: 'rule loops', blocks: true, about: [`Rule ${number} → Rule ${number}`] }]);

  const { ruleId } = await set({ when, then: [{ act: 'put in', groupId: inshore }] });
  await settled();
  expect(await actsOf(ruleId)).toEqual([]);
  const open = { what: 'open' as const, firstDay: null, lastDay: null, units: null, due: null };
  const except = (exception: typeof open | { what: 'none' }) =>
    mirela.apply({ kind: 'except-people', groupId: gullhaven, personIds: [person], courseId: lookout, exception });
  await except(open);
  await settled();
  expect(await groupsOf(person)).toContain(inshore);
  await leave(person, inshore);
  await except({ what: 'none' });
  await settled();
  await except(open);
  await settled();
  expect(await groupsOf(person)).toContain(inshore);
  expect(await actsOf(ruleId)).toHaveLength(2);
  await mirela.apply({ kind: 'end-rule', ruleId });
});

test('somebody who finishes a unit in the player is moved within seconds, by the server itself', async () => {
  const [learner] = await query<{ person: number; course: number; unit: number; group: number }>(`
    select p.id::int as person, e.course_id::int as course, (x.units)[1]::int as unit, m.group_id::int as "group" from person p join entitlement x on x.set_id = p.set_id and not p.own_windows
    join enrolment e on e.person_id = p.id and e.course_id = x.course_id and e.is_current and e.status = 'not begun' join membership m on m.person_id = p.id and m.until_at is null and m.group_id = ${inshore}
    where p.counted and coalesce(x.first_day <= now()::date, true) and coalesce(x.last_day >= now()::date, true) and not exists (select 1 from leadership l where l.person_id = p.id)
      and not exists (select 1 from access_grant g where g.licences is not null and g.course_id = x.course_id) order by p.id limit 1`);
  if (!learner) throw new Error('nobody');
  const { ruleId } = await set({
    when: { when: 'finishes', courseId: learner.course, unitId: learner.unit },
    then: [{ act: 'move', fromId: inshore, intoId: crew }],
  });
  const [source] = await query<{ id: number }>(`select source_id::int as id from course where id = ${learner.course}`);
  const activities = await query<{ id: number }>(`select id::int from activity_now where unit_id = ${learner.unit} order by position`);
  const now = new Date();
  const tried = { digest: '', said: null, finished: true, score: null, at: now, seconds: 0 };
  const about = { personId: learner.person, courseId: learner.course, unitId: learner.unit };
  const reports = activities.map(({ id }) => ({ ...tried, ...about, id: randomUUID(), activityId: id }));
  expect(await takeReports(site.deps.db, source?.id ?? 0, reports, now)).toEqual({ fresh: activities.length, notOpen: 0 });
  for (let tries = 0; !(await groupsOf(learner.person)).includes(crew); tries++) {
    if (tries > 100) throw new Error('nobody was moved');
    await new Promise((resolve) => setTimeout(resolve, 100));
  }
  expect(await groupsOf(learner.person)).not.toContain(inshore);
  expect(await actsOf(ruleId)).toMatchObject([{ person: learner.person, outcome: 'acted' }]);
  await mirela.apply({ kind: 'end-rule', ruleId });
});

test('a leader’s rule acts with what they may do now, and pauses when they may not; one of an administrator they can end, not change', async () => {
  const [person = 0, later = 0] = await someOf(inshore, 2);
  const own = await set({ then: [{ act: 'put in', groupId: cadets }] }, { by: ottoline });
  await join(person, crew);
  await settled();
  expect(await groupsOf(person)).toContain(cadets);
  const [led] = await query<{ person: number; powers: string }>(
    `select person_id::int as person, powers::text from leadership where group_id = ${gullhaven} and until_at is null and person_id = (select actor_id from change_log where id = (select max(id) from change_log where kind = 'set-rule'))`,
  );
  await query(
    `update leadership set powers = array_remove(powers, 'managePeople') where group_id = ${gullhaven} and person_id = ${led?.person} and until_at is null`,
  );
  await join(later, crew);
  await settled();
  expect(await groupsOf(later)).not.toContain(cadets);
  const { rules } = await mirela.call('rules', { params: { groupId: gullhaven } });
  expect(rules.find(({ id }) => id === own.ruleId)).toMatchObject({ pausedFor: 'powers', isOn: true });
  expect((await mirela.call('whyNot', { params: { ruleId: own.ruleId, personId: later } })).reason).toBe('paused');
  await query(
    `update leadership set powers = '${led?.powers}' where group_id = ${gullhaven} and person_id = ${led?.person} and until_at is null`,
  );

  const theirs = await set({ then: [{ act: 'tag', name: 'from above' }] });
  const seen = (await ottoline.call('rules', { params: { groupId: gullhaven } })).rules.find(({ id }) => id === theirs.ruleId);
  expect(seen).toMatchObject({ by: null, may: { edit: false, end: true } });
  const edit = { kind: 'set-rule', ruleId: theirs.ruleId, groupId: gullhaven, values: values({}), state: 'off' };
  expect((await ottoline.send('look', { body: { change: edit } })).status).toBe(404);
  await ottoline.apply({ kind: 'end-rule', ruleId: theirs.ruleId });
  await mirela.apply({ kind: 'end-rule', ruleId: own.ruleId });
});

test('a rule of a leader sees no further than they do: not what is open, done or ends elsewhere', async () => {
  const [person = 0] = await someOf(crew, 1);
  const [hidden] = await query<{ id: number }>(
    `select c.id::int from course_now c where not exists (select 1 from entitlement x join person p on x.set_id = p.set_id where p.id = ${person} and x.course_id = c.id) order by c.id desc limit 1`,
  );
  const courseId = hidden?.id ?? 0;
  const { today } = await mirela.call('me', {});
  const lastDay = addDays(today, 5);
  await mirela.apply({ kind: 'add-members', groupId: elsewhere, personIds: [person], firstDay: null, lastDay });
  await mirela.apply({ kind: 'grant-access', end: [], begin: [{ ...draft, groupId: elsewhere, courseId }] });
  await query(
    `insert into enrolment (person_id, course_id, status, begun_at, done_at, done_day, score, via_groups) values (${person}, ${courseId}, 'done', now(), now(), '${today}', 90, '{${elsewhere}}')`,
  );
  const whens: RuleValues['when'][] = [
    { when: 'gets', courses: [courseId] },
    { when: 'begins', courseId },
    { when: 'finishes', courseId, unitId: null },
    { when: 'scores', courseId, least: 50 },
    { when: 'before end', days: 7 },
  ];
  const fits = async (by: Client, groupId: number, when: RuleValues['when']): Promise<boolean> => {
    const found = await by.call('rehearseRule', { params: { groupId }, body: { values: values({ when }) } });
    return found.people.some(({ id }) => id === person);
  };
  for (const when of whens) {
    expect([when.when, await fits(ottoline, gullhaven, when)]).toEqual([when.when, false]);
    // Of a membership the rule of another branch speaks.
    expect([when.when, await fits(mirela, when.when === 'before end' ? elsewhere : gullhaven, when)]).toEqual([when.when, true]);
  }
  await leave(person, elsewhere);
});

test('days before something is due a rule acts once, on who has not done it', async () => {
  const [late = 0, done = 0] = await someOf(inshore, 2);
  const { today } = await mirela.call('me', {});
  const [course] = await query<{ id: number }>(`select id::int from course_now where name = 'Night navigation'`);
  const courseId = course?.id ?? 0;
  const due = { at: { day: addDays(today, 5) }, leastDays: null, firm: false };
  await mirela.apply({
    kind: 'except-people',
    groupId: gullhaven,
    personIds: [late, done],
    courseId,
    exception: { what: 'open', firstDay: null, lastDay: null, units: null, due },
  });
  await mirela.apply({
    kind: 'except-people',
    groupId: gullhaven,
    personIds: [done],
    courseId,
    exception: { what: 'done elsewhere', day: today, reason: null, proof: null },
  });
  const when = { when: 'due' as const, courses: [courseId], days: 5, side: 'before' as const };
  const { ruleId } = await set({ when, then: [{ act: 'write', title: 'Nearly due', body: 'Five days.' }] });
  // It was on before the day came.
  await query(`update rule_version set on_since = now() - interval '3 days' where rule_id = ${ruleId}`);
  for (let turns = 0; turns < 3; turns++) {
    await query(`insert into rule_event (what) values ('day')`);
    await settled();
  }
  expect(await actsOf(ruleId)).toMatchObject([{ person: late, outcome: 'acted' }]);
  expect(
    await query(
      `select 1 from message_reader r join message_version v on v.message_id = r.message_id and v.title = 'Nearly due' where r.person_id = ${late}`,
    ),
  ).toHaveLength(1);
  await mirela.apply({ kind: 'end-rule', ruleId });
});

test('a chain of rules ends after so many acts on one person', async () => {
  const [person = 0] = await someOf(inshore, 1);
  const steps = longestChain + 1;
  const chain: number[] = [];
  await mirela.apply({
    kind: 'make-groups',
    parentId: gullhaven,
    groups: Array.from({ length: steps + 1 }, (_, n) => ({ name: `Step ${n}`, within: null, like: null, leaders: [] })),
  });
  const step = await query<{ id: number }>(`select id::int from group_now where name like 'Step %' order by name`);
  const at = (n: number): number => step[n]?.id ?? 0;
  for (let n = 0; n < steps; n++)
    chain.push((await set({ when: { when: 'enters', groupId: at(n) }, then: [{ act: 'put in', groupId: at(n + 1) }] })).ruleId);
  await join(person, at(0));
  await settled();
  const reached = await groupsOf(person);
  expect(step.map(({ id }) => reached.includes(id))).toEqual([...Array.from({ length: steps }, () => true), false]);
  expect(await actsOf(chain.at(-1) ?? 0)).toMatchObject([{ outcome: 'chain' }]);
  for (const ruleId of chain) await mirela.apply({ kind: 'end-rule', ruleId });
});

test('random comings and goings: each stretch in a group is one act, as often as it is asked and whoever asks', async () => {
  const people = await someOf(inshore, 4);
  const watched = [crew, cadets];
  const ids: number[] = [];
  for (const [index, groupId] of watched.entries())
    ids[index] = (await set({ when: { when: 'enters', groupId }, then: [{ act: 'tag', name: `entered ${groupId}` }] })).ruleId;
  const expected = new Map<string, number>();
  let state = 4711;
  const draw = (n: number): number => (state = (state * 48_271) % 2_147_483_647) % n;
  const held = new Map(await Promise.all(people.map(async (id) => [id, new Set(await groupsOf(id))] as const)));
  for (let step = 0; step < 30; step++) {
    const person = people[draw(people.length)] ?? 0;
    const groupId = watched[draw(2)] ?? 0;
    const mine = held.get(person);
    if (mine?.has(groupId)) {
      await leave(person, groupId);
      mine.delete(groupId);
    } else {
      await join(person, groupId);
      mine?.add(groupId);
      expected.set(`${groupId}/${person}`, (expected.get(`${groupId}/${person}`) ?? 0) + 1);
    }
    // Several at once, as several processes would.
    await Promise.all([settled(), settled()]);
  }
  for (const [index, groupId] of watched.entries()) {
    const counted = new Map<string, number>();
    for (const { person } of await actsOf(ids[index] ?? 0))
      counted.set(`${groupId}/${person}`, (counted.get(`${groupId}/${person}`) ?? 0) + 1);
    expect(counted).toEqual(new Map([...expected].filter(([key]) => key.startsWith(`${groupId}/`))));
  }
}, 120_000);
