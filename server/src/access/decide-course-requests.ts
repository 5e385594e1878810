import { may, noEffects, speakingBranch } from '@gate-roster/core';
import { sql } from 'drizzle-orm';
import { type PlanContext, type Planner, summaryOf } from '../changes/plan.ts';
import { accessOfShift } from '../changes/shift.ts';
import { ids, rows } from '../database/connect.ts';
import { notFound } from '../http/problem.ts';
import { writeLetters } from '../letters/write-letters.ts';
import { grantColumns, grantOnPerson } from './grant-rows.ts';

interface Asking {
  row_id: number;
  person_id: number;
  course_id: number;
  course: string;
  given_name: string;
  email: string | null;
  /** The group of theirs in whose name is decided; null: an administrator decides about somebody who is in none. */
  groupId: number | null;
}

/** Opens courses to learners who asked for them, until a day if wished, or turns them away with a word. */
export const planDecideCourseRequests: Planner<'decide-course-requests'> = async (context, change) => {
  const { actor, tree, today, publicUrl } = context;
  const isOpened = change.decision === 'open';
  const asking = await standing(context, change.requestIds);
  const grants = isOpened
    ? asking.map(({ person_id, course_id, groupId }, index) => ({
        ...grantOnPerson({
          person: person_id,
          courseId: course_id,
          makerBranch: groupId === null ? null : speakingBranch(actor, 'openCourses', { path: tree.path(groupId) }),
          madeDay: today,
          index,
        }),
        lastDay: change.lastDay,
        byRequest: true,
      }))
    : [];
  const people = [...new Set(asking.map(({ person_id }) => person_id))];
  const courses = [...new Set(asking.map(({ course_id }) => course_id))];
  const groups = [...new Set(asking.flatMap(({ groupId }) => groupId ?? []))];
  const effects = noEffects();
  const decided = new Set(change.requestIds).size - asking.length;
  if (decided > 0) effects.conflicts.push({ code: 'decided since', blocks: asking.length === 0, count: decided });
  const isOver = isOpened && change.lastDay !== null && change.lastDay < today;
  if (isOver) effects.conflicts.push({ code: 'day is past', blocks: true, count: 1 });
  if (grants.length > 0 && !isOver)
    Object.assign(
      effects,
      await accessOfShift(context, {
        people: { personIds: people, afterwards: (person) => person },
        grants: {
          end: [],
          begin: grants.map((grant, index) => ({ courseIds: [asking[index]?.course_id ?? 0], grant })),
        },
      }),
    );
  effects.changedPeople = [...people].sort((a, b) => a - b);
  const written = asking.filter(({ email }) => email !== null);
  effects.letters = written.length;
  return {
    effects,
    groups,
    summary: summaryOf({
      groups: groups.slice(0, 3),
      courses: courses.slice(0, 3),
      people: people.slice(0, 3),
      counts: { people: people.length },
      fields: [change.decision],
    }),
    async write(tx, writer) {
      await writer.replace(
        'course request',
        asking.map(({ row_id }) => ({
          rowId: row_id,
          values: { state: isOpened ? 'opened' : 'turned away', word: change.word || null, decided_by: actor.personId },
        })),
      );
      await writer.begin(
        'grant',
        grants.map((grant) => grantColumns(grant, actor.personId)),
      );
      await writeLetters(
        tx,
        publicUrl,
        isOpened ? 'course opened' : 'course refused',
        written.map(({ person_id, email, given_name, course, groupId }) => ({
          personId: person_id,
          address: email ?? '',
          groupId,
          values: { name: given_name, course, words: change.word ?? '', link: `${publicUrl}/sign-in` },
        })),
      );
      return { people: isOpened ? people : [], sessions: people, entry: true };
    },
  };
};

/**
 * Requests that still ask, each with the learner's longest-held group in which the actor decides.
 * @throws ProblemError `not-found` unless the actor decides about every one.
 */
async function standing({ db, actor, tree }: PlanContext, requestIds: readonly number[]): Promise<Asking[]> {
  const all = await rows<Omit<Asking, 'groupId'> & { stands: boolean; groups: number[] }>(
    db,
    sql`
    select r.row_id, r.person_id, r.course_id, c.name as course, n.given_name, n.email,
      r.until_at is null and r.state = 'asking' and c.terms = 'request' and not c.archived and s.state = 'active' as stands,
      (select coalesce(jsonb_agg(m.group_id order by m.row_id), '[]') from membership m where m.person_id = r.person_id and m.until_at is null) as groups
    from course_request r join course_now c on c.id = r.course_id join personal_now n on n.person_id = r.person_id
    join person_state s on s.person_id = r.person_id and s.until_at is null
    where r.row_id = any(${ids(requestIds)}) order by r.row_id`,
  );
  const found = all.map(({ groups, ...each }) => ({
    ...each,
    groupId: groups.find((id) => tree.has(id) && may(actor, 'openCourses', { path: tree.path(id) })) ?? null,
  }));
  if (found.length === 0 || found.some(({ groupId }) => groupId === null && actor.role !== 'administrator')) throw notFound();
  return found.filter(({ stands }) => stands);
}
