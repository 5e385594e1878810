import {
  addTo,
  type AddedUp,
  addUp,
  addUpRows,
  type ByValue,
  type ColumnReader,
  CourseNumbers,
  courseParts,
  type CourseSums,
  dayOfNumber,
  type Day,
  Fitting,
  IdLists,
  insideSums,
  type InsideSums,
  isInColumns,
  type LearnerInside,
  medianOf,
  type PersonPart,
  personParts,
  quartilesOf,
  type ScoreList,
  statusAt,
  type TakenRows,
  takeRows,
  valuesInColumns,
} from '@gate-roster/core';
import { sql } from 'drizzle-orm';
import type { SignedIn } from '../../accounts/actor.ts';
import type { ProgressSight } from '../../accounts/reach.ts';
import { type Database, type Queryable, rows } from '../../database/connect.ts';
import { whoFits } from '../../filters/conditions.ts';
import { groupsOf, isCounted } from '../../people/scope.ts';
import { horizonOf, markedSince } from '../marks.ts';
import type {
  AnswerTo,
  CellsQuestion,
  ColumnFigures,
  ColumnQuestion,
  Columns,
  FiguresAnswer,
  FiguresQuestion,
  FittingQuestion,
  InsideQuestion,
  RowsAnswer,
  RowsQuestion,
  SentReader,
  ValuesQuestion,
} from './questions.ts';
import { CourseResults } from './course-results.ts';
import { loadSets } from './load.ts';
import { type KeptFigures, SetsByGroup } from './sets-by-group.ts';
import { coursesAndSets, treeFor } from './structure.ts';

/** People are read in steps of so many; changes of more than these are read while reports come from the database. */
const peopleAtOnce = 5000;
const mostToWaitFor = 4000;
/** Marks that were taken into account are kept for a day. */
const oldMilliseconds = 43_200_000;

/**
 * Enrolments of all counted learners as columns in memory (core: `EnrolmentColumns`), by membership set. Whatever alters an enrolment
 * marks the set in the same transaction (`standing_mark`); before each answer the sets that were marked since are read again, in the
 * snapshot in which the question is answered. So what is told is always what holds.
 *
 * Questions are answered one after the other: it works in a thread of its own (columns-thread.ts).
 */
export class ReportColumns implements Columns {
  readonly #db: Database;
  readonly #now: () => number;
  #lists = new IdLists();
  #courses = new CourseNumbers();
  readonly #results = new CourseResults();
  #sets = new SetsByGroup();
  #day: Day | null = null;
  /** Transactions with lower numbers have ended, and what they altered has been read. */
  #horizon = 0;
  #freshAt = 0;
  #loading: Promise<void> | null = null;
  #last: Promise<unknown> = Promise.resolve();

  constructor(db: Database, now: () => number = Date.now) {
    this.#db = db;
    this.#now = now;
  }

  /** @returns Null while they are being read, and where columns do not say what is asked: then the database answers. */
  answer<Q extends ColumnQuestion>(question: Q): Promise<AnswerTo<Q> | null> {
    const answered = this.#last.then(() => this.#answer(question));
    this.#last = answered.catch(() => undefined);
    return answered as Promise<AnswerTo<Q> | null>;
  }

  /** Reads everything for a day, unless it is known or being read. */
  async load(actor: Pick<SignedIn, 'today' | 'timeZone'>): Promise<void> {
    this.#loading ??= this.#load(actor).finally(() => {
      this.#loading = null;
    });
    await this.#loading;
  }

  async #answer(question: ColumnQuestion): Promise<AnswerTo<ColumnQuestion> | null> {
    const { actor } = question.reader;
    const parts = question.kind === 'fitting' ? question.parts : 'filter' in question ? courseParts(question.filter) : [];
    if (!isInColumns(parts, actor.today) || this.#loading !== null) return null;
    const found = await this.#db.transaction(
      async (tx) => {
        if (this.#day !== actor.today || this.#now() - this.#freshAt > oldMilliseconds || !(await this.#freshen(tx, actor))) return null;
        if (question.kind === 'ready') return true;
        if (question.kind === 'figures') return this.#figures(tx, question);
        if (question.kind === 'rows') return this.#rows(tx, question);
        if (question.kind === 'values' || question.kind === 'cells') return this.#ofRows(tx, question);
        return question.kind === 'inside' ? this.#inside(tx, question) : this.#fitting(tx, question);
      },
      { isolationLevel: 'repeatable read', accessMode: 'read only' },
    );
    if (found === null) void this.load(actor).catch(() => undefined);
    return found;
  }

  async #load({ today, timeZone }: Pick<SignedIn, 'today' | 'timeZone'>): Promise<void> {
    this.#day = null;
    const lists = new IdLists();
    const courses = new CourseNumbers();
    const sets = new SetsByGroup();
    const horizon = await horizonOf(this.#db);
    // In the order of the tree: sets of a branch then lie next to one another, and a report goes through memory from front to back.
    const found = await rows<{ id: number; people: number }>(
      this.#db,
      sql`
      select s.id, s.counted as people
      from membership_set s
      left join membership_set_group m on m.set_id = s.id
      left join (select group_id, array_agg(ancestor_id order by depth desc) as above from group_branch group by 1) path on path.group_id = m.group_id
      group by s.id order by min(path.above), s.id`,
    );
    for (const batch of inSteps(found))
      for (const [id, set] of await loadSets(this.#db, batch, { today, timeZone, columns: sets.columns, lists, courses }))
        sets.set(id, set);
    this.#lists = lists;
    this.#courses = courses;
    this.#results.clear();
    this.#sets = sets;
    this.#horizon = horizon;
    this.#freshAt = this.#now();
    this.#day = today;
  }

  /** Reads again what was altered since. @returns False when that is too much for somebody to wait for. */
  async #freshen(tx: Queryable, { today, timeZone }: Pick<SignedIn, 'today' | 'timeZone'>): Promise<boolean> {
    const horizon = await horizonOf(tx);
    const changed = await rows<{ id: number; people: number }>(
      tx,
      sql`
      select c.id, coalesce(s.counted, 0)::int as people
      from (select set_id as id from (${markedSince(this.#horizon)}) marked) c left join membership_set s on s.id = c.id`,
    );
    if (changed.reduce((sum, { people }) => sum + people, 0) > mostToWaitFor) return false;
    if (changed.length > 0)
      await this.#readAgain(
        tx,
        changed.map(({ id }) => id),
        { today, timeZone },
      );
    this.#horizon = horizon;
    this.#freshAt = this.#now();
    return true;
  }

  async #readAgain(tx: Queryable, changed: readonly number[], when: Pick<SignedIn, 'today' | 'timeZone'>): Promise<void> {
    const read = await loadSets(tx, changed, { ...when, columns: this.#sets.columns, lists: this.#lists, courses: this.#courses });
    this.#results.markStale(changed);
    for (const id of changed) {
      const set = read.get(id);
      if (set) this.#sets.set(id, set);
      else this.#sets.delete(id);
    }
  }

  async #figures(tx: Queryable, question: FiguresQuestion): Promise<FiguresAnswer> {
    const { reader, groupId, groups, withSubgroups, filter, spreadOf, scores, byCourse } = question;
    const [tree, setsOf] = await Promise.all([treeFor(tx, withSubgroups), coursesAndSets(tx)]);
    // The figures of a group for those who see all of it are kept until something in it changes.
    const kept = filter.length === 0 && reader.sight === null ? this.#sets.keptFigures(tree, setsOf) : new Map<number, KeptFigures>();
    const knows = (id: number): boolean => {
      const known = kept.get(id);
      return (
        known !== undefined &&
        (known.hasCourses || !byCourse) &&
        (!spreadOf.includes(id) || (known.hasSpread && (scores === 'none' || known.scores === 'medians' || known.scores === scores)))
      );
    };
    const missing = groups.filter((id) => !knows(id));
    const found = addUp(
      missing,
      this.#sets.countingFor(missing, tree),
      {
        columns: this.#sets.columns,
        parts: courseParts(filter),
        reader: this.#columnReader(reader.actor, reader.sight),
        setsOf,
        courses: this.#courses,
        isChosen: await chosenBy(tx, reader, groupId, withSubgroups, personParts(filter)),
        spreadOf: new Set(spreadOf),
        withScores: scores !== 'none',
        withCourses: byCourse,
      },
      (set, whole) => {
        set.whole = whole;
      },
    );
    for (const [id, sums] of found)
      kept.set(id, { figures: this.#figuresOf(sums, scores), hasCourses: byCourse, hasSpread: spreadOf.includes(id), scores });
    return new Map(
      groups.flatMap((id) => {
        const known = kept.get(id);
        return known ? [[id, byCourse ? known.figures : { ...known.figures, byCourse: noSums }]] : [];
      }),
    );
  }

  async #rows(tx: Queryable, { reader, groupId, withSubgroups, filter, pairs, withMedians }: RowsQuestion): Promise<RowsAnswer> {
    const rowsOf = new Map<number, number[]>();
    for (let at = 0; at < pairs.length; at += 2) addTo(rowsOf, pairs[at + 1] ?? 0, pairs[at] ?? 0);
    const found = addUpRows(this.#sets.of(groupId, await treeFor(tx, withSubgroups)), (id) => rowsOf.get(id) ?? [], {
      columns: this.#sets.columns,
      parts: courseParts(filter),
      reader: this.#columnReader(reader.actor, reader.sight),
      setsOf: await coursesAndSets(tx),
      courses: this.#courses,
      isChosen: await chosenBy(tx, reader, groupId, withSubgroups, personParts(filter)),
      withScores: withMedians,
    });
    return new Map(
      [...found].map(([row, { scores, ...sums }]) => [row, { ...sums, median: medianOf(scores.points), medians: this.#mediansOf(scores) }]),
    );
  }

  #mediansOf(scores: ScoreList): Map<number, number> {
    return new Map([...scores.byCourse()].map(([course, points]) => [this.#courses.ids[course] ?? 0, medianOf(points) ?? 0]));
  }

  #figuresOf({ doneOn, scores, ...sums }: AddedUp, asked: FiguresQuestion['scores']): ColumnFigures {
    return {
      ...sums,
      doneOn: [...doneOn].map(([day, done]) => ({ day: dayOfNumber(day), done })),
      quartiles: quartilesOf(scores.points),
      medians: asked === 'medians' ? this.#mediansOf(scores) : new Map(),
    };
  }

  async #fitting(tx: Queryable, { reader, groupId, withSubgroups, parts }: FittingQuestion): Promise<Float64Array> {
    const columnReader = this.#columnReader(reader.actor, reader.sight);
    const setsOf = await coursesAndSets(tx);
    const fitting = new Fitting(parts, columnReader, setsOf, this.#courses);
    const found: number[] = [];
    const { columns } = this.#sets;
    for (const { stretch } of this.#sets.of(groupId, await treeFor(tx, withSubgroups))) {
      const count = fitting.find(columns, stretch, null);
      // Rows of one person are next to one another, and nobody is in two sets.
      let last = -1;
      for (let index = 0; index < count; index++) {
        const id = columns.person[fitting.rows[index] ?? 0] ?? 0;
        if (id !== last) found.push((last = id));
      }
    }
    return Float64Array.from(found);
  }

  async #ofRows(tx: Queryable, question: ValuesQuestion | CellsQuestion): Promise<ByValue | TakenRows> {
    const { reader, groupId, withSubgroups } = question;
    const sets = this.#sets.of(groupId, await treeFor(tx, withSubgroups));
    const from = {
      columns: this.#sets.columns,
      reader: this.#columnReader(reader.actor, reader.sight),
      setsOf: await coursesAndSets(tx),
      courses: this.#courses,
    };
    return question.kind === 'cells' ? takeRows(sets, question.courseIds, from) : valuesInColumns(sets, question.courseId, from);
  }

  async #inside(tx: Queryable, { reader, groupId, withSubgroups, filter, courseId, activities }: InsideQuestion): Promise<InsideSums> {
    const { actor, sight } = reader;
    const setsOf = await coursesAndSets(tx);
    const fitting = new Fitting(courseParts(filter), this.#columnReader(actor, sight), setsOf, this.#courses);
    const isChosen = await chosenBy(tx, reader, groupId, withSubgroups, personParts(filter));
    const results = await this.#results.of(tx, courseId, actor.timeZone);
    const learners: LearnerInside[] = [];
    const { columns } = this.#sets;
    for (const { stretch } of this.#sets.of(groupId, await treeFor(tx, withSubgroups))) {
      const count = fitting.find(columns, stretch, isChosen);
      for (let index = 0; index < count; index++) {
        const at = fitting.rows[index] ?? 0;
        const worked = results.get(columns.person[at] ?? 0) ?? [];
        learners.push({ ...statusAt(columns, at), openUnits: this.#lists.list(columns.units[at] ?? 0), worked });
      }
    }
    return insideSums(learners, activities, actor.today);
  }

  #columnReader({ today, dueSoonDays }: SignedIn, sight: ProgressSight): ColumnReader {
    return { today, dueSoonDays, sees: sight === null ? null : this.#lists.touching(new Set(sight.via)) };
  }
}

const noSums: CourseSums = { courseIds: new Float64Array(0), sums: new Float64Array(0) };

/** Who fits the person parts of a filter; those of a scope are all that matters. */
async function chosenBy(
  tx: Queryable,
  reader: SentReader,
  groupId: number,
  withSubgroups: boolean,
  parts: readonly PersonPart[],
): Promise<((personId: number) => boolean) | null> {
  if (parts.length === 0) return null;
  const fitting = whoFits(
    { ...reader, named: sql`true`, columns: null, kept: null, fitting: null },
    isCounted(groupId, withSubgroups),
    groupsOf(groupId, withSubgroups),
    parts,
  );
  const chosen = new Set((await rows<{ id: number }>(tx, sql`select p.id from person p where ${fitting}`)).map(({ id }) => id));
  return (id) => chosen.has(id);
}

/** Ids of sets in steps of about so many people. */
function* inSteps(sets: readonly { id: number; people: number }[]): Generator<number[]> {
  let step: number[] = [];
  let people = 0;
  for (const set of sets) {
    step.push(set.id);
    people += set.people;
    if (people < peopleAtOnce) continue;
    yield step;
    step = [];
    people = 0;
  }
  if (step.length > 0) yield step;
}
