import type { RuleValues } from '@gate-roster/contract';
import { gullhaven } from '../testing/outside-changes.ts';
import { groupsOfPerson, plainMembers, rulesSettled } from '../testing/rule-tools.ts';
import { type Client, execute, type Site, startSite } from '../testing/site.ts';

/* Rules that ask a leader first, rules about one activity, and rules that take a seat back. */

const crew = 7;
const inshore = 4;
let site: Site;
let mirela: Client;
let ottoline: Client;
beforeAll(async () => {
  site = await startSite();
  mirela = await site.as('mirela');
  ottoline = await site.as('ottoline');
});
afterAll(() => site.stop());

const query = <T extends object>(text: string) => execute<T>(site.databaseUrl, text);
async function make(values: Partial<RuleValues>, state: 'later ones' | 'those it fits too' = 'later ones'): Promise<number> {
  const rule: RuleValues = {
    name: 'Trial',
    when: { when: 'enters', groupId: crew },
    filter: [],
    then: [{ act: 'tag', name: 'trial' }],
    ...values,
  };
  await ottoline.apply({ kind: 'set-rule', ruleId: null, groupId: gullhaven, values: rule, state });
  const [made] = await query<{ id: number }>(`select max(rule_id)::int as id from rule_version`);
  return made?.id ?? 0;
}
const waiting = async (ruleId: number): Promise<number[]> => {
  const { rules } = await ottoline.call('rules', { params: { groupId: gullhaven } });
  return rules.find(({ id }) => id === ruleId)?.waiting.people.map(({ id }) => id) ?? [];
};
const tagged = async (name: string): Promise<number[]> =>
  (
    await query<{ id: number }>(
      `select t.person_id::int as id from person_tag t join tag_now k on k.id = t.tag_id and k.name = '${name}' where t.until_at is null order by 1`,
    )
  ).map(({ id }) => id);

test('a rule that asks first does nothing until a leader says so; one click answers for all, and it is asked once', async () => {
  const people = (await plainMembers(site, gullhaven, 3)).filter(Boolean);
  const ruleId = await make({ name: 'Ask about newcomers', asksFirst: true, then: [{ act: 'tag', name: 'asked about' }] });
  await ottoline.apply({ kind: 'add-members', groupId: crew, personIds: people, firstDay: null, lastDay: null });
  await rulesSettled(site);
  expect(await tagged('asked about')).toEqual([]);
  expect((await waiting(ruleId)).toSorted((a, b) => a - b)).toEqual(people.toSorted((a, b) => a - b));
  const [first = 0, ...others] = people;
  await ottoline.apply({ kind: 'answer-rule', ruleId, personIds: [first], acts: false });
  const { changeId } = await ottoline.apply({ kind: 'answer-rule', ruleId, personIds: people, acts: true });
  expect(await tagged('asked about')).toEqual(others.toSorted((a, b) => a - b));
  expect(await waiting(ruleId)).toEqual([]);
  expect((await ottoline.call('whyNot', { params: { ruleId, personId: first } })).reason).toBe('left alone');
  // Undone, it is not asked about again.
  await ottoline.apply({ kind: 'undo', changeId });
  await rulesSettled(site);
  expect(await tagged('asked about')).toEqual([]);
  expect(await waiting(ruleId)).toEqual([]);
  await ottoline.apply({ kind: 'end-rule', ruleId });
  await ottoline.apply({ kind: 'remove-members', groupId: crew, personIds: people });
  expect(await groupsOfPerson(site, first)).not.toContain(crew);
});

test('a rule about one activity waits for that activity, its score and its beginning', async () => {
  const [done] = await query<{ person: number; course: number; unit: number; activity: number; score: number }>(
    `select e.person_id::int as person, e.course_id::int as course, a.unit_id::int as unit, a.id::int as activity, r.score from activity_result r
     join activity_now a on a.id = r.activity_id and a.scored join enrolment e on e.id = r.enrolment_id and e.is_current join person p on p.id = e.person_id and p.counted
     join membership m on m.person_id = p.id and m.until_at is null and m.group_id = ${gullhaven} where r.finished and r.score between 40 and 90 order by r.enrolment_id, a.id limit 1`,
  );
  if (!done) throw new Error('nobody has a score');
  const named = { courseId: done.course, unitId: done.unit, activityId: done.activity };
  const fits = async (when: RuleValues['when']) =>
    (
      await ottoline.call('rehearseRule', {
        params: { groupId: gullhaven },
        body: { values: { name: 'Trial', when, filter: [], then: [{ act: 'tag', name: 'x' }] } },
      })
    ).fits;
  const truth = async (isSo: string) =>
    Number(
      (
        await query<{ n: string }>(
          `select count(distinct e.person_id) as n from activity_result r join enrolment e on e.id = r.enrolment_id and e.is_current join person p on p.id = e.person_id and p.counted
           where r.activity_id = ${done.activity} and ${isSo} and p.set_id in (select set_id from set_in_branch where ancestor_id = ${gullhaven})`,
        )
      )[0]?.n,
    );
  expect(await fits({ when: 'begins', ...named })).toBe(await truth('true'));
  expect(await fits({ when: 'finishes', ...named })).toBe(await truth('r.finished'));
  expect(await fits({ when: 'scores', ...named, least: 60 })).toBe(await truth('r.score >= 60'));
  expect(await truth('r.finished')).toBeGreaterThan(0);
  // An activity of another course is none of this one's.
  const [other] = await query<{ id: number }>(`select id::int from activity_now where course_id <> ${done.course} limit 1`);
  const wrong: RuleValues = {
    name: 'Wrong',
    when: { when: 'finishes', ...named, activityId: other?.id ?? 0 },
    filter: [],
    then: [{ act: 'tag', name: 'x' }],
  };
  const answer = await ottoline.send('look', {
    body: { change: { kind: 'set-rule', ruleId: null, groupId: gullhaven, values: wrong, state: 'off' } },
  });
  expect(answer.status).toBe(404);
});

test('a rule takes a seat back, by a licence that pays in its branch alone', async () => {
  const ferries = { group: 39, licence: 2 };
  const values: RuleValues = {
    name: 'Tagged: seat back',
    when: { when: 'day', day: '2020-01-01' },
    filter: [{ part: 'seat', of: ['has'] }],
    then: [{ act: 'give back a seat', licenceId: ferries.licence }],
  };
  const held = async () =>
    Number((await query<{ n: string }>(`select count(*) as n from seat where until_at is null and licence_id = ${ferries.licence}`))[0]?.n);
  const before = await held();
  const change = { kind: 'set-rule' as const, ruleId: null, groupId: ferries.group, values, state: 'those it fits too' as const };
  const look = await mirela.call('look', { body: { change } });
  expect(look.seats.ended).toBeGreaterThan(0);
  const { changeId } = await mirela.apply(change);
  expect(await held()).toBe(before - look.seats.ended);
  await mirela.apply({ kind: 'undo', changeId });
  expect(await held()).toBe(before);
  expect((await mirela.send('look', { body: { change: { ...change, groupId: gullhaven } } })).status).toBe(404);
});

test('what a rule did because of a change is listed with it, and undone with it in one preview, as far as it is theirs', async () => {
  const [person = 0, other = 0] = await plainMembers(site, gullhaven, 2);
  const moved = await make({
    name: 'Newcomers are tagged and go on',
    then: [
      { act: 'tag', name: 'followed' },
      { act: 'move', fromId: crew, intoId: inshore },
    ],
  });
  const add = (id: number) => ottoline.apply({ kind: 'add-members', groupId: crew, personIds: [id], firstDay: null, lastDay: null });
  const before = await groupsOfPerson(site, person);
  const { changeId } = await add(person);
  await rulesSettled(site);
  const { changeId: second } = await add(other);
  await rulesSettled(site);
  const followed = async (id: number) => (await ottoline.call('log', { query: { followsFrom: id } })).entries;
  const acts = await followed(changeId);
  expect(acts.map(({ kind, canUndo }) => [kind, canUndo]).sort()).toEqual([
    ['move-members', true],
    ['tag-people', true],
  ]);
  const actIds = acts.map(({ id }) => id);
  expect((await followed(second)).some(({ id }) => actIds.includes(id))).toBe(false);
  expect(await groupsOfPerson(site, person)).toEqual([...new Set([...before, inshore])].sort((a, b) => a - b));

  // Acts that followed from another change are not undone with this one, nor by somebody else.
  const look = (client: Client, change: object) => client.send('look', { body: { change } });
  expect((await look(ottoline, { kind: 'undo', changeId: second, actIds })).status).toBe(404);
  expect((await look(ottoline, { kind: 'undo', changeId, actIds: [second] })).status).toBe(404);
  const [helper] = await query<{ name: string }>(
    `select n.sign_in_name as name from leadership l join personal_now n on n.person_id = l.person_id where l.group_id = ${gullhaven} and n.sign_in_name <> 'ottoline' limit 1`,
  );
  expect((await look(await site.letIn(helper?.name ?? ''), { kind: 'undo', changeId, actIds })).status).toBe(404);

  // Undone alone it finds that the person has gone on; with what followed, everything is as it was.
  const alone = await ottoline.call('look', { body: { change: { kind: 'undo', changeId } } });
  expect(alone.conflicts.map(({ code }) => code)).toContain('changed since');
  const { changeId: undoId } = await ottoline.apply({ kind: 'undo', changeId, actIds });
  expect(await groupsOfPerson(site, person)).toEqual(before);
  expect(await tagged('followed')).toEqual([other]);
  expect((await followed(changeId)).map(({ undoneBy }) => undoneBy)).toEqual([undoId, undoId]);
  // And back again, in one as well.
  await ottoline.apply({ kind: 'undo', changeId: undoId });
  expect(await groupsOfPerson(site, person)).toEqual([...new Set([...before, inshore])].sort((a, b) => a - b));
  expect((await tagged('followed')).sort()).toEqual([other, person].sort());
  await ottoline.apply({ kind: 'end-rule', ruleId: moved });
});

test('leaders are told by a letter with the names it is about; why nothing happened to others is said', async () => {
  const [one = 0, other = 0] = await plainMembers(site, gullhaven, 2);
  await query(
    `update personal set email = 'leader' || person_id || '@boats.example', confirmed_email = 'leader' || person_id || '@boats.example' where until_at is null and person_id in (select person_id from leadership where group_id = ${gullhaven} and until_at is null)`,
  );
  const [tag] = await query<{ id: number }>(`select id::int from tag_now where branch_id in (1, ${gullhaven}) limit 1`);
  const ruleId = await make({
    name: 'Tell of newcomers',
    then: [{ act: 'tell leaders', words: 'Please welcome them aboard.' }],
    filter: [{ part: 'tags', how: 'none', ids: [tag?.id ?? 0] }],
  });
  await query(`insert into person_tag (person_id, tag_id) select ${other}, ${tag?.id ?? 0} on conflict do nothing`);
  await ottoline.apply({ kind: 'add-members', groupId: crew, personIds: [one, other], firstDay: null, lastDay: null });
  await rulesSettled(site);
  const letters = await query<{ body: string; to: number }>(
    `select body, person_id::int as to from letter where kind = 'rule told' order by id`,
  );
  const [named] = await query<{ name: string }>(
    `select given_name || ' ' || family_name as name from personal_now where person_id = ${one}`,
  );
  const leaders = await query<{ id: number }>(
    `select person_id::int as id from leadership where group_id = ${gullhaven} and until_at is null order by 1`,
  );
  expect(letters.map(({ to }) => to).sort((a, b) => a - b)).toEqual(leaders.map(({ id }) => id));
  expect(letters[0]?.body).toContain(`Please welcome them aboard.\n\n${named?.name ?? ''}`);
  const why = async (personId: number) => (await ottoline.call('whyNot', { params: { ruleId, personId } })).reason;
  expect([await why(one), await why(other)]).toEqual(['acted', 'filter']);
  await query(`delete from rule_act where person_id = ${one} and rule_id = ${ruleId}`);
  expect(await why(one)).toBe('soon');
  await query(
    `insert into rule_act (rule_id, person_id, occasion, outcome) select ${ruleId}, ${one}, 'another ' || n, 'acted' from generate_series(1, 100) n`,
  );
  expect(await why(one)).toBe('too often today');
  await ottoline.apply({ kind: 'end-rule', ruleId });
});
