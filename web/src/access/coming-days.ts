import type { ComingLine } from '@gate-roster/contract';
import type { RouteLocationRaw } from 'vue-router';

/** Lines of each day together; they come in the order of their days. */
export function linesByDay(lines: readonly ComingLine[]): { day: string; lines: ComingLine[] }[] {
  const found: { day: string; lines: ComingLine[] }[] = [];
  for (const line of lines) {
    const last = found.at(-1);
    if (last?.day === line.day) last.lines.push(line);
    else found.push({ day: line.day, lines: [line] });
  }
  return found;
}

const withPeople: readonly ComingLine['kind'][] = ['opens', 'closes', 'due', 'opens again', 'memberships end', 'accounts end'];
/** Does the number of a line open to names? */
export const hasPeople = ({ kind }: Pick<ComingLine, 'kind'>): boolean => withPeople.includes(kind);

/** What is asked for the people behind a line. */
export const peopleQuery = ({ day, week, kind, course, group }: ComingLine, days: number) => ({
  day,
  week,
  days,
  kind,
  ...(course ? { courseId: course.id } : {}),
  ...(group ? { aboutGroupId: group.id } : {}),
});

/** Where one can do something about a line; `here`: the group one looks at. */
export function placeOf({ kind, group, course }: Pick<ComingLine, 'kind' | 'group' | 'course'>, here: number): RouteLocationRaw {
  const groupId = group?.id ?? here;
  const thing = String(course?.id ?? '');
  switch (kind) {
    case 'opens':
    case 'closes':
      return { name: 'access', params: { groupId }, query: { course: thing } };
    case 'due':
      return { name: 'progress', params: { groupId: here }, query: { view: 'course', course: thing } };
    case 'opens again':
      return { name: 'access', params: { groupId: here, part: 'courses', thing } };
    case 'code ends':
      return { name: 'ways-in', params: { groupId, part: 'codes' } };
    case 'seats come back':
    case 'licence ends':
      return { name: 'seats', params: { groupId } };
    default:
      return { name: 'groups', params: { groupId } };
  }
}
