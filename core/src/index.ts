export * from './time/day.ts';
export * from './groups/tree.ts';
export * from './groups/branch-days.ts';
export * from './groups/group-name.ts';
export * from './groups/read-outline.ts';
export * from './people/membership-set.ts';
export * from './people/person-name.ts';
export * from './people/sign-in-name.ts';
export * from './accounts/powers.ts';
export * from './accounts/may.ts';
export * from './accounts/whose-account.ts';
export * from './access/grant.ts';
export * from './access/resolve.ts';
export * from './access/by-group.ts';
export * from './access/what-lacks.ts';
export * from './access/splits.ts';
export * from './access/windows.ts';
export * from './access/alike.ts';
export * from './groups/divide.ts';
export * from './access/could-get-in.ts';
export * from './access/due.ts';
export * from './access/stretch.ts';
export * from './courses/compare-feed.ts';
export * from './courses/course-sets.ts';
export * from './courses/rounds.ts';
export * from './courses/reports.ts';
export * from './courses/statements.ts';
export * from './courses/status.ts';
export * from './courses/read-courses.ts';
export * from './courses/tidy-tags.ts';
export * from './courses/read-course-file.ts';
export * from './courses/read-results.ts';
export * from './progress/figures.ts';
export {
  CourseNumbers,
  dayNumber,
  dayOfNumber,
  EnrolmentColumns,
  type EnrolmentRow,
  IdLists,
  statusAt,
  type Stretch,
} from './progress/enrolment-columns.ts';
export { type ColumnReader, Fitting, isInColumns } from './progress/fitting.ts';
export * from './progress/add-columns.ts';
export { type CourseSums, talliesOf } from './progress/sums.ts';
export * from './progress/add-rows.ts';
export * from './progress/score-list.ts';
export * from './progress/report-order.ts';
export * from './progress/learner-order.ts';
export * from './progress/cells-in-columns.ts';
export * from './progress/held-against.ts';
export * from './progress/shown-levels.ts';
export * from './progress/side-by-side.ts';
export * from './progress/small-groups.ts';
export * from './progress/inside-course.ts';
export * from './entry/roster-fields.ts';
export { leastPassword } from './entry/read-row.ts';
export * from './entry/read-table.ts';
export * from './entry/dates.ts';
export * from './entry/detect-columns.ts';
export * from './entry/email.ts';
export * from './entry/read-people.ts';
export * from './entry/check-roster.ts';
export * from './groups/group-colour.ts';
export * from './changes/effects.ts';
export * from './changes/look-access.ts';
export * from './lists/add-to.ts';
export * from './entry/confusable.ts';
export * from './entry/join-code.ts';
export * from './entry/join-questions.ts';
export * from './entry/read-addresses.ts';
export * from './messages/letter.ts';
export * from './messages/marks.ts';
export * from './messages/reminders.ts';
export * from './accounts/first-obstacle.ts';
export * from './entry/read-choices.ts';
export * from './entry/clean-cell.ts';
export * from './entry/new-groups.ts';
export * from './entry/quoted-names.ts';
export { joinPath } from './entry/find-group.ts';
export * from './seats/arrange-line.ts';
export * from './seats/forecast.ts';
export * from './seats/licence.ts';
export * from './seats/order.ts';
export * from './seats/seat-room.ts';
export * from './seats/seat-ways.ts';
export * from './seats/seat-news.ts';
export * from './seats/settle-seats.ts';
export * from './seats/look-seats.ts';
export * from './filters/filter.ts';
export * from './access/coming-says.ts';
export * from './rules/rule.ts';
export * from './rules/loops.ts';
export * from './work/marks.ts';
export * from './certificates/certificate.ts';
