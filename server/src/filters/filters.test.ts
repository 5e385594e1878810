import { writeFilter } from '@gate-roster/contract';
import {
  courseParts,
  emptyTally,
  enrolmentFits,
  type Filter,
  type FilteredEnrolment,
  type FilteredPerson,
  type FilterPart,
  fits,
  personFits,
  personParts,
  type Tally,
} from '@gate-roster/core';
import { maybeActor } from '../accounts/actor.ts';
import { progressSight, seenGroups } from '../accounts/reach.ts';
import { enrolmentsOf } from '../progress/enrolments.ts';
import { type Client, execute, type Site, startSite } from '../testing/site.ts';

/*
 * Lists and reports under a filter are what its meaning in core gives, person by person, from facts that are read one table at a
 * time: for an administrator and for leaders, whose filter sees what they see.
 */
let site: Site;
beforeAll(async () => {
  site = await startSite();
});
afterAll(() => site.stop());

const all = <T extends object>(text: string): Promise<T[]> => execute<T>(site.databaseUrl, text);

/** The same choice each time. */
function randomFrom(seed: number): () => number {
  let state = seed;
  return () => {
    state = (Math.imul(state, 1_664_525) + 1_013_904_223) >>> 0;
    return state / 2 ** 32;
  };
}

interface Facts {
  person: FilteredPerson;
  enrolments: FilteredEnrolment[];
  isCounted: boolean;
  /** A standing membership in the scope. */
  isMember: boolean;
  /** Groups on any path of a membership that reaches today. */
  countsFor: Set<number>;
}

/** What a reader may know of everybody, for a scope. */
async function factsFor(name: string, scopeId: number): Promise<{ today: string; facts: Map<number, Facts> }> {
  const [{ id } = { id: 0 }] = await all<{ id: number }>(`select person_id::int as id from personal_now where sign_in_name = '${name}'`);
  const actor = await maybeActor(site.deps.db, id, site.deps.now());
  if (!actor) throw new Error('nobody');
  const { today, timeZone } = actor;
  const own = await seenGroups(site.deps.db, actor);
  const isSeen = (groupId: number): boolean => own === null || own.has(groupId);
  const groups = await all<{ id: number; parent: number | null; young: boolean }>(
    `select id::int, parent_id::int as parent, young_learners as young from group_now`,
  );
  const byId = new Map(groups.map((group) => [group.id, group]));
  const pathOf = (at: number | null): number[] => (at === null ? [] : [at, ...pathOf(byId.get(at)?.parent ?? null)]);
  const people = await all<{
    id: number;
    texts: (string | null)[];
    hidden: boolean;
    email: string | null;
    confirmed: string | null;
    failed: boolean;
    active: string | null;
    signed_in: boolean;
    state: FilteredPerson['state'];
    counts: boolean;
  }>(`select p.id::int, array[n.given_name || ' ' || n.family_name, n.email::text, n.sign_in_name::text, n.id_number] as texts, n.name_hidden as hidden, n.email::text, n.confirmed_email::text as confirmed,
    n.address_failed or exists (select 1 from letter w where w.address = n.email and w.person_id = p.id and w.state = 'bounced') as failed,
    (p.active_at at time zone '${timeZone}')::date::text as active, p.signed_in_at is not null as signed_in, s.state,
    s.state = 'active' and coalesce(s.first_day <= '${today}', true) and coalesce(s.last_day >= '${today}', true) as counts
    from person p join personal_now n on n.person_id = p.id join person_state s on s.person_id = p.id and s.until_at is null`);
  const memberships = await all<{ person: number; group: number; by: 'hand'; since: string; is_today: boolean }>(
    `select person_id::int as person, group_id::int as group, came_by as by, coalesce(first_day, (from_at at time zone '${timeZone}')::date)::text as since,
      coalesce(first_day <= '${today}', true) and coalesce(last_day >= '${today}', true) as is_today from membership where until_at is null`,
  );
  const tags = await all<{ person: number; tag: number; branch: number }>(
    `select pt.person_id::int as person, pt.tag_id::int as tag, t.branch_id::int as branch from person_tag pt join tag_now t on t.id = pt.tag_id where pt.until_at is null`,
  );
  const above = new Set(actor.leaderships.flatMap(({ groupId }) => pathOf(groupId)));
  const listed = await all<{ person: number; list: number }>(
    `select x.person_id::int as person, x.list_id::int as list from personal_list_person x join personal_list l on l.id = x.list_id where l.owner_id = ${id}`,
  );
  const leads = await all<{ person: number; group: number }>(
    `select person_id::int as person, group_id::int as group from leadership where until_at is null and coalesce(first_day <= '${today}', true) and coalesce(last_day >= '${today}', true)`,
  );
  const inSets = await all<{ set: number; course: number }>(
    `select course_set_id::int as set, course_id::int as course from course_in_set`,
  );
  const seats = new Set(
    (
      await all<{ key: string }>(
        `select s.person_id || '/' || c.course_id as key from seat s join licence_course c on c.licence_id = s.licence_id where s.until_at is null`,
      )
    ).map(({ key }) => key),
  );
  const sight = await progressSight(site.deps.db, actor);
  const shown = (
    await all<{ person: number; skill: number; via: number[] }>(
      `select e.person_id::int as person, s.skill::int as skill, e.via_groups::int[] as via from mark m join work_version v on v.id = m.version_id join work w on w.id = v.work_id join enrolment e on e.id = w.enrolment_id
       cross join lateral unnest(m.skill_ids) as s(skill) where m.until_at is null and m.verdict = 'marked'`,
    )
  ).filter(({ via }) => sight === null || via.some((id) => sight.via.includes(id)));
  const enrolments = await enrolmentsOf(
    site.deps.db,
    people.map((each) => each.id),
    { today, sight, dueSoonDays: actor.dueSoonDays },
  );
  const facts = new Map<number, Facts>();
  for (const each of people) {
    const held = memberships.filter(({ person }) => person === each.id);
    const current = held.filter(({ is_today }) => is_today);
    const person: FilteredPerson = {
      texts: each.texts.filter((text) => text !== null),
      memberships: held
        .filter(({ group }) => isSeen(group))
        .map(({ group, by, since }) => ({
          groupId: group,
          branches: pathOf(group).filter(isSeen),
          isInScope: pathOf(group).includes(scopeId),
          by,
          since,
        })),
      groupsToday: each.counts ? current.filter(({ group }) => isSeen(group)).length : 0,
      tags: tags.filter(({ person: of, branch }) => of === each.id && (isSeen(branch) || above.has(branch))).map(({ tag }) => tag),
      lists: listed.filter(({ person: of }) => of === each.id).map(({ list }) => list),
      state: each.state,
      activeDay: each.active,
      ledIn: (leader) => leads.filter(({ person: of, group }) => of === leader && isSeen(group)).map(({ group }) => group),
      skills: shown.filter(({ person: of }) => of === each.id).map(({ skill }) => skill),
      signedIn: each.signed_in,
      nameHidden: each.hidden,
      isYoung: held.some(({ group }) => isSeen(group) && pathOf(group).some((at) => byId.get(at)?.young)),
      address: each.confirmed !== null ? 'confirmed' : each.failed ? 'does not work' : each.email === null ? 'none' : 'unconfirmed',
    };
    facts.set(each.id, {
      person,
      enrolments: [],
      isCounted: each.counts && current.some(({ group }) => pathOf(group).includes(scopeId)),
      isMember: held.some(({ group }) => pathOf(group).includes(scopeId)),
      countsFor: new Set(current.flatMap(({ group }) => pathOf(group))),
    });
  }
  for (const each of enrolments)
    facts.get(each.personId)?.enrolments.push({
      courseId: each.courseId,
      sets: inSets.filter(({ course }) => course === each.courseId).map(({ set }) => set),
      status: each.status,
      lateness: each.lateness,
      exempt: each.exempt,
      seat: seats.has(`${each.personId}/${each.courseId}`) ? 'has' : each.inLine !== null ? 'in line' : 'none',
      score: each.score,
      doneDay: each.doneDay,
      due: each.due,
    });
  return { today, facts };
}

/** One to three parts, over what there is in the world, and what there is not. */
function randomFilter(random: () => number, listId: number, today: string): FilterPart[] {
  const pick = <T>(list: readonly T[]): T => list[Math.floor(random() * list.length)] as T;
  const some = <T>(list: readonly T[]): T[] => {
    const chosen = list.filter(() => random() < 0.4);
    return chosen.length > 0 ? chosen : [pick(list)];
  };
  const number = (most: number): number => 1 + Math.floor(random() * most);
  const numbers = (most: number): number[] => Array.from({ length: number(3) }, () => number(most));
  const day = (): string => new Date(Date.parse(today) - number(300) * 86_400_000).toISOString().slice(0, 10);
  const span = (): { from: string | null; until: string | null } => {
    const [from = today, until = today] = [day(), day()].sort();
    return { from: random() < 0.3 ? null : from, until: random() < 0.3 ? null : until };
  };
  const is = (): boolean => random() < 0.5;
  const makers: (() => FilterPart)[] = [
    () => ({ part: 'words', text: pick(['an', 'Petrossian', 'crew', '@', 'x_', '%', 'B']) }),
    () => ({ part: 'groups', how: pick(['in', 'not in']), ids: numbers(50), withSubgroups: is() }),
    () => ({ part: 'tags', how: pick(['any', 'all', 'none']), ids: numbers(8) }),
    () => ({ part: 'list', how: pick(['in', 'not in']), id: pick([listId, 999]) }),
    () => ({ part: 'state', of: some(['asking', 'active', 'paused', 'ended'] as const) }),
    () => ({ part: 'came', by: is() ? [] : some(['file', 'hand', 'join code', 'invitation'] as const), ...span() }),
    () => ({ part: 'active', how: pick(['within', 'before', 'never']), days: number(90) }),
    () => ({ part: 'led by', ids: numbers(40) }),
    () => ({ part: 'signed in', is: is() }),
    () => ({ part: 'name hidden', is: is() }),
    () => ({ part: 'several groups', is: is() }),
    () => ({ part: 'young learner', is: is() }),
    () => ({ part: 'address', of: some(['none', 'unconfirmed', 'confirmed', 'does not work'] as const) }),
    () => ({ part: 'course', courses: numbers(13), sets: is() ? [] : numbers(4) }),
    () => ({ part: 'status', of: some(['not begun', 'under way', 'done'] as const) }),
    () => ({ part: 'lateness', of: some(['on time', 'due soon', 'overdue', 'done late'] as const) }),
    () => ({ part: 'exempt', is: is() }),
    () => ({ part: 'seat', of: some(['has', 'in line', 'none'] as const) }),
    () => ({ part: 'score', from: 50 + number(40), to: 100 }),
    () => ({ part: 'done', ...span() }),
    () => ({ part: 'due', days: number(60) }),
    () => ({ part: 'skill', how: pick(['shown', 'not shown']), ids: numbers(9) }),
  ];
  return Array.from({ length: number(3) }, () => pick(makers)());
}

test('random filters: who is listed, and every figure of the report, is what core says person by person, also for leaders', async () => {
  const random = randomFrom(20_261_128);
  let listed = 0;
  let counted = 0;
  for (const [name, scopeId] of [
    ['mirela', 1],
    ['mirela', 38],
    ['ottoline', 10],
  ] as const) {
    const client: Client = await site.as(name);
    const { ids: some } = await client.call('allPeople', { params: { groupId: scopeId } });
    const list = await client.call('makeList', { body: { name: `List of ${scopeId}`, personIds: some.slice(0, 30) } });
    const { today, facts } = await factsFor(name, scopeId);
    for (let n = 0; n < 12; n++) {
      const filter: Filter = randomFilter(random, list.id, today);
      const query = { filter: writeFilter(filter) };
      const isByState = filter.some(({ part }) => part === 'state');
      const base = [...facts].filter(([, each]) => (isByState ? each.isMember : each.isCounted));
      const expected = base.filter(([, each]) => fits(each.person, each.enrolments, filter, today)).map(([id]) => id);
      const { ids } = await client.call('allPeople', { params: { groupId: scopeId }, query });
      expect({ filter, ids: [...ids].sort() }).toEqual({ filter, ids: [...expected].sort() });
      const others = await client.call('groupPeople', { params: { groupId: scopeId }, query: { ...query, fits: 'no', limit: 1 } });
      expect({ filter, matching: others.matching, total: others.total }).toEqual({
        filter,
        matching: base.length - expected.length,
        // With a state asked for, all who are in it; other parts narrow those.
        total: base.filter(([, { person }]) =>
          personParts(filter).every((part) => part.part !== 'state' || personFits(person, part, today)),
        ).length,
      });
      listed += ids.length;
      counted += await compareReport(client, scopeId, filter, facts, today);
    }
  }
  expect(listed).toBeGreaterThan(1000);
  expect(counted).toBeGreaterThan(1000);
}, 300_000);

/** Each row, course and sum of the report; says how many enrolments there were. */
async function compareReport(client: Client, scopeId: number, filter: Filter, facts: Map<number, Facts>, today: string): Promise<number> {
  const report = await client.call('progress', { params: { groupId: scopeId }, query: { filter: writeFilter(filter) } });
  const about = courseParts(filter);
  const fitting = [...facts]
    .filter(([, { isCounted, person, enrolments }]) => isCounted && fits(person, enrolments, filter, today))
    .map(([id, each]) => ({
      id,
      ...each,
      enrolments: each.enrolments.filter((one) => about.every((part) => enrolmentFits(one, part, today))),
    }));
  const tallyOf = (enrolments: readonly FilteredEnrolment[]): Tally => ({
    ...emptyTally,
    all: enrolments.length,
    exempt: enrolments.filter(({ exempt }) => exempt).length,
    done: enrolments.filter(({ exempt, status }) => !exempt && status === 'done').length,
    underWay: enrolments.filter(({ exempt, status }) => !exempt && status === 'under way').length,
    overdue: enrolments.filter(({ lateness }) => lateness === 'overdue').length,
    scored: enrolments.filter(({ exempt, score }) => !exempt && score !== null).length,
    // Added up in another order.
    scoreSum: expect.closeTo(
      enrolments.reduce((sum, { exempt, score }) => sum + (exempt ? 0 : (score ?? 0)), 0),
      6,
    ) as number,
  });
  expect({ filter, learners: report.learners, ofAll: report.ofAll }).toEqual({
    filter,
    learners: fitting.length,
    ofAll: [...facts.values()].filter(({ isCounted }) => isCounted).length,
  });
  for (const row of report.rows) {
    const theirs = fitting.filter(({ countsFor }) => countsFor.has(row.id));
    const enrolments = theirs.flatMap((each) => each.enrolments);
    expect({ filter, row: row.id, learners: row.learners, total: row.total }).toEqual({
      filter,
      row: row.id,
      learners: theirs.length,
      total: tallyOf(enrolments),
    });
    for (const [index, { id }] of report.courses.entries())
      expect(row.cells[index] ?? emptyTally).toEqual(tallyOf(enrolments.filter(({ courseId }) => courseId === id)));
  }
  await compareLearners(client, scopeId, filter, facts, new Set(fitting.map(({ id }) => id)));
  return report.total.all;
}

/** The list of learners by course: who is in it, each cell, and as many lines in its file. */
async function compareLearners(
  client: Client,
  scopeId: number,
  filter: Filter,
  facts: Map<number, Facts>,
  fitting: Set<number>,
): Promise<void> {
  const query = { filter: writeFilter(filter) };
  const page = await client.call('progressLearners', { params: { groupId: scopeId }, query: { ...query, limit: 200 } });
  expect({ filter, learners: page.learners, shown: page.people.length }).toEqual({
    filter,
    learners: fitting.size,
    shown: Math.min(200, fitting.size),
  });
  for (const { id, cells } of page.people) {
    expect([filter, fitting.has(id)]).toEqual([filter, true]);
    const shown = facts.get(id)?.enrolments.filter(({ courseId }) => page.courses.some((course) => course.id === courseId)) ?? [];
    expect(cells.map(({ courseId, status, lateness, due, score, exempt }) => [courseId, status, lateness, due, score, exempt])).toEqual(
      shown.map(({ courseId, status, lateness, due, score, exempt }) => [courseId, status, lateness, due, score, exempt]),
    );
  }
  const file = await client.call('progressLearnersFile', { params: { groupId: scopeId }, query });
  expect(file.trimEnd().split('\r\n')).toHaveLength(fitting.size + 1);
}

test('a report whose filter everybody fits is the report without one; a broken, an endless and a too long filter are refused', async () => {
  const mirela = await site.as('mirela');
  for (const groupId of [1, 17, 38]) {
    const plain = await mirela.call('progress', { params: { groupId } });
    const everyone: Filter = [{ part: 'state', of: ['active'] }];
    const filtered = await mirela.call('progress', { params: { groupId }, query: { filter: writeFilter(everyone) } });
    const sums = (report: typeof plain) => report.rows.map(({ id, learners, total }) => [id, learners, { ...total, scoreSum: 0 }]);
    expect([sums(filtered), filtered.weeks]).toEqual([sums(plain), plain.weeks]);
  }
  for (const text of [
    '[',
    '{}',
    '[{"part":"tags"}]',
    '[{"part":"none of ours"}]',
    writeFilter([{ part: 'tags', how: 'any', ids: Array.from({ length: 500 }, (_, n) => n + 1) }]),
    writeFilter(Array.from({ length: 30 }, () => ({ part: 'signed in', is: true }) as const)),
    'x'.repeat(9000),
  ]) {
    const answer = await mirela.send('groupPeople', { params: { groupId: 1 }, query: { filter: text } });
    expect([text.slice(0, 30), answer.status]).toEqual([text.slice(0, 30), 400]);
  }
});
