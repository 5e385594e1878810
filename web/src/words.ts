/*
 * Everything that the interface says, by room. Short, second person, no exclamation marks; the same thing has the same name
 * everywhere. Read as `import * as words`: so a room that opens fetches its own words and those of no other room.
 */
export { access } from './words/access.ts';
export { accounts, addresses, enter, help, leaders } from './words/accounts.ts';
export { asOf, couldGetIn } from './words/as-of.ts';
export { certificates, check, myCertificates } from './words/certificates.ts';
export { changes } from './words/changes.ts';
export { coming } from './words/coming.ts';
export { catalogue, courses, learner, makeCourses } from './words/courses.ts';
export { cards, join, waysIn } from './words/entry.ts';
export { entry } from './words/files.ts';
export { exceptions } from './words/exceptions.ts';
export { figures } from './words/figures.ts';
export { filters } from './words/filters.ts';
export { begin, groups, myGroups } from './words/groups.ts';
export { goingOut, happened } from './words/message-views.ts';
export { messages, myMessages } from './words/messages.ts';
export { firstSteps, newClient } from './words/new-client.ts';
export { billing, ledger, orders } from './words/orders.ts';
export { people } from './words/people.ts';
export { courseFeed, platforms } from './words/platforms.ts';
export { progress } from './words/progress.ts';
export { reminders } from './words/reminders.ts';
export { results } from './words/results.ts';
export { rules } from './words/rules.ts';
export { periods } from './words/periods.ts';
export { splits } from './words/splits.ts';
export { seats } from './words/seats.ts';
export { story } from './words/story.ts';
export { views } from './words/views.ts';
export { activityContent, handInForm, myWork, whyNot, work } from './words/work.ts';
export { areas, common, failures, find, keys, settings, shell } from './words/shell.ts';

export const product = 'Gate Roster';
