import { comingKinds, type ComingLine, routes } from '@gate-roster/contract';
import { expect, test } from '@jest/globals';
import { hasPeople, linesByDay, peopleQuery, placeOf } from './coming-days.ts';

const line = (kind: ComingLine['kind'], some: Partial<ComingLine> = {}): ComingLine => ({
  day: '2026-12-04',
  lastDay: '2026-12-04',
  week: 'no',
  kind,
  course: { id: 12, name: 'VHF radio' },
  group: { id: 5, name: 'Inshore' },
  name: null,
  licenceId: null,
  people: 3,
  some: 1,
  most: null,
  ...some,
});

test('lines come under their days, in the order in which they come', () => {
  const lines = ['2026-12-04', '2026-12-04', '2026-12-09'].map((day, index) => line('due', { day, people: index }));
  expect(linesByDay(lines).map(({ day, lines: of }) => [day, of.map(({ people }) => people)])).toEqual([
    ['2026-12-04', [0, 1]],
    ['2026-12-09', [2]],
  ]);
  expect(linesByDay([])).toEqual([]);
});

test('whatever opens to names is asked as the server takes it', () => {
  const kinds = comingKinds.filter((kind) => hasPeople({ kind }));
  expect(kinds).not.toContain('licence ends');
  for (const kind of kinds)
    for (const some of [{}, { course: null }, { group: null, week: 'yes' as const }]) {
      const asked = peopleQuery(line(kind, some), 60);
      const read = routes.comingPeople.query.parse({ ...asked, courseId: asked.courseId?.toString(), subgroups: 'yes' });
      expect(read).toMatchObject({ kind, day: '2026-12-04', days: 60, week: some.week ?? 'no' });
      expect([read.courseId, read.aboutGroupId]).toEqual([some.course === null ? undefined : 12, some.group === null ? undefined : 5]);
    }
});

test('each kind leads to where it is decided, in the group that it is about, else in the one that is looked at', () => {
  const places = Object.fromEntries(comingKinds.map((kind) => [kind, placeOf(line(kind), 3)]));
  expect(places).toMatchObject({
    opens: { name: 'access', params: { groupId: 5 }, query: { course: '12' } },
    closes: { name: 'access', params: { groupId: 5 }, query: { course: '12' } },
    due: { name: 'progress', params: { groupId: 3 }, query: { view: 'course', course: '12' } },
    'opens again': { name: 'access', params: { groupId: 3, part: 'courses', thing: '12' } },
    'code ends': { name: 'ways-in', params: { groupId: 5, part: 'codes' } },
    'seats come back': { name: 'seats', params: { groupId: 5 } },
    'licence ends': { name: 'seats', params: { groupId: 5 } },
    'memberships end': { name: 'groups', params: { groupId: 5 } },
    'accounts end': { name: 'groups', params: { groupId: 5 } },
  });
  for (const kind of comingKinds) expect(placeOf(line(kind, { group: null }), 3)).toMatchObject({ params: { groupId: 3 } });
});
