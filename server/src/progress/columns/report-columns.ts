import {
  type AddedSet,
  type AddedUp,
  addUp,
  type ColumnReader,
  type CoursePart,
  CourseNumbers,
  courseParts,
  dayOfNumber,
  type Day,
  type Filter,
  Fitting,
  GroupLists,
  isInColumns,
  type PersonPart,
  personParts,
  type Quartiles,
  quartilesOf,
} from '@gate-roster/core';
import { sql } from 'drizzle-orm';
import type { SignedIn } from '../../accounts/actor.ts';
import type { ProgressSight } from '../../accounts/reach.ts';
import { type Database, oneRow, type Queryable, rows } from '../../database/connect.ts';
import { cachedByStructure } from '../../database/structure-cache.ts';
import { type FilterReader, whoFits } from '../../filters/conditions.ts';
import { groupsOf, isCounted } from '../../people/scope.ts';
import { loadSets, type LoadedSet } from './load.ts';

/** A reader as they can be sent to another thread. */
export type SentReader = Omit<FilterReader, 'named' | 'columns' | 'fitting'>;

export interface FiguresQuestion {
  kind: 'figures';
  reader: SentReader;
  /** Person parts speak of its branch. */
  groupId: number;
  groups: readonly number[];
  withSubgroups: boolean;
  filter: Filter;
  /** Of these also on which days how many were done, scores by tens, and if asked for quartiles and medians of scores. */
  spreadOf: readonly number[];
  withScores: boolean;
}
export interface FittingQuestion {
  kind: 'fitting';
  reader: SentReader;
  groupId: number;
  withSubgroups: boolean;
  parts: readonly CoursePart[];
}
export type ColumnQuestion = FiguresQuestion | FittingQuestion;

export interface ColumnFigures extends Omit<AddedUp, 'doneOn' | 'scores'> {
  doneOn: readonly { day: Day; done: number }[];
  quartiles: Quartiles | null;
  /** By course. */
  medians: ReadonlyMap<number, number>;
}
/** By group. */
export type FiguresAnswer = ReadonlyMap<number, ColumnFigures>;

/** What answers questions from columns; see `ReportColumns.answer`. */
export interface Columns {
  answer<Q extends ColumnQuestion>(question: Q): Promise<AnswerTo<Q> | null>;
}

export type AnswerTo<Q extends ColumnQuestion> = Q extends FiguresQuestion ? FiguresAnswer : Float64Array;

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
  #lists = new GroupLists();
  #courses = new CourseNumbers();
  #sets = new Map<number, LoadedSet>();
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

  async #answer(question: ColumnQuestion): Promise<FiguresAnswer | Float64Array | null> {
    const { actor } = question.reader;
    const parts = question.kind === 'figures' ? courseParts(question.filter) : question.parts;
    if (!isInColumns(parts, actor.today) || this.#loading !== null) return null;
    const found = await this.#db.transaction(
      async (tx) => {
        if (this.#day !== actor.today || this.#now() - this.#freshAt > oldMilliseconds || !(await this.#freshen(tx, actor))) return null;
        return question.kind === 'figures' ? this.#figures(tx, question) : this.#fitting(tx, question);
      },
      { isolationLevel: 'repeatable read', accessMode: 'read only' },
    );
    if (found === null) void this.load(actor).catch(() => undefined);
    return found;
  }

  async #load({ today, timeZone }: Pick<SignedIn, 'today' | 'timeZone'>): Promise<void> {
    this.#day = null;
    const lists = new GroupLists();
    const courses = new CourseNumbers();
    const sets = new Map<number, LoadedSet>();
    const horizon = await horizonOf(this.#db);
    const found = await rows<{ id: number; people: number }>(this.#db, sql`select id, counted as people from membership_set order by id`);
    for (const batch of inSteps(found))
      for (const [id, set] of await loadSets(this.#db, batch, { today, timeZone, lists, courses })) sets.set(id, set);
    this.#lists = lists;
    this.#courses = courses;
    this.#sets = sets;
    this.#horizon = horizon;
    this.#freshAt = this.#now();
    this.#day = today;
  }

  /** Reads again what was altered since. @returns False when that is too much for somebody to wait for. */
  async #freshen(tx: Queryable, { today, timeZone }: SignedIn): Promise<boolean> {
    const horizon = await horizonOf(tx);
    const changed = await rows<{ id: number; people: number }>(
      tx,
      sql`
      select c.id, coalesce(s.counted, 0)::int as people
      from (select set_id as id from standing_mark where in_transaction >= ${this.#horizon} union select set_id from standing_settled where in_transaction >= ${this.#horizon}) c
      left join membership_set s on s.id = c.id`,
    );
    if (changed.reduce((sum, { people }) => sum + people, 0) > mostToWaitFor) return false;
    const read = await loadSets(
      tx,
      changed.map(({ id }) => id),
      { today, timeZone, lists: this.#lists, courses: this.#courses },
    );
    for (const { id } of changed) {
      const set = read.get(id);
      if (set) this.#sets.set(id, set);
      else this.#sets.delete(id);
    }
    this.#horizon = horizon;
    this.#freshAt = this.#now();
    return true;
  }

  async #figures(
    tx: Queryable,
    { reader, groupId, groups, withSubgroups, filter, spreadOf, withScores }: FiguresQuestion,
  ): Promise<FiguresAnswer> {
    const found = addUp(
      groups,
      await this.#setsFor(tx, groups, withSubgroups),
      {
        parts: courseParts(filter),
        reader: this.#columnReader(reader.actor, reader.sight),
        setsOf: await coursesAndSets(tx),
        courses: this.#courses,
        isChosen: await chosenBy(tx, reader, groupId, withSubgroups, personParts(filter)),
        spreadOf: new Set(spreadOf),
        withScores,
      },
      ({ loaded }, whole) => {
        loaded.whole = whole;
      },
    );
    return new Map(
      [...found].map(([id, { doneOn, scores, ...sums }]) => [
        id,
        {
          ...sums,
          doneOn: [...doneOn].map(([day, done]) => ({ day: dayOfNumber(day), done })),
          quartiles: quartilesOf([...scores.values()].flat()),
          medians: new Map([...scores].map(([course, list]) => [course, quartilesOf(list)?.median ?? 0])),
        },
      ]),
    );
  }

  async #fitting(tx: Queryable, { reader, groupId, withSubgroups, parts }: FittingQuestion): Promise<Float64Array> {
    const columnReader = this.#columnReader(reader.actor, reader.sight);
    const fitting = new Fitting(parts, columnReader, await coursesAndSets(tx), this.#courses);
    const found: number[] = [];
    for (const { columns } of await this.#setsFor(tx, [groupId], withSubgroups)) {
      const count = fitting.find(columns, null);
      // Rows of one person are next to one another, and nobody is in two sets.
      let last = -1;
      for (let index = 0; index < count; index++) {
        const id = columns.person[fitting.rows[index] ?? 0] ?? 0;
        if (id !== last) found.push((last = id));
      }
    }
    return Float64Array.from(found);
  }

  #columnReader({ today, dueSoonDays }: SignedIn, sight: ProgressSight): ColumnReader {
    return { today, dueSoonDays, sees: sight === null ? null : this.#lists.touching(new Set(sight.via)) };
  }

  /** The sets that count for groups, each with those of the groups that it counts for. */
  async #setsFor(tx: Queryable, groups: readonly number[], withSubgroups: boolean): Promise<(AddedSet & { loaded: LoadedSet })[]> {
    const tree = withSubgroups ? await cachedByStructure('groups above each', tx, loadAbove) : null;
    const wanted = new Set(groups);
    const found: (AddedSet & { loaded: LoadedSet })[] = [];
    for (const loaded of this.#sets.values()) {
      if (loaded.columns.people.length === 0) continue;
      const countsFor = (tree === null ? loaded.groups : branchesOf(loaded, tree)).filter((id) => wanted.has(id));
      if (countsFor.length > 0) found.push({ ...loaded, countsFor, loaded });
    }
    return found;
  }
}

/** The groups in whose branches a set is; worked out once for each version of the tree. */
function branchesOf(set: LoadedSet, tree: ReadonlyMap<number, readonly number[]>): readonly number[] {
  if (set.within?.tree !== tree) set.within = { tree, groups: [...new Set(set.groups.flatMap((id) => tree.get(id) ?? []))] };
  return set.within.groups;
}

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
    { ...reader, named: sql`true`, columns: null, fitting: null },
    isCounted(groupId, withSubgroups),
    groupsOf(groupId, withSubgroups),
    parts,
  );
  const chosen = new Set((await rows<{ id: number }>(tx, sql`select p.id from person p where ${fitting}`)).map(({ id }) => id));
  return (id) => chosen.has(id);
}

/** Each group's own branch and those above it. */
async function loadAbove(db: Queryable): Promise<ReadonlyMap<number, readonly number[]>> {
  const found = await rows<{ id: number; above: number[] }>(
    db,
    sql`select group_id as id, array_agg(ancestor_id) as above from group_branch group by 1`,
  );
  return new Map(found.map(({ id, above }) => [id, above]));
}

/** The courses there are, with the course sets of each. */
async function coursesAndSets(db: Queryable): Promise<ReadonlyMap<number, readonly number[]>> {
  const found = await rows<{ id: number; sets: number[] }>(
    db,
    sql`select c.id, array(select k.course_set_id from course_in_set k where k.course_id = c.id) as sets from course_now c`,
  );
  return new Map(found.map(({ id, sets }) => [id, sets]));
}

const horizonOf = async (db: Queryable): Promise<number> =>
  (await oneRow<{ horizon: number }>(db, sql`select pg_snapshot_xmin(pg_current_snapshot())::text::bigint as horizon`)).horizon;

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
