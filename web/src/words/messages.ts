import type { MessageRow, readerLists, ShownKind } from '@gate-roster/contract';
import { showDay, showNumber } from '../ui/format.ts';
import { list, some } from './grammar.ts';

const kindWords: Record<ShownKind, string> = { message: 'Message', task: 'Task', question: 'Question', reminder: 'Reminder' };

export const messages = {
  title: 'Messages',
  viewsLabel: 'Views of messages',
  views: { groups: 'To groups', 'going-out': 'Going out', reminders: 'Reminders', happened: 'What happened' },
  write: 'Write',
  none: 'Nothing has been written here yet.',
  choose: 'Choose a message to see its answers and whom it has reached.',
  more: 'Show older ones',
  kinds: kindWords,
  listTitle: ({ kind, title }: Pick<MessageRow, 'kind' | 'title'>) =>
    kind === 'task' || kind === 'reminder' ? `${kindWords[kind]}: ${title}` : title,
  to: ({ toGroups, withSubgroups, reached, dueDay, kind }: MessageRow) =>
    `${kind === 'question' ? 'a question ' : ''}to ${
      toGroups.length > 0
        ? `${list(toGroups.map(({ name }) => name))}${withSubgroups ? ' with subgroups' : ''}, ${some(reached.people, 'person', 'people')}`
        : some(reached.people, 'chosen person', 'chosen people')
    }${dueDay ? `, due ${showDay(dueDay)}` : ''}`,
  what: ({ kind, reached, isWaiting }: MessageRow) =>
    isWaiting
      ? 'not sent yet'
      : kind === 'task'
        ? `${showNumber(reached.done)} of ${showNumber(reached.people)} done`
        : kind === 'question'
          ? `${showNumber(reached.answered)} answered`
          : `seen by ${showNumber(reached.seen)}`,
  writtenBy: (by: string, ago: string) => `${by}, ${ago}`,
  urgent: 'urgent',
  pinnedUntil: (day: string) => `pinned until ${day}`,
  isWaiting: (moment: string) => `Is sent on ${moment}.`,
  reachedTitle: 'Who it reached',
  seenOf: (people: number) => `of ${showNumber(people)} have seen it`,
  doneOf: (people: number) => `of ${showNumber(people)} have done it`,
  byLetter: 'By email',
  lettersWaiting: 'Email not sent yet',
  cameBack: 'Email came back',
  noAddress: 'No address: on their page only',
  lists: {
    seen: 'Seen',
    'not seen': 'Not seen yet',
    done: 'Done',
    'not done': 'Not done yet',
    chose: 'Chose',
  } satisfies Record<(typeof readerLists)[number], string>,
  writeToThem: (count: number) => `Write to the ${showNumber(count)}`,
  namesMore: (count: number) => `and ${showNumber(count)} more`,
  oneADay: 'At most one email a day goes to each person, whatever the number of groups. Urgent messages go at once.',
  answers: 'Answers',
  noAnswers: 'No answers yet.',
  answer: 'Answer',
  answerTo: (name: string) => `Answer ${name}`,
  send: 'Send',
  sentAnswer: 'Answered.',
  isCommon: 'Everybody in the group reads answers. Young learners’ names are hidden from other learners.',
  isPrivate: 'Answers go to the writer and the leaders here.',
  toOne: (name: string) => `to ${name}`,
  somebody: 'A young learner',
  hide: 'Hide',
  show: 'Show again',
  hidden: 'hidden',
  withdraw: 'Withdraw…',
  withdrawTitle: (title: string) => `Withdraw “${title}”`,
  withdrawHint: 'It leaves every page and the emails that have not been sent. Emails that have been sent cannot be called back.',
  withdrawn: 'Withdrawn.',
  form: {
    title: 'Write',
    kind: 'What is it?',
    to: 'To',
    toGroup: (name: string, people: number) => `${name} (${some(people, 'person', 'people')} with subgroups)`,
    toGroupAlone: (name: string) => `${name} without subgroups`,
    toFilter: 'Those who fit the filter now',
    toChosen: (count: number) => `${some(count, 'chosen person', 'chosen people')}`,
    later: 'People who join later see it too.',
    subject: 'Title',
    body: 'Text',
    dueDay: 'Due on (optional)',
    choices: 'Choices, one per line',
    several: 'Several can be chosen',
    answers: 'They can answer',
    urgent: 'Urgent: the email goes at once',
    pinnedUntil: 'Stays on top until (optional)',
    sendAt: 'Send at (optional)',
    more: 'More',
    apply: 'Send',
    sent: 'Sent.',
  },
};

export const myMessages = {
  title: 'Messages',
  unseen: (count: number) => some(count, 'new message', 'new messages'),
  none: 'Nobody has written to you yet.',
  from: (by: string, group: string, ago: string) => `${by}, ${group}, ${ago}`,
  isNew: 'new',
  due: (day: string) => `due ${day}`,
  done: 'Done',
  notDone: 'Not done after all',
  isDone: 'You have done this.',
  choose: 'Send my choice',
  chosen: 'Your choice is sent. You can change it.',
  letters: 'Emails about messages',
  letterChoices: {
    'at once': 'The first of a day at once',
    'once a day': 'One in the morning',
    never: 'None, except urgent ones',
  },
  lettersSaved: 'Saved.',
  stopTitle: 'Stop emails about messages',
  stopWhat: 'You stay in your groups, and read messages on your page. Urgent ones still come by email.',
  stop: 'Stop these emails',
  stopped: 'No more emails about messages will be sent to you. You can change this on your messages page.',
};
