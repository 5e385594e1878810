import { type Day, type Tally, type TallyFigure, tallyFigures, tallyOf } from '@gate-roster/core';
import { sql, type SQL } from 'drizzle-orm';

/*
 * The figures of reports in the database. A figure is one of `tallyFigures` in core, an entry here and a column of the table `standing`;
 * lists of columns, sums and arms of a union follow.
 */

interface TallyColumn {
  name: string;
  type: 'int' | 'float8';
  /** Counted of rows `e` of `enrolmentRows`; of work alone: of enrolments, too. */
  counted: SQL | ((today: Day) => SQL);
  /** It follows from work alone; what is open is counted of windows, and who is late of due days. */
  ofWork: boolean;
}

const columns = {
  all: { name: 'all', type: 'int', ofWork: false, counted: sql`count(*)` },
  done: { name: 'done', type: 'int', ofWork: true, counted: sql`count(*) filter (where e.status = 'done' and not e.exempt)` },
  underWay: { name: 'under_way', type: 'int', ofWork: true, counted: sql`count(*) filter (where e.status = 'under way' and not e.exempt)` },
  exempt: { name: 'exempt', type: 'int', ofWork: true, counted: sql`count(*) filter (where e.exempt)` },
  overdue: {
    name: 'overdue',
    type: 'int',
    ofWork: false,
    counted: (today: Day) => sql`count(*) filter (where e.due < ${today} and e.status <> 'done' and not e.exempt)`,
  },
  scoreSum: { name: 'score_sum', type: 'float8', ofWork: true, counted: sql`coalesce(sum(e.score) filter (where not e.exempt), 0)` },
  scored: { name: 'scored', type: 'int', ofWork: true, counted: sql`count(e.score) filter (where not e.exempt)` },
} as const satisfies Record<TallyFigure, TallyColumn>;

/** A tally as the database gives it. */
export type TallyRow = Record<(typeof columns)[TallyFigure]['name'], number>;

export const tallyFrom = (row: TallyRow): Tally => tallyOf((figure) => row[columns[figure].name]);

const nameOf = (figure: TallyFigure): SQL => sql`${sql.identifier(columns[figure].name)}`;
const listed = <F extends TallyFigure>(figures: readonly F[], valueOf: (figure: F, column: TallyColumn) => SQL): SQL =>
  sql.join(
    figures.map((figure) => sql`${valueOf(figure, columns[figure])} as ${nameOf(figure)}`),
    sql`, `,
  );
const typed = (value: SQL, { type }: TallyColumn): SQL => sql`${value}::${sql.raw(type)}`;
type WorkFigure = { [F in TallyFigure]: (typeof columns)[F]['ofWork'] extends true ? F : never }[TallyFigure];
const ofWork = tallyFigures.filter((figure): figure is WorkFigure => columns[figure].ofWork);

/** The names of the columns. */
export const tallyColumns = sql.join(tallyFigures.map(nameOf), sql`, `);

/** A tally of enrolments `e`, rows of `enrolmentRows`, as `TallyRow`. */
export const tallyColumnsOf = (today: Day): SQL =>
  listed(tallyFigures, (_, column) => typed(typeof column.counted === 'function' ? column.counted(today) : column.counted, column));

/** The columns of work, counted of enrolments `e`. */
export const countedWork = listed(ofWork, (figure) => columns[figure].counted);

/** Rows with the columns of a tally, added up, as `TallyRow`. */
export const summedTally = listed(tallyFigures, (figure, column) => typed(sql`sum(${nameOf(figure)})`, column));

type Arm = Partial<Record<TallyFigure, SQL>>;

/** One arm of a union that is added up: what is not named is nothing. */
export const tallyArm = (named: Arm): SQL => listed(tallyFigures, (figure) => named[figure] ?? sql`0`);

/** The same of rows that have the columns of work. */
export const workArm = (named: Arm): SQL => tallyArm({ ...Object.fromEntries(ofWork.map((figure) => [figure, nameOf(figure)])), ...named });
