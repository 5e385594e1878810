import fc from 'fast-check';
import { node } from '../access/random-world.ts';
import { Tree } from '../groups/tree.ts';
import {
  nearestReminder,
  reminderOccasions,
  reminderProblems,
  remindersByGroup,
  type ReminderSetting,
  reminderTexts,
} from './reminders.ts';

const worlds = fc.integer({ min: 1, max: 8 }).chain((size) =>
  fc.record({
    parents: fc.array(fc.nat(), { minLength: size, maxLength: size }),
    settings: fc.uniqueArray(
      fc.record<ReminderSetting>({
        groupId: fc.integer({ min: 1, max: size }),
        courseId: fc.option(fc.integer({ min: 1, max: 3 })),
        occasion: fc.constantFrom('before due', 'not begun'),
        days: fc.option(fc.integer({ min: 0, max: 30 })),
      }),
      { maxLength: 12, selector: ({ groupId, courseId, occasion }) => `${groupId}/${courseId}/${occasion}` },
    ),
  }),
);

test('in every group that counts which the way up from it meets first, for courses that are named and for others', () => {
  fc.assert(
    fc.property(worlds, ({ parents, settings }) => {
      const tree = new Tree(parents.map((parent, index) => node(index + 1, index === 0 ? null : (parent % index) + 1)));
      const lines = remindersByGroup(tree, settings);
      for (const { id } of tree.nodes())
        for (const occasion of reminderOccasions)
          for (const courseId of [null, 1, 2, 3, 4]) {
            const named = settings.some((each) => each.occasion === occasion && each.courseId === courseId);
            const line = lines.find(
              (each) => each.groupId === id && each.occasion === occasion && each.courseId === (named ? courseId : null),
            );
            const nearest = nearestReminder(tree, settings, { groupId: id, courseId, occasion });
            expect(line?.setting ?? null).toBe(nearest?.days === null ? null : nearest);
          }
      expect(new Set(lines.map(({ groupId, occasion, courseId }) => `${groupId}/${occasion}/${courseId}`)).size).toBe(lines.length);
    }),
  );
});

test('a group nearer says it for all courses, even where one above speaks of this one', () => {
  const tree = new Tree([node(1, null), node(2, 1)]);
  const above: ReminderSetting = { groupId: 1, courseId: 5, occasion: 'before due', days: 14 };
  const near: ReminderSetting = { groupId: 2, courseId: null, occasion: 'before due', days: 3 };
  const asked = { groupId: 2, courseId: 5, occasion: 'before due' as const };
  expect(nearestReminder(tree, [above, near], asked)).toBe(near);
  expect(nearestReminder(tree, [above, near, { ...near, courseId: 5, days: null }], asked)?.days).toBeNull();
  expect(nearestReminder(tree, [above, near], { ...asked, groupId: 1 })).toBe(above);
});

test('the texts it comes with are whole; one that names what is not known is refused', () => {
  for (const occasion of reminderOccasions) expect(reminderProblems(reminderTexts[occasion])).toEqual([]);
  expect(reminderProblems({ subject: 'To {name}', body: ' ' })).toEqual(['empty', 'unknown field']);
});
