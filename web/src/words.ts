import type { AccessCell, LogEntry, MyCourse, PersonSheet, Problem, WhyStep } from '@gate-roster/contract';
import type {
  CheckedRow,
  Conflict,
  DateOrder,
  Delimiter,
  Encoding,
  GroupColour,
  Lateness,
  Power,
  Preset,
  RosterField,
  RowOutcome,
  RowReason,
  Status,
  TableProblem,
  Tally,
} from '@gate-roster/core';
import { showDay } from './ui/format.ts';

/*
 * Everything that the interface says. Short, second person, no exclamation marks; the same thing has the same name everywhere.
 */

const many = (count: number, one: string, more: string): string => (count === 1 ? one : more);
const some = (count: number, one: string, more: string): string => `${count} ${many(count, one, more)}`;
const list = (parts: readonly string[]): string =>
  parts.length <= 1 ? (parts[0] ?? '') : `${parts.slice(0, -1).join(', ')} and ${parts.at(-1) ?? ''}`;

const common = {
  cancel: 'Cancel',
  close: 'Close',
  save: 'Save',
  tryAgain: 'Try again',
  more: 'Show more',
  export: 'Export',
  exportCsv: 'Export as CSV',
};

const areas = { groups: 'Groups', 'ways-in': 'Ways in', access: 'Access', progress: 'Progress', log: 'Log', myCourses: 'My courses' };

const failures: Record<Problem['code'] | 'offline', string> & {
  notHere: string;
  notHereTitle: string;
  awayTitle: string;
  away: string;
  awayBanner: string;
  tooManyTries: (seconds: number) => string;
} = {
  'bad-request': 'The server did not understand this. Check what you typed.',
  'not-signed-in': 'You are not signed in any more. Sign in again; this page stays as it is.',
  'wrong-sign-in': 'Sign-in name and password do not fit together.',
  'bad-signature': 'This system is not known here.',
  'wrong-origin': 'This came from another site and was refused.',
  'looking-only': 'You are only looking as somebody else. Nothing can be changed or taken away.',
  'link-over': 'This link was used already, was taken back, or is too old. Ask for another one.',
  'no-address': 'There is no address on file to write to.',
  'wrong-file': 'This cannot be kept. A file has at most 2 MB; a picture is PNG, JPEG or WebP.',
  'not-found': 'This is not here, or not yours to see.',
  'effects-differ': 'Somebody changed something meanwhile. Nothing was applied; this is what it would do now.',
  blocked: 'Something stands in the way. Nothing was applied.',
  'already-begun': 'This site has its administrator. Sign in.',
  'request-id-reused': 'Something else was done under this request. Try again.',
  'too-large': 'This is too large to send at once.',
  'wrong-password': 'The current password is wrong.',
  'not-open': 'This course is not open to you now.',
  'too-many-tries': 'Too many tries. Wait a little.',
  failed: 'Something failed on the server. Nothing was half done. Try again.',
  'database-away': 'The server cannot reach its database. Try again in a moment.',
  offline: 'The server cannot be reached. Try again in a moment.',
  awayTitle: 'One moment',
  away: 'The server or its database is away. Nothing is lost. This page comes back by itself.',
  notHereTitle: 'Not here',
  notHere: 'There is nothing at this address, or it is not yours to see.',
  awayBanner: 'The server or its database is away. What you see may be old; this page comes back by itself.',
  tooManyTries: (seconds) => `Too many tries. Wait ${some(seconds, 'second', 'seconds')}, then try again.`,
};

const shell = {
  skip: 'To the content',
  areas: 'Areas',
  scope: 'Where you are',
  withSubgroups: 'with subgroups',
  toStart: 'To the start',
  belowOf: (group: string) => `Below ${group}`,
  below: (count: number) => `${some(count, 'group', 'groups')} below`,
};

const find = {
  title: 'Find anything',
  hint: 'A group, a person, an address, an ID number',
  how: 'Type any part of a name.',
  keys: 'Arrows choose, Enter opens.',
  nothing: (typed: string) => `Nothing is called “${typed}”.`,
};

const keys = {
  title: 'Keys',
  single: 'Single-letter keys',
  list: [
    ['/', 'Find anything'],
    ['g g', 'Go to Groups'],
    ['g w', 'Go to Ways in'],
    ['g a', 'Go to Access'],
    ['g p', 'Go to Progress'],
    ['g l', 'Go to the log'],
    ['?', 'These keys'],
    ['m', 'In the tree, carry the chosen groups elsewhere'],
    ['Arrows', 'Move in the tree, the lists and the access grid'],
    ['Shift + arrows', 'Choose a range'],
    ['Space', 'Choose; in the access grid, open'],
    ['X', 'In the access grid, block'],
    ['Backspace', 'In the access grid, leave it to the groups above'],
  ] as [string, string][],
};

const settings = { title: 'Settings', theme: 'Light or dark', themes: { system: 'As the system', light: 'Light', dark: 'Dark' } };

const accounts = {
  signIn: 'Sign in',
  signOut: 'Sign out',
  password: 'Password',
  nameOrEmail: 'Sign-in name or email',
  signInTo: (name: string) => `Sign in to ${name}`,
  changePassword: 'Change password',
  currentPassword: 'Current password',
  newPassword: 'New password',
  passwordHint: 'At least 10 characters',
  passwordChanged: 'Your password is changed.',
  othersEnd: 'Your other sessions end when it is changed.',
  begin: {
    title: 'Begin',
    intro: 'This site is empty. Make its first administrator.',
    act: 'Begin',
    organisation: 'Organisation',
    organisationHint: 'The name on top of your groups',
    wrong: {
      organisation: 'A name is needed',
      givenName: 'A given name is needed',
      familyName: 'Too long',
      signInName: 'A sign-in name is needed',
      password: 'At least 10 characters',
    },
  },
};

const enter = {
  title: (name: string) => `Hello ${name}`,
  signInOnce: (organisation: string) =>
    `This link signs you in to ${organisation} once. It is used up by the button, not by opening this page.`,
  choosePassword: 'Choose a password for the next time',
  later: 'Leave it empty to choose one later under Settings.',
  act: 'Sign in',
  over: 'This link is over',
  invitedTo: (group: string) => `Come into ${group}?`,
  asks: (organisation: string, leads: boolean) =>
    leads ? `${organisation} asks you to help lead this group.` : `${organisation} asks you into this group.`,
  known: 'You have an account already: say yes, then sign in as you always do.',
  yes: 'Say yes',
  isIn: 'You are in.',
  seenAs: (name: string) => `You see this as ${name} sees it. Nothing can be changed.`,
  backToMyself: 'Be yourself again',
  branches: 'Where do you want to go?',
};

const presets: Record<Preset | 'mix', string> = { head: 'Head', helper: 'Helper', auditor: 'Auditor', mix: 'Own mix' };
const presetHints: Record<Preset | 'mix', string> = {
  head: 'may do everything in the branch',
  helper: 'sees progress, helps people sign in, decides who comes in',
  auditor: 'sees everything of the branch and its log, changes nothing',
  mix: 'what you choose below',
};
const powerWords: Record<Power, string> = {
  seeProgress: 'see progress',
  helpSignIn: 'help people sign in',
  decideEntry: 'decide who comes in',
  managePeople: 'manage people',
  shapeGroups: 'make and shape subgroups',
  appointLeaders: 'appoint leaders',
  openCourses: 'open courses',
  handOutSeats: 'hand out seats',
  orderSeats: 'order seats',
  markWork: 'mark work',
  writeMessages: 'write messages',
  export: 'export',
  shareOutside: 'share outside',
};

const leaders = {
  title: 'Who leads',
  of: (group: string) => `Who leads ${group}`,
  branch: 'Whoever leads a group leads all below it.',
  presets,
  presetHints,
  powers: powerWords,
  held: (preset: Preset | null, powers: readonly Power[]) => (preset ? presets[preset] : list(powers.map((power) => powerWords[power]))),
  until: (day: string) => `until ${day}`,
  from: (day: string) => `from ${day}`,
  add: 'Put somebody in charge',
  who: 'A name, or a name and an address',
  whoHint: 'Whoever has no account gets a letter.',
  asWhat: 'As',
  change: 'Change',
  takeAway: 'Take it from them',
  apply: 'Put in charge',
  applied: 'Done.',
  firstDay: 'First day',
  lastDay: 'Last day',
  byLetter: (email: string) => `Write to ${email}`,
  invited: 'Invited, and not here yet',
  invitedAs: (leads: boolean, day: string) => `${leads ? 'to lead, ' : ''}until ${day}`,
  takeBack: 'Take back',
  tookBack: 'The invitation is taken back.',
  handOver: 'Hand over…',
  handOverOf: (name: string) => `Hand over from ${name}`,
  hangs: (name: string) => `This hangs on ${name}. Give it to one, or line by line.`,
  hangsNothing: (name: string) => `Nothing hangs on ${name}.`,
  toOne: 'Give all of it to',
  to: 'To',
  nobody: 'Nobody: it ends',
  leads: (group: string, others: number) => `Leads ${group}${others === 0 ? ', as the only one' : ''}`,
  contact: (group: string) => `Contact person of ${group}`,
  cover: 'Only a cover, for some days',
  coverHint: 'Nothing is taken from anybody; the cover ends by itself.',
  handedOver: 'Handed over.',
  act: 'Hand over',
};

const colours: Record<GroupColour, string> = { tide: 'Tide', kelp: 'Kelp', brass: 'Brass', slate: 'Slate', flare: 'Flare', plum: 'Plum' };
const groups = {
  tree: 'Groups',
  group: 'Group',
  narrow: 'Narrow the tree',
  ledBy: 'Led by',
  noLeader: 'No leader',
  name: 'Name',
  figures: 'This group in figures',
  noMatch: 'No group fits.',
  acts: 'This group',
  make: 'Make groups',
  makeIn: (name: string) => `Make groups in ${name}`,
  outline: 'A line for each group',
  outlineExample: 'Gullhaven\n  Inshore crew led by Ada Lind ada@isles.example\n  Cadets',
  outlineHint: 'Indent what goes inside. “led by” and an address puts somebody in charge.',
  leadersAs: 'Who is named leads as',
  makeCount: (count: number) => `Make ${some(count, 'group', 'groups')}`,
  made: 'The groups are made.',
  withLeader: (count: number) => some(count, 'leader', 'leaders'),
  edit: 'Name and details',
  editOf: (name: string) => `${name}: name and details`,
  saved: 'Saved.',
  move: 'Move…',
  moveTo: 'Move into',
  moved: 'Moved.',
  moveTitle: (names: string) => `Move ${names}`,
  carry: (names: string) => `Carrying ${names}. Arrows choose where, Enter puts it there, Escape leaves it.`,
  copy: 'Copy its shape…',
  copyTitle: (name: string) => `Copy the shape of ${name}`,
  copyHint: 'The groups, their tags and colours; nobody who is in them.',
  copyName: 'Name of the copy',
  copyInto: 'Put it in',
  copied: 'The shape is copied.',
  archive: 'Archive…',
  archiveTitle: (names: string) => `Archive ${names}`,
  archiveWhat: 'It gives nothing and counts nobody, with all below it, until it is taken out again.',
  unarchive: 'Take out of the archive…',
  unarchiveTitle: (names: string) => `Take ${names} out of the archive`,
  archived: 'Done.',
  archivedMark: 'archived',
  remove: 'Delete…',
  removeTitle: (names: string) => `Delete ${names}`,
  removeStays: 'Only the group goes. People stay on the platform, and in their other groups.',
  removeSubgroups: 'Its subgroups',
  removeUp: 'Move up',
  removeToo: 'Go too',
  removed: 'Deleted. It can be undone whole.',
  delete: 'Delete',
  startHere: 'Start the tree here',
  wholeTree: 'Whole tree',
  chosen: (count: number) => `${some(count, 'group', 'groups')} chosen`,
  chooseNone: 'Choose none',
  filter: 'Filter the tree',
  filterTag: 'With the tag',
  filterLeader: 'Led by',
  filters: { overdue: 'Has overdue', noLeader: 'No leader', empty: 'Empty', archived: 'Archived' },
  noFilter: 'Take all filters off',
  names: (names: readonly string[]) => (names.length > 3 ? some(names.length, 'group', 'groups') : list(names)),
  ask: (name: string) => `Ask ${name}`,
  colours,
  fields: {
    idNumber: 'ID number',
    description: 'Description',
    tags: 'Tags',
    contact: 'Contact person',
    firstDay: 'First day',
    lastDay: 'Last day',
    colour: 'Colour',
    picture: 'Picture',
    prefix: 'Prefix for sign-in names',
    handouts: 'Handouts',
    youngLearners: 'Young learners',
  },
  hints: {
    idNumber: 'How another system calls it',
    description: 'For whoever leads here',
    tags: 'To find groups of a kind',
    contact: 'Its people read “Ask …”',
    days: 'Outside them the group gives nothing',
    picture: 'PNG, JPEG or WebP; its people see it',
    prefix: 'Letters and numbers, before new sign-in names',
    handouts: 'Links and small files for its people',
    youngLearners: 'Names hidden from other learners, no email asked',
  },
  noColour: 'None',
  choosePicture: 'Choose a picture',
  dropPicture: 'Take it off',
  handoutTitle: 'Title',
  handoutLink: 'Link, https://…',
  addLink: 'Add the link',
  addFile: 'Add a file',
  dropHandout: (title: string) => `Take ${title} off`,
};

const begin = {
  title: 'Begin here',
  lead: 'Three doors. Take them in any order.',
  groups: 'Paste your groups',
  groupsWhat: 'A line for each, indented: one paste builds the tree.',
  file: 'Drop a file',
  fileWhat: 'A list of people from a spreadsheet, with any columns.',
  courses: 'Add courses',
  coursesWhat: 'A line for each course, its units and activities indented below.',
  missing: 'Still missing before a learner can work',
  nothingMissing: 'Nothing is missing: learners can work.',
  missingWhat: {
    groups: 'Groups',
    people: 'People in a group',
    courses: 'A course',
    access: 'A course opened to a group',
    signIns: 'A learner who can sign in',
  },
};

const reasons = {
  'begins later': 'Begins later',
  'has ended': 'Has ended',
  paused: 'Paused',
  asking: 'Asking to join',
  'group not active': 'Group not active',
};
const cameBy: Record<string, string> = {
  file: 'by a file',
  hand: 'by hand',
  'join code': 'by a join code',
  invitation: 'by invitation',
  rule: 'by a rule',
  feed: 'by a feed',
  undo: 'by undo',
};

const people = {
  title: 'People',
  person: 'Person',
  name: 'Name',
  givenName: 'Given name',
  familyName: 'Family name',
  email: 'Email',
  noEmail: 'none',
  idNumber: 'ID number',
  signInName: 'Sign-in name',
  groups: 'Groups',
  subgroup: 'Subgroup',
  tags: 'Tags',
  cameInBy: 'Came in by',
  whyNot: 'Not counted because',
  lastActive: 'Last active',
  neverActive: 'never',
  state: 'State',
  search: 'Search these people',
  inNoGroup: 'In no group',
  cameBy,
  states: { asking: 'asking to join', active: 'active', paused: 'paused', ended: 'ended' },
  reasons,
  learners: (count: number) => many(count, 'learner', 'learners'),
  leadersAndSeveral: (leaders: number, several: number) => `${some(leaders, 'leader', 'leaders')}, ${several} in several groups`,
  came: (by: string, day: string) =>
    ({
      file: `File, ${day.replace(/ \d{4}$/u, '')}`,
      hand: 'By hand',
      'join code': 'Join code',
      invitation: 'Invitation',
      rule: 'Rule',
      feed: 'Feed',
      undo: 'Undo',
    })[by] ?? by,
  sinceBy: (day: string, by: string, lastDay: string | null) => `since ${day}, ${by}${lastDay ? `, until ${showDay(lastDay)}` : ''}`,
  shown: (matching: number, total: number) => (matching === total ? some(total, 'person', 'people') : `${matching} of ${total} shown`),
  choose: (name: string) => `Choose ${name}`,
  chooseAll: (count: number) => `Choose all ${count}`,
  chosen: (count: number) => `${some(count, 'person', 'people')} chosen`,
  chosenLabel: 'What can be done to the chosen people',
  chooseNone: 'Choose none',
  putInGroup: 'Put in a group',
  moveTo: 'Move to…',
  moveTitle: (count: number, group: string) => `Move ${some(count, 'person', 'people')} out of ${group}`,
  moveWhat: 'They leave this very group and enter the other: one act.',
  tag: 'Tag',
  tagTitle: (count: number) => `Tag ${some(count, 'person', 'people')}`,
  addTags: 'Tags to give',
  addTagsHint: 'Type a name and press Enter; new tags are made.',
  removeTags: 'Tags to take off',
  tagged: 'Tagged.',
  manageTags: 'All tags',
  tagPeople: (count: number) => some(count, 'person', 'people'),
  tagColour: 'Colour',
  tagSaved: 'The tag is changed.',
  mergeInto: 'Merge into',
  merged: 'Merged.',
  merge: 'Merge',
  filterTags: 'Tags',
  anyTag: 'Has any of',
  allTags: 'Has all of',
  noTag: 'Has none of',
  tagsOn: (count: number) => (count === 0 ? 'Tags' : `Tags: ${count}`),
  lists: 'My lists',
  listsHint: 'Nobody else sees them.',
  keepAsList: 'Keep as my list',
  listName: 'Name of the list',
  keep: 'Keep',
  kept: (name: string) => `Kept in “${name}”.`,
  takeOffList: 'Take off this list',
  dropList: 'Drop this list',
  listDropped: 'The list is gone; the people stay.',
  nowhere: 'In no group',
  nowhereWhat: 'They are in no group, so they get nothing.',
  stateAct: 'Pause or end…',
  stateTitle: (count: number) => `The account of ${some(count, 'person', 'people')}`,
  stateChoices: { active: 'Works', paused: 'Paused', ended: 'Ended' },
  stateWhat: {
    active: 'They can sign in and work, between these days.',
    paused: 'They cannot sign in until it is taken back.',
    ended: 'The account ends. What they did is kept.',
  },
  stateSaved: 'Done.',
  worksFrom: 'Works from',
  worksUntil: 'Works until',
  acts: 'What can be done',
  edit: 'Names and numbers',
  nameHidden: 'Name hidden from other learners',
  saved: 'Saved.',
  sendLetter: 'Send a sign-in letter',
  letterSent: 'The letter is on its way to the address on file.',
  oneTime: 'One-time sign-in',
  oneTimeWhat: (until: string) => `This address signs them in once, until ${until}. It is shown only here.`,
  copyLink: 'Copy',
  copied: 'Copied.',
  endSessions: 'End all sessions',
  sessionsEnded: 'They are signed out everywhere.',
  mergeWith: 'Merge with another account…',
  mergeTitle: (name: string) => `Merge into ${name}`,
  mergeWhat: 'Groups, tags, powers and progress of the other account join this one; the other ends.',
  otherAccount: 'The other account',
  mergedPeople: 'The accounts are one.',
  exportPerson: 'All that is kept, as JSON',
  erase: 'Erase…',
  eraseTitle: (name: string) => `Erase ${name}`,
  eraseWhat: 'Name, address, numbers, letters and sign-ins go for good. Counts stay. This cannot be undone.',
  erased: 'Erased.',
  erasedName: 'Somebody erased',
  seeAs: 'Check what they see',
  leads: 'Leads',
  happened: 'What happened',
  nothingHappened: 'Nothing yet.',
  noPassword: 'has no password yet',
  betweenDays: (first: string | null, last: string | null) => [first ? `from ${first}` : [], last ? `until ${last}` : []].flat().join(' '),
  notYours: 'The account is not only in your groups. An administrator can change it.',
  invite: (count: number) => `${some(count, 'address gets', 'addresses get')} an invitation.`,
  intoGroup: 'Into which group',
  put: 'Put in',
  remove: 'Remove',
  removeFrom: (group: string) => `Remove from ${group}…`,
  moved: 'Done. The people are where you put them.',
  putTitle: (count: number) => `Put ${some(count, 'person', 'people')} in a group`,
  removeTitle: (count: number, group: string) => `Remove ${some(count, 'person', 'people')} from ${group}`,
  removeStays: 'They leave this very group. They stay on the platform, and in their other groups.',
  add: 'Add people',
  added: (group: string) => `Added to ${group}.`,
  known: 'Known people',
  newPeople: 'Type or paste',
  findKnown: 'Find somebody by name',
  leaveOut: (name: string) => `Leave out ${name}`,
  typeNames: 'Names and addresses, a line each',
  typeHint: 'Hana Petrossian hana@brannoch.example. The address may be left out.',
  checkAddresses: 'An address does not look whole yet.',
  alreadyIn: (count: number) => `${some(count, 'person is', 'people are')} in already.`,
  noneMatch: 'Nobody fits. Clear the search or the filter.',
  none: 'Nobody is in here yet. Add people, or bring in a file.',
  noneNowhere: 'Everybody is in a group.',
  footer: (count: string, group: string) => `${count} in ${group}.`,
  notCounted: (parts: { reason: keyof typeof reasons; people: number }[]) =>
    `Not counted: ${parts.map(({ reason, people: count }) => `${count} ${reasons[reason].toLowerCase()}`).join(', ')}. Who?`,
  notCountedChip: 'Not counted',
  backToCounted: 'Back to those who count',
};

const courses = {
  title: 'Courses',
  course: 'Course',
  open: 'open',
  none: 'no course open',
  fromAbove: (above: number, blocked: number) => `${above} from above${blocked > 0 ? `, ${blocked} blocked` : ''}`,
  standing: ({ open, units, allUnits, opensLater }: PersonSheet['courses'][number]) =>
    open ? (units < allUnits ? `${units} of ${allUnits} units` : '') : opensLater ? `opens ${showDay(opensLater)}` : 'not open',
};

const makeCourses = {
  title: 'Add courses',
  outline: 'A line for each course',
  example: 'Rope work\n  Knots\n    Read the notes\n    Tie five knots',
  hint: 'Units indented below it, activities below the unit. A unit without activities gets one.',
  make: (count: number) => `Add ${some(count, 'course', 'courses')}`,
  made: 'The courses are here. Open them to groups under Access.',
  counts: (courses: number, units: number, activities: number) =>
    `${some(courses, 'course', 'courses')}, ${some(units, 'unit', 'units')}, ${some(activities, 'activity', 'activities')}`,
};

const states: Record<AccessCell['state'], string> = {
  here: 'opened here',
  above: 'from above',
  part: 'some units',
  later: 'opens later',
  blocked: 'blocked',
  closed: 'not open',
};
const drafts = { open: 'opened here in this draft', block: 'blocked here in this draft', end: 'left to the groups above in this draft' };
const cellWords = (cell: AccessCell, allUnits: number): string => {
  if (cell.state === 'part') return `${cell.units} of ${allUnits} units`;
  if (cell.state === 'later' && cell.opensOn) return `opens ${showDay(cell.opensOn)}`;
  return states[cell.state];
};
const verdicts: Record<WhyStep['verdict'], string> = {
  decided: 'this decides',
  overruled: 'overruled below',
  'not in force': 'does not speak today',
};

const access = {
  title: 'Who gets into what',
  legend: 'What the marks mean',
  states,
  noSet: 'Other',
  why: 'Why?',
  whyOf: (course: string) => `Why is ${course} open or not`,
  applied: 'Applied.',
  keys: 'Arrows move, Space opens, X blocks, Backspace leaves it to the groups above.',
  fold: (group: string) => `Subgroups of ${group}`,
  foldedSet: (set: string) => `Courses of ${set}, folded`,
  draft: (count: number) => `Draft, ${some(count, 'statement', 'statements')}`,
  says: { open: 'Open', block: 'Block', end: 'Take back what was said of' },
  forGroup: 'for',
  withSubgroups: ' with its subgroups',
  alone: ' alone',
  refine: 'Days, units, due',
  dropIt: 'Leave it',
  firstDay: 'First day',
  lastDay: 'Last day',
  alsoBelow: 'Also for its subgroups',
  firm: 'Firm: holds whatever other groups say',
  dueDays: 'Due so many days after one can begin',
  dueDay: 'Due on',
  units: 'Units',
  someUnits: (count: number | null) => (count === null ? 'All units' : some(count, 'unit', 'units')),
  joinLater: 'Whoever joins later gets in too.',
  cell: (group: string, course: string, draft: keyof typeof drafts | null, cell: AccessCell, allUnits: number) =>
    `${course} for ${group}: ${draft ? drafts[draft] : cellWords(cell, allUnits)}`,
  status: (group: string, course: string, draft: keyof typeof drafts | null, cell: AccessCell, allUnits: number) =>
    `${group}, ${course}: ${draft ? `${drafts[draft]}; before, ` : ''}${cellWords(cell, allUnits)}${cell.decidedAt && cell.decidedAt.name !== group ? `, said at ${cell.decidedAt.name}` : ''}.`,
  step(step: WhyStep): string {
    if (step.outside) return 'Something outside your groups.';
    const where = step.path ? ` (for ${step.path.name})` : '';
    if (step.kind === 'inactive') return 'The account does not work today.';
    if (step.kind === 'archived') return 'The course is archived.';
    if (step.kind === 'terms')
      return `The course itself: ${{ everyone: 'open to everyone', group: 'by group only', request: 'on request' }[step.terms ?? 'group']}${where}; ${verdicts[step.verdict]}.`;
    const days = [step.firstDay ? ` from ${showDay(step.firstDay)}` : '', step.lastDay ? ` until ${showDay(step.lastDay)}` : ''].join('');
    const says = step.effect === 'block' ? (step.kind === 'firm' ? 'Blocked firmly' : 'Blocked') : 'Opened';
    return `${says}${step.some ? ' in part' : ''} ${step.at ? `at ${step.at.name}` : 'for this person'}${days}${where}; ${verdicts[step.verdict]}.`;
  },
};

const statusWords: Record<Status, string> = { 'not begun': 'Not begun', 'under way': 'Under way', done: 'Done' };
const latenessWords: Record<Lateness, string> = { 'on time': '', 'due soon': ', due soon', overdue: ', overdue', 'done late': ' late' };

const progress = {
  title: 'How far they are',
  done: 'done',
  underWayWord: 'under way',
  overdueWord: 'overdue',
  notBegun: 'not begun',
  learners: 'Learners',
  status: 'Status',
  doneOn: 'Done on',
  scoreTitle: 'Score',
  dueTitle: 'Due',
  exemptWord: 'Exempt',
  table: 'Groups by course',
  overdue: (count: number) => `${count} overdue`,
  underWay: (count: number) => `${count} under way`,
  ofAll: (done: number, all: number) => `${done} of ${all}`,
  details: (score: number | null, due: string | null) =>
    [score === null ? [] : `score ${Math.round(score)}`, due ? `due ${showDay(due)}` : []]
      .flat()
      .map((part) => `· ${part}`)
      .join(' '),
  statusOf: (status: Status, lateness: Lateness) => statusWords[status] + latenessWords[lateness],
  bar: (all: number, done: number, underWay: number, overdue: number) =>
    `${done} of ${all} done, ${underWay} under way${overdue > 0 ? `, ${overdue} overdue` : ''}`,
  counted: (learners: string, notCounted: number) =>
    `${learners} learners${notCounted > 0 ? `. ${notCounted} more are not counted: they begin later, are paused or have ended.` : ''}`,
  enrolments: (count: string) => `${count} enrolments`,
  exempt: (count: number) => `${count} exempt`,
  perWeek: 'Done per week, last 12 weeks',
  meanScore: 'Mean score by group',
  noScores: 'No scores yet.',
  nothingOpen: 'No course is open to these groups yet. Open one under Access.',
  weeksSpoken: (weeks: string) => `Enrolments done per week. ${weeks}`,
  weekTip: (day: string, done: number) => `Week of ${day}: ${done} done`,
  allExempt: 'exempt',
  mean: (score: string) => `mean ${score}`,
  goDown: 'Go down to this group',
  key: 'overdue. A number opens to its people; a group’s name goes down a level.',
  cellTitle: (tally: Tally) =>
    `${tally.done} of ${tally.all - tally.exempt} done, ${tally.underWay} under way, ${tally.overdue} overdue${tally.exempt > 0 ? `, ${tally.exempt} exempt` : ''}`,
  cellLabel: (group: string, course: string, tally: Tally) => `${course} at ${group}: ${progress.cellTitle(tally)}`,
  cellDialog: (course: string, group: string) => `${course} at ${group}`,
};

const learner = {
  hello: (name: string) => `Hello ${name}`,
  none: 'No course is open to you yet. Ask the people who lead your group.',
  closed: 'Not open now',
  group: (path: string[], ask: string[]) => `${path.join(': ')}${ask.length > 0 ? `. Ask ${list(ask)}` : ''}`,
  handouts: 'Handouts',
  pictureOf: (group: string) => `Picture of ${group}`,
  units: (done: number, all: number, setBy: string | null) => `${done} of ${some(all, 'unit', 'units')}${setBy ? `, set by ${setBy}` : ''}`,
  due: (lateness: Lateness, day: string) => (lateness === 'overdue' ? `was due ${day}` : `due ${day}`),
  standing: (status: MyCourse['status'], day: string | null, score: string | null) =>
    `${status === 'done' ? `Done${day ? ` ${day}` : ''}` : statusWords[status]}${score ? `, score ${score}` : ''}`,
  open: { 'not begun': 'Begin', 'under way': 'Continue', done: 'Open' },
  openLabel: (status: MyCourse['status'], course: string) =>
    `${{ 'not begun': 'Begin', 'under way': 'Continue', done: 'Open' }[status]} ${course}`,
  opens: (day: string) => `Opens ${day}`,
};

const fields: Record<RosterField, string> = {
  givenName: 'Given name',
  familyName: 'Family name',
  fullName: 'Full name',
  email: 'Email',
  idNumber: 'ID number',
  group: 'Group',
  tags: 'Tags',
  firstDay: 'First day',
  lastDay: 'Last day',
};
const emailProblems = {
  'no at': 'No @ in the address',
  'two ats': 'Two @ in the address',
  'nothing before the at': 'Nothing before the @',
  'no ending': 'No ending after the @ part, such as “.example”',
  'not an address': 'Not an address',
};
const outcomes: Record<RowOutcome, string> = {
  new: 'New',
  joins: 'Joins a group',
  changes: 'Details change',
  nothing: 'Nothing to do',
  'needs a look': 'Needs a look',
};

const entry = {
  bringIn: 'Bring in a file',
  goHere: 'new people go in here or below',
  chooseFile: 'Choose a file',
  dropHere: 'Drop a file here, with a row for each person.',
  another: 'Another file',
  done: 'The file is in.',
  rows: 'Rows of the file',
  row: 'Row',
  whatOfIt: 'What would happen',
  fromUntil: 'First, last day',
  what: (megabytes: number, rows: string) => `Any columns in any order, as CSV or text. At most ${megabytes} MB and ${rows} rows.`,
  reading: (rows: string, delimiter: string, hasHeader: boolean, encoding: string) =>
    `${rows} rows, ${delimiter.toLowerCase()}, ${encoding}, ${hasHeader ? 'first row holds the names of the columns' : 'no row of names'}.`,
  notRight: 'Not right?',
  delimiter: 'Between the columns',
  delimiters: { ',': 'Commas', ';': 'Semicolons', '\t': 'Tabs', '|': 'Bars' } satisfies Record<Delimiter, string>,
  encoding: 'Letters written as',
  encodings: {
    'utf-8': 'UTF-8',
    'utf-16le': 'UTF-16',
    'utf-16be': 'UTF-16, big end first',
    'windows-1252': 'Windows-1252',
  } satisfies Record<Encoding, string>,
  hasHeader: 'The first row holds the names of the columns',
  columnBecomes: 'Your column becomes',
  columnNumber: (number: number) => `Column ${number}`,
  columnIs: (field: RosterField, order: DateOrder | null) => `${fields[field]}${order ? `, ${entry.dateOrders[order]}` : ''}`,
  leftOut: 'left out',
  leaveColumnOut: 'Leave out',
  noValues: 'empty',
  fields,
  dateOrders: { dayFirst: 'day first', monthFirst: 'month first', yearFirst: 'year first' } satisfies Record<DateOrder, string>,
  askDateOrder: 'The days can be read both ways. Which number comes first?',
  new: 'New people',
  joins: 'Known, joining a group',
  changes: 'Known, details change',
  nothing: 'Nothing to do',
  needsALook: 'Need a look',
  access: 'Get a course',
  bring: (people: number, rows: number) =>
    people > 0 ? `Bring in ${some(people, 'person', 'people')}` : rows > 0 ? `Apply ${some(rows, 'row', 'rows')}` : entry.nothing,
  getProblems: (count: number) => `Get the ${some(count, 'problem row', 'problem rows')}`,
  problemFile: (name: string) => `problem rows of ${name.replace(/\.[^.]+$/u, '')}.csv`,
  whyColumn: 'What is wrong',
  outcomes,
  mend: (field: string, row: number) => `${field} of row ${row}`,
  show: 'Show',
  hide: 'Hide',
  goodRows: (count: string) => `Good rows, ${count}`,
  leftRows: (count: number) => `${some(count, 'row', 'rows')} left out. Take back`,
  causeRows: (cause: string, rows: number) => `${cause}, ${some(rows, 'row', 'rows')}`,
  leaveRowsOut: (rows: number) => many(rows, 'Leave it out', `Leave all ${rows} out`),
  takeProposals: (rows: number) => many(rows, 'Take what is near', 'Take what is near in all'),
  line: (row: number, why: string) => `Line ${row}: ${why}`,
  cause(reason: RowReason): string {
    switch (reason.code) {
      case 'group unknown':
      case 'group ambiguous':
      case 'group missing':
        return 'Group';
      case 'email':
        return 'Address';
      case 'no such day':
      case 'not a date':
      case 'ends before it starts':
        return 'Dates';
      case 'name missing':
        return 'Name';
      default:
        return 'Who is it?';
    }
  },
  reason(reason: RowReason, cells: CheckedRow['cells']): string {
    switch (reason.code) {
      case 'name missing':
        return 'No name';
      case 'email':
        return emailProblems[reason.problem];
      case 'email of another row':
        return `Row ${reason.likeRow} has this address under another name and ID number`;
      case 'ID number of another row':
        return `Row ${reason.likeRow} has this ID number under another name and address`;
      case 'rows contradict':
        return `Row ${reason.likeRow} says otherwise of the same person`;
      case 'group missing':
        return 'No group, and nothing else says where';
      case 'group unknown':
        return `No group “${reason.group}”.${reason.near ? ' Did you mean' : ''}`;
      case 'group ambiguous':
        return `Several groups are called “${reason.group}”. Write more of the path`;
      case 'no such day':
        return `There is no ${cells[reason.field] ?? ''}`;
      case 'not a date':
        return `“${cells[reason.field] ?? ''}” is not a day`;
      case 'ends before it starts':
        return 'Ends before it starts';
      case 'known by another name':
        return 'Somebody known has this number or address under another name';
      case 'two known people':
        return 'The number is one known person’s, the address another’s';
      case 'administrator':
        return 'A file does not change an administrator’s details';
    }
  },
  fileProblems: {
    empty: () => 'is empty. Choose a file with a row for each person.',
    'not text': () => 'is not a text file. Save the list as CSV and choose that.',
    spreadsheet: () => 'is a spreadsheet. Save the sheet as CSV and choose that.',
    'too large': (megabytes: number) => `is over ${megabytes} MB. Split it, or leave columns out.`,
    'too many rows': (_megabytes: number, rows: string) => `has more than ${rows} rows. Split it.`,
    'too many columns': () => 'has more than 100 columns. Leave some out.',
    'no names': () => 'No column holds a name. Say on the left which one does.',
    'date order': () => 'The days can be read both ways. Say on the left which number comes first.',
  } satisfies Record<TableProblem | 'no names' | 'date order', (megabytes: number, rows: string) => string>,
};

const kinds: Record<string, string> = {
  'bring-in-roster': 'People brought in',
  'grant-access': 'Courses opened and blocked',
  'add-members': 'People added',
  'remove-members': 'People removed',
  'move-members': 'People moved',
  'make-groups': 'Groups made',
  'edit-group': 'Groups changed',
  'move-groups': 'Groups moved',
  'set-group-state': 'Groups archived or taken out',
  'delete-groups': 'Groups deleted',
  'tag-people': 'People tagged',
  'edit-tag': 'Tags changed',
  'merge-tags': 'Tags merged',
  'edit-person': 'People’s details changed',
  'set-person-state': 'Accounts paused, ended or working again',
  'merge-people': 'Accounts merged',
  'erase-person': 'People erased',
  'set-leaders': 'Leaders changed',
  'hand-over': 'Handed over',
  'take-back-invitation': 'Invitations taken back',
  'accept-invitation': 'Invitations followed',
  'make-courses': 'Courses made',
  'see-as': 'Looked as somebody else',
  'send-sign-in': 'Sign-in letters sent',
  'one-time-sign-in': 'One-time sign-ins given',
  'end-sessions': 'Sessions ended',
  'export-person': 'People exported',
  undo: 'Undone',
};
const named = (things: readonly { name: string }[], one: string, most = 3): string =>
  things.length > most ? `${things.length} ${one}s` : list(things.map(({ name }) => name));

const fieldWords: Record<string, string> = {
  name: 'the name',
  idNumber: 'the ID number',
  description: 'the description',
  colour: 'the colour',
  pictureId: 'the picture',
  contactId: 'the contact person',
  signInPrefix: 'the prefix',
  youngLearners: 'young learners',
  firstDay: 'the first day',
  lastDay: 'the last day',
  tags: 'the tags',
  handouts: 'the handouts',
  givenName: 'the given name',
  familyName: 'the family name',
  email: 'the address',
  signInName: 'the sign-in name',
  nameHidden: 'whether the name is hidden',
};

const changes = {
  apply: 'Apply',
  discard: 'Discard',
  undo: 'Undo',
  undone: 'Undone.',
  undoInLog: 'Others have built on this. Look in the log before you undo it.',
  undoLook: 'Undo…',
  undoTitle: 'Undo this?',
  whatItWouldDo: 'What this would do',
  looking: 'Working it out…',
  who: 'Who?',
  canBeUndone: 'Can be undone from the log.',
  kind: 'What was done',
  kinds,
  you: 'You',
  somebodyAbove: 'Somebody above',
  noneYet: 'Nothing was done yet. Whatever changes people, groups or access is listed here, and can be undone.',
  wasUndone: '(undone)',
  gains: (count: number) => (count === 1 ? 'person gains a course.' : 'people gain a course.'),
  loses: (count: number) => (count === 1 ? 'person loses something.' : count === 0 ? 'people lose anything.' : 'people lose a course.'),
  still: (count: number) => `still ${count === 1 ? 'gets' : 'get'} in by another way.`,
  newPeople: (count: number) => many(count, 'new person', 'new people'),
  takenBack: (count: number) => `${many(count, 'person is', 'people are')} taken back. Who has signed in since is ended, not deleted.`,
  join: (count: number) => many(count, 'joins', 'join'),
  leave: (count: number) => many(count, 'leaves', 'leave'),
  moreGroups: (count: number) => `and ${some(count, 'group', 'groups')} more`,
  newcomers: (count: number) => `${some(count, 'new person', 'new people')}. `,
  groupsMade: (count: number) => many(count, 'group is made', 'groups are made'),
  groupsMoved: (count: number) => many(count, 'group moves', 'groups move'),
  groupsGone: (count: number) => many(count, 'group goes', 'groups go'),
  groupsBack: (count: number) => many(count, 'group comes back', 'groups come back'),
  seats: (count: number) => many(count, 'seat is charged there', 'seats are charged there'),
  letters: (count: number) => many(count, 'letter is written', 'letters are written'),
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
  conflicts: {
    'name taken': () => 'Another group beside it has this name.',
    'name empty': () => 'A group needs a name.',
    'name too long': () => 'At most 120 characters.',
    'already in': (count) => `${some(count, 'person is', 'people are')} in this group already.`,
    'not in': (count) => `${some(count, 'person is', 'people are')} not in this group.`,
    'said from above': () => 'Somebody with more to say has said this here. You cannot take it back.',
    'grant gone': () => 'What was said here has changed meanwhile. Discard the draft and look again.',
    'same already': (count) => (count === 1 ? 'This is said already.' : `${count} of these are said already.`),
    'course by leader': () => 'You can open a course only while it is open to the group you lead.',
    'changed since': (count) => `${some(count, 'part has', 'parts have')} changed since and will stay as now.`,
    'gone since': (count) => `${some(count, 'part is', 'parts are')} gone since.`,
    'nothing to do': () => 'There is nothing to do.',
    'too old': () => 'This is too long ago to be undone.',
    'in itself': () => 'It cannot go into itself.',
    'same place': () => 'It is there already.',
    'id number taken': () => 'This ID number is taken.',
    'prefix wrong': () => 'A prefix has 1 to 12 letters and numbers.',
    'link wrong': () => 'A link begins with https:// or http://.',
    'days out of order': () => 'The last day lies before the first.',
    'already leads': (count) => `${some(count, 'person leads', 'people lead')} here already.`,
    'not a leader': () => 'They do not lead here any more. Look again.',
    'power lacked': () => 'You cannot give or take a power that you lack here.',
    'address taken': () => 'Somebody has this address already.',
    'sign-in name taken': () => 'Somebody has this sign-in name already.',
    'name missing': () => 'A name is needed.',
    erased: (count) => `${some(count, 'person was', 'people were')} erased since; that part cannot come back.`,
    'needs an address': () => 'An address is needed, and this is none.',
    'own account': () => 'You cannot do this to your own account.',
  } satisfies Record<Conflict['code'], (count: number) => string>,
  sentence(entry: LogEntry): string {
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
          : `Brought in ${entry.fileName} for ${where}: ${some(count('newPeople'), 'new person', 'new people')}, ${count('joining')} known joining, ${count('changed')} with new details${count('leftOut') > 0 ? `, ${some(count('leftOut'), 'row', 'rows')} left out` : ''}.`;
      case 'grant-access':
        return `${list(entry.effects.map((effect) => ({ open: 'Opened', block: 'Blocked', end: 'Took back' })[effect])).replace(/ and (\w)/u, (_, letter: string) => ` and ${letter.toLowerCase()}`)} ${named(entry.courses, 'course')} for ${where}${count('gained') > 0 ? `; ${some(count('gained'), 'person', 'people')} gained` : ''}${count('lost') > 0 ? `; ${count('lost')} lost` : ''}.`;
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
        return entry.fields[0] === 'archived' ? `Archived ${where}.` : `Took ${where} out of the archive.`;
      case 'delete-groups':
        return `Deleted ${where}${count('groups') > entry.groups.length ? ` with ${some(count('groups') - entry.groups.length, 'subgroup', 'subgroups')}` : ''}${count('people') > 0 ? `; ${some(count('people'), 'person', 'people')} left` : ''}.`;
      case 'tag-people':
        return `Tagged ${who()} of ${where}${entry.names?.after ? ` with ${entry.names.after}` : ''}${count('removed') > 0 ? `, and took ${some(count('removed'), 'tag', 'tags')} off` : ''}.`;
      case 'edit-tag':
        return entry.names && entry.names.before !== entry.names.after
          ? `Renamed the tag ${entry.names.before} to ${entry.names.after}.`
          : `Coloured the tag ${entry.names?.after ?? ''}.`;
      case 'merge-tags':
        return `Merged the tags ${entry.names?.before ?? ''} into ${entry.names?.after ?? ''}.`;
      case 'edit-person':
        return `Changed ${list(entry.fields.map((field) => fieldWords[field] ?? field))} of ${who()}.`;
      case 'set-person-state':
        return `${{ active: 'Let the account work of', paused: 'Paused', ended: 'Ended' }[entry.fields[0] ?? ''] ?? 'Changed'} ${who()}.`;
      case 'merge-people':
        return `Merged two accounts of ${entry.people[0]?.name ?? people.erasedName}.`;
      case 'erase-person':
        return `Erased a person of ${where || people.nowhere.toLowerCase()}.`;
      case 'set-leaders':
        return `${count('ended') > 0 && count('begun') === 0 ? 'Took the lead from' : 'Put'} ${count('invited') > 0 && entry.people.length === 0 ? some(count('invited'), 'invited person', 'invited people') : who()}${count('begun') > 0 ? ' in charge' : ''} of ${where}.`;
      case 'hand-over':
        return `${count('cover') > 0 ? 'Let somebody cover for' : 'Handed over from'} ${entry.people[0]?.name ?? people.erasedName} (${where}).`;
      case 'take-back-invitation':
        return `Took back an invitation to ${where}.`;
      case 'accept-invitation':
        return `${count('leads') > 0 ? 'A leader' : 'Somebody'} came into ${where} by invitation.`;
      case 'make-courses':
        return `Made ${some(count('courses'), 'course', 'courses')}${entry.names ? `: ${entry.names.after}` : ''}.`;
      case 'see-as':
        return `Looked at the application as ${who()}.`;
      case 'send-sign-in':
        return `Sent a sign-in letter to ${who()}.`;
      case 'one-time-sign-in':
        return `Gave ${who()} a one-time sign-in.`;
      case 'end-sessions':
        return `Ended all sessions of ${who()}.`;
      case 'export-person':
        return `Exported all that is kept on ${who()}.`;
      default:
        return `Undid: ${kinds[entry.undid ?? '']?.toLowerCase() ?? ''} (${where}${entry.courses.length > 0 ? `, ${named(entry.courses, 'course')}` : ''})${count('left') > 0 ? `; ${some(count('left'), 'part', 'parts')} had changed since and stayed` : ''}.`;
    }
  },
};

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
  leaders,
  begin,
  makeCourses,
  groups,
  people,
  courses,
  access,
  progress,
  learner,
  entry,
  changes,
};
