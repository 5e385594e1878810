import { type Day, type Tally, type TallyFigure, tallyFigures, tallyOf } from '@gate-roster/core';
import { sql, type SQL } from 'drizzle-orm';

/*
 * The figures of reports in the database. A figure is one of `tallyFigures` in core, an entry here and a column of the table `standing`;
 * lists of columns, sums and arms of a union follow.
 */

interface TallyColumn {
  name: string;
  type: 'int' | 'float8';
  /** Counted of rows `e` of `enrolmentRows`. */
  counted: (today: Day) => SQL;
}

const columns = {
  all: { name: 'all', type: 'int', counted: () => sql`count(*)` },
  done: { name: 'done', type: 'int', counted: () => sql`count(*) filter (where e.status = 'done' and not e.exempt)` },
  underWay: { name: 'under_way', type: 'int', counted: () => sql`count(*) filter (where e.status = 'under way' and not e.exempt)` },
  exempt: { name: 'exempt', type: 'int', counted: () => sql`count(*) filter (where e.exempt)` },
  overdue: {
    name: 'overdue',
    type: 'int',
    counted: (today) => sql`count(*) filter (where e.due < ${today} and e.status <> 'done' and not e.exempt)`,
  },
  scoreSum: { name: 'score_sum', type: 'float8', counted: () => sql`coalesce(sum(e.score) filter (where not e.exempt), 0)` },
  scored: { name: 'scored', type: 'int', counted: () => sql`count(e.score) filter (where not e.exempt)` },
} as const satisfies Record<TallyFigure, TallyColumn>;

/** A tally as the database gives it. */
export type TallyRow = Record<(typeof columns)[TallyFigure]['name'], number>;

export const tallyFrom = (row: TallyRow): Tally => tallyOf((figure) => row[columns[figure].name]);

const listed = (of: (figure: TallyFigure, column: TallyColumn & { quoted: SQL }) => SQL): SQL =>
  sql.join(
    tallyFigures.map((figure) => of(figure, { ...columns[figure], quoted: sql`${sql.identifier(columns[figure].name)}` })),
    sql`, `,
  );
const typed = (value: SQL, { type }: TallyColumn): SQL => sql`${value}::${sql.raw(type)}`;

/** The names of the columns. */
export const tallyColumns = listed((_, { quoted }) => quoted);

/** A tally of enrolments `e`, rows of `enrolmentRows`, as `TallyRow`. */
export const tallyColumnsOf = (today: Day): SQL => listed((_, column) => sql`${typed(column.counted(today), column)} as ${column.quoted}`);

/** Rows with the columns of a tally, added up, as `TallyRow`. */
export const summedTally = listed((_, column) => sql`${typed(sql`sum(${column.quoted})`, column)} as ${column.quoted}`);

/** One arm of a union that is added up: what is not named is nothing. */
export const tallyArm = (named: Partial<Record<TallyFigure, SQL>>): SQL =>
  listed((figure, { quoted }) => sql`${named[figure] ?? sql`0`} as ${quoted}`);

/** Those of the columns that tell of work, counted of enrolments `e`: what is open is counted of windows, and who is late of due days. */
export const countedWork = sql.join(
  (['done', 'underWay', 'exempt', 'scoreSum', 'scored'] as const).map(
    (figure) => sql`${columns[figure].counted()} as ${sql.identifier(columns[figure].name)}`,
  ),
  sql`, `,
);
