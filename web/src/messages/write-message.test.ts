import { withMark } from './with-mark.ts';
import { emptyMessage, messageChange } from './write-message.ts';

const about = { groupId: 3, people: [8, 9], filter: [] };
const typed = { ...emptyMessage('branch'), title: ' Wind warning ', body: 'No boats out.' };

test('nothing is asked for without a title', () => {
  expect(messageChange(emptyMessage('branch'), about)).toBeNull();
});

test('it goes to the branch, the group alone, those of the filter, or the chosen', () => {
  const to = (where: typeof typed.to) => messageChange({ ...typed, to: where, groups: [5, 6] }, about)?.audience;
  expect([to('branch'), to('group'), to('several'), to('filter'), to('people')]).toEqual([
    { to: 'groups', groupIds: [3], withSubgroups: true },
    { to: 'groups', groupIds: [3], withSubgroups: false },
    { to: 'groups', groupIds: [5, 6], withSubgroups: true },
    { to: 'filter', withSubgroups: true, filter: [] },
    { to: 'people', personIds: [8, 9] },
  ]);
});

test('a due day is of tasks, choices are of questions, one per line and each once', () => {
  const more = { ...typed, dueDay: '2026-12-04', choices: 'Tuesday\n Wednesday \n\nTuesday', several: true };
  expect(messageChange(more, about)?.values).toMatchObject({ title: 'Wind warning', dueDay: null, choices: [], several: false });
  expect(messageChange({ ...more, kind: 'task' }, about)?.values).toMatchObject({ dueDay: '2026-12-04', choices: [] });
  expect(messageChange({ ...more, kind: 'question' }, about)?.values).toMatchObject({
    dueDay: '2026-12-04',
    choices: ['Tuesday', 'Wednesday'],
    several: true,
  });
});

test.each([
  ['bold', 'Bring boots', 0, 5, '**Bring** boots', '[Bring]'],
  ['link', 'See here', 4, 8, 'See [here](https://)', '[]'],
  ['list', 'To bring:\nboots\n- gloves', 10, 24, 'To bring:\n- boots\n- gloves', '[]'],
] as const)('%s is put on what is chosen', (mark, text, from, to, marked, chosen) => {
  const found = withMark(text, { from, to }, mark);
  expect(found.text).toBe(marked);
  expect(`[${found.text.slice(found.from, found.to)}]`).toBe(chosen);
});
