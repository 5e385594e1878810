import { plainView, type ShownView } from '@gate-roster/contract';
import { addDays, completion } from '@gate-roster/core';
import { type Client, execute, type Site, startSite } from '../testing/site.ts';

/* Views that are kept under a name, and links that are opened without an account. */

const [northReach, gullhaven] = [2, 3];
let site: Site;
let mirela: Client;
let ottoline: Client;
let stranger: Client;
let clock = new Date();
beforeEach(async () => {
  clock = new Date();
  site = await startSite({ now: () => clock });
  [mirela, ottoline, stranger] = [await site.as('mirela'), await site.as('ottoline'), await site.as(null)];
});
afterEach(() => site.stop());

const query = <T extends object>(text: string): Promise<T[]> => execute<T>(site.databaseUrl, text);
const lastDay = addDays(new Date().toISOString().slice(0, 10), 30);
const share = (who: Client, groupId: number, more: Partial<ShownView> & { withNames?: boolean; frozen?: boolean } = {}) => {
  const { withNames = false, frozen = false, ...shown } = more;
  const view = shown.view === 'learners' || shown.view === 'course' || shown.view === 'beside' ? shown.view : 'groups';
  return who.call('shareView', {
    params: { groupId },
    body: { title: 'For the board', shown: { ...plainView, ...shown, view }, says: ['Overdue'], withNames, frozen, lastDay },
  });
};
const open = (key: string) => stranger.call('openSharedView', { body: { key } });
const answers = async (key: string): Promise<number> => (await stranger.send('openSharedView', { body: { key } })).status;

test('a link shows the rows and the scores that were on the screen, and without names never who leads', async () => {
  const shown = { rows: 'leaders', scores: 'median' } as const;
  const report = await ottoline.call('progress', { params: { groupId: gullhaven }, query: shown });
  const linesOf = async (withNames: boolean): Promise<{ head: string[]; names: unknown[]; scores: unknown[] }> => {
    const { key } = await share(ottoline, gullhaven, { ...shown, withNames });
    const { head, lines } = await open(key);
    return { head, names: lines.map(([name]) => name), scores: lines.map((line) => line[4]) };
  };
  const named = await linesOf(true);
  expect(named.head[4]).toBe('Median score');
  expect(named.names).toEqual(report.rows.map(({ name }) => name));
  expect(report.rows.length).toBeGreaterThan(2);
  expect(named.scores).toEqual(report.rows.map(({ medians }) => Math.round((medians?.total ?? 0) * 10) / 10));
  const nameless = await linesOf(false);
  for (const { name } of report.rows.slice(1)) expect(nameless.names).not.toContain(name);
});

test('a kept view comes back as it was; one for the leaders opens in the branch of each; one can be where one begins', async () => {
  const shown: ShownView = {
    ...plainView,
    view: 'learners',
    filter: [{ part: 'lateness', of: ['overdue'] }],
    sort: '-active',
    by: '-learners',
    without: [3, 5],
    levels: 1,
    unfold: [4],
    count: 'common',
    day: addDays(lastDay, -60),
    from: addDays(lastDay, -70),
  };
  await ottoline.call('keepView', { params: { groupId: gullhaven }, body: { name: 'Late here', forLeaders: false, shown } });
  await mirela.call('keepView', { params: { groupId: northReach }, body: { name: 'North', forLeaders: true, shown: plainView } });
  await mirela.call('keepView', { params: { groupId: 20 }, body: { name: 'Elsewhere', forLeaders: true, shown: plainView } });
  const { views } = await ottoline.call('keptViews', {});
  expect(views.some(({ name }) => name === 'Elsewhere')).toBe(false);
  const made = views.filter(({ name }) => ['Late here', 'North'].includes(name));
  expect(made.map(({ name, group, isMine }) => [name, group.id, isMine])).toEqual([
    ['Late here', gullhaven, true],
    ['North', gullhaven, false],
  ]);
  expect(made[0]?.shown).toEqual(shown);
  const mine = made[0]?.id ?? 0;
  await ottoline.call('startWithView', { body: { viewId: mine } });
  expect((await ottoline.call('me', {})).start).toEqual({ groupId: gullhaven, shown });
  expect((await mirela.send('dropKeptView', { params: { viewId: mine } })).status).toBe(404);
  expect((await mirela.send('startWithView', { body: { viewId: mine } })).status).toBe(404);
  await ottoline.call('keepView', { params: { groupId: gullhaven }, body: { name: 'Late here', forLeaders: false, shown: plainView } });
  expect((await ottoline.call('me', {})).start?.shown).toEqual(plainView);
  await ottoline.call('dropKeptView', { params: { viewId: mine } });
  expect((await ottoline.call('me', {})).start).toBeNull();
});

test('views of a past day tell of its end: as figures that are kept, through a link, and never by letter', async () => {
  const day = addDays(new Date().toISOString().slice(0, 10), -100);
  const told = { day, by: 'learners', without: [2] };
  const then = await ottoline.call('progress', { params: { groupId: gullhaven }, query: { day, by: 'learners', without: '2' } });
  const today = await ottoline.call('progress', { params: { groupId: gullhaven } });
  expect(then.total).not.toEqual(today.total);
  expect(then.courses.map(({ id }) => id)).not.toContain(told.without[0]);
  const percents = (lines: readonly unknown[][]): unknown[] => lines.map((line) => [line[1], line[2], line[3]]);
  const expected = then.rows.map(({ learners, total }) => [learners, Math.round((completion(total) ?? 0) * 100), total.overdue]);
  const keep = (more: object): Promise<{ id: number }> =>
    ottoline.call('keepView', {
      params: { groupId: gullhaven },
      body: { name: 'Then', forLeaders: false, shown: { ...plainView, ...told }, ...more },
    });
  const { id } = await keep({ frozen: true });
  const kept = await ottoline.call('keptTable', { params: { viewId: id } });
  expect([kept.day, percents(kept.lines)]).toEqual([day, expected]);
  for (const frozen of [true, false]) {
    const { key } = await share(ottoline, gullhaven, { ...told, withNames: !frozen, frozen });
    const shown = await open(key);
    expect(shown.day).toBe(day);
    if (!frozen) expect(percents(shown.lines)).toEqual(expected);
    expect(shown.lines[0]?.slice(1, 4)).toEqual(expected[0]);
  }
  const letters = await query('select 1 from report_letter');
  await keep({ shown: plainView });
  const readers = [(await ottoline.call('me', {})).personId];
  await ottoline.call('sendViewByLetter', { params: { viewId: id }, body: { every: 'week', readers } });
  await keep({});
  expect(await query('select 1 from report_letter')).toHaveLength(letters.length);
  expect((await ottoline.send('sendViewByLetter', { params: { viewId: id }, body: { every: 'week', readers } })).status).toBe(404);
});

test('a link without names shows no group of fewer than five, and each row counts its learners once', async () => {
  const small = 28;
  const people = await query<{ id: number }>(
    `select m.person_id::int as id from membership m join person p on p.id = m.person_id where m.group_id in (select group_id from group_branch where ancestor_id = ${small}) and m.until_at is null and p.counted group by 1 order by 1`,
  );
  const groups = await query<{ id: number }>(`select group_id::int as id from group_branch where ancestor_id = ${small}`);
  for (const { id } of groups) {
    const gone = people.slice(3).map((person) => person.id);
    const here = await query<{ id: number }>(`select person_id::int as id from membership where group_id = ${id} and until_at is null`);
    const personIds = gone.filter((person) => here.some((one) => one.id === person));
    if (personIds.length > 0) await mirela.apply({ kind: 'remove-members', groupId: id, personIds });
  }
  const [parent] = await query<{ id: number }>(`select parent_id::int as id from group_now where id = ${small}`);
  const scope = parent?.id ?? 0;
  const report = await mirela.call('progress', { params: { groupId: scope } });
  const few = report.rows.filter(({ depth, learners }) => depth === 1 && learners > 0 && learners < 5);
  expect(few.map(({ id }) => id)).toEqual([small]);
  const { key } = await share(mirela, scope);
  const shown = await open(key);
  const learners = shown.head.indexOf('Learners');
  const rows = new Map(shown.lines.map((line) => [String(line[0]), Number(line[learners])]));
  expect([...rows.values()].every((count) => count >= 5)).toBe(true);
  const name = few[0]?.name ?? '';
  const together = [...rows].find(([title]) => title.includes(name));
  expect(together?.[0]).toContain(' and ');
  const named = report.rows
    .filter(({ depth, name: group }) => depth === 1 && together?.[0].split(' and ').includes(group))
    .map(({ id }) => id);
  const [union] = await query<{ people: number }>(`
    select count(distinct m.person_id)::int as people from membership m join person p on p.id = m.person_id join group_branch b on b.group_id = m.group_id
    where b.ancestor_id in (${named.join()}) and m.until_at is null and p.counted`);
  expect(together?.[1]).toBe(union?.people);
});

test('a link with names leaves out whose names are hidden, and is read as its maker may see it', async () => {
  const { key } = await share(ottoline, gullhaven, { view: 'learners', withNames: true });
  const shown = await open(key);
  const names = shown.lines.map((line) => `${String(line[1])} ${String(line[0])}`);
  expect(names.length).toBeGreaterThan(20);
  // People share names, so what counts is who of them stands in the branch at all.
  const people = await query<{ name: string; here: boolean; hidden: boolean }>(`
    select n.given_name || ' ' || n.family_name as name,
      exists (select 1 from membership m join group_branch b on b.group_id = m.group_id where m.person_id = n.person_id and m.until_at is null and b.ancestor_id = ${gullhaven}) as here,
      n.name_hidden or exists (
        select 1 from membership m join group_branch b on b.group_id = m.group_id join group_now g on g.id = b.ancestor_id
        where m.person_id = n.person_id and m.until_at is null and g.young_learners) as hidden
    from personal_now n`);
  const shownHere = new Set(people.filter(({ here, hidden }) => here && !hidden).map(({ name }) => name));
  expect(people.some(({ here, hidden }) => here && hidden)).toBe(true);
  expect(names.filter((name) => !shownHere.has(name))).toEqual([]);
  expect((await ottoline.send('shareView', { params: { groupId: northReach }, body: {} })).status).not.toBe(200);
  await expect(share(ottoline, gullhaven, { view: 'beside', groups: [12], withNames: true })).rejects.toThrow('404');
  await expect(share(ottoline, gullhaven, { view: 'learners' })).rejects.toThrow('400');
  await expect(share(ottoline, gullhaven, { withNames: true, frozen: true })).rejects.toThrow('400');
});

test('a live link follows, a frozen one stays; each ends when withdrawn, on its day, when its maker loses the power; openings are counted', async () => {
  const [live, frozen, other] = [
    await share(ottoline, gullhaven),
    await share(ottoline, gullhaven, { frozen: true }),
    await share(ottoline, gullhaven),
  ];
  const before = (await open(live.key)).lines;
  expect((await open(frozen.key)).lines).toEqual(before);
  const [crew] = await query<{ id: number; people: number[] }>(
    `select group_id::int as id, array_agg(person_id::int) as people from membership where group_id = 4 and until_at is null group by 1`,
  );
  await mirela.apply({ kind: 'remove-members', groupId: crew?.id ?? 0, personIds: (crew?.people ?? []).slice(0, 10) });
  expect((await open(live.key)).lines).not.toEqual(before);
  expect((await open(frozen.key)).lines).toEqual(before);
  const { views } = await ottoline.call('sharedViews', {});
  expect(views.slice(0, 3).map(({ id, opened, state }) => [id, opened, state])).toEqual([
    [other.id, 0, 'open'],
    [frozen.id, 2, 'open'],
    [live.id, 2, 'open'],
  ]);
  const middle = await site.letIn(
    (
      await query<{ name: string }>(
        `select n.sign_in_name as name from leadership l join personal_now n on n.person_id = l.person_id where l.group_id = 20 limit 1`,
      )
    )[0]?.name ?? '',
  );
  expect((await middle.send('endSharedView', { params: { viewId: other.id } })).status).toBe(404);
  await ottoline.call('endSharedView', { params: { viewId: other.id } });
  expect(await answers(other.key)).toBe(410);
  await query(`update leadership set powers = array_remove(powers, 'export') where group_id = ${gullhaven}`);
  expect([await answers(live.key), await answers(frozen.key)]).toEqual([410, 410]);
  await query(`update leadership set powers = powers || '{export}' where group_id = ${gullhaven}`);
  expect(await answers(live.key)).toBe(200);
  clock = new Date(Date.parse(`${addDays(lastDay, 2)}T12:00:00Z`));
  expect(await answers(live.key)).toBe(410);
});

test('guessed links are slowed down, and a right one afterwards waits too; right ones alone are not', async () => {
  const { key } = await share(ottoline, gullhaven, { frozen: true });
  for (let times = 0; times < 35; times++) expect(await answers(key)).toBe(200);
  const guessed: number[] = [];
  for (let times = 0; times < 32; times++) guessed.push(await answers(`${'g'.repeat(30)}${String(times).padStart(2, '0')}`));
  expect(guessed.slice(0, 30).every((status) => status === 410)).toBe(true);
  expect(guessed.at(-1)).toBe(429);
});

test('a learner’s story tells what happened in the order of time, to each leader only of their own groups', async () => {
  const [both] = await query<{ id: number; other: number }>(`
    select m.person_id::int as id, min(o.group_id)::int as other from membership m join membership o on o.person_id = m.person_id and o.until_at is null
      and o.group_id not in (select group_id from group_branch where ancestor_id = ${gullhaven})
    join enrolment e on e.person_id = m.person_id and e.status = 'done'
    where m.until_at is null and m.group_id in (select group_id from group_branch where ancestor_id = ${gullhaven}) group by 1 order by 1 limit 1`);
  const personId = both?.id ?? 0;
  const whole = await mirela.call('learnerStory', { params: { personId } });
  const own = await ottoline.call('learnerStory', { params: { personId } });
  expect(whole.events.map(({ at }) => at)).toEqual(whole.events.map(({ at }) => at).toSorted());
  const [truth] = await query<{ done: number; finished: number; began: number }>(`
    select count(*) filter (where e.done_at is not null and not e.done_elsewhere)::int as done, count(*) filter (where e.begun_at is not null)::int as began,
      (select count(*)::int from activity_result r join enrolment o on o.id = r.enrolment_id where o.person_id = ${personId} and r.finished) as finished
    from enrolment e where e.person_id = ${personId}`);
  const count = (kind: string): number => whole.events.filter((event) => event.kind === kind).length;
  expect({ done: count('done'), finished: count('finished'), began: count('began') }).toEqual(truth);
  expect(whole.events.some(({ kind, about }) => kind === 'came in' && about.id === both?.other)).toBe(true);
  expect(own.events.some(({ about, kind }) => (kind === 'came in' || kind === 'left') && about.id === both?.other)).toBe(false);
  expect(own.groups.every(({ id }) => id !== both?.other)).toBe(true);
  const seen = new Set(own.courses.map(({ id }) => id));
  expect(own.events.every(({ kind, about }) => kind === 'came in' || kind === 'left' || seen.has(about.id))).toBe(true);
});
