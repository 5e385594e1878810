import { type Client, execute, type Site, startSite } from '../testing/site.ts';

/* Skills: which there are, and which a learner's own work has shown. */

let site: Site;
let mirela: Client;
beforeAll(async () => {
  site = await startSite();
  mirela = await site.as('mirela');
});
afterAll(() => site.stop());

const query = <T extends object>(text: string) => execute<T>(site.databaseUrl, text);

test('a learner sees what their marked work has shown, as often as it did', async () => {
  const shown = await query<{ name: string; skill: string; times: number }>(
    `select n.sign_in_name as name, s.name as skill, count(*)::int as times from mark m join work_version v on v.id = m.version_id join work w on w.id = v.work_id
     join personal_now n on n.person_id = w.person_id and n.sign_in_name is not null cross join lateral unnest(m.skill_ids) k join skill_now s on s.id = k
     where m.until_at is null and m.verdict = 'marked' group by 1, 2 order by 1, 2`,
  );
  const [learner] = shown;
  if (!learner) throw new Error('nobody has shown a skill');
  const own = await site.letIn(learner.name);
  const { skills } = await own.call('mySkills', {});
  expect(skills.map(({ name, times }) => ({ name, times })).sort((a, b) => a.name.localeCompare(b.name))).toEqual(
    shown.filter(({ name }) => name === learner.name).map(({ skill, times }) => ({ name: skill, times })),
  );
});

test('skills of a course are added, renamed and taken away by one change, and what work has shown stays shown', async () => {
  const [course] = await query<{ id: number }>(
    `select s.course_id::int as id from skill_now s where s.course_id is not null and exists (select 1 from mark m where s.id = any(m.skill_ids)) limit 1`,
  );
  if (!course) throw new Error('no course has skills that work has shown');
  const kept = () =>
    query<{ id: number; name: string }>(`select id::int, name from skill_now where course_id = ${course.id} order by row_id`);
  const before = await kept();
  const [first, ...others] = before;
  const marks = () => query<{ n: string }>(`select count(*) as n from mark where ${first?.id ?? 0} = any(skill_ids) and until_at is null`);
  const shown = await marks();
  const { changeId } = await mirela.apply({
    kind: 'set-skills',
    courseId: course.id,
    skills: [...others.map(({ id, name }) => ({ id, name: `${name} at sea` })), { id: null, name: 'Reads the tide' }],
  });
  expect((await kept()).map(({ name }) => name).sort()).toEqual([...others.map(({ name }) => `${name} at sea`), 'Reads the tide'].sort());
  expect(await marks()).toEqual(shown);
  await mirela.apply({ kind: 'undo', changeId });
  expect((await kept()).map(({ name }) => name).sort()).toEqual(before.map(({ name }) => name).sort());
  const twice = { kind: 'set-skills' as const, courseId: course.id, skills: ['Knots', 'knots'].map((name) => ({ id: null, name })) };
  const { conflicts } = await mirela.call('look', { body: { change: twice } });
  expect(conflicts.map(({ code }) => code)).toContain('skill name taken');
  const ottoline = await site.as('ottoline');
  expect((await ottoline.send('look', { body: { change: twice } })).status).toBe(404);
});
