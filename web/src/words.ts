import { access } from './words/access.ts';
import { accounts, addresses, enter, help, leaders } from './words/accounts.ts';
import { asOf, couldGetIn } from './words/as-of.ts';
import { certificates, check, myCertificates } from './words/certificates.ts';
import { changes } from './words/changes.ts';
import { coming } from './words/coming.ts';
import { catalogue, courses, learner, makeCourses } from './words/courses.ts';
import { cards, join, waysIn } from './words/entry.ts';
import { entry } from './words/files.ts';
import { exceptions } from './words/exceptions.ts';
import { filters } from './words/filters.ts';
import { begin, groups, myGroups } from './words/groups.ts';
import { goingOut, happened } from './words/message-views.ts';
import { messages, myMessages } from './words/messages.ts';
import { firstSteps, newClient } from './words/new-client.ts';
import { billing, ledger, orders } from './words/orders.ts';
import { people } from './words/people.ts';
import { progress } from './words/progress.ts';
import { reminders } from './words/reminders.ts';
import { rules } from './words/rules.ts';
import { periods } from './words/periods.ts';
import { splits } from './words/splits.ts';
import { seats } from './words/seats.ts';
import { story } from './words/story.ts';
import { views } from './words/views.ts';
import { handInForm, myWork, whyNot, work } from './words/work.ts';
import { areas, common, failures, find, keys, settings, shell } from './words/shell.ts';

/**
 * Everything that the interface says, by room. Short, second person, no exclamation marks; the same thing has the same name
 * everywhere.
 */
export const words = {
  product: 'Gate Roster',
  common,
  areas,
  failures,
  shell,
  find,
  keys,
  settings,
  accounts,
  enter,
  addresses,
  leaders,
  begin,
  makeCourses,
  groups,
  newClient,
  firstSteps,
  people,
  courses,
  catalogue,
  coming,
  access,
  asOf,
  couldGetIn,
  progress,
  views,
  story,
  work,
  handInForm,
  myWork,
  whyNot,
  certificates,
  myCertificates,
  check,
  learner,
  entry,
  exceptions,
  filters,
  waysIn,
  cards,
  help,
  join,
  seats,
  orders,
  ledger,
  billing,
  myGroups,
  messages,
  goingOut,
  happened,
  reminders,
  rules,
  splits,
  periods,
  myMessages,
  changes,
};
