import type { LogEntry } from '@gate-roster/contract';
import { list, some } from './grammar.ts';
import { courseFieldWords } from './kinds-of-change.ts';
import { feedSentence } from './platforms.ts';

type CourseChange = 'make-courses' | 'edit-course' | 'take-feed' | 'make-course-set' | 'edit-course-set' | 'delete-course-set';

/** What was done to courses and course sets, for the log. @param courses Its courses, named. */
export function courseSentence(
  kind: CourseChange,
  { names, fields, counts }: Pick<LogEntry, 'names' | 'fields' | 'counts'>,
  courses: string,
): string {
  const isRenamed = names && names.before !== names.after;
  switch (kind) {
    case 'make-courses':
      return `Made ${some(counts['courses'] ?? 0, 'course', 'courses')}${names ? `: ${names.after}` : ''}.`;
    case 'edit-course':
      return isRenamed
        ? `Renamed the course ${names.before} to ${names.after}.`
        : `Changed ${list(fields.map((field) => courseFieldWords[field] ?? field))} of the course ${names?.after ?? ''}.`;
    case 'take-feed':
      return feedSentence(counts);
    case 'make-course-set':
      return `Made the course set ${names?.after ?? ''}${courses === '' ? '' : ` with ${courses}`}.`;
    case 'edit-course-set':
      return isRenamed
        ? `Renamed the course set ${names.before} to ${names.after}.`
        : `Changed what the course set ${names?.after ?? ''} holds${courses === '' ? '' : `: ${courses}`}.`;
    case 'delete-course-set':
      return `Deleted the course set ${names?.before ?? ''}.`;
  }
}
