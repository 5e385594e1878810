import { cleanCell } from '../entry/clean-cell.ts';
import { readTable } from '../entry/read-table.ts';
import { nameKey } from '../groups/group-name.ts';
import type { NewCourse } from './read-courses.ts';
import { tidyTags } from './tidy-tags.ts';

/** What a file says of a course beside its units. */
export interface CourseInFile extends NewCourse {
  code: string | null;
  subject: string | null;
  tags: string[];
  description: string | null;
}

export type CourseFileProblem =
  | { code: 'cannot be read' }
  | { code: 'no course column' }
  | { code: 'too many courses'; count: number }
  /** Two courses of one code; a line without a course above it; a course without a name. */
  | { code: 'code twice'; what: string }
  | { code: 'no name'; row: number };

export interface CourseFile {
  courses: CourseInFile[];
  problems: CourseFileProblem[];
  /** Columns or fields that were left out. */
  ignored: string[];
}

export const mostCoursesInFile = 1000;

type Field = 'course' | 'code' | 'subject' | 'tags' | 'description' | 'unit' | 'activity';
const fieldNames: Record<Field, readonly string[]> = {
  course: ['course', 'course name', 'course title', 'name', 'title'],
  code: ['code', 'course code', 'number'],
  subject: ['subject', 'category', 'topic'],
  tags: ['tags', 'tag', 'keywords'],
  description: ['description', 'about'],
  unit: ['unit', 'unit name', 'section', 'module'],
  activity: ['activity', 'activity name', 'lesson', 'task'],
};
const fieldOf = (head: string): Field | undefined =>
  (Object.keys(fieldNames) as Field[]).find((field) => fieldNames[field].includes(head.trim().toLowerCase().replace(/[_-]+/gu, ' ')));

/**
 * Courses of a file: CSV with a line for each activity (or unit, or course), or JSON as a list of courses with their units and
 * activities. What is left empty in a line is as in the line above it. A course without units gets one of its own name, a unit
 * without activities one of its own.
 */
export function coursesOfFile(content: Uint8Array): CourseFile {
  const start = new TextDecoder().decode(content.subarray(0, 200)).trimStart();
  const file = /^[[{]/u.test(start.replace(/^\uFEFF/u, '')) ? ofJson(content) : ofTable(content);
  for (const course of file.courses) {
    if (course.units.length === 0) course.units.push({ name: course.name, activities: [] });
    for (const unit of course.units) if (unit.activities.length === 0) unit.activities.push(unit.name);
  }
  if (file.courses.length > mostCoursesInFile) file.problems.push({ code: 'too many courses', count: file.courses.length });
  const codes = file.courses.flatMap(({ code }) => (code === null ? [] : [code.toLowerCase()]));
  for (const code of new Set(codes.filter((each, index) => codes.indexOf(each) !== index)))
    file.problems.push({ code: 'code twice', what: code });
  return file;
}

function ofTable(content: Uint8Array): CourseFile {
  const table = readTable(content);
  if ('problem' in table) return { courses: [], problems: [{ code: 'cannot be read' }], ignored: [] };
  const [head, ...lines] = table.lines;
  const fields = (head?.cells ?? []).map(fieldOf);
  const ignored = (head?.cells ?? []).filter(
    (cell, at) => cell.trim() !== '' && (fields[at] === undefined || fields.indexOf(fields[at]) < at),
  );
  if (!fields.includes('course')) return { courses: [], problems: [{ code: 'no course column' }], ignored };
  const courses = new Map<string, CourseInFile>();
  const problems: CourseFileProblem[] = [];
  let course: CourseInFile | undefined;
  for (const { row, cells } of lines) {
    const said = (field: Field): string => cleanCell(cells[fields.indexOf(field)] ?? '').trim();
    const name = said('course');
    if (name !== '') {
      course = courses.get(nameKey(name)) ?? { name, code: null, subject: null, tags: [], description: null, units: [] };
      courses.set(nameKey(name), course);
    }
    if (!course) {
      problems.push({ code: 'no name', row });
      continue;
    }
    for (const field of ['code', 'subject', 'description'] as const) if (said(field) !== '') course[field] = said(field);
    if (said('tags') !== '') course.tags = tidyTags([...course.tags, ...said('tags').split(/[;,]/u)]);
    addTo(course, said('unit'), said('activity'));
  }
  return { courses: [...courses.values()], problems, ignored };
}

function addTo(course: CourseInFile, unitName: string, activity: string): void {
  let unit = unitName === '' ? course.units.at(-1) : course.units.find(({ name }) => nameKey(name) === nameKey(unitName));
  if (!unit && (unitName !== '' || activity !== '')) {
    unit = { name: unitName || course.name, activities: [] };
    course.units.push(unit);
  }
  if (activity !== '') unit?.activities.push(activity);
}

const isRecord = (value: unknown): value is Record<string, unknown> => typeof value === 'object' && value !== null && !Array.isArray(value);
const listOf = (value: unknown): unknown[] => (Array.isArray(value) ? (value as unknown[]) : []);
const textOf = (value: unknown): string => (typeof value === 'string' || typeof value === 'number' ? cleanCell(String(value)).trim() : '');
const nameOf = (value: unknown): string => (isRecord(value) ? textOf(value['name'] ?? value['title']) : textOf(value));

function ofJson(content: Uint8Array): CourseFile {
  let parsed: unknown;
  try {
    parsed = JSON.parse(new TextDecoder('utf-8', { fatal: true }).decode(content));
  } catch {
    return { courses: [], problems: [{ code: 'cannot be read' }], ignored: [] };
  }
  const list = Array.isArray(parsed) ? listOf(parsed) : isRecord(parsed) ? listOf(parsed['courses']) : [];
  if (list.length === 0) return { courses: [], problems: [{ code: 'no course column' }], ignored: [] };
  const problems: CourseFileProblem[] = [];
  const ignored = new Set<string>();
  const courses = list.flatMap((each, index): CourseInFile[] => {
    const name = nameOf(each);
    if (name === '') {
      problems.push({ code: 'no name', row: index + 1 });
      return [];
    }
    const record = isRecord(each) ? each : {};
    for (const key of Object.keys(record))
      if (!['name', 'title', 'code', 'subject', 'tags', 'description', 'units'].includes(key)) ignored.add(key);
    return [
      {
        name,
        code: textOf(record['code']) || null,
        subject: textOf(record['subject']) || null,
        tags: tidyTags(listOf(record['tags']).map(textOf)),
        description: textOf(record['description']) || null,
        units: listOf(record['units']).flatMap((unit) => {
          const unitName = nameOf(unit);
          return unitName === '' ? [] : [{ name: unitName, activities: activitiesOf(unit) }];
        }),
      },
    ];
  });
  return { courses, problems, ignored: [...ignored] };
}

const activitiesOf = (unit: unknown): string[] =>
  isRecord(unit) ? listOf(unit['activities']).flatMap((activity) => nameOf(activity) || []) : [];
