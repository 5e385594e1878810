import { type FilteredEnrolment, type FilteredPerson, type FilterPart } from '@gate-roster/core';
import { maybeActor } from '../accounts/actor.ts';
import { progressSight, seenGroups } from '../accounts/reach.ts';
import { enrolmentsOf } from '../progress/enrolments.ts';
import { execute, type Site } from './site.ts';

/* What a filter can ask of the people of a site, read one table at a time, and filters that ask for it. */

/** The same choice each time. */
export function randomFrom(seed: number): () => number {
  let state = seed;
  return () => {
    state = (Math.imul(state, 1_664_525) + 1_013_904_223) >>> 0;
    return state / 2 ** 32;
  };
}

export interface Facts {
  person: FilteredPerson;
  enrolments: FilteredEnrolment[];
  isCounted: boolean;
  /** A standing membership in the scope. */
  isMember: boolean;
  /** Groups on any path of a membership that reaches today. */
  countsFor: Set<number>;
}

/** What a reader may know of everybody, for a scope. */
export async function factsFor(site: Site, name: string, scopeId: number): Promise<{ today: string; facts: Map<number, Facts> }> {
  const all = <T extends object>(text: string): Promise<T[]> => execute<T>(site.databaseUrl, text);
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
  const worked = new Map(
    (
      await all<{ key: string; days: string[] }>(
        `select e.person_id || '/' || e.course_id as key, array_agg(distinct (d.at at time zone '${timeZone}')::date::text) as days from enrolment e
         join (select enrolment_id, last_at as at from activity_result union all select t.enrolment_id, t.at from report t join activity_result r on r.enrolment_id = t.enrolment_id and r.activity_id = t.activity_id) d on d.enrolment_id = e.id
         where e.is_current group by 1`,
      )
    ).map(({ key, days }) => [key, days]),
  );
  const enrolments = await enrolmentsOf(
    site.deps.db,
    people.map((each) => each.id),
    { today, sight, dueSoonDays: actor.dueSoonDays, withLater: true },
  );
  const blocks = (
    await all<{ person: number | null; group: number | null; with: boolean; courses: number[] }>(
      `select a.person_id::int as person, a.group_id::int as group, a.with_subgroups as with, case when a.course_id is null then array(select k.course_id::int from course_in_set k where k.course_set_id = a.course_set_id) else array[a.course_id::int] end as courses
       from access_grant a where a.until_at is null and a.effect = 'block' and coalesce(a.first_day <= '${today}', true) and coalesce(a.last_day >= '${today}', true)`,
    )
  ).filter(({ group }) => group === null || sight === null || sight.via.includes(group));
  const courseIds = (await all<{ id: number }>(`select id::int from course_now`)).map(({ id: course }) => course);
  const facts = new Map<number, Facts>();
  for (const each of people) {
    const held = memberships.filter(({ person }) => person === each.id);
    const current = held.filter(({ is_today }) => is_today);
    const person: FilteredPerson = {
      id: each.id,
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
  const setsOf = (course: number): number[] => inSets.filter((each) => each.course === course).map(({ set }) => set);
  const closed = (personId: number, course: number): 'blocked' | 'not open' => {
    const groupIds = memberships.filter(({ person, is_today }) => person === personId && is_today).map(({ group }) => group);
    const reaches = (block: (typeof blocks)[number]): boolean =>
      block.person === personId ||
      groupIds.some((group) => block.group !== null && (block.with ? pathOf(group).includes(block.group) : group === block.group));
    return blocks.some((block) => block.courses.includes(course) && reaches(block)) ? 'blocked' : 'not open';
  };
  for (const each of enrolments)
    facts.get(each.personId)?.enrolments.push({
      courseId: each.courseId,
      sets: setsOf(each.courseId),
      access: each.units.length > 0 ? 'open' : each.opensOn !== null ? 'opens later' : closed(each.personId, each.courseId),
      isBegun: each.status !== 'not begun' || each.exempt,
      status: each.status,
      lateness: each.lateness,
      exempt: each.exempt,
      seat: seats.has(`${each.personId}/${each.courseId}`) ? 'has' : each.inLine !== null ? 'in line' : 'none',
      score: each.score,
      doneDay: each.doneDay,
      workedDays: worked.get(`${each.personId}/${each.courseId}`) ?? [],
      due: each.due,
    });
  for (const [personId, each] of facts)
    for (const course of courseIds)
      if (!each.enrolments.some(({ courseId }) => courseId === course))
        each.enrolments.push({
          courseId: course,
          sets: setsOf(course),
          access: closed(personId, course),
          isBegun: false,
          status: 'not begun',
          lateness: 'on time',
          exempt: false,
          seat: seats.has(`${personId}/${course}`) ? 'has' : 'none',
          score: null,
          doneDay: null,
          workedDays: [],
          due: null,
        });
  return { today, facts };
}

/** One to three parts, over what there is in the world, and what there is not. */
export function randomFilter(random: () => number, listId: number, today: string): FilterPart[] {
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
    () => ({ part: 'people', how: pick(['only', 'without']), ids: Array.from({ length: 60 }, () => number(1300)) }),
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
    () => ({ part: 'access', of: some(['open', 'opens later'] as const) }),
    () => ({ part: 'status', of: some(['not begun', 'under way', 'done'] as const) }),
    () => ({ part: 'lateness', of: some(['on time', 'due soon', 'overdue', 'done late'] as const) }),
    () => ({ part: 'exempt', is: is() }),
    () => ({ part: 'seat', of: some(['has', 'in line', 'none'] as const) }),
    () => ({ part: 'score', from: 50 + number(40), to: 100 }),
    () => ({ part: 'done', ...span() }),
    () => ({ part: 'worked', ...span() }),
    () => ({ part: 'due', days: number(60) }),
    () => ({ part: 'skill', how: pick(['shown', 'not shown']), ids: numbers(9) }),
  ];
  const parts = Array.from({ length: number(3) }, () => pick(makers)());
  return random() < 0.15
    ? [
        { part: 'course', courses: numbers(13), sets: [] },
        { part: 'access', of: some(['opens later', 'blocked', 'not open'] as const) },
        ...parts,
      ]
    : parts;
}
