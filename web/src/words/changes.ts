import type { LogEntry } from '@gate-roster/contract';
import type { ReminderOccasion } from '@gate-roster/core';
import { showNumber } from '../ui/format.ts';
import { many, some, list } from './grammar.ts';
import { certificateSentence } from './certificates.ts';
import { orderSentence } from './orders.ts';
import { conflictWords } from './conflicts.ts';
import { courseSentence } from './course-changes.ts';
import { exceptionWords, fieldWords, kinds } from './kinds-of-change.ts';
import { people } from './people.ts';
import { periodSentence } from './periods.ts';
import { letterSentence } from './letters.ts';
import { occasionWords } from './reminders.ts';
import { seatLooks } from './seat-looks.ts';
import { splitSentence } from './splits.ts';
import { markSentence } from './work.ts';

const named = (things: readonly { name: string }[], one: string, most = 3): string =>
  things.length > most ? `${things.length} ${one}s` : list(things.map(({ name }) => name));

/** What somebody gains or loses, when for all, none or some of them it is a part of a course. */
const courseOrPart = { whole: 'a course', part: 'part of a course', either: 'a course or part of one' };

export const changes = {
  apply: 'Apply',
  discard: 'Discard',
  undo: 'Undo',
  undone: 'Undone.',
  jobAt: (share: number) => `${share > 0 ? `${Math.round(share * 100)}%. ` : ''}You can close this page. The work continues.`,
  jobFailed: 'This failed. Nothing was changed.',
  stopJob: 'Stop',
  jobStopped: 'Stopped. Nothing was changed.',
  undoInLog: 'Other changes depend on this. Undo it from the log.',
  undoLook: 'Undo…',
  undoTitle: 'Undo this?',
  followed: (count: number) =>
    count === 1 ? 'An automatic rule acted because of it. Undo that too?' : 'Automatic rules acted because of it. Undo that too?',
  undoing: 'Undoing',
  whatItWouldDo: 'What this would do',
  looking: 'Working it out…',
  who: 'Who?',
  canBeUndone: 'Can be undone from the log.',
  kind: 'What was done',
  kinds,
  /** Who did something: a rule in the name of its maker, the reader, or somebody else. */
  whoDid: (entry: Pick<LogEntry, 'rule' | 'isMine' | 'actor' | 'fields'>) =>
    entry.rule !== null
      ? `Rule “${entry.rule}”`
      : entry.isMine
        ? 'You'
        : (entry.actor ?? (entry.fields.includes('idle') ? 'The licence, by itself' : 'A leader above you')),
  noneMatch: 'Nothing in the log matches this.',
  noneYet: 'Nothing has been done yet. Changes to people, groups and access are listed here and can be undone.',
  wasUndone: '(undone)',
  gains: (count: number, what: 'whole' | 'part' | 'either' = 'whole') =>
    `${many(count, 'person gains', 'people gain')} ${courseOrPart[what]}.`,
  loses: (count: number, what: 'whole' | 'part' | 'either' = 'whole') =>
    `${many(count, 'person loses', 'people lose')} ${courseOrPart[what]}.`,
  /** Of those of one course, for how many it is a part of it. */
  partly: (count: number, people: number) =>
    count === 0 ? '' : count === people ? ' (a part of it)' : ` (${showNumber(count)} of them a part of it)`,
  still: (count: number) => `still ${count === 1 ? 'gets' : 'get'} in by another way.`,
  becomeDone: (count: number) => `${many(count, 'becomes', 'become')} done.`,
  noLongerDone: (count: number) => `${many(count, 'is', 'are')} no longer done.`,
  opensForNow: (count: number) => many(count, 'person gets into a course while it runs.', 'people get into a course while it runs.'),
  closesForNow: (count: number) =>
    many(count, 'person is kept out of a course while it runs.', 'people are kept out of a course while it runs.'),
  stillForNow: (count: number) =>
    many(
      count,
      'person keeps a course that is not in their part, through another group.',
      'people keep a course that is not in their part, through another group.',
    ),
  excepted: (count: number) => `${many(count, 'gets', 'get')} a new due day or exemption.`,
  newPeople: (count: number) => many(count, 'new person', 'new people'),
  reordered: (count: number) => `${many(count, 'comes', 'come')} to another place in line`,
  guardians: (count: number) => `of the emails ${many(count, 'goes', 'go')} to a guardian`,
  takenBack: (count: number) =>
    `${many(count, 'new person is', 'new people are')} removed again. Anyone who has signed in since is deactivated, not deleted.`,
  join: (count: number) => many(count, 'joins', 'join'),
  leave: (count: number) => many(count, 'leaves', 'leave'),
  moreCourses: (count: number) => `and ${some(count, 'course', 'courses')} more`,
  moreGroups: (count: number) => `and ${some(count, 'group', 'groups')} more`,
  newcomers: (count: number) => `${some(count, 'new person', 'new people')}. `,
  groupsMade: (count: number) => many(count, 'group is made', 'groups are made'),
  groupsMoved: (count: number) => many(count, 'group moves', 'groups move'),
  groupsGone: (count: number) => many(count, 'group is deleted', 'groups are deleted'),
  groupsBack: (count: number) => many(count, 'group comes back', 'groups come back'),
  ...seatLooks,
  leaveIt: 'What you entered is not saved. Leave this page?',
  reached: (count: number) => `${many(count, 'person sees', 'people see')} it on their page`,
  letters: (count: number) => many(count, 'email is sent', 'emails are sent'),
  setsOff: (rule: string, people: number) => `The automatic rule “${rule}” may then act on up to ${some(people, 'person', 'people')}.`,
  confirming: (count: number) => `${many(count, 'person is', 'people are')} asked by email to confirm their address`,
  changed: (count: number) => many(count, 'person’s details change', 'people’s details change'),
  branch: 'In the branch',
  person: 'About whom',
  from: 'From',
  until: 'Until',
  exportFile: 'log.csv',
  exportHead: ['When', 'Who', 'What was done', 'Undone'] as const,
  exportYes: 'yes',
  fromDay: (day: string) => `, from ${day}`,
  spoken: (gaining: number, losing: number) => `${gaining} gain, ${losing} lose.`,
  about: (names: readonly string[], count: number) => `${list(names)}${count > names.length ? ' and others' : ''}.`,
  conflicts: conflictWords,
  /** What was done, and what became of seats by it. */
  sentence(entry: LogEntry): string {
    const { seatsGiven = 0, seatsBack = 0, inLine = 0 } = entry.counts;
    const seats = [
      seatsGiven > 0 ? `${some(seatsGiven, 'seat', 'seats')} handed out` : [],
      seatsBack > 0 ? `${some(seatsBack, 'seat', 'seats')} back` : [],
      inLine > 0 ? `${showNumber(inLine)} in line for a seat` : [],
    ].flat();
    return seats.length > 0 ? `${changes.act(entry).replace(/\.$/u, '')}; ${list(seats)}.` : changes.act(entry);
  },
  act(entry: LogEntry): string {
    const where = named(entry.groups, 'group');
    const count = (key: string): number => entry.counts[key] ?? 0;
    const who = (): string => {
      const all = Math.max(count('people'), entry.people.length, 1);
      return all > entry.people.length || all > 3
        ? all === 1
          ? 'somebody'
          : some(all, 'person', 'people')
        : list(entry.people.map(({ name }) => name));
    };
    switch (entry.kind) {
      case 'bring-in-roster':
        return entry.fileName === null
          ? `Added ${some(count('newPeople'), 'new person', 'new people')} to ${where}.`
          : `Brought in ${entry.fileName} for ${where}: ${
              [
                count('newPeople') > 0 ? some(count('newPeople'), 'new person', 'new people') : '',
                count('joining') > 0 ? `${count('joining')} known joining` : '',
                count('changed') > 0 ? `${count('changed')} with new details` : '',
                count('left') > 0 ? `${count('left')} left` : '',
                count('leftOut') > 0 ? `${some(count('leftOut'), 'row', 'rows')} left out` : '',
              ]
                .filter((part) => part !== '')
                .join(', ') || 'nobody new'
            }.`;
      case 'grant-access':
        return `${list(entry.effects.map((effect) => ({ open: 'Opened', block: 'Blocked', end: 'Ended the settings for' })[effect])).replace(/ and (\w)/u, (_, letter: string) => ` and ${letter.toLowerCase()}`)} ${named(entry.courses, 'course')} for ${where}${count('gained') > 0 ? `; ${some(count('gained'), 'person', 'people')} gained` : ''}${count('lost') > 0 ? `; ${count('lost')} lost` : ''}.`;
      case 'add-members':
        return `Added ${who()} to ${where}.`;
      case 'remove-members':
        return `Removed ${who()} from ${where}.`;
      case 'move-members':
        return `Moved ${who()} ${entry.groups.length === 2 ? `from ${entry.groups[0]?.name ?? ''} to ${entry.groups[1]?.name ?? ''}` : `(${where})`}.`;
      case 'make-groups':
        return `Made ${count('groups') === 1 && entry.names ? entry.names.after : some(count('groups'), 'group', 'groups')} in ${where}${count('leaders') > 0 ? `, with ${some(count('leaders'), 'leader', 'leaders')}` : ''}.`;
      case 'edit-group':
        return entry.names && entry.fields.every((field) => field === 'name')
          ? `Renamed ${entry.names.before} to ${entry.names.after}.`
          : `Changed ${list(entry.fields.map((field) => fieldWords[field] ?? field))} of ${where}.`;
      case 'move-groups':
        return `Moved ${where}${entry.names ? ` into ${entry.names.after}` : ''}.`;
      case 'set-group-state':
        return entry.fields[0] === 'archived' ? `Archived ${where}.` : `Restored ${where}.`;
      case 'delete-groups':
        return `Deleted ${where}${count('groups') > entry.groups.length ? ` with ${some(count('groups') - entry.groups.length, 'subgroup', 'subgroups')}` : ''}${count('people') > 0 ? `; ${some(count('people'), 'person', 'people')} left` : ''}.`;
      case 'tag-people':
        return `Tagged ${who()} of ${where}${entry.names?.after ? ` with ${entry.names.after}` : ''}${count('removed') > 0 ? `, and removed ${some(count('removed'), 'tag', 'tags')}` : ''}.`;
      case 'edit-tag':
        return entry.names && entry.names.before !== entry.names.after
          ? `Renamed the tag ${entry.names.before} to ${entry.names.after}.`
          : `Coloured the tag ${entry.names?.after ?? ''}.`;
      case 'merge-tags':
        return `Merged the tags ${entry.names?.before ?? ''} into ${entry.names?.after ?? ''}.`;
      case 'edit-person':
        return `Changed ${list(entry.fields.map((field) => fieldWords[field] ?? field))} of ${who()}.`;
      case 'set-person-state':
        return `${{ active: 'Activated', paused: 'Paused', ended: 'Ended' }[entry.fields[0] ?? ''] ?? 'Changed'} ${who()}.`;
      case 'join-accounts':
        return 'Joined another account with their own.';
      case 'merge-people':
        return `Merged two accounts of ${entry.people[0]?.name ?? people.erasedName}.`;
      case 'erase-person':
        return `Erased a person of ${where || people.nowhere.toLowerCase()}.`;
      case 'set-leaders':
        return `${count('ended') > 0 && count('begun') === 0 ? 'Removed' : 'Made'} ${count('invited') > 0 && entry.people.length === 0 ? some(count('invited'), 'invited person', 'invited people') : who()}${count('begun') > 0 || count('ended') === 0 ? (who().includes(' people') ? ' leaders' : ' leader') : ' as leader'} of ${where}.`;
      case 'hand-over':
        return `${count('cover') > 0 ? 'Let somebody cover for' : 'Handed over from'} ${entry.people[0]?.name ?? people.erasedName} (${where}).`;
      case 'take-back-invitation':
        return `Withdrew an invitation to ${where}.`;
      case 'invite-people':
        return `Invited ${some(count('invited'), 'address', 'addresses')} to ${where}.`;
      case 'send-invitations-again':
        return `Sent ${some(count('invited'), 'invitation', 'invitations')} to ${where} again.`;
      case 'make-code':
        return `Made a join code${count('leads') > 0 ? ' for leaders' : ''} for ${where}.`;
      case 'edit-code':
        return entry.fields[0] === 'code'
          ? `Replaced a join code of ${where}.`
          : entry.fields.length === 1 && entry.fields[0] === 'paused'
            ? `${count('paused') > 0 ? 'Paused' : 'Opened'} a join code of ${where}.`
            : `Changed a join code of ${where}.`;
      case 'delete-code':
        return `Deleted a join code of ${where}.`;
      case 'decide-course-requests':
        return entry.fields[0] === 'open'
          ? `Opened ${named(entry.courses, 'course')} for ${who()}, who asked for it.`
          : `Did not open ${named(entry.courses, 'course')} for ${who()}, who asked for it.`;
      case 'send-message':
        return `Wrote “${entry.names?.after ?? ''}” to ${entry.people.length > 0 ? who() : `${where} (${some(count('people'), 'person', 'people')})`}.`;
      case 'set-reminder': {
        const [occasion, what] = entry.fields;
        const of = `${occasionWords[occasion as ReminderOccasion]}${entry.courses.length > 0 ? ` of ${named(entry.courses, 'course')}` : ''}`;
        if (what === 'set') return `Set the reminder “${of}” for ${where}.`;
        return what === 'nobody'
          ? `Switched the reminder “${of}” off for ${where}.`
          : `Left the reminder “${of}” of ${where} to the groups above.`;
      }
      case 'show-members':
        return count('kinds') > 0
          ? `Chose what members of ${where} are told of what happens there.`
          : `Members of ${where} are no longer told what happens there.`;
      case 'hide-answer':
        return `Hid an answer of ${who()} in ${where}, or showed it again.`;
      case 'close-thread':
        return `Closed the answers to a message of ${where}, or opened them again.`;
      case 'remind':
        return `Reminded ${some(count('people'), 'person', 'people')}.`;
      case 'set-rule': {
        const [isNew, state] = entry.fields;
        const did = isNew === 'new' ? 'Made' : 'Changed';
        const on =
          state === 'off'
            ? ', switched off'
            : state === 'later ones'
              ? ', on for later ones'
              : `, on; it acted on ${some(count('people'), 'person', 'people')}`;
        return `${did} the automatic rule “${entry.names?.after ?? ''}” in ${where}${on}.`;
      }
      case 'take-back-seats':
        return `Took back ${some(count('people'), 'seat', 'seats')} of ${entry.names?.after ?? ''}${entry.fields.includes('idle') ? ' that lay idle' : ''} in ${where}.`;
      case 'arrange-line':
        return entry.names?.before === 'swap'
          ? `Let ${who()} change places in line for ${entry.names.after} in ${where}.`
          : `Let ${who()} go first in line for ${entry.names?.after ?? ''} in ${where}.`;
      case 'give-up-places':
        return `Took ${some(count('people'), 'person', 'people')} out of the line for ${entry.names?.after ?? ''} in ${where}.`;
      case 'move-seats':
        return `Moved ${some(count('people'), 'seat', 'seats')} of ${entry.names?.before ?? ''} in ${where} to ${entry.names?.after ?? ''}.`;
      case 'give-seats':
        return `Gave ${some(count('people'), 'seat', 'seats')} of ${entry.names?.after ?? ''} in ${where}.`;
      case 'order-seats':
      case 'order-renewal':
      case 'decide-order':
      case 'give-up-order':
      case 'credit-order':
      case 'seats-paid':
        return orderSentence(entry.kind, entry, { where, count });
      case 'close-period':
      case 'make-next-period':
        return periodSentence(entry.kind, entry, { where, count });
      case 'set-split':
      case 'start-split':
      case 'stop-split':
      case 'delete-split':
        return splitSentence(entry.kind, entry, { where, count });
      case 'answer-rule':
        return `${entry.fields[0] === 'acts' ? 'Let the automatic rule' : 'Kept the automatic rule'} “${entry.names?.after ?? ''}” ${entry.fields[0] === 'acts' ? 'act on' : 'from'} ${who()} in ${where}.`;
      case 'end-rule':
        return `Deleted the automatic rule “${entry.names?.after ?? ''}” in ${where}.`;
      case 'mark-work':
        return markSentence(count('pieces'), count('sentBack'), entry.names?.after ?? '', who());
      case 'set-certificate':
      case 'end-certificate':
      case 'give-certificates':
      case 'withdraw-certificates':
        return certificateSentence(entry.kind, entry, { where, who: who(), count });
      case 'set-skills':
        return `Changed the skills of ${entry.courses.length > 0 ? named(entry.courses, 'course') : 'all courses'}${entry.names?.after ? `: ${entry.names.after}` : ''}.`;
      case 'withdraw-message':
        return `Withdrew “${entry.names?.after ?? ''}”.`;
      case 'make-client':
        return `Made the client ${entry.names?.after ?? ''} in ${where}${[
          count('courses') > 0 ? `, with ${some(count('courses'), 'course', 'courses')}` : '',
          count('seats') > 0 ? `, ${some(count('seats'), 'seat', 'seats')}` : '',
          count('leaders') > 0 ? ', a leader' : '',
          count('codes') > 0 ? ', a join code' : '',
        ].join('')}.`;
      case 'ask-for-course':
        return `Request for ${named(entry.courses, 'course')} by ${who()}.`;
      case 'take-back-course-request':
        return `Request for ${named(entry.courses, 'course')} withdrawn by ${who()}.`;
      case 'decide-requests':
        return `${entry.fields[0] === 'let in' ? 'Let' : 'Turned'} ${who()} ${entry.fields[0] === 'let in' ? 'into' : 'away from'} ${where}${count('as') > 0 ? ', as somebody known' : ''}.`;
      case 'join-by-code':
        if (count('pays') > 0) return `Somebody is about to pay to join ${where} by a code.`;
        return count('asks') > 0
          ? `Somebody asked to join ${where} by a code.`
          : `${count('leads') > 0 ? 'A leader' : 'Somebody'} joined ${where} by a code.`;
      case 'join-paid':
        return `Somebody paid and joined ${where} by a code.`;
      case 'join-given-up':
        return `Somebody did not pay to join ${where} after all.`;
      case 'edit-letter':
      case 'set-letter-look':
        return letterSentence(entry.kind, count('own') > 0, where);
      case 'accept-invitation':
        return `${count('leads') > 0 ? 'A leader' : 'Somebody'} joined ${where} by invitation.`;
      case 'make-licence':
        return `Made the licence ${entry.names?.after ?? ''} with ${some(count('seats'), 'seat', 'seats')}.`;
      case 'edit-licence':
        return `Changed the licence ${entry.names?.after ?? ''}${entry.fields.includes('seats') ? `: ${some(count('seats'), 'seat', 'seats')}` : ''}.`;
      case 'limit-seats':
        return `Limited the seats of ${entry.names?.after ?? ''} for ${where}.`;
      case 'except-people':
        return `${exceptionWords[entry.fields[0] ?? ''] ?? ''} ${named(entry.courses, 'course')} for ${who()}.`;
      case 'make-courses':
      case 'edit-course':
      case 'take-feed':
      case 'make-course-set':
      case 'edit-course-set':
      case 'delete-course-set':
        return courseSentence(entry.kind, entry, entry.courses.length > 0 ? named(entry.courses, 'course') : '');
      case 'edit-site':
        return 'Changed the settings of the site.';
      case 'see-as':
        return `Viewed the application as ${who()}.`;
      case 'send-sign-in':
        return `Emailed a sign-in link to ${who()}.`;
      case 'one-time-sign-in':
        return `Gave ${who()} a one-time sign-in.`;
      case 'end-sessions':
        return `Ended all sessions of ${who()}.`;
      case 'print-cards':
        return `Made ${some(count('people'), 'sign-in card', 'sign-in cards')} for people of ${where}.`;
      case 'let-in-now':
        return `Let ${who()} in at once.`;
      case 'export-person':
        return `Exported all that is kept on ${who()}.`;
      default:
        return `Undid: ${kinds[entry.undid ?? '']?.toLowerCase() ?? ''} (${where}${entry.courses.length > 0 ? `, ${named(entry.courses, 'course')}` : ''})${count('acts') > 0 ? `, with ${some(count('acts'), 'act of a rule', 'acts of rules')}` : ''}${count('left') > 0 ? `; ${some(count('left'), 'part', 'parts')} had changed since and stayed` : ''}.`;
    }
  },
};
