import { nameKey } from '@gate-roster/core';
import { playerKey } from '@gate-roster/server';
import { randomBytes } from 'node:crypto';
import type pg from 'pg';
import { copy } from './copy.ts';

export interface CoursePlan {
  name: string;
  code: string;
  subject: string;
  tags?: readonly string[];
  /** Left out: it is in none, and open on request. */
  set?: 'Basics' | 'Boats and search' | 'Duty';
  units: string[];
  passScore?: number;
  validMonths?: number;
  reopensDays?: number;
  description: string;
}

export const courses: CoursePlan[] = [
  {
    name: 'Cold-water immersion',
    code: 'CWI-1',
    subject: 'Water',
    tags: ['first month', 'two yearly'],
    set: 'Basics',
    validMonths: 24,
    units: ['What cold does', 'The first minute', 'Staying afloat', 'Warming again'],
    description: 'What cold water does to a body, and what to do in the first minutes.',
  },
  {
    name: 'Casualty care',
    code: 'CAS-1',
    subject: 'Care',
    set: 'Basics',
    passScore: 60,
    units: [
      'First look',
      'Breathing',
      'Bleeding',
      'Breaks and sprains',
      'Cold and shock',
      'Carrying',
      'Handing over',
      'Looking after the crew',
    ],
    description: 'Looking after people until the hospital does.',
  },
  {
    name: 'VHF radio',
    code: 'VHF-1',
    subject: 'Radio',
    set: 'Basics',
    passScore: 50,
    units: ['The set', 'Calling', 'Distress', 'Practice'],
    description: 'Speaking on the radio so that everybody understands the first time.',
  },
  {
    name: 'Throw-line basics',
    code: 'THR-1',
    subject: 'Water',
    tags: ['first month'],
    set: 'Basics',
    units: ['The line', 'Throwing', 'Bringing in'],
    description: 'Reaching somebody in the water from dry ground.',
  },
  {
    name: 'Boat handling 1',
    code: 'BOAT-1',
    subject: 'Boats',
    tags: ['afloat'],
    set: 'Boats and search',
    units: ['Before you go', 'Coming alongside', 'In a swell', 'Towing', 'Bringing her home'],
    description: 'Taking a small boat out and bringing it home.',
  },
  {
    name: 'Boat handling 2',
    code: 'BOAT-2',
    subject: 'Boats',
    tags: ['afloat'],
    set: 'Boats and search',
    passScore: 60,
    units: ['Surf', 'Rocks and wind', 'Two boats', 'Recovery'],
    description: 'Boats where it is rough, and with other boats.',
  },
  {
    name: 'Search patterns',
    code: 'SRCH-1',
    subject: 'Boats',
    tags: ['afloat', 'two yearly'],
    set: 'Boats and search',
    units: ['Where would they drift', 'Expanding square', 'Line abreast', 'Calling it off'],
    description: 'Finding somebody in a lot of sea.',
  },
  {
    name: 'Night navigation',
    code: 'NAV-2',
    subject: 'Boats',
    tags: ['afloat'],
    set: 'Boats and search',
    units: ['Lights', 'Chart and plotter', 'Keeping a lookout'],
    description: 'Knowing where you are in the dark.',
  },
  {
    name: 'Safeguarding',
    code: 'SAFE-1',
    subject: 'Duty of care',
    tags: ['first month', 'two yearly'],
    set: 'Duty',
    validMonths: 12,
    reopensDays: 60,
    passScore: 50,
    units: ['What to notice', 'Whom to tell', 'Young crew'],
    description: 'Keeping everybody safe, the young above all.',
  },
  {
    name: 'Tower lookout',
    code: 'TWR-1',
    subject: 'Watch',
    tags: ['ashore'],
    set: 'Duty',
    units: ['The watch', 'Glasses and log', 'Raising the alarm'],
    description: 'Keeping watch from the tower.',
  },
  {
    name: 'Engine care',
    code: 'ENG-1',
    subject: 'Boats',
    tags: ['ashore'],
    set: 'Duty',
    units: ['Daily checks', 'Fuel', 'When it stops'],
    description: 'Engines that start when they have to.',
  },
  {
    name: 'Knots and lines',
    code: 'KNOT-1',
    subject: 'Water',
    tags: ['ashore'],
    set: 'Duty',
    units: ['Six knots', 'Splices'],
    description: 'Knots that hold and knots that let go.',
  },
  {
    name: 'Teaching others',
    code: 'TCH-1',
    subject: 'Teaching',
    units: ['Planning an evening', 'On the quay', 'Saying what went well'],
    description: 'For people who want to train newcomers.',
  },
  {
    name: 'Search from the air',
    code: 'AIR-1',
    subject: 'Search',
    passScore: 60,
    units: ['Rules of flight', 'Reading the picture', 'Talking to the boat'],
    description: 'Searching with a small aircraft that somebody steers from the shore.',
  },
];

export interface CourseContent {
  activities: Map<number, { id: number; unitId: number; scored: boolean }[]>;
  units: Map<string, number[]>;
}

export async function copyCourses(client: pg.PoolClient): Promise<CourseContent> {
  await client.query('insert into source (key, secret, name) values ($1, $2, $3)', [
    playerKey,
    randomBytes(32).toString('base64url'),
    'Course player (stand-in)',
  ]);
  const sets = ['Basics', 'Boats and search', 'Duty'];
  /** When the catalogue was set up. */
  const since = '2024-01-10T08:00:00Z';
  await copy(
    client,
    'course_set',
    ['id'],
    sets.map((_, index) => [index + 1]),
  );
  await copy(
    client,
    'course_set_version',
    ['course_set_id', 'name', 'name_key', 'position', 'from_at'],
    sets.map((name, index) => [index + 1, name, nameKey(name), index, since]),
  );
  await copy(
    client,
    'course',
    ['id', 'source_id'],
    courses.map((_, index) => [index + 1, 1]),
  );
  await copy(
    client,
    'course_version',
    [
      'course_id',
      'name',
      'name_key',
      'code',
      'subject',
      'tags',
      'description',
      'terms',
      'pass_score',
      'valid_months',
      'reopens_days',
      'from_at',
    ],
    courses.map((course, index) => [
      index + 1,
      course.name,
      nameKey(course.name),
      course.code,
      course.subject,
      [...(course.tags ?? [])],
      course.description,
      course.set ? 'group' : 'request',
      course.passScore ?? null,
      course.validMonths ?? null,
      course.reopensDays ?? null,
      since,
    ]),
  );
  await copy(
    client,
    'course_set_item',
    ['course_set_id', 'course_id', 'from_at'],
    courses.flatMap(({ set }, index) => (set ? [[sets.indexOf(set) + 1, index + 1, since]] : [])),
  );
  const content: CourseContent = { activities: new Map(), units: new Map() };
  const units: [number, number, number, string, string][] = [];
  const activities: [number, number, number, number, string, boolean, string][] = [];
  courses.forEach((course, courseIndex) => {
    const own: { id: number; unitId: number; scored: boolean }[] = [];
    course.units.forEach((name, position) => {
      const unitId = units.length + 1;
      units.push([unitId, courseIndex + 1, position + 1, name, since]);
      for (const [place, [label, scored]] of (
        [
          [`${name}: crew notes`, false],
          [`${name}: exercise`, true],
        ] as const
      ).entries()) {
        const id = activities.length + 1;
        activities.push([id, unitId, courseIndex + 1, place + 1, label, scored, since]);
        own.push({ id, unitId, scored });
      }
    });
    content.activities.set(courseIndex + 1, own);
    content.units.set(
      course.name,
      own.filter(({ scored }) => scored).map(({ unitId }) => unitId),
    );
  });
  await copy(
    client,
    'unit',
    ['id', 'course_id'],
    units.map(([id, courseId]) => [id, courseId]),
  );
  await copy(client, 'unit_version', ['unit_id', 'course_id', 'position', 'name', 'from_at'], units);
  await copy(
    client,
    'activity',
    ['id', 'course_id'],
    activities.map(([id, , courseId]) => [id, courseId]),
  );
  await copy(client, 'activity_version', ['activity_id', 'unit_id', 'course_id', 'position', 'name', 'scored', 'from_at'], activities);
  return content;
}
