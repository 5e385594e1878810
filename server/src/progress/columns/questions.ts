import type { AddedUp, ByValue, CoursePart, Day, Filter, InsideSums, PlacedActivity, Quartiles, TakenRows } from '@gate-roster/core';
import type { SignedIn } from '../../accounts/actor.ts';
import type { FilterReader } from '../../filters/conditions.ts';

/* What can be asked of columns of enrolments, and what comes back. */

/** A reader as they can be sent to another thread. */
export type SentReader = Omit<FilterReader, 'named' | 'columns' | 'kept' | 'fitting'>;

export interface FiguresQuestion {
  kind: 'figures';
  reader: SentReader;
  /** Person parts speak of its branch. */
  groupId: number;
  groups: readonly number[];
  withSubgroups: boolean;
  filter: Filter;
  /** Of these also on which days how many were done, scores by tens, and if asked for quartiles of scores. */
  spreadOf: readonly number[];
  scores: 'none' | 'quartiles' | 'medians';
  /** Else only the totals of each group are told. */
  byCourse: boolean;
}
export interface FittingQuestion {
  kind: 'fitting';
  reader: SentReader;
  groupId: number;
  withSubgroups: boolean;
  parts: readonly CoursePart[];
}
/** What those of a scope come to in a course. */
export interface InsideQuestion {
  kind: 'inside';
  reader: SentReader;
  groupId: number;
  withSubgroups: boolean;
  /** It names the course. */
  filter: Filter;
  courseId: number;
  activities: readonly PlacedActivity[];
}
/** What learners of a scope are sorted by (core: `valuesInColumns`). */
export interface ValuesQuestion {
  kind: 'values';
  reader: SentReader;
  groupId: number;
  withSubgroups: boolean;
  /** Null: the next due day. */
  courseId: number | null;
}
/** What learners of a scope are in some courses (core: `takeRows`). */
export interface CellsQuestion {
  kind: 'cells';
  reader: SentReader;
  groupId: number;
  withSubgroups: boolean;
  courseIds: readonly number[];
}
/** What learners of a scope come to by rows that each can be in several of. */
export interface RowsQuestion {
  kind: 'rows';
  reader: SentReader;
  groupId: number;
  withSubgroups: boolean;
  filter: Filter;
  /** Who is in which row: row, person, row, person. */
  pairs: Float64Array;
  withMedians: boolean;
}
/** Are they read, for this day? If not, they are from now on. */
export interface ReadyQuestion {
  kind: 'ready';
  reader: { actor: Pick<SignedIn, 'today' | 'timeZone'> };
}
export type ColumnQuestion =
  FiguresQuestion | FittingQuestion | InsideQuestion | ValuesQuestion | CellsQuestion | RowsQuestion | ReadyQuestion;

export interface ColumnFigures extends Omit<AddedUp, 'doneOn' | 'scores'> {
  doneOn: readonly { day: Day; done: number }[];
  quartiles: Quartiles | null;
  /** By course, if asked for. */
  medians: ReadonlyMap<number, number>;
}
/** By group. */
export type FiguresAnswer = ReadonlyMap<number, ColumnFigures>;
/** By row; medians by course, if they are asked for. */
export type RowsAnswer = ReadonlyMap<
  number,
  Pick<ColumnFigures, 'learners' | 'total' | 'byCourse' | 'medians'> & { median: number | null }
>;

/** What answers questions from columns; see `ReportColumns.answer`. */
export interface Columns {
  answer<Q extends ColumnQuestion>(question: Q): Promise<AnswerTo<Q> | null>;
}

export type AnswerTo<Q extends ColumnQuestion> = Q extends FiguresQuestion
  ? FiguresAnswer
  : Q extends InsideQuestion
    ? InsideSums
    : Q extends RowsQuestion
      ? RowsAnswer
      : Q extends ReadyQuestion
        ? true
        : Q extends ValuesQuestion
          ? ByValue
          : Q extends CellsQuestion
            ? TakenRows
            : Float64Array;
