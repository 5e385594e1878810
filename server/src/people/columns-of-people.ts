/*
 * Every column that says of which person a row is, or who made it, and what becomes of such rows: when the account joins another, when
 * the person is erased, and when an account is deleted that nobody ever used. A test compares the list with the schema, and each line
 * with what happens. Past days and the log's data are not here: they hold numbers of people only.
 */
export interface PersonColumn {
  /**
   * When the account joins another. `moves`: the row is the other's. `moves with powers`: it acts with its maker's powers, so only
   * where those move too. `ends`: it has a history; it ends, and begins for the other. `stays`: it says what happened, or is of an
   * account that ended.
   */
  joins: 'moves' | 'moves with powers' | 'ends' | 'deleted' | 'stays';
  /** A person has one row only for each value of these; where the other account has it, this one's goes. */
  once?: readonly string[];
  /** Of rows that a person names: the name, and its key if there is one. The same name twice gets the row's number behind it. */
  named?: readonly string[];
  /** When the person is erased. `emptied`: the row stays, without what was written in it. `unnamed`: it names nobody any more. */
  erased: 'deleted' | 'ends' | 'emptied' | 'unnamed' | 'stays';
  /** When an account goes that nobody used. `keeps it`: with such a row it has been used. */
  unused: 'deleted' | 'keeps it' | 'stays';
  /** Rooms that know more about it than this list: it only says what comes out. */
  inCode?: readonly ('joins' | 'erased')[];
}

const made = { joins: 'stays', erased: 'stays', unused: 'keeps it' } as const;
const acts = { joins: 'moves with powers', erased: 'stays', unused: 'keeps it' } as const;
const ofAccount = { joins: 'deleted', erased: 'deleted', unused: 'deleted' } as const;

export const personColumns: Readonly<Record<`${string}.${string}`, PersonColumn>> = {
  // The account.
  'personal.person_id': { joins: 'stays', erased: 'emptied', unused: 'deleted', inCode: ['joins', 'erased'] },
  'person_state.person_id': { joins: 'stays', erased: 'stays', unused: 'deleted', inCode: ['joins', 'erased'] },
  'credential.person_id': { joins: 'stays', erased: 'deleted', unused: 'deleted' },
  'one_time_link.person_id': { ...ofAccount, inCode: ['joins'] },
  'one_time_link.made_by': made,
  'address_link.person_id': { ...ofAccount, inCode: ['joins'] },
  'sign_in_trouble.person_id': ofAccount,
  'calendar_feed.person_id': ofAccount,
  'launch.person_id': { joins: 'moves', erased: 'deleted', unused: 'deleted' },
  'letter.person_id': { joins: 'moves', erased: 'deleted', unused: 'deleted' },

  // Groups, tags and lists.
  'membership.person_id': { joins: 'ends', erased: 'ends', unused: 'deleted', inCode: ['joins'] },
  'leadership.person_id': { joins: 'ends', erased: 'ends', unused: 'deleted', inCode: ['joins'] },
  'person_tag.person_id': { joins: 'ends', erased: 'ends', unused: 'deleted', inCode: ['joins'] },
  'group_version.contact_id': { joins: 'moves', erased: 'unnamed', unused: 'keeps it' },
  'personal_list.owner_id': { joins: 'moves', named: ['name', 'name_key'], erased: 'deleted', unused: 'keeps it' },
  'personal_list_person.person_id': { joins: 'moves', once: ['list_id'], erased: 'deleted', unused: 'deleted' },
  'upload.made_by': { ...made, joins: 'moves' },

  // Ways in.
  'join_code_version.made_by': acts,
  'join_code_use.person_id': { joins: 'moves', once: ['code_id'], erased: 'emptied', unused: 'deleted', inCode: ['erased'] },
  'join_request.person_id': { joins: 'ends', erased: 'emptied', unused: 'deleted', inCode: ['joins', 'erased'] },
  'join_request.decided_by': made,
  'paid_entry.person_id': { joins: 'moves', erased: 'emptied', unused: 'keeps it', inCode: ['joins', 'erased'] },
  'kept_mapping.owner_id': { joins: 'moves', once: ['name_key'], erased: 'deleted', unused: 'keeps it' },
  'kept_mend.owner_id': { joins: 'moves', once: ['field', 'was_key'], erased: 'deleted', unused: 'keeps it' },
  'roster_file.made_by': { ...made, erased: 'deleted' },
  'job.made_by': { ...made, erased: 'deleted' },

  // Access and courses.
  'access_grant.person_id': { joins: 'ends', erased: 'stays', unused: 'keeps it', inCode: ['joins'] },
  'access_grant.made_by': made,
  'course_exception.person_id': { joins: 'ends', erased: 'emptied', unused: 'keeps it', inCode: ['joins', 'erased'] },
  'course_exception.made_by': made,
  'entitlement.person_id': { joins: 'deleted', erased: 'deleted', unused: 'deleted', inCode: ['joins', 'erased'] },
  'course_request.person_id': { joins: 'ends', erased: 'emptied', unused: 'deleted', inCode: ['joins', 'erased'] },
  'course_request.decided_by': made,

  // Seats and payments.
  'seat.person_id': { joins: 'ends', erased: 'stays', unused: 'deleted', inCode: ['joins'] },
  'seat_line.person_id': { joins: 'ends', erased: 'stays', unused: 'deleted', inCode: ['joins'] },
  'seat_word.person_id': { joins: 'ends', erased: 'stays', unused: 'deleted', inCode: ['joins'] },
  'seat_word.made_by': made,
  'seat_news.person_id': ofAccount,
  'seat_order.ordered_by': { ...made, joins: 'moves', erased: 'emptied', inCode: ['erased'] },
  'order_step.by_id': { ...made, erased: 'emptied', inCode: ['erased'] },

  // Progress.
  'enrolment.person_id': { joins: 'moves', erased: 'emptied', unused: 'keeps it', inCode: ['joins', 'erased'] },
  'report.person_id': { joins: 'moves', erased: 'stays', unused: 'keeps it', inCode: ['joins'] },
  'statement.person_id': { joins: 'moves', erased: 'stays', unused: 'keeps it', inCode: ['joins'] },
  'statement_personal.person_id': { joins: 'moves', erased: 'deleted', unused: 'keeps it', inCode: ['joins'] },
  'result_file.by_id': made,
  'kept_view.owner_id': { joins: 'moves', named: ['name'], erased: 'deleted', unused: 'keeps it' },
  'start_view.person_id': { joins: 'moves', once: [], erased: 'deleted', unused: 'deleted' },
  'report_letter_reader.person_id': { joins: 'moves', once: ['letter_id'], erased: 'deleted', unused: 'deleted' },
  'shared_view.made_by': { ...acts, erased: 'emptied', inCode: ['erased'] },

  // Handed-in work.
  'work.person_id': { joins: 'moves', erased: 'emptied', unused: 'keeps it', inCode: ['joins', 'erased'] },
  'work_claim.person_id': { joins: 'moves', erased: 'deleted', unused: 'deleted' },
  'mark.marked_by': made,
  'certificate.person_id': { joins: 'moves', erased: 'stays', unused: 'keeps it' },
  'certificate.given_by': made,

  // Messages.
  'message_version.made_by': { ...made, joins: 'moves' },
  'message_reader.person_id': { joins: 'stays', erased: 'emptied', unused: 'deleted', inCode: ['joins', 'erased'] },
  'message_answer.person_id': { joins: 'moves', erased: 'emptied', unused: 'deleted', inCode: ['erased'] },
  'message_answer.to_person_id': { joins: 'moves', erased: 'stays', unused: 'keeps it' },
  'message_answer.hidden_by': made,
  'message_notice.person_id': { joins: 'moves', once: ['message_id'], erased: 'deleted', unused: 'deleted' },
  'reminded.person_id': { joins: 'moves', once: ['occasion', 'about_id', 'round'], erased: 'stays', unused: 'deleted' },
  'reminder_setting.made_by': acts,
  'member_stream.made_by': acts,

  // Rules, splits and the log.
  'rule_version.made_by': acts,
  'rule_act.person_id': { joins: 'moves', once: ['rule_id', 'occasion'], erased: 'stays', unused: 'deleted' },
  'rule_hold.person_id': { joins: 'deleted', erased: 'stays', unused: 'deleted' },
  'rule_event.person_id': { joins: 'moves', erased: 'deleted', unused: 'deleted' },
  'split_version.made_by': acts,
  'split_member.person_id': { joins: 'ends', erased: 'stays', unused: 'deleted', inCode: ['joins'] },
  'split_use.person_id': { joins: 'moves', erased: 'stays', unused: 'deleted' },
  'change_log.actor_id': made,
  'change_subject.person_id': { joins: 'stays', erased: 'stays', unused: 'stays' },
  'joined_row.person_id': made,
  'joined_row.gone_id': made,
};
