import type { MyActivity, WorkList, WorkRow, WorkVersion } from '@gate-roster/contract';
import type { Asked, FinishedBy, HandIn } from '@gate-roster/core';
import { bestOf } from '@gate-roster/core';
import { showAgo, showDayOf, showNumber } from '../ui/format.ts';
import { list, some } from './grammar.ts';

const listWords: Record<WorkList, string> = { waiting: 'Waiting', marked: 'Marked', 'sent back': 'Sent back' };
const finishedByWords: Record<FinishedBy, string> = {
  player: 'The course player',
  marker: 'Someone who marks it',
  learner: 'The learner ticks it off',
};
const askedWords: Record<Asked, string> = { no: 'Not asked for', may: 'If they like', must: 'Needed' };

const range = (asks: HandIn): string =>
  `0 to ${showNumber(bestOf(asks))}${asks.passScore === null ? '' : `, passes from ${showNumber(asks.passScore)}`}`;

const time = (number: number): string =>
  number === 1 ? '' : number === 2 ? ', second time' : number === 3 ? ', third time' : `, time ${number}`;

const days = (count: number): string => (count < 1 ? 'less than a day' : some(Math.floor(count), 'day', 'days'));

export const work = {
  title: 'Handed in',
  lists: listWords,
  /** Of what is marked no more than 10,000 are counted. */
  listLabel: (name: WorkList, count: number) =>
    `${listWords[name]} ${showNumber(count)}${count >= 10_000 && name !== 'waiting' ? '+' : ''}`,
  learner: 'Find a learner',
  course: 'Course',
  allCourses: 'All courses',
  mine: 'Marked by me',
  none: {
    waiting: 'Nothing waits to be marked here.',
    marked: 'Nothing has been marked here yet.',
    'sent back': 'Nothing is sent back at the moment.',
  } satisfies Record<WorkList, string>,
  noneAtAll: 'No activity of these courses is marked by someone. Open a course in Groups › Courses and choose who finishes an activity.',
  choose: 'Choose a piece of work to read and mark it.',
  waits: (oldest: number, median: number) => `The oldest has waited ${days(oldest)}, half of them ${days(median)} or longer.`,
  waitingFigure: (pieces: number, oldest: number, median: number) =>
    `${some(pieces, 'piece waits', 'pieces wait')} to be marked: half for ${days(median)} or longer, the oldest for ${days(oldest)}`,
  more: 'Show more',
  row: ({ groups, handedInAt, number, isLate }: WorkRow) =>
    `${groups.length > 0 ? `${list(groups)}, ` : ''}${showAgo(handedInAt)}${time(number)}${isLate ? ', late' : ''}`,
  takenBy: (name: string) => `${name} is marking it`,
  takenUntil: (moment: string) => `Taken by you until ${moment}. Nobody else marks it until then.`,
  takenByOther: (name: string, moment: string) => `${name} is marking this until ${moment}.`,
  asked: 'What was asked',
  claims: 'Shows, in their own view',
  noSkills: 'No skill was claimed.',
  earlier: 'Earlier',
  handedIn: (day: string, number: number) => `${number === 1 ? 'First' : number === 2 ? 'Second' : `Time ${number}`} handed in ${day}`,
  handedInAgo: (moment: string) => `Handed in ${showAgo(moment)}`,
  cameBack: (day: string, by: string, comment: string) => `sent back ${day} by ${by}${comment === '' ? '' : `: “${comment}”`}`,
  wasMarked: (day: string, by: string, score: number | null, best: number, comment: string) =>
    `marked ${day} by ${by}: ${showNumber(score ?? 0)} of ${showNumber(best)}${comment === '' ? '' : `, “${comment}”`}`,
  about: (groups: readonly string[], finished: number, needed: number, due: string | null) =>
    `${groups.length > 0 ? `${list(groups)}. ` : ''}${showNumber(finished)} of ${showNumber(needed)} activities finished${due ? `, due ${due}` : ''}.`,
  late: 'Handed in late',
  lateDoesNotCount: 'It came after the due day, so its mark does not count.',
  score: 'Score',
  range,
  points: 'Points',
  line: (name: string, best: number) => `${name} (0 to ${best})`,
  passed: 'Passed',
  notPassed: 'Not passed',
  shows: 'Shows',
  comment: 'A word to the learner',
  markNext: 'Mark, next',
  markAgain: 'Correct the mark',
  sendBack: 'Send back',
  sendBackNeedsWord: 'Say what is missing, so that they know what to do.',
  ownWork: 'This is your own work. Someone else marks it.',
  marked: 'Marked.',
  sentBack: 'Sent back.',
  becomesDone: 'With this mark the course is done.',
  noLongerDone: 'With this mark the course is no longer done.',
  keys: [
    ['↑ ↓', 'another piece'],
    ['0–9', 'the score'],
    ['Ctrl Enter', 'mark and go on'],
    ['B', 'send back'],
  ] as const,
  openLink: (host: string) => `${host} ↗`,
  file: (name: string, size: string) => `${name}, ${size}`,
  save: 'Save',
  cannotShow: 'This kind of file is not shown here. Save it to read it.',
  size: (bytes: number) => (bytes >= 1_000_000 ? `${(bytes / 1_000_000).toFixed(1)} MB` : `${Math.max(1, Math.round(bytes / 1000))} kB`),
  chooseSeveral: 'Choose several',
  chosen: (count: number) => `${some(count, 'piece', 'pieces')} chosen`,
  sameMark: 'Give all the same mark',
  scoresFile: 'Scores from a CSV file',
  scoresHint: 'Save the list, write a score and a word into each line, and read it in again. Lines without a score are passed over.',
  scoresFileName: 'scores.csv',
  scoresHead: ['Piece', 'Learner', 'Activity', 'Score', 'Word'] as const,
  saveScoresFile: 'Save the list as CSV',
  readScoresFile: 'Read a CSV file',
  markThem: 'Mark them',
  scoresNone: 'No line of the file fits a piece in this list. It needs the columns Piece and Score.',
  scoresFound: (pieces: number, unknown: number) =>
    `${some(pieces, 'piece', 'pieces')} would be marked.${unknown > 0 ? ` ${some(unknown, 'line does', 'lines do')} not fit.` : ''}`,
  skillsTitle: 'Skills',
  skillsNone: 'No skills are kept yet. They are added to a course where it is edited.',
  skillHead: ['Skill', 'Course', 'Learners', 'Times'] as const,
  anyCourse: 'any course',
  confirmedBy: (names: readonly string[]) => `confirmed by ${list(names)}`,
  times: (count: number) => (count === 1 ? 'once' : `${showNumber(count)} times`),
  morePeople: (count: number) => `and ${showNumber(count)} more`,
};

/** How an activity is finished, in the form of a course. */
export const handInForm = {
  finishedBy: 'Finished by',
  finishedByOf: finishedByWords,
  finishedByFact: { marker: 'handed in and marked', learner: 'ticked off' },
  asked: 'What is asked for',
  words: 'Words',
  link: 'A link',
  files: 'Pictures or files',
  askedOf: askedWords,
  bestScore: 'Best score',
  passScore: 'Passes from',
  passScoreHint: 'Empty: finished when marked',
  tries: 'How often at most',
  triesHint: 'Empty: no limit',
  lateCounts: 'A late piece counts, as done late',
  skills: 'Skills it can show',
  rubric: 'Lines to mark by',
  line: 'Line',
  lineBest: 'Points',
  addLine: 'Add a line',
  removeLine: (name: string) => `Remove ${name || 'the line'}`,
  sum: (best: number) => `The best score is ${best}, the sum of the lines.`,
  skillsOfCourse: 'Skills of this course',
  skillsHint: 'Named things that work can show. One name in each line.',
  skillsForAll: 'Skills for all courses',
  saveSkills: 'Save skills',
  skillsSaved: 'Skills saved.',
};

export const activityContent = {
  words: (name: string) => (name === '' ? 'What to read' : `What to read: ${name}`),
  link: (name: string) => (name === '' ? 'Link to open' : `Link to open: ${name}`),
  addFile: 'Add a file, at most 2 MB',
  addFileOf: (name: string) => `Add a file to ${name}`,
  hasFile: 'A file is attached.',
  removeFile: 'Remove',
  removeFileOf: (name: string) => `Remove the file of ${name}`,
  open: (link: string) => `Open ${new URL(link).host}`,
  getFile: 'Download the file',
};

const stateWords: Record<WorkVersion['state'], string> = {
  draft: 'Draft, not handed in',
  waiting: 'Handed in, waits to be marked',
  'sent back': 'Sent back to you',
  marked: 'Marked',
};

export const myWork = {
  back: 'My courses',
  none: 'Nothing of this course is handed in or ticked off. Open it to work on it.',
  openCourse: 'Open the course',
  inPlayer: 'In the course',
  isFinished: 'Finished',
  tick: (name: string) => `I have done this: ${name}`,
  tickShort: 'I have done this',
  asked: 'What is asked for',
  words: 'Your words',
  link: 'A link',
  linkHint: 'It begins with https://',
  files: 'Pictures and files',
  filesHint: 'Up to 5, each at most 2 MB. Pictures are made smaller.',
  addFile: 'Add a picture or file',
  removeFile: (name: string) => `Remove ${name}`,
  remove: 'Remove',
  adding: 'Adding…',
  skills: 'What it shows',
  needed: 'needed',
  handIn: 'Hand in',
  handInAgain: 'Hand in again',
  saveDraft: 'Save draft',
  draftSaved: 'Draft saved.',
  handedIn: 'Handed in.',
  takeBack: 'Take back',
  takenBack: 'Taken back. You can change it and hand it in again.',
  state: (version: WorkVersion) => stateWords[version.state],
  scored: (activity: MyActivity, version: WorkVersion) =>
    version.mark?.score === null || version.mark?.score === undefined || !activity.asks
      ? null
      : `${showNumber(version.mark.score)} of ${showNumber(bestOf(activity.asks))}${version.mark.passed === false ? ', not passed' : version.mark.passed ? ', passed' : ''}`,
  comment: (by: string, comment: string) => `${by}: “${comment}”`,
  confirmed: (names: readonly string[]) => `Shown: ${list(names)}`,
  day: (moment: string) => showDayOf(moment),
  left: (tries: number) => `You can hand it in ${some(tries, 'more time', 'more times')}.`,
  lateCounts: 'It counts when it is late, and is marked as late.',
  lateDoesNotCount: 'It does not count after the due day.',
  skillsTitle: 'Skills your work has shown',
  toHandIn: (count: number) => `${showNumber(count)} to hand in or tick off`,
  handedInLink: 'Your work',
  open: (course: string) => `Hand in work for ${course}`,
  wrongFile: 'This file cannot be kept. Pictures and files of at most 2 MB can, up to 5 of them.',
};

/** Why something cannot be handed in, by the name core gives it. */
export const whyNot: Record<string, string> = {
  nothing: 'There is nothing to hand in yet.',
  'words missing': 'Words are needed.',
  'link missing': 'A link is needed.',
  'file missing': 'A picture or file is needed.',
  'no words': 'Words are not asked for here.',
  'no link': 'A link is not asked for here.',
  'no files': 'Files are not asked for here.',
  'no such skill': 'This skill cannot be shown here any more.',
  'no tries left': 'You have handed it in as often as you can.',
  'link wrong': 'This link cannot be handed in.',
};

/** What a marker did, for the log. `name`: of the activity, when it was one piece. */
export function markSentence(pieces: number, sentBack: number, name: string, who: string): string {
  const what = name === '' ? some(pieces, 'piece of work', 'pieces of work') : `“${name}”`;
  const also = sentBack > 0 && sentBack < pieces ? `, ${showNumber(sentBack)} of them sent back` : '';
  return `${sentBack < pieces ? 'Marked' : 'Sent back'} ${what} of ${who}${also}.`;
}
