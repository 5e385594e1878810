import type { Look } from '@gate-roster/contract';
import { showNumber } from '../ui/format.ts';
import { list, many, some } from './grammar.ts';

/** What a look says of seats. */
export const seatLooks = {
  seatsNeeded: (count: number) => many(count, 'seat is needed', 'seats are needed'),
  /** Of what lies above them a leader learns only whether there is room. */
  seatsFree: (free: number | null, isShort: boolean) =>
    free === null ? (isShort ? 'There is not enough room for all.' : 'There is room for all.') : `${showNumber(free)} free.`,
  fromLine: (count: number) => `${many(count, 'person', 'people')} in line would get a seat.`,
  inLine: (count: number) => `${many(count, 'person', 'people')} would be in line for a seat.`,
  inLineRows: (rows: readonly number[]) => {
    const first = rows.slice(0, 12).map(String);
    const more = rows.length - first.length;
    return `In the order of the file: ${many(rows.length, 'row', 'rows')} ${list(more > 0 ? [...first, `${showNumber(more)} more`] : first)}.`;
  },
  /** A limit that keeps people in line. */
  shortOf: ({ licence, group, most, missing, waiting }: Look['seats']['short'][number]) =>
    `${licence} has ${some(most, 'seat', 'seats')} for ${group}: ${showNumber(missing)} too few${waiting > 0 ? `, and ${some(waiting, 'person is', 'people are')} in line already` : ''}.`,
  raiseLimit: (most: number) => `Raise the limit to ${showNumber(most)}`,
  limitRaised: (group: string, most: number) => `${group} may use ${some(most, 'seat', 'seats')} now.`,
  chooseWho: 'Choose who gets a seat first',
  chooseHint:
    'Those you tick get a seat before the others, who follow in the order in which their accounts were made. People who are in line already come before all of them.',
  chosenFirst: (count: number) => `${some(count, 'person gets', 'people get')} a seat first.`,
  toLicence: (licence: string) => `Show ${licence}`,
  seatsMoved: (count: number) => many(count, 'seat is charged elsewhere.', 'seats are charged elsewhere.'),
  leftLine: (count: number) => `${many(count, 'person leaves', 'people leave')} the line.`,
  seatsEnded: (count: number) => many(count, 'seat comes back.', 'seats come back.'),
  noSeatMoves: 'Nobody gets or loses a seat by this.',
};
