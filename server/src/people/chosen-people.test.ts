import { type AskedChange, type MatchingPeople, plainValues, writeFilter } from '@gate-roster/contract';
import { randomUUID } from 'node:crypto';
import { everybodyIn } from '../testing/everybody-in.ts';
import { type Client, execute, type Site, startSite } from '../testing/site.ts';

/* Acts on all who match a list, as its filter says when they take place. */

const [gullhaven, crew] = [3, 7];
let site: Site;
let mirela: Client;
let ottoline: Client;
beforeAll(async () => {
  site = await startSite();
  mirela = await site.as('mirela');
  ottoline = await site.as('ottoline');
});
afterAll(() => site.stop());

/** The numbers that the list itself shows, page by page. */
async function listed(client: Client, groupId: number, { filter, fits, counted, subgroups }: MatchingPeople): Promise<number[]> {
  const found: number[] = [];
  for (let after: string | null = ''; after !== null;) {
    const query = { filter: writeFilter(filter), fits, counted, subgroups, limit: 200, ...(after === '' ? {} : { after }) };
    const page: { people: { id: number }[]; next: string | null } = await client.call('groupPeople', { params: { groupId }, query });
    found.push(...page.people.map(({ id }) => id));
    after = page.next;
  }
  return found;
}
const inOrder = (list: readonly number[]): number[] => [...list].sort((a, b) => a - b);
const tagged = async (name: string): Promise<number[]> =>
  (
    await execute<{ id: number }>(
      site.databaseUrl,
      `select x.person_id::int as id from person_tag x join tag_now t on t.id = x.tag_id where x.until_at is null and t.name = '${name}' order by 1`,
    )
  ).map(({ id }) => id);
const tag = (personIds: MatchingPeople, name: string): AskedChange => ({
  kind: 'tag-people',
  groupId: gullhaven,
  personIds,
  add: [name],
  remove: [],
});

test.each<[string, Partial<MatchingPeople>]>([
  ['all', {}],
  ['those of the group alone', { subgroups: 'no' }],
  ['those who have never signed in', { filter: [{ part: 'signed in', is: false }] }],
  ['those who do not fit', { filter: [{ part: 'signed in', is: true }], fits: 'no' }],
  ['those who are not counted', { counted: 'no' }],
])('%s whom the list shows, but for two, are chosen by its filter; undo brings back what was', async (_, more) => {
  const chosen = everybodyIn(gullhaven, more);
  const shown = await listed(ottoline, gullhaven, chosen);
  expect(shown.length).toBeGreaterThan(2);
  const but = shown.slice(1, 3);
  const change = tag({ ...chosen, but }, 'By filter');
  expect((await ottoline.call('look', { body: { change } })).changedPeople).toBe(shown.length - 2);
  const { changeId } = await ottoline.apply(change);
  expect(await tagged('By filter')).toEqual(inOrder(shown.filter((id) => !but.includes(id))));
  await ottoline.apply({ kind: 'undo', changeId });
  expect(await tagged('By filter')).toEqual([]);
});

test('progress chooses counted learners alone, also when the filter asks for a state', async () => {
  const filter: MatchingPeople['filter'] = [{ part: 'state', of: ['active', 'paused', 'ended', 'asking'] }];
  const [everybody, counted] = await Promise.all(
    [false, true].map(async (countedOnly) =>
      (await mirela.call('chosenNumbers', { body: everybodyIn(1, { filter, countedOnly }) })).ids.sort(),
    ),
  );
  const plain = (await mirela.call('chosenNumbers', { body: everybodyIn(1) })).ids.sort();
  expect(counted).toEqual(plain);
  expect(everybody?.length).toBeGreaterThan(plain.length);
});

test('who comes into the list between look and apply is seen before anything is done to them', async () => {
  const change = tag(everybodyIn(crew), 'Seen first');
  const look = await ottoline.call('look', { body: { change } });
  const [everybody, theirs] = await Promise.all(
    [1, gullhaven].map((groupId) => mirela.call('chosenNumbers', { body: everybodyIn(groupId) })),
  );
  const newcomer = everybody?.ids.find((id) => theirs?.ids.includes(id) === false) ?? 0;
  await mirela.apply({ kind: 'add-members', groupId: crew, personIds: [newcomer], firstDay: null, lastDay: null });
  const body = { change, digest: look.digest, requestId: randomUUID() };
  const refused = await ottoline.send('apply', { body });
  expect([refused.status, await tagged('Seen first')]).toEqual([409, []]);
  const { look: now } = (await refused.json()) as { look: { digest: string; changedPeople: number } };
  expect(now.changedPeople).toBe(look.changedPeople + 1);
  await ottoline.call('apply', { body: { ...body, digest: now.digest } });
  expect(await tagged('Seen first')).toContain(newcomer);
});

test('sent twice it is one change, although nobody matches any more the second time', async () => {
  await ottoline.apply(tag(everybodyIn(crew), 'Leaves'));
  const [{ id: tagId } = { id: 0 }] = (await ottoline.call('branchTags', { params: { groupId: crew } })).tags.filter(
    ({ name }) => name === 'Leaves',
  );
  const chosen = everybodyIn(crew, { filter: [{ part: 'tags', how: 'any', ids: [tagId] }] });
  const change: AskedChange = { kind: 'tag-people', groupId: crew, personIds: chosen, add: [], remove: [tagId] };
  const { digest } = await ottoline.call('look', { body: { change } });
  const body = { change, digest, requestId: randomUUID() };
  const first = await ottoline.call('apply', { body });
  expect(await listed(ottoline, crew, chosen)).toEqual([]);
  expect(await ottoline.call('apply', { body })).toEqual(first);
});

test('a list of one’s own, and a message, take all who match', async () => {
  const chosen = everybodyIn(gullhaven, { filter: [{ part: 'signed in', is: true }] });
  const shown = await listed(ottoline, gullhaven, chosen);
  const list = await ottoline.call('makeList', { body: { name: 'Signed in', personIds: chosen } });
  const people = async (): Promise<number> => (await ottoline.call('lists', {})).lists.find(({ id }) => id === list.id)?.people ?? 0;
  expect(await people()).toBe(shown.length);
  await ottoline.call('leaveList', { params: { listId: list.id }, body: { personIds: { ...chosen, but: shown.slice(0, 1) } } });
  expect(await people()).toBe(1);
  const values = { ...plainValues, title: 'To all who have signed in', body: '' };
  const change: AskedChange = { kind: 'send-message', groupId: gullhaven, audience: { to: 'people', personIds: chosen }, values };
  const { reached } = await ottoline.call('look', { body: { change } });
  await ottoline.apply(change);
  const [stored] = await execute<{ readers: number }>(
    site.databaseUrl,
    `select count(*)::int as readers from message_reader where is_chosen and message_id = (select max(message_id) from message_reader)`,
  );
  expect([reached, stored?.readers]).toEqual([shown.length, shown.length]);
});

test('as a job it is done to the same people', async () => {
  const chosen = everybodyIn(gullhaven);
  const change = tag(chosen, 'As a job');
  const { digest } = await ottoline.call('look', { body: { change } });
  const { jobId } = await ottoline.call('startJob', { body: { change, digest, requestId: randomUUID() } });
  let state = 'waiting';
  while (state === 'waiting') {
    await new Promise((resolve) => setTimeout(resolve, 100));
    ({ state } = await ottoline.call('job', { params: { jobId } }));
  }
  expect([state, await tagged('As a job')]).toEqual(['done', inOrder(await listed(ottoline, gullhaven, chosen))]);
});

test('all who match are paused and let in again', async () => {
  const states = async (): Promise<string[]> =>
    (
      await execute<{ state: string }>(
        site.databaseUrl,
        `select distinct s.state from person_state s join membership m on m.person_id = s.person_id and m.until_at is null and m.group_id = ${crew} where s.until_at is null order by 1`,
      )
    ).map(({ state }) => state);
  const change: AskedChange = {
    kind: 'set-person-state',
    personIds: everybodyIn(crew, { subgroups: 'no' }),
    state: 'paused',
    firstDay: null,
    lastDay: null,
  };
  const { changeId } = await mirela.apply(change);
  expect(await states()).toEqual(['paused']);
  await mirela.apply({ kind: 'undo', changeId });
  expect(await states()).toContain('active');
});

describe('a leader', () => {
  test.each<[string, number, Partial<MatchingPeople>]>([
    ['all of another branch', 2, {}],
    ['the whole site', 1, {}],
    ['a group that is not there', 999_999, {}],
    ['people in no group', gullhaven, { counted: 'nowhere' }],
  ])('chooses not %s', async (_, groupId, more) => {
    const personIds = everybodyIn(groupId, more);
    const sent = [
      ottoline.send('chosenNumbers', { body: personIds }),
      ottoline.send('makeList', { body: { name: 'Others', personIds } }),
      ottoline.send('look', { body: { change: tag(personIds, 'Others') } }),
      ottoline.send('look', { body: { change: { kind: 'add-members', groupId: crew, personIds, firstDay: null, lastDay: null } } }),
      ottoline.send('apply', { body: { change: tag(personIds, 'Others'), digest: 'x', requestId: randomUUID() } }),
      ottoline.send('lookPeople', { body: { change: tag(personIds, 'Others'), list: 'changed', courseId: null, after: null } }),
    ];
    expect((await Promise.all(sent)).map(({ status }) => status)).toEqual(sent.map(() => 404));
    expect(await tagged('Others')).toEqual([]);
  });
});
