import { accessRoutes } from './access.ts';
import { accountRoutes } from './accounts.ts';
import { certificateRoutes } from './certificates.ts';
import { keptViewRoutes } from './kept-views.ts';
import { learnerStoryRoutes } from './learner-story.ts';
import { orderRoutes } from './orders.ts';
import { changeRoutes } from './changes.ts';
import { comingUpRoutes } from './coming-up.ts';
import { courseFeedRoutes } from './course-feed.ts';
import { courseRoutes } from './courses.ts';
import { entryRoutes } from './entry.ts';
import { filterRoutes } from './filters.ts';
import { joinRoutes } from './join.ts';
import { helpRoutes } from './help.ts';
import { groupRoutes } from './groups.ts';
import { messageViewRoutes } from './message-views.ts';
import { messageRoutes } from './messages.ts';
import { peopleRoutes } from './people.ts';
import { learnerRoutes, progressRoutes } from './progress.ts';
import { ruleRoutes } from './rules.ts';
import { splitRoutes } from './splits.ts';
import { periodRoutes } from './periods.ts';
import { seatRoutes } from './seats.ts';
import { sourceRoutes } from './source.ts';
import { resultFileRoutes } from './result-files.ts';
import { jobRoutes } from './jobs.ts';
import { madeFileRoutes, takeAwayRoutes } from './take-away.ts';
import { platformRoutes, statementRoutes } from './statements.ts';
import { systemRoutes } from './system.ts';
import { myWorkRoutes, workRoutes } from './work.ts';

/** Everything that goes over the wire. Server, web, OpenAPI and tests all read this table. */
export const routes = {
  ...systemRoutes,
  ...accountRoutes,
  ...groupRoutes,
  ...peopleRoutes,
  ...filterRoutes,
  ...accessRoutes,
  ...comingUpRoutes,
  ...courseRoutes,
  ...seatRoutes,
  ...changeRoutes,
  ...entryRoutes,
  ...joinRoutes,
  ...helpRoutes,
  ...messageRoutes,
  ...messageViewRoutes,
  ...ruleRoutes,
  ...splitRoutes,
  ...periodRoutes,
  ...progressRoutes,
  ...takeAwayRoutes,
  ...madeFileRoutes,
  ...jobRoutes,
  ...resultFileRoutes,
  ...learnerRoutes,
  ...workRoutes,
  ...myWorkRoutes,
  ...certificateRoutes,
  ...orderRoutes,
  ...keptViewRoutes,
  ...learnerStoryRoutes,
  ...sourceRoutes,
  ...statementRoutes,
  ...platformRoutes,
  ...courseFeedRoutes,
};
export type Routes = typeof routes;
export type RouteName = keyof Routes;
