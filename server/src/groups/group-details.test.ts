import { type Client, type Site, startSite } from '../testing/site.ts';

/* What a group and a person say of themselves: tags, handouts, pictures, and numbers that are somebody's already. */

const shore = 7;
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

const pixel = 'iVBORw0KGgoAAAANSUhEUgAAAAEAAAABCAYAAAAfFcSJAAAADUlEQVR42mNkYPhfDwAChwGA60e6kgAAAABJRU5ErkJggg==';
const stops = async (who: Client, groupId: number, values: object): Promise<string[]> => {
  const { conflicts } = await who.call('look', { body: { change: { kind: 'edit-group', groupId, values } } });
  return conflicts.flatMap(({ code, blocks }) => (blocks ? [code] : []));
};

test('handouts and tags are what was wished, what stays is not touched, and undo brings the earlier ones back', async () => {
  const { id: uploadId } = await ottoline.call('upload', { body: { fileName: 'chart.png', base64: pixel } });
  const rules = { title: 'Harbour rules', url: 'https://rules.example/harbour', uploadId: null };
  const chart = { title: 'Chart', url: null, uploadId };
  const of = async () => {
    const { handouts, tags } = await ottoline.call('group', { params: { groupId: shore } });
    return { handouts, tags: tags.map(({ name }) => name).sort() };
  };
  await ottoline.apply({ kind: 'edit-group', groupId: shore, values: { handouts: [rules], tags: ['night', 'tide'] } });
  const before = await of();
  expect([before.handouts.map(({ title }) => title), before.tags]).toEqual([['Harbour rules'], ['night', 'tide']]);
  const { changeId } = await ottoline.apply({
    kind: 'edit-group',
    groupId: shore,
    values: { handouts: [rules, chart], tags: ['Tide', 'winter'] },
  });
  const after = await of();
  expect(after.handouts.map(({ title }) => title)).toEqual(['Harbour rules', 'Chart']);
  expect(after.handouts[0]?.id).toBe(before.handouts[0]?.id);
  expect(after.tags).toEqual(['tide', 'winter']);
  await ottoline.apply({ kind: 'undo', changeId });
  expect((await of()).tags).toEqual(['night', 'tide']);
  expect((await of()).handouts).toEqual(before.handouts);
  expect(await stops(ottoline, shore, { handouts: [{ title: 'Script', url: 'javascript:alert(1)', uploadId: null }] })).not.toEqual([]);
});

test('nobody hangs up what another made, unless it hangs there already', async () => {
  const { id: uploadId } = await mirela.call('upload', { body: { fileName: 'plan.png', base64: pixel } });
  const change = { kind: 'edit-group', groupId: cadets, values: { pictureId: uploadId } };
  expect((await ottoline.send('look', { body: { change } })).status).toBe(404);
  await mirela.apply({ kind: 'edit-group', groupId: cadets, values: { pictureId: uploadId } });
  expect(await stops(ottoline, cadets, { pictureId: uploadId, description: 'The same picture' })).toEqual([]);
  expect((await ottoline.send('look', { body: { change: { ...change, groupId: shore } } })).status).toBe(404);
});

test('a number is one group’s and one person’s within its issuer', async () => {
  await ottoline.apply({ kind: 'edit-group', groupId: shore, values: { idNumber: 'G-17' } });
  expect(await stops(ottoline, cadets, { idNumber: 'G-17' })).toEqual(['id number taken']);
  expect(await stops(ottoline, shore, { idNumber: 'G-17', description: 'Its own number' })).toEqual([]);
  const { people } = await mirela.call('groupPeople', { params: { groupId: shore }, query: {} });
  const [first, second] = people.filter(({ idNumber }) => idNumber !== null);
  if (!first || !second) throw new Error('two people with numbers are needed');
  const { conflicts } = await mirela.call('look', {
    body: { change: { kind: 'edit-person', personId: second.id, values: { idNumber: first.idNumber } } },
  });
  expect(conflicts.map(({ code }) => code)).toEqual(['id number taken']);
});
