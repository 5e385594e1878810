import { change, type CourseSheet } from '@gate-roster/contract';
import { useCourseDraft } from './use-course-draft.ts';

const played = { finishedBy: 'player' as const, handIn: null, content: null };
const course: CourseSheet = {
  id: 5,
  name: 'Rope work',
  code: 'ROPE-1',
  subject: null,
  description: null,
  terms: 'group',
  archived: false,
  passScore: null,
  doneByActivities: null,
  validMonths: 12,
  reopensDays: 30,
  homeId: null,
  tags: [],
  home: null,
  source: null,
  units: [
    {
      id: 1,
      name: 'Knots',
      activities: [
        { id: 11, name: 'Read', scored: false, ...played },
        { id: 12, name: 'Tie', scored: true, ...played },
      ],
    },
    { id: 2, name: 'Splices', activities: [{ id: 21, name: 'Do', scored: true, ...played }] },
  ],
  skills: [],
  sets: [],
  statements: [],
  elsewhere: 0,
  standing: null,
  licences: [],
  mayEdit: true,
  mayOpen: true,
};

test('an untouched form says nothing, and typed back to what it was neither', () => {
  const draft = useCourseDraft(course);
  expect(draft.change.value).toBeNull();
  draft.values.value.passScore = '60';
  draft.move(0, 1);
  expect(draft.change.value).not.toBeNull();
  draft.values.value.passScore = '';
  draft.move(1, -1);
  expect(draft.change.value).toBeNull();
});

test('only what is different is said, in a shape that the contract takes', () => {
  const draft = useCourseDraft(course);
  draft.values.value.name = '  Ropes ';
  draft.values.value.validMonths = '';
  draft.move(1, -1);
  draft.addActivity(0);
  // What has no name yet is not sent.
  expect(draft.change.value).toBeNull();
  const fresh = draft.units.value[0]?.activities.at(-1);
  if (fresh) fresh.name = 'Show';
  expect(draft.change.value).toEqual({
    kind: 'edit-course',
    courseId: 5,
    values: { name: 'Ropes', validMonths: null, reopensDays: null },
    units: [
      {
        id: 2,
        name: 'Splices',
        activities: [
          { id: 21, name: 'Do', scored: true, ...played },
          { id: null, name: 'Show', scored: true, ...played },
        ],
      },
      {
        id: 1,
        name: 'Knots',
        activities: [
          { id: 11, name: 'Read', scored: false, ...played },
          { id: 12, name: 'Tie', scored: true, ...played },
        ],
      },
    ],
  });
  expect(change.parse(draft.change.value)).toEqual(draft.change.value);
});

test('an activity that is taken out makes nothing done any more; with none left, all count', () => {
  const draft = useCourseDraft({ ...course, doneByActivities: [12, 21] });
  draft.removeUnit(1);
  expect(draft.change.value?.values).toEqual({ doneByActivities: [12] });
  draft.name(12);
  expect(draft.change.value?.values).toEqual({ doneByActivities: null });
});
