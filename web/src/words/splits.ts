import type { LogEntry } from '@gate-roster/contract';
import type { AllowanceMode } from '@gate-roster/core';
import { showNumber } from '../ui/format.ts';
import { list, many, some } from './grammar.ts';

/** What was done with a split. */
export function splitSentence(
  kind: 'set-split' | 'start-split' | 'stop-split' | 'delete-split',
  entry: Pick<LogEntry, 'names' | 'fields'>,
  { where, count }: { where: string; count: (key: string) => number },
): string {
  const name = `“${entry.names?.after ?? ''}”`;
  switch (kind) {
    case 'set-split':
      return entry.fields[0] === 'new'
        ? `Split ${where} into ${some(count('parts'), 'part', 'parts')}: ${name}.`
        : `Changed the split ${name} of ${where}.`;
    case 'start-split':
      return `Started the split ${name} of ${where}: ${some(count('people'), 'person', 'people')} in ${some(count('parts'), 'part', 'parts')}.`;
    case 'stop-split':
      return `Ended the split ${name} of ${where}.`;
    case 'delete-split':
      return `Deleted the split ${name} of ${where}.`;
  }
}

const modes: Record<AllowanceMode, string> = { only: 'Only these', 'as well': 'These as well', none: 'None of these' };

export const splits = {
  why: ({ split, part, does }: { split: string; part: string; does: 'opens' | 'narrows' | 'closes' }, until: string) =>
    `Until ${until} the split ${split} ${{ opens: 'opens it', narrows: 'keeps only some units of it', closes: 'closes it' }[does]} for its part ${part}.`,
  what: 'Divide this group into parts for an hour or a day. Each part gets its own courses while it runs.',
  none: 'This group has not been split yet.',
  make: 'New split',
  newName: 'New split',
  name: 'Name',
  of: (group: string, until: string | null) =>
    until === null ? `a split of ${group}, not running` : `a split of ${group}, runs until ${until}`,
  running: 'running',
  counts: (all: number, inParts: number, working: number) =>
    `${some(all, 'person', 'people')}: ${showNumber(inParts)} in parts, ${showNumber(all - inParts)} as always. ${showNumber(working)} ${many(working, 'is', 'are')} working now.`,
  tooMany: (count: number, most: number) =>
    `${showNumber(count)} people are in this group. Up to ${showNumber(most)} can be divided: choose a group below it.`,
  divide: 'Divide again',
  byChance: 'At random',
  byScore: 'With equal scores',
  byTag: 'With equal tags',
  perLeader: 'One part per leader',
  how: 'How',
  into: 'Into',
  intoParts: 'A number of parts',
  intoSize: 'Parts of a size',
  numberOfParts: 'Number of parts',
  peopleInEach: 'People in each part',
  divideNow: 'Divide',
  chosen: (name: string | null) => (name === null ? 'New split' : `Split: ${name}`),
  startNow: 'Start…',
  runsFor: 'Runs for',
  length: (hours: number | null) => (hours === null ? 'Until a time…' : hours === 0.5 ? 'Half an hour' : some(hours, 'hour', 'hours')),
  asLast: (name: string) => `As in ${name}`,
  startUntil: 'Runs until',
  start: 'Start',
  changeEnd: 'Change when it ends',
  stop: 'All back together',
  writeShort: 'Write',
  writeTo: (part: string) => `Write to ${part}`,
  remove: 'Delete this split',
  saved: 'Saved.',
  started: 'Started.',
  ended: 'Everybody has what they had.',
  deleted: 'Deleted.',
  addPart: 'Add a part',
  partName: (number: number) => `Part ${number}`,
  removePart: 'Delete this part',
  isOn: (part: string) => `${part} is on`,
  change: 'Change',
  nothing: 'Nothing is different for them.',
  as: 'As always',
  asHint: 'Nothing is different for them. People who joined since are here too.',
  dropHere: 'Drop somebody here',
  moveTo: (name: string) => `Put ${name} into`,
  working: 'working now',
  idle: 'not working now',
  kept: 'Only leaders see what a part is called. When the split ends, everybody has what they had; the parts are kept for next time.',
  allowance: (mode: AllowanceMode, courses: readonly string[]) =>
    courses.length === 0
      ? mode === 'only'
        ? 'Nothing at all'
        : 'Nothing is different for them.'
      : mode === 'only'
        ? `Only ${list(courses)}`
        : mode === 'as well'
          ? `${list(courses)} as well`
          : `Without ${list(courses)}`,
  unitsOf: (course: string, units: number, all: number) => (units === all ? course : `${course} (${units} of ${all} units)`),
  opens: (link: string) => `opens ${link}`,
  editPart: (part: string) => `What ${part} can do`,
  mode: 'While it runs they get',
  modes,
  usual: 'What they always have',
  courses: 'Courses',
  link: 'Link on their page',
  words: 'Message on their page',
  linkWrong: 'Start with https:// or http://.',
  done: 'Done',
  inPart: (part: string, until: string) => `In the part ${part} until ${until}, so other courses are open for now. Split:`,
  by: (name: string) => `Set by ${name}.`,
  notYours: 'Set by a leader above you. You can end it, not change it.',
  /** For those who are in a part. */
  untilThen: (time: string) => `Until ${time}, your leader has set what you work on.`,
  openLink: 'Open the link',
  setAside: (time: string) => `Set aside until ${time}.`,
  opened: (time: string) => `Open until ${time}.`,
};
