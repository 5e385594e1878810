import { type HandIn, nameKey, resultOfWork } from '@gate-roster/core';
import type { Transaction } from '@gate-roster/server';
import { sql } from 'drizzle-orm';
import sharp from 'sharp';
import type { Random } from './random.ts';
import type { Named } from './people.ts';

/* Work that was handed in: what waits, what was sent back, and the marks behind the results of a year. */

/** Skills by course; those of no course can be shown anywhere. */
const skills: { course: string | null; names: string[] }[] = [
  { course: 'Boat handling 1', names: ['judging wind', 'slow hands', 'calling out'] },
  { course: 'Search patterns', names: ['judging drift', 'keeping a line'] },
  { course: 'Tower lookout', names: ['sweeping the glass', 'keeping the log'] },
  { course: null, names: ['explaining to others'] },
];

interface MarkedActivity {
  course: string;
  /** The name that the activity has in the catalogue, and the name that it gets. */
  was: string;
  name: string;
  asked: string;
  files: HandIn['files'];
  link: HandIn['link'];
  skills: string[];
  rubric: HandIn['rubric'];
  texts: string[];
}

const bestScore = 20;
const passScore = 10;

const markedActivities: MarkedActivity[] = [
  {
    course: 'Boat handling 1',
    was: 'Coming alongside: exercise',
    name: 'An account of coming alongside',
    asked:
      'Say how you brought her alongside, what the wind did, and what you would do differently. A picture of the berth, if you have one.',
    files: 'may',
    link: 'may',
    skills: ['judging wind', 'slow hands', 'calling out', 'explaining to others'],
    rubric: [],
    texts: [
      'Wind on the quay side, so I came in upstream of the berth and let her drift down the last two metres. Bow line first.',
      'I was too fast and had to go astern hard. Nobody was hurt and nothing was scraped. Next time I take the way off much earlier.',
      'We called out each distance, five, three, one, and I only touched the throttle once. The stern line was late because I had not said who takes it.',
      'Second try was better than the first: I waited outside until the ferry wash had gone.',
    ],
  },
  {
    course: 'Search patterns',
    was: 'Expanding square: exercise',
    name: 'Plan of a search',
    asked: 'Draw the pattern for the casualty on the card, with times and headings, and say why you chose it.',
    files: 'may',
    link: 'may',
    skills: ['judging drift', 'keeping a line', 'explaining to others'],
    rubric: [
      { name: 'The pattern fits what is known', best: 8 },
      { name: 'Times and headings', best: 8 },
      { name: 'The reasons', best: 4 },
    ],
    texts: [
      'Expanding square from the last known position, first leg north-west with the drift, half a mile, because the light was going.',
      'Legs of four minutes at six knots. I allowed for twenty minutes of drift at one knot and began down-tide of the buoy.',
      'I would send the second boat along the shore, since a board drifts faster than a swimmer.',
    ],
  },
  {
    course: 'Tower lookout',
    was: 'Glasses and log: exercise',
    name: 'Log of a tower watch',
    asked: 'Keep the log of one watch of two hours and hand it in as you wrote it.',
    files: 'may',
    link: 'no',
    skills: ['sweeping the glass', 'keeping the log', 'explaining to others'],
    rubric: [],
    texts: [
      '10:00 vis good, wind W 4. 10:20 two kayaks off the point, counted back at 11:05. 11:40 trawler inbound, no lights, reported.',
      '14:00 fog bank at two miles. Swept every ten minutes, nothing seen, one horn heard at 14:35 and logged.',
      '18:00 change of watch. Handed over: one sail boat anchored in the bay, crew aboard, no need of help.',
    ],
  },
];

/** One that learners tick off themselves. */
const ticked = { course: 'Knots and lines', was: 'Six knots: crew notes', name: 'Six knots, tied without looking' };

const comments = [
  'Clear, and honest about what went wrong.',
  'Good. Next time say what the others on board did.',
  'Right, and short. The reasons could be fuller.',
  'Well seen. Take this to the next drill evening.',
];
const sentBack = [
  'Say what you did before you moved, and why.',
  'I cannot tell from this where the wind came from. Once more, with the wind.',
  'The times are missing. Add them and hand it in again.',
];

const waitingShare = 0.4;

/** Turns some activities into marked ones before there is any work. */
export async function loadHandIns(tx: Transaction): Promise<void> {
  for (const { course, names } of skills)
    for (const name of names)
      await tx.execute(sql`
        with made as (insert into skill default values returning id)
        insert into skill_version (skill_id, course_id, name, name_key, from_at) select made.id, (select id from course_now where name = ${course}), ${name}, ${nameKey(name)}, '2024-01-10T08:00:00Z' from made`);
  for (const { course, was, name, asked, files, link, rubric, skills: shown } of markedActivities) {
    const found = (
      await tx.execute(
        sql`select skill_id from skill_now where name in ${shown} and (course_id is null or course_id = (select id from course_now where name = ${course})) order by skill_id`,
      )
    ).rows as { skill_id: string }[];
    const handIn: HandIn = {
      asked,
      words: 'must',
      link,
      files,
      bestScore,
      passScore,
      skillIds: found.map(({ skill_id }) => Number(skill_id)),
      tries: null,
      lateCounts: true,
      rubric,
    };
    await tx.execute(sql`
      update activity_version set name = ${name}, finished_by = 'marker', hand_in = ${JSON.stringify(handIn)}::jsonb
      where name = ${was} and course_id = (select id from course_now where name = ${course})`);
  }
  await tx.execute(sql`
    update activity_version set name = ${ticked.name}, finished_by = 'learner' where name = ${ticked.was} and course_id = (select id from course_now where name = ${ticked.course})`);
}

interface Open {
  enrolment: number;
  activity: number;
  course: string;
  handIn: HandIn;
  /** The result of a year ago until now; null: the activity comes next. */
  score: number | null;
  at: string | null;
  marker: number;
}

/** Marks behind the results there are, and pieces of those who have come to a marked activity. */
export async function loadWork(tx: Transaction, random: Random, { administrator }: Named, now: Date): Promise<void> {
  const opens = (
    await tx.execute(sql`
    select e.id::int as enrolment, a.id::int as activity, c.name as course, a.hand_in as "handIn", r.score, r.last_at as at,
      coalesce((select l.person_id from membership m join group_branch b on b.group_id = m.group_id join leadership l on l.group_id = b.ancestor_id and l.until_at is null and 'markWork' = any(l.powers) and l.person_id <> e.person_id
        where m.person_id = e.person_id and m.until_at is null order by b.depth, l.person_id limit 1), ${administrator.id})::int as marker
    from enrolment e join activity_now a on a.course_id = e.course_id and a.hand_in is not null join course_now c on c.id = e.course_id left join activity_result r on r.enrolment_id = e.id and r.activity_id = a.id
    where e.is_current and not e.exempt and (r.activity_id is not null or e.status = 'under way')
    order by e.id, a.id`)
  ).rows as unknown as Open[];
  const works: object[] = [];
  const versions: object[] = [];
  const marks: object[] = [];
  const results: object[] = [];
  const day = 86_400_000;
  for (const { enrolment, activity, course, handIn, score, at, marker } of opens) {
    const about = markedActivities.find((each) => each.course === course);
    if (!about || (at === null && !random.chance(waitingShare))) continue;
    const work = works.length + 1;
    works.push({ id: work, enrolment_id: enrolment, activity_id: activity });
    const last = at === null ? now.getTime() - random.whole(2, 12 * 24) * 3_600_000 : Date.parse(at);
    const isSecond = random.chance(0.16);
    const isSentBack = at === null && !isSecond && random.chance(0.18);
    const words = random.whole(0, about.texts.length - 1);
    const skillIds = handIn.skillIds.filter(() => random.chance(0.45));
    const version = (number: number, state: string, moment: number): number => {
      const text = about.texts[(words + number) % about.texts.length];
      versions.push({
        id: versions.length + 1,
        work_id: work,
        number,
        state,
        words: text,
        skill_ids: skillIds,
        at: new Date(moment).toISOString(),
      });
      return versions.length;
    };
    const mark = (versionId: number, verdict: string, moment: number, given: object): void => {
      marks.push({
        version_id: versionId,
        verdict,
        marked_by: marker,
        marked_at: new Date(Math.min(moment, now.getTime() - 3_600_000)).toISOString(),
        ...given,
      });
    };
    const back = { score: null, points: null, skill_ids: [], comment: random.pick(sentBack) };
    if (isSecond) mark(version(1, 'sent back', last - 4 * day), 'sent back', last - 2 * day, back);
    const current = version(isSecond ? 2 : 1, at !== null ? 'marked' : isSentBack ? 'sent back' : 'waiting', last);
    if (isSentBack) mark(current, 'sent back', last + day, back);
    if (at === null) {
      const first = isSecond ? last - 4 * day : last;
      results.push({ enrolment, activity, tries: isSecond ? 2 : 1, at: new Date(first).toISOString() });
      continue;
    }
    const points = ((score ?? 0) * bestScore) / 100;
    const given = resultOfWork(
      [{ handedInAt: new Date(last).toISOString(), isLate: false, mark: { verdict: 'marked', score: points } }],
      handIn,
    );
    if (!given?.finished) throw new Error('a result of the demo that its mark does not give');
    mark(current, 'marked', last + random.whole(6, 60) * 3_600_000, {
      score: points,
      points: handIn.rubric.length === 0 ? null : spread(points, handIn.rubric),
      skill_ids: skillIds.filter(() => random.chance(0.8)),
      comment: random.pick(comments),
    });
  }
  await tx.execute(
    sql`insert into work (id, enrolment_id, activity_id, person_id) overriding system value select r.id, r.enrolment_id, r.activity_id, e.person_id from jsonb_to_recordset(${JSON.stringify(works)}::jsonb) as r(id bigint, enrolment_id bigint, activity_id bigint) join enrolment e on e.id = r.enrolment_id`,
  );
  await tx.execute(sql`
    insert into work_version (id, work_id, number, state, words, skill_ids, made_at, handed_in_at) overriding system value
    select id, work_id, number, state, words, array(select jsonb_array_elements_text(skill_ids)::bigint), at, at from jsonb_to_recordset(${JSON.stringify(versions)}::jsonb)
      as r(id bigint, work_id bigint, number smallint, state text, words text, skill_ids jsonb, at timestamptz)`);
  await tx.execute(sql`
    insert into mark (version_id, verdict, score, points, skill_ids, comment, marked_by, marked_at, from_at)
    select version_id, verdict, score, case when points is null or points = 'null'::jsonb then null else array(select jsonb_array_elements_text(points)::int) end, array(select jsonb_array_elements_text(skill_ids)::bigint), comment, marked_by, marked_at, marked_at
    from jsonb_to_recordset(${JSON.stringify(marks)}::jsonb) as r(version_id bigint, verdict text, score double precision, points jsonb, skill_ids jsonb, comment text, marked_by bigint, marked_at timestamptz)`);
  await tx.execute(sql`
    insert into activity_result (enrolment_id, activity_id, finished, tries, last_at)
    select enrolment, activity, false, tries, at from jsonb_to_recordset(${JSON.stringify(results)}::jsonb) as r(enrolment bigint, activity bigint, tries int, at timestamptz)`);
  await tx.execute(
    sql`update activity_result r set tries = v.tries from (select w.enrolment_id, w.activity_id, count(*)::int as tries from work w join work_version v on v.work_id = w.id group by 1, 2) v where v.enrolment_id = r.enrolment_id and v.activity_id = r.activity_id`,
  );
  await loadFiles(tx);
  await tx.execute(
    sql`select setval(pg_get_serial_sequence('work', 'id'), ${works.length}), setval(pg_get_serial_sequence('work_version', 'id'), ${versions.length})`,
  );
}

/** Points over the lines of a rubric, each as full as it can be. */
function spread(points: number, rubric: HandIn['rubric']): number[] {
  let left = points;
  return rubric.map(({ best }) => {
    const here = Math.min(best, left);
    left -= here;
    return here;
  });
}

/** A picture with every fourth piece that waits, and the log as a text with every fifth. */
async function loadFiles(tx: Transaction): Promise<void> {
  const picture = await sharp({ create: { width: 960, height: 640, channels: 3, background: '#0e4c54' } })
    .composite([
      { input: { create: { width: 960, height: 240, channels: 3, background: '#a9c6c4' } }, top: 0, left: 0 },
      { input: { create: { width: 300, height: 60, channels: 3, background: '#c4541b' } }, top: 330, left: 310 },
      { input: { create: { width: 960, height: 70, channels: 3, background: '#6b5d4a' } }, top: 570, left: 0 },
    ])
    .jpeg()
    .toBuffer();
  const log = Buffer.from(
    '18:00  vis good, wind SW 3\n18:30  two sails off the point\n19:10  horn heard, logged, not seen again\n20:00  watch handed over\n',
  );
  const add = (name: string, type: string, content: Buffer, every: number): Promise<unknown> =>
    tx.execute(sql`
      insert into work_file (version_id, file_name, mime_type, size, content)
      select id, ${name}, ${type}, ${content.length}::int, ${content} from work_version where state = 'waiting' and id % ${every}::int = 0 order by id`);
  await add('berth.jpg', 'image/jpeg', picture, 4);
  await add('watch-log.txt', 'text/plain', log, 5);
}
