import { slowDown } from '../accounts/slow-down.ts';
import { pathTo } from '../groups/queries.ts';
import type { Deps } from '../http/deps.ts';
import type { Handlers } from '../http/handle.ts';
import { ProblemError } from '../http/problem.ts';
import { askedOn } from './asked-day.ts';
import { dropView, keepView, keptTable, keptViews, startWith } from './kept-views.ts';
import { learnerStory } from './learner-story.ts';
import { endViewLetter, openLetter, sendViewByLetter, viewLetter } from './report-letters.ts';
import { endSharedView, openSharedView, sharedViews, shareView } from './shared-views.ts';

const triesPerAddress = { points: 30, seconds: 600 };

/** One learner’s story; views of progress that are kept under a name, and links to one view. */
export function viewHandlers(deps: Deps): Handlers {
  const { db, pool, now } = deps;
  const tries = slowDown(pool, 'shared view', triesPerAddress);
  return {
    async learnerStory({ actor, params: { personId }, query: { day } }) {
      const asked = await askedOn(deps, actor, day);
      return learnerStory(asked.db, asked.reader, personId);
    },

    async keptViews({ actor }) {
      return { views: await keptViews(db, actor) };
    },

    async keepView({ actor, params: { groupId }, body }) {
      await pathTo(db, actor, groupId, 'seeProgress');
      return { id: await keepView(deps, actor, groupId, body) };
    },

    async keptTable({ actor, params: { viewId } }) {
      return keptTable(db, actor, viewId);
    },

    async dropKeptView({ actor, params: { viewId } }) {
      await dropView(db, actor, viewId);
    },

    async viewLetter({ actor, params: { viewId } }) {
      return viewLetter(db, actor, viewId);
    },

    async sendViewByLetter({ actor, params: { viewId }, body }) {
      await sendViewByLetter(db, actor, viewId, body);
    },

    async endViewLetter({ actor, params: { viewId } }) {
      await endViewLetter(db, actor, viewId);
    },

    async openReportLetter({ actor, params: { letterId } }) {
      return openLetter(db, actor, letterId);
    },

    async startWithView({ actor, body: { viewId } }) {
      await startWith(db, actor, viewId);
    },

    async sharedViews({ actor }) {
      return { views: await sharedViews(db, actor) };
    },

    async shareView({ actor, params: { groupId }, body }) {
      if (body.lastDay < actor.today)
        throw new ProblemError('bad-request', { where: [{ place: 'body.lastDay', what: 'The day is past' }] });
      return shareView(deps, actor, groupId, body);
    },

    async endSharedView({ actor, params: { viewId } }) {
      await endSharedView(db, actor, viewId);
    },

    async openSharedView({ request, response, body: { key } }) {
      response.setHeader('X-Robots-Tag', 'noindex');
      // Only wrong keys use tries up.
      const address = request.ip ?? '';
      await tries.take(address);
      const shown = await openSharedView(deps, key, now());
      await tries.giveBack(address);
      return shown;
    },
  };
}
