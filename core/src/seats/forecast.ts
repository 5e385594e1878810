import { addDays, type Day, later } from '../time/day.ts';

/** How seats were used in a branch, and what is known of the days to come. */
export interface SeatUse {
  today: Day;
  /** By how many the seats in use grew in each of the last weeks, oldest first. */
  weeks: readonly number[];
  /** Seats that began or ended in these weeks. */
  turns: number;
  /** How many more may be used now. */
  free: number;
  /** People who are known to leave or to come, with the day and by how many the seats in use then change. */
  known: readonly { day: Day; by: number }[];
  /** The licence's last day; null: none. */
  lastDay: Day | null;
}

/**
 * - `too little`: too few seats turned to say anything.
 * - `ends first`: at this rate there are seats until the licence ends, or for ever.
 * - `runs out`: on that day nothing is free any more; at the upper and lower end of the rate on the others (null: not within the horizon).
 */
export type SeatForecast = { kind: 'too little' } | { kind: 'ends first' } | { kind: 'runs out'; day: Day; early: Day; late: Day | null };

const leastTurns = 6;
const leastWeeks = 4;
const horizonDays = 730;
/** Four of five weeks lie within so many standard errors of the mean. */
const band = 1.28;

/**
 * When free seats reach 0 at the rate of the last weeks, with those known to come and leave.
 * @example With 4 more each week and 8 free, they run out in 14 days; with none used for 8 weeks there is too little to say.
 */
export function forecastSeats(use: SeatUse): SeatForecast {
  if (use.free <= 0) return { kind: 'runs out', day: use.today, early: use.today, late: use.today };
  if (use.turns < leastTurns || use.weeks.length < leastWeeks) return { kind: 'too little' };
  const mean = use.weeks.reduce((sum, each) => sum + each, 0) / use.weeks.length;
  const variance = use.weeks.reduce((sum, each) => sum + (each - mean) ** 2, 0) / (use.weeks.length - 1);
  const spread = band * Math.sqrt(variance / use.weeks.length);
  const day = runsOutOn(use, mean);
  if (day === null || (use.lastDay !== null && day > use.lastDay)) return { kind: 'ends first' };
  return { kind: 'runs out', day, early: runsOutOn(use, mean + spread) ?? day, late: runsOutOn(use, mean - spread) };
}

/** The first day on which nothing is free at so many more a week; null: none within the horizon. */
function runsOutOn({ today, free, known }: SeatUse, perWeek: number): Day | null {
  const steps = [...known].map(({ day, by }) => ({ day: later(day, today), by })).sort((a, b) => (a.day < b.day ? -1 : 1));
  let knownSoFar = 0;
  let next = 0;
  for (let days = 0; days <= horizonDays; days++) {
    const day = addDays(today, days);
    for (; next < steps.length && (steps[next]?.day ?? '') <= day; next++) knownSoFar += steps[next]?.by ?? 0;
    // A rate in weeks of whole days: without the margin, rounding would put it a day later.
    if ((perWeek * days) / 7 + knownSoFar >= free - 1e-9) return day;
  }
  return null;
}
