import { maybeActor } from '../accounts/actor.ts';
import { ReportColumns } from '../progress/columns/report-columns.ts';
import type { Site } from './site.ts';

/** Reads columns of a site, which small sites do not keep. */
export async function columnsOf(site: Site): Promise<ReportColumns> {
  const columns = new ReportColumns(site.deps.db);
  const administrator = await maybeActor(site.deps.db, 1, site.deps.now());
  if (!administrator) throw new Error('nobody');
  await columns.load(administrator);
  return columns;
}

/** Does something while reports are answered from columns; says how often they were. */
export async function answeredBy<T>(site: Site, columns: ReportColumns, act: () => Promise<T>): Promise<{ found: T; answers: number }> {
  let answers = 0;
  site.deps.columns = {
    async answer(question) {
      const found = await columns.answer(question);
      if (found !== null) answers++;
      return found;
    },
  };
  try {
    const found = await act();
    return { found, answers };
  } finally {
    site.deps.columns = null;
  }
}
