import type { AccessCell, GrantDraft, Statement, WhyStep } from '@gate-roster/contract';
import type { Lack } from '@gate-roster/core';
import { showDay, showNumber } from '../ui/format.ts';
import { some, list } from './grammar.ts';

const states: Record<AccessCell['state'], string> = {
  here: 'opened here',
  above: 'from above',
  part: 'some units',
  later: 'opens later',
  blocked: 'blocked',
  closed: 'not open',
};

const drafts = { open: 'opened here in this draft', block: 'blocked here in this draft', end: 'ended here in this draft' };

const cellWords = (cell: AccessCell, allUnits: number): string => {
  if (cell.state === 'part') return `${cell.units} of ${allUnits} units`;
  if (cell.state === 'later' && cell.opensOn) return `opens ${showDay(cell.opensOn)}`;
  return states[cell.state];
};

const verdicts: Record<WhyStep['verdict'], string> = {
  decided: 'this decides',
  overruled: 'overruled',
  'not in force': 'not in force today',
};

export const access = {
  title: 'Course access',
  viewsLabel: 'Views of access',
  views: { grid: 'Grid', courses: 'Courses', rules: 'Automatic rules', coming: 'Coming up' },
  legend: 'What the marks mean',
  states,
  noSet: 'Other',
  findCourse: 'Find a course',
  onlyDecided: 'Only where something was decided here',
  noColumns: 'No course fits.',
  why: 'Why?',
  whyOf: (course: string) => `Why ${course} is open or not`,
  applied: 'Applied.',
  paidBy: 'Licence',
  costsNothing: 'none needed',
  licence: (name: string, firstDay: string | null) => (firstDay ? `${name}, from ${showDay(firstDay)}` : name),
  keys: 'Arrows move; Shift or dragging chooses a range; Space opens, X blocks, Enter shows what applies, Backspace ends it; Ctrl+C and Ctrl+V copy a statement.',
  range: (cells: number) => `${cells} cells chosen`,
  openRange: 'Open courses',
  blockRange: 'Block courses',
  copyFirst: 'Copy the first cell to all',
  narrowBy: { label: 'Show', course: 'One course', group: 'One group' },
  leastDays: 'At least so many days to do it (optional)',
  leastDaysHint: 'Counted from when somebody can start: who comes late gets them too.',
  firmDue: 'Firm: a later due day through another group does not count',
  note: 'Note (optional)',
  stopOtherWays: 'Block firmly, so that nobody gets in another way',
  undraftRange: 'Remove from draft',
  leave: (count: number) =>
    `Your draft of ${some(count, 'statement', 'statements')} is not applied. Leave this page? The draft stays until you close this tab.`,
  atCell: (course: string, group: string) => `${course} for ${group}`,
  cellState: (cell: AccessCell, allUnits: number) => cellWords(cell, allUnits),
  decidedAt: (group: string) => `, decided at ${group}`,
  effects: { open: 'Opened here', block: 'Blocked here' },
  bySet: (set: string) => `through the course set ${set}`,
  /** All that a statement says beside its effect, a line each. */
  facts(said: Statement, names: { units: string[] | null; licences: string[]; hasBelow: boolean }): string[] {
    const { firstDay, lastDay, due, payers } = said;
    const days =
      firstDay && lastDay
        ? `From ${showDay(firstDay)} to ${showDay(lastDay)}`
        : firstDay
          ? `From ${showDay(firstDay)}`
          : lastDay
            ? `Until ${showDay(lastDay)}`
            : [];
    const dueWords =
      due === null
        ? []
        : 'day' in due.at
          ? `Due on ${showDay(due.at.day)}`
          : `Due ${some(due.at.days, 'day', 'days')} after they can start`;
    return [
      days,
      names.units === null ? [] : `Only ${list(names.units)}`,
      dueWords,
      due?.leastDays ? `At least ${some(due.leastDays, 'day', 'days')} from when they can start` : [],
      due?.firm ? 'The due day is firm' : [],
      said.firm ? 'Firm: holds whatever other groups say' : [],
      names.hasBelow ? (said.withSubgroups ? 'With subgroups' : 'This group only') : [],
      payers === null
        ? []
        : names.licences.length > 0
          ? `Paid by ${list(names.licences)}${payers.others ? ', or another licence' : ''}`
          : 'Paid by any licence that covers it',
    ].flat();
  },
  madeBy: (by: string | null, on: string) => `${by ?? 'Somebody above you'}, ${on}`,
  changeIt: 'Change',
  endIt: 'End',
  openHere: 'Open course here',
  blockHere: 'Block course here',
  fromAboveYou: 'Set by a leader above you. You cannot remove it.',
  fold: (group: string) => `Subgroups of ${group}`,
  foldSet: (set: string) => `Courses of ${set}`,
  chooseSet: 'Choose all its courses for the chosen groups',
  chooseSetOf: (set: string) => `Choose all courses of ${set} for the chosen groups`,
  foldedSet: (set: string) => `Courses of ${set}, folded`,
  draft: (count: number) => `Draft, ${some(count, 'statement', 'statements')}`,
  says: { open: 'Open', block: 'Block', end: 'End what is set here for' },
  forGroup: 'for',
  withSubgroups: ' with its subgroups',
  alone: ' alone',
  refine: 'Dates, units, due day and licence',
  refineOf: (course: string, group: string) => `Dates, units, due day and licence of ${course} for ${group}`,
  refineAll: (count: number) => `Dates, due day and licence for all ${count} at once`,
  draftFacts: (said: Partial<GrantDraft>, allUnits: number, licence: string | undefined) =>
    [
      said.firstDay ? `from ${showDay(said.firstDay)}` : [],
      said.lastDay ? `until ${showDay(said.lastDay)}` : [],
      said.units ? `${said.units.length} of ${some(allUnits, 'unit', 'units')}` : [],
      said.due ? ('day' in said.due.at ? `due ${showDay(said.due.at.day)}` : `due after ${some(said.due.at.days, 'day', 'days')}`) : [],
      said.due?.leastDays ? `at least ${some(said.due.leastDays, 'day', 'days')}` : [],
      said.firm ? 'firm' : [],
      said.note ? `“${said.note}”` : [],
      licence ? `paid by ${licence}` : [],
    ]
      .flat()
      .map((part) => `, ${part}`)
      .join(''),
  dropIt: 'Remove from draft',
  firstDay: 'First day',
  lastDay: 'Last day',
  alsoBelow: 'Also for its subgroups',
  firm: 'Firm: holds whatever other groups say',
  dueDays: 'Days allowed',
  dueDaysHint: 'Counted from when they can start',
  dueDay: 'Due on',
  someUnits: (count: number | null) => (count === null ? 'All units' : some(count, 'unit', 'units')),
  joinLater: 'People who join later get the same.',
  cell: (group: string, course: string, draft: keyof typeof drafts | null, cell: AccessCell, allUnits: number) =>
    `${course} for ${group}: ${draft ? drafts[draft] : cellWords(cell, allUnits)}`,
  status: (group: string, course: string, draft: keyof typeof drafts | null, cell: AccessCell, allUnits: number) =>
    `${group}, ${course}: ${draft ? `${drafts[draft]}; before, ` : ''}${cellWords(cell, allUnits)}${cell.decidedAt && cell.decidedAt.name !== group ? `, set at ${cell.decidedAt.name}` : ''}.`,
  lacks: {
    said(lack: Lack): string {
      switch (lack.what) {
        case 'account':
          return 'What is missing: an account that works today.';
        case 'archived':
          return 'The course is archived, so nobody can work on it.';
        case 'day':
          return `What is missing: its first day, ${showDay(lack.day)}.`;
        case 'decision':
          return 'What is missing: a decision. They have asked for it.';
        case 'seat':
          return lack.place === null
            ? 'What is missing: a seat, and they are in no line for one.'
            : `What is missing: a seat. They are number ${showNumber(lack.place)} in line.`;
        case 'blocked':
          return 'What prevents it: the block above.';
        case 'opening':
          return 'What is missing: nobody has opened it.';
      }
    },
    account: 'Change the account',
    open: 'Open it for this person',
    seat: 'See the seats',
    decision: 'Decide',
  },
  step(step: WhyStep): string {
    if (step.outside) return 'Something outside your groups.';
    const where = step.path ? ` (for ${step.path.name})` : '';
    if (step.kind === 'inactive') return 'The account is not active today.';
    if (step.kind === 'archived') return 'The course is archived.';
    if (step.kind === 'terms')
      return `The course itself is ${{ everyone: 'open to everyone', group: 'closed unless a group opens it', request: 'open on request' }[step.terms ?? 'group']}${where}; ${verdicts[step.verdict]}.`;
    const days = [step.firstDay ? ` from ${showDay(step.firstDay)}` : '', step.lastDay ? ` until ${showDay(step.lastDay)}` : ''].join('');
    const says = step.effect === 'block' ? (step.kind === 'firm' ? 'Blocked firmly' : 'Blocked') : 'Opened';
    return `${says}${step.some ? ' in part' : ''} ${step.at ? `at ${step.at.name}` : 'for this person'}${days}${where}; ${verdicts[step.verdict]}.`;
  },
};
