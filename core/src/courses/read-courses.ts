import { readOutline } from '../groups/read-outline.ts';

/** A course in words: its units, and the activities of each. */
export interface NewCourse {
  name: string;
  units: { name: string; activities: string[] }[];
}

/**
 * Courses as pasted lines say them: courses at the top, their units indented, activities below the units; deeper lines are activities too.
 * A course without units gets one of its own name, a unit without activities one of its own.
 */
export function coursesOfOutline(text: string): NewCourse[] {
  const courses: NewCourse[] = [];
  for (const { text: name, depth } of readOutline(text)) {
    const course = courses.at(-1);
    if (depth === 0 || !course) courses.push({ name, units: [] });
    else if (depth === 1) course.units.push({ name, activities: [] });
    else course.units.at(-1)?.activities.push(name);
  }
  for (const course of courses) {
    if (course.units.length === 0) course.units.push({ name: course.name, activities: [] });
    for (const unit of course.units) if (unit.activities.length === 0) unit.activities.push(unit.name);
  }
  return courses;
}
