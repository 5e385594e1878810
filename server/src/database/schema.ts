/*
 * The truth, and beside it what is derived from it in the same transaction: group_branch, membership_set,
 * membership_set_group, set_in_branch, entitlement, entitlement_due, person.set_id, person.counted and
 * person.own_windows. `npm run rebuild` makes the derived part anew; a test compares the two.
 *
 * Rows with from_at and until_at are never overwritten: a change ends one and begins another (until_at null: it stands).
 */

export * from './schema/groups.ts';
export * from './schema/people.ts';
export * from './schema/courses.ts';
export * from './schema/access.ts';
export * from './schema/seats.ts';
export * from './schema/progress.ts';
export * from './schema/work.ts';
export * from './schema/certificates.ts';
export * from './schema/accounts.ts';
export * from './schema/changes.ts';
export * from './schema/entry.ts';
export * from './schema/messages.ts';
export * from './schema/rules.ts';
export * from './schema/splits.ts';
export * from './schema/past-days.ts';
