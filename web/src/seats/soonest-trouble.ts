import type { LicenceSheet } from '@gate-roster/contract';

const latest = '9999-12-31';

/** The day on which nothing is free any more, or the licence ends; nothing for one for which people wait already. */
function troubleOn({ groups: [top], lastDay }: LicenceSheet): string {
  if (top && top.free !== null && top.free <= 0 && top.inLine > 0) return '';
  const runsOut = top?.forecast?.kind === 'runs out' ? top.forecast.day : latest;
  return runsOut < (lastDay ?? latest) ? runsOut : (lastDay ?? latest);
}

/** Licences in the order in which something has to be done about them. */
export const soonestTroubleFirst = (licences: readonly LicenceSheet[]): LicenceSheet[] =>
  licences.toSorted((a, b) => (troubleOn(a) < troubleOn(b) ? -1 : troubleOn(a) > troubleOn(b) ? 1 : a.id - b.id));
