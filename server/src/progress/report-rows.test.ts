import { type ProgressReport, rowKinds, writeFilter } from '@gate-roster/contract';
import { emptyTally, type Filter } from '@gate-roster/core';
import { answeredBy, columnsOf } from '../testing/columns.ts';
import { type Client, type Site, startSite } from '../testing/site.ts';

let site: Site;
beforeAll(async () => {
  site = await startSite();
});
afterAll(() => site.stop());

const ask = (client: Client, groupId: number, query: object): Promise<ProgressReport> =>
  client.call('progress', { params: { groupId }, query });

const asked: [name: string, groupId: number, filter: Filter][] = [
  ['mirela', 1, []],
  ['ottoline', 3, [{ part: 'status', of: ['done', 'under way'] }]],
  ['ottoline', 3, [{ part: 'several groups', is: false }]],
];

test.each(asked)('rows by tag, leader and month say what the report says under the filter of each: %s, group %i, %j', async (...each) => {
  await compareRows(...each);
});

test('the same where they are told from columns in memory, medians too', async () => {
  const columns = await columnsOf(site);
  for (const each of asked) {
    const { answers } = await answeredBy(site, columns, () => compareRows(...each));
    expect(answers).toBeGreaterThan(10);
  }
});

async function compareRows(name: string, groupId: number, filter: Filter): Promise<void> {
  const client = await site.as(name);
  for (const rows of rowKinds) {
    if (rows === 'groups') continue;
    const report = await ask(client, groupId, { rows, scores: 'median', filter: writeFilter(filter) });
    const [whole, ...others] = report.rows;
    expect([whole?.id, whole?.learners]).toEqual([groupId, report.learners]);
    expect(others.length).toBeGreaterThan(1);
    for (const row of others.slice(0, 6)) {
      const query = { subgroups: 'yes', scores: 'median', filter: writeFilter([...filter, ...(row.part ? [row.part] : [])]) };
      const alone = await ask(client, groupId, query);
      expect({ row: row.name, learners: row.learners, total: rounded(row.total), median: row.medians?.total }).toEqual({
        row: row.name,
        learners: alone.learners,
        total: rounded(alone.total),
        median: alone.rows[0]?.medians?.total,
      });
      for (const [index, { id }] of report.courses.entries()) {
        const place = alone.courses.findIndex((course) => course.id === id);
        const [same, own] = [alone.rows[0]?.cells[place] ?? emptyTally, row.cells[index] ?? emptyTally];
        expect([row.name, id, rounded(own), row.medians?.cells[index]]).toEqual([
          row.name,
          id,
          rounded(same),
          alone.rows[0]?.medians?.cells[place] ?? null,
        ]);
      }
    }
  }
}

/** Sums of the same scores in another order differ in their last digits. */
const rounded = <T extends { scoreSum: number }>(tally: T): T => ({ ...tally, scoreSum: Math.round(tally.scoreSum * 1000) / 1000 });

test('a leader’s bars in the tree are the same from columns in memory', async () => {
  const ottoline = await site.as('ottoline');
  const bars = async (): Promise<Map<number, object>> => {
    const { groups } = await ottoline.call('treeProgress', {});
    return new Map(groups.map(({ id, tally }) => [id, rounded(tally)]));
  };
  const read = await bars();
  const { found, answers } = await answeredBy(site, await columnsOf(site), bars);
  expect([found, answers]).toEqual([read, 1]);
  expect(found.size).toBeGreaterThan(5);
});

test('the branch above is what its own report says; nobody sees one above their own', async () => {
  const [mirela, ottoline] = [await site.as('mirela'), await site.as('ottoline')];
  const filter: Filter = [{ part: 'status', of: ['done', 'under way'] }];
  for (const [client, groupId, above] of [
    [mirela, 3, 2],
    [ottoline, 7, 3],
  ] as const) {
    const query = { filter: writeFilter(filter) };
    const { branch } = await client.call('progressAbove', { params: { groupId }, query });
    const { rows, total, weeks } = await ask(client, above, query);
    expect(branch).toEqual({ id: above, name: rows[0]?.name, enrolments: total.all - total.exempt, weeks });
    expect(branch?.enrolments).toBeGreaterThan(100);
  }
  for (const [client, groupId] of [
    [mirela, 1],
    [ottoline, 3],
  ] as const)
    expect(await client.call('progressAbove', { params: { groupId } })).toEqual({ branch: null });
});

test('a group is unfolded at any depth, and only within the scope', async () => {
  const mirela = await site.as('mirela');
  const { groups } = await mirela.call('tree', {});
  const depthOf = (id: number | null): number => (id === null ? -1 : 1 + depthOf(groups.find((each) => each.id === id)?.parentId ?? null));
  const deep = groups.find(({ id, parentId }) => depthOf(id) === 3 && parentId !== null);
  if (!deep?.parentId) throw new Error('no deep group');
  const [folded, unfolded] = [await ask(mirela, 1, {}), await ask(mirela, 1, { unfold: String(deep.parentId) })];
  expect(folded.rows.map(({ id }) => id)).not.toContain(deep.id);
  const at = unfolded.rows.findIndex(({ id }) => id === deep.parentId);
  expect(unfolded.rows[at + 1]).toMatchObject({ parentId: deep.parentId, depth: 3 });
  const alone = (await ask(mirela, deep.id, {})).rows[0];
  expect(unfolded.rows.find(({ id }) => id === deep.id)).toMatchObject({ learners: alone?.learners, total: alone?.total });
  const elsewhere = groups.find(({ parentId }) => parentId === 1 && deep.parentId !== null);
  const narrow = await ask(mirela, deep.id, { unfold: `1,${elsewhere?.id}` });
  expect(narrow.rows.every(({ depth }) => depth <= 2)).toBe(true);
  const oneLevel = await ask(mirela, 1, { levels: 1, unfold: String(elsewhere?.id) });
  const counted = (rows: typeof folded.rows): unknown =>
    rows.map(({ id, learners, total }) => ({ id, learners, ...total, scoreSum: null }));
  expect(counted(oneLevel.rows)).toEqual(counted(folded.rows.filter(({ depth, parentId }) => depth < 2 || parentId === elsewhere?.id)));
});
