import type { Change, GivenMark } from '@gate-roster/contract';
import { bestOf, branchesWith, type Conflict, type CourseEffect, emptyWho, type HandIn, noEffects } from '@gate-roster/core';
import { sql, type SQL } from 'drizzle-orm';
import { type PlanContext, type Planner, summaryOf } from '../changes/plan.ts';
import type { Subject } from '../changes/writer.ts';
import { ids, isAmong, type Queryable, rows } from '../database/connect.ts';
import * as tables from '../database/schema.ts';
import { notFound, ProblemError } from '../http/problem.ts';
import { markStandings } from '../progress/standings.ts';
import { type Folded, foldWork, type MarksThen, worksOf, writeFolded } from './fold-work.ts';
import { isMarkable } from './sight.ts';

type MarkWork = Extract<Change, { kind: 'mark-work' }>;

/** Marks pieces of work, sends them back, or corrects a mark; what was marked before is kept. */
export const planMarkWork: Planner<'mark-work'> = async (context, change) => {
  const { db, actor, today } = context;
  const pieces = await piecesOf(context, change);
  const wrong = change.marks.flatMap((mark, place) => whatIsWrong(mark, pieces.get(mark.versionId), `body.change.marks.${place}`));
  if (wrong.length > 0) throw new ProblemError('bad-request', { where: wrong });
  const list = [...pieces.values()];
  const effects = noEffects();
  effects.conflicts = conflictsOf(context, change, list);
  const then: MarksThen = new Map(
    change.marks.map(({ versionId, verdict, score }) => [versionId, verdict === 'marked' ? { verdict, score: score ?? 0 } : { verdict }]),
  );
  const workIds = [...new Set(list.map(({ workId }) => workId))];
  Object.assign(effects, turnsOf(await foldWork(db, workIds, today, then)));
  const people = [...new Set(list.map(({ personId }) => personId))];
  return {
    effects,
    groups: await groupsOfMarker(context, people),
    onlyAdds: true,
    summary: summaryOf({
      people: people.slice(0, 3),
      courses: [...new Set(list.map(({ courseId }) => courseId))].slice(0, 3),
      names: { before: '', after: list.length === 1 ? (list[0]?.activity ?? '') : '' },
      counts: { pieces: list.length, sentBack: change.marks.filter(({ verdict }) => verdict === 'sent back').length },
    }),
    async write(tx, writer) {
      await markStandings(tx, people);
      // Others mark and take back at the same time. With the people locked nothing changes any more; what has meanwhile is looked at again.
      const now = await rows<{ versionId: number; markId: number | null }>(
        tx,
        sql`
        select v.id as "versionId", m.row_id as "markId" from work_version v left join mark m on m.version_id = v.id and m.until_at is null
        where v.state <> 'draft' and v.id = any(${ids(pieces.keys())})`,
      );
      const isAsSeen = now.every(({ versionId, markId }) => pieces.get(versionId)?.markId === markId);
      if (now.length < pieces.size || !isAsSeen) throw new ProblemError('busy');
      await writer.end(
        'mark',
        list.flatMap(({ markId }) => markId ?? []),
      );
      await writer.begin(
        'mark',
        change.marks.map(({ versionId, verdict, score, points, skillIds, comment }) => ({
          version_id: versionId,
          verdict,
          score,
          points,
          skill_ids: skillIds,
          comment,
          marked_by: actor.personId,
          marked_at: new Date().toISOString(),
        })),
      );
      await tx.delete(tables.workClaim).where(isAmong(tables.workClaim.versionId, pieces.keys()));
      await writeFolded(tx, await foldWork(tx, workIds, today), actor.timeZone);
      return { progressed: people };
    },
  };
};

interface Piece {
  versionId: number;
  workId: number;
  personId: number;
  courseId: number;
  activity: string;
  handIn: HandIn;
  markId: number | null;
  claimedBy: number | null;
}

/** @throws ProblemError `not-found` when the actor may not mark one of them, or it is named twice. */
async function piecesOf({ db, actor }: PlanContext, { marks }: MarkWork): Promise<Map<number, Piece>> {
  const versions = marks.map(({ versionId }) => versionId);
  const found = await rows<Piece>(
    db,
    sql`
    select v.id as "versionId", w.id as "workId", e.person_id as "personId", e.course_id as "courseId", a.name as activity, a.hand_in as "handIn", m.row_id as "markId",
      (select c.person_id from work_claim c where c.version_id = v.id and c.until_at > now() and c.person_id <> ${actor.personId}) as "claimedBy"
    from work_version v join work w on w.id = v.work_id join enrolment e on e.id = w.enrolment_id join activity_now a on a.id = w.activity_id and a.hand_in is not null
    left join mark m on m.version_id = v.id and m.until_at is null
    where v.id = any(${ids(versions)}) and v.state <> 'draft' and ${await isMarkable(db, actor)} order by v.id`,
  );
  const pieces = new Map(found.map((piece) => [piece.versionId, piece]));
  if (new Set(versions).size !== versions.length || pieces.size !== versions.length) throw notFound();
  return pieces;
}

function whatIsWrong(mark: GivenMark, piece: Piece | undefined, place: string): { place: string; what: string }[] {
  if (!piece) return [];
  const { handIn } = piece;
  const wrong: { place: string; what: string }[] = [];
  if (mark.score !== null && mark.score > bestOf(handIn)) wrong.push({ place: `${place}.score`, what: `Is beyond ${bestOf(handIn)}` });
  if (mark.skillIds.some((id) => !handIn.skillIds.includes(id)))
    wrong.push({ place: `${place}.skillIds`, what: 'A skill that this activity does not show' });
  const { points } = mark;
  const fits =
    points === null ||
    (points.length === handIn.rubric.length &&
      points.every((point, line) => point <= (handIn.rubric[line]?.best ?? 0)) &&
      points.reduce((sum, point) => sum + point, 0) === mark.score);
  if (!fits) wrong.push({ place: `${place}.points`, what: 'Does not fit the lines of the rubric and the score' });
  return wrong;
}

function conflictsOf({ actor }: PlanContext, { marks }: MarkWork, pieces: readonly Piece[]): Conflict[] {
  const about = (code: Conflict['code'], list: readonly Piece[]): Conflict[] =>
    list.length === 0 ? [] : [{ code, blocks: true, count: list.length, people: list.map(({ personId }) => personId) }];
  const corrects = new Map(marks.map((mark) => [mark.versionId, mark.corrects]));
  return [
    ...about(
      'own work',
      pieces.filter(({ personId }) => personId === actor.personId),
    ),
    ...about(
      'marked meanwhile',
      pieces.filter(({ versionId, markId }) => (corrects.get(versionId) ?? null) !== markId),
    ),
    ...about(
      'taken by another',
      pieces.filter(({ claimedBy }) => claimedBy !== null),
    ),
  ];
}

/** Groups in whose name the actor marks: those of the learners in branches where they hold the power. */
async function groupsOfMarker({ db, actor, tree }: PlanContext, people: readonly number[]): Promise<number[]> {
  const found = await rows<{ id: number }>(
    db,
    sql`select distinct group_id as id from membership where until_at is null and person_id = any(${ids(people)}) order by 1`,
  );
  const tops = branchesWith(actor, 'markWork');
  const isOurs = (id: number): boolean => tops === null || tops.some((top) => tree.has(id) && tree.isInBranch(id, top));
  return found.flatMap(({ id }) => (tree.has(id) && isOurs(id) ? [id] : []));
}

/** Who becomes done by what was folded, and who is done no more. */
function turnsOf({ restood }: Folded): { becomeDone: CourseEffect[]; noLongerDone: CourseEffect[] } {
  const byCourse = (list: Folded['restood']): CourseEffect[] => {
    const courses = new Map<number, number[]>();
    for (const { courseId, personId } of list) courses.set(courseId, [...(courses.get(courseId) ?? []), personId]);
    return [...courses].map(([courseId, persons]) => ({ courseId, day: null, who: { ...emptyWho(), persons }, people: persons.length }));
  };
  return {
    becomeDone: byCourse(restood.filter(({ before, after }) => before !== 'done' && after === 'done')),
    noLongerDone: byCourse(restood.filter(({ before, after }) => before === 'done' && after !== 'done')),
  };
}

interface UndoneMark {
  versionId: number;
  verdict: 'sent back' | 'marked';
  score: number | null;
  ends: boolean;
}

const marksOf = (db: Queryable, subjects: readonly Subject[]): Promise<UndoneMark[]> => {
  const ofMarks = subjects.filter(({ kind }) => kind === 'mark');
  const read = (which: SQL, ends: boolean): SQL =>
    sql`select version_id as "versionId", verdict, score, ${ends}::boolean as ends from mark where row_id = any(${which})`;
  return rows(
    db,
    sql`${read(ids(ofMarks.flatMap(({ after_row }) => after_row ?? [])), true)} union all ${read(ids(ofMarks.flatMap(({ before_row }) => before_row ?? [])), false)}`,
  );
};

/** What an undo of marks would turn. */
export async function marksTurned({ db, today }: PlanContext, subjects: readonly Subject[]): ReturnType<typeof turnsNow> {
  const marks = await marksOf(db, subjects);
  const then: MarksThen = new Map([
    ...marks.filter(({ ends }) => ends).map(({ versionId }) => [versionId, null] as const),
    ...marks
      .filter(({ ends }) => !ends)
      .map(({ versionId, verdict, score }) => [versionId, verdict === 'marked' ? { verdict, score: score ?? 0 } : { verdict }] as const),
  ]);
  return turnsNow(db, [...then.keys()], today, then);
}

const turnsNow = async (db: Queryable, versions: readonly number[], today: string, then: MarksThen): Promise<ReturnType<typeof turnsOf>> =>
  turnsOf(await foldWork(db, await worksOf(db, versions), today, then));

/** Brings results up to date with marks that an undo ended or put back. @returns Whose they are. */
export async function refoldMarks(
  tx: Parameters<typeof writeFolded>[0],
  { today, actor }: Pick<PlanContext, 'today' | 'actor'>,
  subjects: readonly Subject[],
): Promise<number[]> {
  const marks = await marksOf(tx, subjects);
  if (marks.length === 0) return [];
  const works = await worksOf(
    tx,
    marks.map(({ versionId }) => versionId),
  );
  const people = await rows<{ id: number }>(
    tx,
    sql`select distinct e.person_id as id from work w join enrolment e on e.id = w.enrolment_id where w.id = any(${ids(works)}) order by 1`,
  );
  await markStandings(
    tx,
    people.map(({ id }) => id),
  );
  await writeFolded(tx, await foldWork(tx, works, today), actor.timeZone);
  return people.map(({ id }) => id);
}
