import { sql, type SQL } from 'drizzle-orm';

/** What is kept with its history: rows that end and begin, never change, and that a change notes as its subjects. */
export interface KeptRow {
  table: string;
  /** Whom and which group a row is about, as columns. */
  owners: SQL;
  /** It begins again only where its group stands. Tags and handouts stay with a group that is gone, out of sight. */
  needsGroup?: true;
  /** It is about the account itself: only who may act on the account takes it back. */
  ofAccount?: true;
  /** It carries powers (`powers`): it comes back only for who holds every one of them. */
  withPowers?: true;
  /** It is of a course (`course_id`): of nobody's own, it is an administrator's. */
  ofCourse?: true;
}

const ofGroup = sql`null::bigint as person_id, group_id`;
const ofPerson = sql`person_id, null::bigint as group_id`;
const ofBoth = sql`person_id, group_id`;
const ofNobody = sql`null::bigint as person_id, null::bigint as group_id`;
/** The branch whose own course it is of. */
const ofHome = (table: string): SQL =>
  sql`null::bigint as person_id, (select c.home_id from course_version c where c.course_id = ${sql.identifier(table)}.course_id and c.until_at is null) as group_id`;

/**
 * Every kind of row with a history. Undo ends them in this order, and begins them again in it: groups come back before their
 * people and statements. What is unique today is read from the schema (`taken-places.ts`).
 */
export const keptRows = {
  group: { table: 'group_version', owners: ofGroup },
  tag: { table: 'tag_version', owners: sql`null::bigint as person_id, branch_id as group_id` },
  'group tag': { table: 'group_tag', owners: ofGroup },
  handout: { table: 'handout', owners: ofGroup },
  personal: { table: 'personal', owners: ofPerson, ofAccount: true },
  'person state': { table: 'person_state', owners: ofPerson, ofAccount: true },
  membership: { table: 'membership', owners: ofBoth, needsGroup: true },
  'person tag': { table: 'person_tag', owners: ofPerson },
  leadership: { table: 'leadership', owners: ofBoth, needsGroup: true, withPowers: true },
  grant: { table: 'access_grant', owners: ofBoth, needsGroup: true },
  exception: { table: 'course_exception', owners: ofPerson },
  invitation: { table: 'invitation', owners: ofGroup, needsGroup: true, withPowers: true },
  'join code': { table: 'join_code_version', owners: ofGroup, withPowers: true },
  'join request': { table: 'join_request', owners: ofBoth },
  'course request': { table: 'course_request', owners: ofPerson },
  'letter text': { table: 'letter_template', owners: ofGroup },
  'letter look': { table: 'letter_look', owners: ofGroup },
  reminder: { table: 'reminder_setting', owners: ofGroup },
  'member stream': { table: 'member_stream', owners: ofGroup },
  message: { table: 'message_version', owners: ofGroup },
  rule: { table: 'rule_version', owners: ofGroup },
  split: { table: 'split_version', owners: ofGroup, needsGroup: true },
  'split member': { table: 'split_member', owners: ofPerson },
  course: { table: 'course_version', owners: sql`null::bigint as person_id, home_id as group_id`, ofCourse: true },
  unit: { table: 'unit_version', owners: ofHome('unit_version'), ofCourse: true },
  activity: { table: 'activity_version', owners: ofHome('activity_version'), ofCourse: true },
  'course set': { table: 'course_set_version', owners: ofNobody },
  'course set item': { table: 'course_set_item', owners: ofNobody },
  licence: { table: 'licence_version', owners: ofGroup, needsGroup: true },
  'seat limit': { table: 'seat_limit', owners: ofGroup, needsGroup: true },
  'seat word': { table: 'seat_word', owners: ofPerson },
  seat: { table: 'seat', owners: ofBoth, needsGroup: true },
  'seat line': { table: 'seat_line', owners: ofPerson },
  skill: { table: 'skill_version', owners: ofNobody },
  mark: {
    table: 'mark',
    owners: sql`(select e.person_id from work_version v join work w on w.id = v.work_id join enrolment e on e.id = w.enrolment_id where v.id = version_id) as person_id, null::bigint as group_id`,
  },
  'certificate form': { table: 'certificate_form_version', owners: ofGroup },
  certificate: { table: 'certificate', owners: ofPerson },
} as const satisfies Record<string, KeptRow>;
export type RowKind = keyof typeof keptRows;

/** In the order of undo. */
export const rowKinds = Object.keys(keptRows) as RowKind[];
const kindsThat = (is: (row: KeptRow) => boolean): RowKind[] => rowKinds.filter((kind) => is(keptRows[kind]));
export const needsGroup: ReadonlySet<string> = new Set(kindsThat((row) => row.needsGroup === true));
export const ofAccount: ReadonlySet<string> = new Set(kindsThat((row) => row.ofAccount === true));
export const withPowers = kindsThat((row) => row.withPowers === true);
export const ofCourse = kindsThat((row) => row.ofCourse === true);
