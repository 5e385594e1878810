import type {
  AccessCell,
  GrantDraft,
  JoinCode,
  JoinRequest,
  LogEntry,
  MyCourse,
  PersonSheet,
  Statement,
  Problem,
  SentInvitation,
  WhyStep,
} from '@gate-roster/contract';
import type {
  CheckedRow,
  HelpAct,
  Obstacle,
  Conflict,
  DateOrder,
  Delimiter,
  Encoding,
  GroupColour,
  JoinQuestion,
  Lateness,
  LetterField,
  LetterKind,
  Power,
  Preset,
  RosterField,
  RowOutcome,
  RowReason,
  SignInNameProblem,
  Status,
  TableProblem,
  Tally,
} from '@gate-roster/core';
import type { Cause, Stage } from './entry/roster-lines.ts';
import { showDay, showMoment, showNumber, showTime } from './ui/format.ts';

/*
 * Everything that the interface says. Short, second person, no exclamation marks; the same thing has the same name everywhere.
 */

const many = (count: number, one: string, more: string): string => (count === 1 ? one : more);
const some = (count: number, one: string, more: string): string => `${showNumber(count)} ${many(count, one, more)}`;
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

const areas = {
  groups: 'Groups',
  'ways-in': 'Ways in',
  access: 'Access',
  seats: 'Seats',
  progress: 'Progress',
  log: 'Log',
  myCourses: 'My courses',
  myGroups: 'My groups',
  enterCode: 'Enter a code',
  waiting: (count: number) => `${some(count, 'person asks', 'people ask')} to join`,
};

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
  'wrong-sign-in': 'Wrong sign-in name or password.',
  'bad-signature': 'This system is not known here.',
  'wrong-origin': 'This came from another site and was refused.',
  'looking-only': 'You are viewing as somebody else. Nothing can be changed or downloaded.',
  'code-over': 'This code does not let anybody in. Check it letter by letter, or ask for another one.',
  'still-asking': 'You asked to join, and nobody has decided yet.',
  'given-wrong': 'Something is missing or not as it was asked for.',
  'needs-confirming': 'Confirm your address first: we send a link to it.',
  'link-over': 'This link has expired or was used already. Ask for another one.',
  'address-taken': 'Another account has confirmed this address. Sign in to that account, then use the link again.',
  'no-address': 'There is no address on file.',
  'wrong-file': 'This cannot be kept. A file has at most 2 MB; a picture is PNG, JPEG or WebP.',
  'not-found': 'There is nothing here, or you may not see it.',
  'effects-differ': 'Somebody changed something meanwhile. Nothing was applied; this is what it would do now.',
  blocked: 'This cannot be applied as it is. Nothing was changed.',
  'already-begun': 'This site already has an administrator. Sign in.',
  'request-id-reused': 'Something else was done under this request. Try again.',
  'too-large': 'This is too large to send at once.',
  'wrong-password': 'The current password is wrong.',
  'not-open': 'This course is not open to you now.',
  'in-line': 'You are in line for a seat in this course. It opens when a seat is free.',
  'no-licence': 'No licence pays for this course in your group. Ask your leader.',
  'too-many-tries': 'Too many tries. Wait a little.',
  'disk-full': 'The server has no room left. Nothing was saved. Tell your administrator.',
  failed: 'Something failed on the server. Nothing was half done. Try again.',
  busy: 'Too much is going on at the moment. Try again in a few seconds; nothing is lost.',
  'not-ready': 'The server is just starting. Try again in a few seconds.',
  'database-away': 'The server cannot reach its database. Try again in a moment.',
  offline: 'The server cannot be reached. Try again in a moment.',
  awayTitle: 'One moment',
  away: 'The server or its database is away. Nothing is lost. This page comes back by itself.',
  notHereTitle: 'Not here',
  notHere: 'There is nothing at this address, or you may not see it.',
  awayBanner: 'The server or its database is away. What you see may be old; this page comes back by itself.',
  tooManyTries: (seconds) => `Too many tries. Wait ${some(seconds, 'second', 'seconds')}, then try again.`,
};

const shell = {
  skip: 'To the content',
  areas: 'Areas',
  scope: 'Where you are',
  withSubgroups: 'with subgroups',
  toStart: 'Go to the start page',
  belowOf: (group: string) => `Below ${group}`,
  below: (count: number) => `${some(count, 'group', 'groups')} below`,
};

const find = {
  title: 'Find anything',
  hint: 'A group, a person, an address, an ID number',
  how: 'Type any part of a name.',
  keys: 'Arrows choose, Enter opens.',
  nothing: (typed: string) => `No match for “${typed}”.`,
};

const keys = {
  title: 'Keys',
  single: 'Single-letter keys',
  goTo: (area: string) => `Go to ${area}`,
  list: [
    ['/', 'Find anything'],
    ['g l', 'Go to the log'],
    ['?', 'These keys'],
    ['m', 'In the tree, move the chosen groups'],
    ['Arrows', 'Move in the tree, the lists and the access grid'],
    ['Shift + arrows', 'Choose a range'],
    ['Space', 'Choose; in the access grid, open'],
    ['X', 'In the access grid, block'],
    ['Backspace', 'In the access grid, end what is set here'],
  ] as [string, string][],
};

const settings = {
  site: 'This site',
  organisation: 'Name of the organisation',
  dueSoonDays: 'Days before the due day from which a course is due soon',
  undoDays: 'Days for which a change can be undone',
  saveSite: 'Save settings',
  siteSaved: 'Settings saved.',
  siteWrong: 'Give a name, 1 to 90 days for due soon, and 1 to 730 days for undo.',
  title: 'Settings',
  theme: 'Light or dark',
  themes: { system: 'Same as device', light: 'Light', dark: 'Dark' },
};

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
  strength: { weak: 'Easy to guess', fair: 'Not bad', strong: 'Hard to guess' },
  show: 'Show it',
  hide: 'Hide it',
  fourWords: 'Suggest a password',
  passwordChanged: 'Your password is changed.',
  othersEnd: 'Your other sessions end when it is changed.',
  begin: {
    title: 'Begin',
    intro: 'This site is empty. Create its first administrator.',
    act: 'Create site',
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

const addresses = {
  title: 'Is this your account?',
  about: (address: string) => `Somebody used ${address} for this account. Only you can say whether it is yours.`,
  signInName: 'Sign-in name',
  group: 'Group',
  noGroup: 'In no group',
  madeOn: 'Made on',
  mine: 'This is my account',
  mineWhat: 'Choose a new password. Everybody who was signed in to this account is signed out.',
  cardsOnlyMine: 'This signs you in. Everybody else who was signed in to this account is signed out.',
  notMine: 'Not mine',
  notMineWhat: 'The address is removed from the account. You get no more email about it.',
  notMineDone: 'The address was removed. You get no more email about this account.',
  join: (mine: string) => `Join with my account ${mine}`,
  joinWhat: 'Its groups, work and seats move to your own account. The other account ends. You can undo this for 14 days.',
  joined: 'Joined. Its groups and work are now in your account.',
  signInFirst: 'You already have an account with this address. Sign in to it, then join the two.',
  signIn: 'Sign in to join the two',
  forgot: 'I forgot my password',
  forgotWhat: 'Type your email address or sign-in name. If there is an account with a confirmed address, a link goes there.',
  forgotSend: 'Send link',
  forgotSent: 'Check your email. If the address belongs to an account, a link is on its way. Without an address, ask your leader.',
  trySignInName: 'If your address is not confirmed yet, try your sign-in name.',
  own: 'Email address',
  none: 'No address',
  confirmed: 'Confirmed',
  unconfirmed: 'Not confirmed yet. Use the link in the email that was sent there.',
  pending: (address: string) => `A link was sent to ${address}. It counts once you confirm it.`,
  change: 'Change address',
  newAddress: 'New email address',
  changeWhat: 'A link goes to the new address. Until you confirm it, nothing changes.',
  sent: 'Check your email for a link.',
  joinedOn: (day: string) => `Joined with another account on ${day}`,
  undoJoin: 'Undo',
};

const enter = {
  title: (name: string) => `Hello ${name}`,
  signInOnce: (organisation: string) =>
    `This link signs you in to ${organisation} once. It is used up by the button, not by opening this page.`,
  signInLasting: (organisation: string) =>
    `This card signs you in to ${organisation}. Sign out when you are done; after ten idle minutes you are out.`,
  choosePassword: 'Choose a password for the next time',
  later: 'Leave it empty to choose one later under Settings.',
  act: 'Sign in',
  over: 'This link has expired',
  byWord: 'Sign in with a word',
  byWordWhat: 'Type the sign-in name and the word on your card, or the word you were told.',
  word: 'Word',
  go: 'Continue',
  invitedTo: (group: string) => `Join ${group}?`,
  asks: (organisation: string, leads: boolean) =>
    leads ? `${organisation} invites you to help lead this group.` : `${organisation} invites you to this group.`,
  known: 'You already have an account. Accept, then sign in as usual.',
  yes: 'Accept',
  isIn: 'You have joined.',
  seenAs: (name: string) => `Viewing as ${name}. You cannot change anything.`,
  backToMyself: 'Stop viewing',
  branches: 'Where do you want to go?',
};

const presets: Record<Preset | 'mix', string> = { head: 'Head', helper: 'Helper', auditor: 'Auditor', mix: 'Custom' };
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
  writeMessages: 'write messages',
  export: 'export',
};

const leaders = {
  title: 'Who leads',
  of: (group: string) => `Who leads ${group}`,
  branch: 'A leader of a group also leads everything below it.',
  presets,
  presetHints,
  powers: powerWords,
  held: (preset: Preset | null, powers: readonly Power[]) => (preset ? presets[preset] : list(powers.map((power) => powerWords[power]))),
  until: (day: string) => `until ${day}`,
  from: (day: string) => `from ${day}`,
  add: 'Add a leader',
  who: 'A name, or a name and an address',
  whoHint: 'People without an account are sent an email.',
  asWhat: 'As',
  change: 'Change',
  takeAway: 'Remove as leader',
  apply: 'Add leader',
  applied: 'Leaders changed.',
  firstDay: 'First day',
  lastDay: 'Last day',
  byLetter: (email: string) => `Invite ${email}`,
  invited: 'Invited, not yet joined',
  invitedAs: (leads: boolean, day: string) => `${leads ? 'to lead, ' : ''}until ${day}`,
  takeBack: 'Withdraw',
  tookBack: 'Invitation withdrawn.',
  handOver: 'Hand over…',
  handOverOf: (name: string) => `Hand over from ${name}`,
  hangs: (name: string) => `${name} is responsible for the following. Hand all of it to one person, or each line to somebody else.`,
  hangsNothing: (name: string) => `${name} is not responsible for anything.`,
  toOne: 'Hand everything to',
  to: 'To',
  nobody: 'Nobody (it ends)',
  leads: (group: string, others: number, asking: number) =>
    `Leads ${group}${others === 0 ? ', as the only one' : ''}` +
    (asking > 0 ? `; ${some(asking, 'person asks', 'people ask')} to join` : ''),
  code: (code: string, group: string) => `The join code ${code} for ${group}`,
  contact: (group: string) => `Contact person of ${group}`,
  cover: 'Only as cover, for some days',
  coverHint: 'Nobody loses anything. The cover ends by itself.',
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
  noMatch: 'No groups match.',
  acts: 'This group',
  make: 'Make groups',
  makeIn: (name: string) => `Make groups in ${name}`,
  outline: 'One group per line',
  outlineExample: 'Gullhaven\n  Inshore crew led by Ada Lind ada@isles.example\n  Cadets',
  outlineHint: 'Indent subgroups. “led by” and an address adds a leader.',
  leadersAs: 'Role of the leaders named here',
  makeCount: (count: number) => `Make ${some(count, 'group', 'groups')}`,
  made: 'Groups made.',
  withLeader: (count: number) => some(count, 'leader', 'leaders'),
  edit: 'Name and details',
  editOf: (name: string) => `${name}: name and details`,
  saved: 'Saved.',
  move: 'Move…',
  moveTo: 'Move into',
  moved: 'Moved.',
  moveTitle: (names: string) => `Move ${names}`,
  carry: (names: string) => `Moving ${names}. Choose where with the arrows, then press Enter. Escape cancels.`,
  copy: 'Copy structure…',
  copyTitle: (name: string) => `Copy the structure of ${name}`,
  copyHint: 'Copies the groups with their tags and colours, without people.',
  copyName: 'Name of the copy',
  copyInto: 'Put it in',
  copied: 'Structure copied.',
  archive: 'Archive…',
  archiveTitle: (names: string) => `Archive ${names}`,
  archiveWhat: 'While archived, the group and everything below it open no courses and count nobody.',
  unarchive: 'Restore…',
  unarchiveTitle: (names: string) => `Restore ${names}`,
  archived: 'Archive changed.',
  archivedMark: 'archived',
  remove: 'Delete…',
  removeTitle: (names: string) => `Delete ${names}`,
  removeStays: 'Only the group goes. People stay on the platform, and in their other groups.',
  removeSubgroups: 'Its subgroups',
  removeUp: 'Move up',
  removeToo: 'Delete too',
  removed: 'Deleted. You can undo this.',
  delete: 'Delete',
  copyHandouts: 'Copy a link to its handouts',
  startHere: 'Start the tree here',
  wholeTree: 'Whole tree',
  chosen: (count: number) => `${some(count, 'group', 'groups')} chosen`,
  chooseNone: 'Clear selection',
  filter: 'Filter the tree',
  filterTag: 'With the tag',
  filterLeader: 'Led by',
  filters: { overdue: 'Has overdue', noLeader: 'No leader', empty: 'Empty', archived: 'Archived' },
  noFilter: 'Clear all filters',
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
    idNumber: 'ID used by another system',
    description: 'For the leaders of this group',
    tags: 'To find groups of a kind',
    contact: 'Shown to members as the person to ask',
    days: 'The group is inactive outside these dates',
    picture: 'PNG, JPEG or WebP. Members see it.',
    prefix: 'Letters and numbers, before new sign-in names',
    handouts: 'Links and small files for members',
    youngLearners: 'Names hidden from other learners, no email asked',
  },
  choosePicture: 'Choose a picture',
  dropPicture: 'Remove',
  handoutTitle: 'Title',
  handoutLink: 'Link, https://…',
  addLink: 'Add the link',
  addFile: 'Add a file',
  dropHandout: (title: string) => `Remove ${title}`,
};

const begin = {
  title: 'Begin here',
  lead: 'Three ways to start, in any order.',
  groups: 'Paste your groups',
  groupsWhat: 'One group per line, subgroups indented.',
  file: 'Drop a file',
  fileWhat: 'A list of people from a spreadsheet, with any columns.',
  courses: 'Add courses',
  coursesWhat: 'One course per line, with its units and activities indented below it.',
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
  addressStates: {
    none: 'No address',
    unconfirmed: 'not confirmed yet',
    confirmed: 'confirmed',
    'does not work': 'This address does not work',
  } satisfies Record<PersonSheet['addressState'], string>,
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
  shown: (matching: number, total: number) =>
    matching === total ? some(total, 'person', 'people') : `${showNumber(matching)} of ${showNumber(total)} shown`,
  choose: (name: string) => `Choose ${name}`,
  chooseAll: (count: number) => `Choose all ${showNumber(count)}`,
  chosen: (count: number) => `${some(count, 'person', 'people')} chosen`,
  chosenLabel: 'What can be done to the chosen people',
  chooseNone: 'Clear selection',
  putInGroup: 'Add to a group',
  moveTo: 'Move to…',
  moveTitle: (count: number, group: string) => `Move ${some(count, 'person', 'people')} out of ${group}`,
  moveWhat: 'They leave this group and join the other in one step.',
  tag: 'Tag',
  tagTitle: (count: number) => `Tag ${some(count, 'person', 'people')}`,
  addTags: 'Tags to add',
  addTagsHint: 'Type a name and press Enter; new tags are made.',
  removeTags: 'Tags to remove',
  tagged: 'Tagged.',
  manageTags: 'All tags',
  tagPeople: (count: number) => some(count, 'person', 'people'),
  tagColour: 'Colour',
  tagSaved: 'Tag changed.',
  mergeInto: 'Merge into',
  merged: 'Merged.',
  merge: 'Merge',
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
  takeOffList: 'Remove from this list',
  dropList: 'Delete this list',
  listDropped: 'List deleted. The people stay.',
  nowhere: 'In no group',
  nowhereWhat: 'They are in no group, so no course is open to them.',
  stateAct: 'Pause or end…',
  stateTitle: (count: number) => `The account of ${some(count, 'person', 'people')}`,
  stateChoices: { active: 'Active', paused: 'Paused', ended: 'Ended' },
  stateWhat: {
    active: 'They can sign in and work between these dates.',
    paused: 'They cannot sign in until the account is active again.',
    ended: 'The account ends. What they did is kept.',
  },
  stateSaved: 'Account changed.',
  worksFrom: 'Active from',
  worksUntil: 'Active until',
  acts: 'Actions',
  edit: 'Edit details',
  nameHidden: 'Name hidden from other learners',
  saved: 'Saved.',
  sendLetter: 'Email a sign-in link',
  entry: 'Signing in',
  entries: { all: 'Anybody', 'never in': 'Never signed in', 'not confirmed': 'Address not confirmed' },
  sendLetters: 'Send sign-in links',
  lettersSent: (sent: number, notSent: number) =>
    `${many(sent, 'email is on its way.', 'emails are on their way.')}${notSent > 0 ? ` ${some(notSent, 'person gets', 'people get')} none: they have no address, got an email within the last hour, or are not yours to help.` : ''}`,
  letterSent: 'The email is on its way to the address on file.',
  oneTime: 'One-time sign-in',
  oneTimeWhat: (until: string) => `This link signs them in once, until ${until}. It is shown only once.`,
  copyLink: 'Copy',
  copied: 'Copied.',
  endSessions: 'End all sessions',
  sessionsEnded: 'They are signed out everywhere.',
  mergeWith: 'Merge with another account…',
  mergeTitle: (name: string) => `Merge into ${name}`,
  mergeWhat: 'Groups, tags, powers and progress of the other account join this one; the other ends.',
  otherAccount: 'The other account',
  mergedPeople: 'Accounts merged.',
  exportPerson: 'Download their data (JSON)',
  erase: 'Erase…',
  eraseTitle: (name: string) => `Erase ${name}`,
  eraseWhat: 'Name, address, numbers, emails and sign-ins are deleted for good. Counts stay. This cannot be undone.',
  erased: 'Erased.',
  erasedName: 'Erased person',
  seeAs: 'Check what they see',
  leads: 'Leads',
  answers: 'What they answered when they joined',
  happened: 'What happened',
  nothingHappened: 'Nothing yet.',
  noPassword: 'has no password yet',
  betweenDays: (first: string | null, last: string | null) => [first ? `from ${first}` : [], last ? `until ${last}` : []].flat().join(' '),
  notYours: 'This account is also in groups that are not yours. An administrator can change it.',
  invite: (count: number) => `${some(count, 'address gets', 'addresses get')} an invitation.`,
  intoGroup: 'Group',
  put: 'Add to group',
  remove: 'Remove',
  removeFrom: (group: string) => `Remove from ${group}…`,
  moved: 'Added to the group.',
  putTitle: (count: number) => `Add ${some(count, 'person', 'people')} to a group`,
  removeTitle: (count: number, group: string) => `Remove ${some(count, 'person', 'people')} from ${group}`,
  removeStays: 'They leave this group only. They stay on the platform and in their other groups.',
  add: 'Add people',
  added: (group: string) => `Added to ${group}.`,
  known: 'Known people',
  newPeople: 'Type or paste',
  findKnown: 'Find somebody by name',
  leaveOut: (name: string) => `Leave out ${name}`,
  typeNames: 'Names and addresses, one person per line',
  typeHint: 'Hana Petrossian hana@brannoch.example. The address is optional.',
  checkAddresses: 'One address is incomplete.',
  alreadyIn: (count: number) => `${some(count, 'person is', 'people are')} already in this group.`,
  noneMatch: 'Nobody matches. Clear the search or the filter.',
  none: 'Nobody is in this group yet. Add people, or bring in a file.',
  noneNowhere: 'Everybody is in a group.',
  footer: (count: string, group: string) => `${count} in ${group}.`,
  notCounted: (parts: { reason: keyof typeof reasons; people: number }[]) =>
    `Not counted: ${parts.map(({ reason, people: count }) => `${count} ${reasons[reason].toLowerCase()}`).join(', ')}. Who?`,
  notCountedChip: 'Not counted',
  backToCounted: 'Show counted people',
};

const courses = {
  title: 'Courses',
  course: 'Course',
  open: 'open',
  none: 'no course open',
  fromAbove: (above: number, blocked: number) => `${above} from above${blocked > 0 ? `, ${blocked} blocked` : ''}`,
  /** With the seat that pays for it, or the place in line. */
  seat: ({ seat, inLine, noLicence }: PersonSheet['courses'][number]) => {
    if (noLicence) return 'Needs a seat, and no licence pays for it here.';
    if (inLine !== null) return `Number ${inLine} in line for a seat.`;
    return seat === null ? '' : `Seat of ${seat}.`;
  },
  standing: ({ open, units, allUnits, opensLater }: PersonSheet['courses'][number]) =>
    open ? (units < allUnits ? `${units} of ${allUnits} units` : '') : opensLater ? `opens ${showDay(opensLater)}` : 'not open',
};

const makeCourses = {
  title: 'Add courses',
  outline: 'One course per line',
  example: 'Rope work\n  Knots\n    Read the notes\n    Tie five knots',
  hint: 'Units indented below it, activities below the unit. A unit without activities gets one.',
  make: (count: number) => `Add ${some(count, 'course', 'courses')}`,
  made: 'Courses added. Open them to groups under Access.',
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

const access = {
  title: 'Course access',
  legend: 'What the marks mean',
  states,
  noSet: 'Other',
  why: 'Why?',
  whyOf: (course: string) => `Why ${course} is open or not`,
  applied: 'Applied.',
  paidBy: 'Licence',
  costsNothing: 'none needed',
  licence: (name: string, firstDay: string | null) => (firstDay ? `${name}, from ${showDay(firstDay)}` : name),
  keys: 'Arrows move, Shift draws a range, Space opens, X blocks, Enter shows what applies, Backspace ends it.',
  range: (cells: number) => `${cells} cells chosen`,
  openRange: 'Open courses',
  blockRange: 'Block courses',
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
      said.firm ? 'firm' : [],
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

const statusWords: Record<Status, string> = { 'not begun': 'Not begun', 'under way': 'Under way', done: 'Done' };
const latenessWords: Record<Lateness, string> = { 'on time': '', 'due soon': ', due soon', overdue: ', overdue', 'done late': ' late' };

const progress = {
  title: 'Progress',
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
  overdue: (count: number) => `${showNumber(count)} overdue`,
  underWay: (count: number) => `${showNumber(count)} under way`,
  ofAll: (done: number, all: number) => `${showNumber(done)} of ${showNumber(all)}`,
  details: (score: number | null, due: string | null) =>
    [score === null ? [] : `score ${Math.round(score)}`, due ? `due ${showDay(due)}` : []]
      .flat()
      .map((part) => `· ${part}`)
      .join(' '),
  statusOf: (status: Status, lateness: Lateness) => statusWords[status] + latenessWords[lateness],
  bar: (all: number, done: number, underWay: number, overdue: number) =>
    `${progress.ofAll(done, all)} done, ${progress.underWay(underWay)}${overdue > 0 ? `, ${progress.overdue(overdue)}` : ''}`,
  counted: (learners: string, notCounted: number) =>
    `${learners} learners${notCounted > 0 ? `. ${showNumber(notCounted)} more are not counted: they begin later, are paused, or have ended.` : ''}`,
  enrolments: (count: string) => `${count} enrolments`,
  exempt: (count: number) => `${showNumber(count)} exempt`,
  perWeek: 'Done per week, last 12 weeks',
  meanScore: 'Mean score by group',
  noScores: 'No scores yet.',
  nothingOpen: 'No course is open to these groups yet. Open one under Access.',
  weeksSpoken: (weeks: string) => `Enrolments done per week. ${weeks}`,
  weekTip: (day: string, done: number) => `Week of ${day}: ${showNumber(done)} done`,
  allExempt: 'exempt',
  mean: (score: string) => `mean ${score}`,
  goDown: 'Go down to this group',
  key: 'overdue. Select a number to see who, or a group’s name to go down a level.',
  cellTitle: (tally: Tally) =>
    `${progress.ofAll(tally.done, tally.all - tally.exempt)} done, ${progress.underWay(tally.underWay)}, ${progress.overdue(tally.overdue)}${tally.exempt > 0 ? `, ${progress.exempt(tally.exempt)}` : ''}`,
  cellLabel: (group: string, course: string, tally: Tally) => `${course} at ${group}: ${progress.cellTitle(tally)}`,
  cellDialog: (course: string, group: string) => `${course} at ${group}`,
};

const learner = {
  hello: (name: string) => `Hello ${name}`,
  none: 'No course is open to you yet. Ask the people who lead your group.',
  closed: 'Not open now',
  inLine: (place: number) => `You are number ${place} in line for a seat. The course opens when it is your turn.`,
  noLicence: 'This course needs a seat, and no licence pays for it in your group. Ask your leader.',
  ask: 'Ask',
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
  signInName: 'Sign-in name',
  role: 'Role',
  powers: 'Powers',
  nameHidden: 'Name hidden',
  guardianEmail: 'Guardian’s email',
  password: 'Password',
};
const emailProblems = {
  'no at': 'No @ in the address',
  'two ats': 'Two @ in the address',
  'nothing before the at': 'Nothing before the @',
  'no ending': 'No ending after the @ part, such as “.example”',
  'not an address': 'Not an address',
};
const signInNameProblems: Record<SignInNameProblem, string> = {
  'too short': 'A sign-in name has at least 3 letters',
  'too long': 'A sign-in name has at most 60 letters',
  signs: 'A sign-in name has letters, numbers, dots and dashes only',
  reserved: 'This sign-in name is reserved',
  offensive: 'Choose another sign-in name',
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
  dropHere: 'Drop a file here, one row per person.',
  another: 'Another file',
  done: 'File brought in.',
  rows: 'Rows of the file',
  row: 'Row',
  whatOfIt: 'What would happen',
  fromUntil: 'First, last day',
  nameColumn: 'Name',
  what: (megabytes: number, rows: string, sheetRows: string) =>
    `Any columns in any order. CSV or text up to ${megabytes} MB and ${rows} rows, XLSX up to ${sheetRows} rows.`,
  reading: (rows: string, delimiter: string | null, hasHeader: boolean, encoding: string | null, sheet: string | null) =>
    `${rows} rows${delimiter ? `, ${delimiter.toLowerCase()}` : ''}${encoding ? `, ${encoding}` : ''}${sheet ? `, sheet ${sheet}` : ''}, ${hasHeader ? 'first row holds the names of the columns' : 'no row of names'}.`,
  sheet: 'Sheet',
  cleaned: (cells: number) => `Invisible characters were removed from ${some(cells, 'cell', 'cells')}.`,
  readAs: (name: string) => `Read as “${name}”.`,
  causes: {
    group: 'Group',
    address: 'Address',
    days: 'Dates',
    name: 'Name',
    'sign-in': 'Sign-in name or password',
    choice: 'Role, powers, hidden',
    shape: 'Too many cells',
    who: 'Who is it?',
  } satisfies Record<Cause, string>,
  changingRows: (rows: number) => `Details of known people change, ${some(rows, 'row', 'rows')}`,
  change: ({ field, before, after }: CheckedRow['changes'][number]) => `${fields[field]}: ${before || '–'} → ${after}`,
  keepOld: 'keep the old',
  keptOld: ({ field, before }: CheckedRow['declined'][number]) => `${fields[field]} stays ${before || '–'}`,
  changeAfterAll: 'change it',
  makeMissing: (count: number) => many(count, 'Make the group', 'Make the groups'),
  makeAll: (count: number) => `Make all ${showNumber(count)}`,
  makeOne: (path: string) => `Make ${path}`,
  wouldMake: 'Groups that would be made',
  dontMake: (name: string) => `Do not make ${name}`,
  strike: 'do not make',
  stages: {
    reading: 'Reading',
    'looking up': 'Finding known people',
    checking: 'Checking',
    sending: 'Sending to the server',
  } satisfies Record<Stage, string>,
  stage: (stage: Stage, share: number) => `${entry.stages[stage]}, ${Math.round(share * 100)}%`,
  stopped: 'Stopped. Open the file again to go on.',
  workOut: 'Work out what this would do',
  isIn: (people: number) => (people > 0 ? `${some(people, 'person', 'people')} added.` : 'File brought in. No new accounts were made.'),
  cardsFor: (count: number) => `Sign-in cards for the ${showNumber(count)} new`,
  toGroup: 'To the group',
  writeTo: (count: number) => `Email the ${some(count, 'new person', 'new people')} with an address`,
  writeAt: 'When',
  remember: 'Remember these columns as',
  rememberAct: 'Remember',
  remembered: 'The next file with these columns is read like this.',
  replaceList: 'Replace the list',
  replaceHint: (withGroups: boolean) =>
    withGroups
      ? 'People who are not in the file leave the group and its subgroups. They stay on the platform.'
      : 'People who are not in the file leave this group. They stay on the platform.',
  mostLeaving: 'At most this percentage may leave',
  findReplace: 'Find and replace',
  find: 'Find',
  replaceWith: 'Put in its place',
  inColumn: 'In column',
  replaced: (count: number) => `${some(count, 'cell', 'cells')} changed.`,
  template: 'Download a template',
  templateFile: 'people-template.csv',
  templateLines: [
    '# A row for each person. Columns may stand in any order; those you do not need can go.',
    '# Group: a path below the group you bring the file into, such as Gullhaven > Shore crew; several stand apart by a semicolon; empty column: all go into that group.',
    '# First and last day: 2026-11-03 or 3.11.2026. Role: learner or leader. Powers: head, helper or auditor. Name hidden: yes or no.',
    '# A password counts for new accounts only and has at least 10 characters; sign-in cards are safer.',
  ],
  pasted: 'pasted cells',
  pasteHint: 'Or paste cells from a spreadsheet.',
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
  hiddenValues: 'not shown',
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
  seatsNeeded: 'Seats needed',
  inLine: ', in line for a seat',
  bring: (people: number, rows: number) =>
    people > 0 ? `Bring in ${some(people, 'person', 'people')}` : rows > 0 ? `Bring in ${some(rows, 'row', 'rows')}` : entry.nothing,
  getProblems: (count: number) => `Download the ${count === 1 ? 'row' : `${showNumber(count)} rows`} with problems`,
  leave: (name: string) => `${name} is not brought in yet. Leave this page?`,
  problemFile: (name: string) => `problem rows of ${name.replace(/\.[^.]+$/u, '')}.csv`,
  whyColumn: 'What is wrong',
  outcomes,
  mend: (field: string, row: number) => `${field} of row ${row}`,
  show: 'Show',
  hide: 'Hide',
  goodRows: (count: number) => `Good rows, ${showNumber(count)}`,
  leftRows: (count: number) => `${some(count, 'row', 'rows')} left out. Take back`,
  causeRows: (cause: string, rows: number) => `${cause}, ${some(rows, 'row', 'rows')}`,
  leaveOut: 'Leave out',
  leaveRowsOut: (rows: number) => many(rows, 'Leave it out', `Leave all ${showNumber(rows)} out`),
  takeProposals: (rows: number) => many(rows, 'Use the suggestion', 'Use the suggestion for all'),
  line: (row: number, why: string) => `Line ${row}: ${why}`,
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
        return `Row ${reason.likeRow} gives other details for the same person`;
      case 'group missing':
        return 'No group given';
      case 'group unknown':
        return reason.near ? `No “${reason.group}”. Did you mean` : `No group “${reason.group}”`;
      case 'group ambiguous':
        return `Several groups are called “${reason.group}”. Write more of the path`;
      case 'sheet error':
        return `The spreadsheet shows ${reason.text} here`;
      case 'letters lost':
        return 'A letter could not be read. Type it again';
      case 'too long':
        return `At most ${reason.most} characters`;
      case 'names turned':
        return `Row ${reason.likeRow} has the same two names the other way round`;
      case 'other days':
        return `Row ${reason.likeRow} gives other days for this group`;
      case 'too many cells':
        return 'More cells than columns: a separator stands inside a cell';
      case 'sign-in name':
        return signInNameProblems[reason.problem];
      case 'sign-in name taken':
        return 'Somebody has this sign-in name';
      case 'sign-in name of another row':
        return `Row ${reason.likeRow} has this sign-in name`;
      case 'password too short':
        return 'A password has at least 10 characters';
      case 'not a choice':
        return 'Not one of the allowed words';
      case 'power lacked':
        return 'You cannot make a leader with these powers here';
      case 'not yours':
        return 'They are also in groups that are not yours, so their details stay';
      case 'no such day':
        return `There is no ${cells[reason.field] ?? ''}`;
      case 'not a date':
        return `“${cells[reason.field] ?? ''}” is not a day`;
      case 'ends before it starts':
        return 'Ends before it starts';
      case 'known by another name':
        return 'Somebody known has this number or address under another name';
      case 'known by another number':
        return 'The person with this address has another ID number';
      case 'email of several':
        return 'Several people have this address. Give the ID number or sign-in name';
      case 'ID number taken':
        return 'This ID number belongs to somebody outside your groups';
      case 'two known people':
        return 'The number is one known person’s, the address another’s';
      case 'administrator':
        return 'A file does not change an administrator’s details';
    }
  },
  fileProblems: {
    empty: () => 'is empty. Choose a file with a row for each person.',
    'not text': () => 'is not a text file. Save the list as CSV or XLSX and choose that.',
    spreadsheet: () => 'is a spreadsheet that cannot be read as text.',
    'broken spreadsheet': () => 'looks like a spreadsheet and cannot be opened. Save it again as XLSX, or as CSV.',
    'too large': (megabytes) =>
      `is too large: CSV up to ${megabytes} MB, XLSX up to 20 MB and 200 MB unpacked. Split it, or leave columns out.`,
    'too many rows': (_megabytes, rows) => `has more than ${rows} rows. Split it.`,
    'too many rows for a spreadsheet': () => 'has more than 50,000 rows. Save the sheet as CSV: that may have 200,000.',
    'too many columns': (_megabytes, _rows, row) => `has more than 100 columns${row ? ` in line ${row}` : ''}. Leave some out.`,
    'too many groups': () => 'would make more than 20,000 groups. Split it, or leave groups out.',
    'takes too long': () => 'takes too long to read. Save it as CSV, or split it.',
    'cell too long': (_megabytes, _rows, row) => `has a cell with more than 2,000 letters in line ${row ?? ''}. Shorten it.`,
    quotes: (_megabytes, _rows, row) => `has a quotation mark that opens in line ${row ?? ''} and never closes. Close it, or take it out.`,
    'only a header': () => 'has names of columns and no row below them.',
    'no names': () => 'No column holds a name. Say on the left which one does.',
    'date order': () => 'The days can be read both ways. Say on the left which number comes first.',
    stopped: () => 'was stopped. Open it again to go on.',
  } satisfies Record<TableProblem | 'no names' | 'date order' | 'stopped', (megabytes: number, rows: string, row: number | null) => string>,
};

const codeStates: Record<JoinCode['state'], string> = {
  open: 'open',
  paused: 'paused',
  'not yet': 'opens later',
  ended: 'ended',
  full: 'used up',
};
const invitationStates: Record<SentInvitation['state'], string> = {
  'on its way': 'On its way',
  sent: 'Sent',
  opened: 'Opened',
  joined: 'Joined',
  bounced: 'Came back',
  over: 'Too old',
};
const letterKindWords: Record<LetterKind, string> = {
  invitation: 'Invitation',
  welcome: 'New account',
  'sign in': 'Help to sign in',
  'let in': 'Let in',
  'turned away': 'Turned away',
  confirm: 'Confirm an address to join',
  'confirm address': 'Is this your account',
  reset: 'New password',
  waiting: 'Something waits for you',
  'address changed': 'Address changed',
};
const letterFieldWords: Record<LetterField, string> = {
  name: 'given name',
  group: 'group',
  organisation: 'organisation',
  leader: 'who leads',
  link: 'the link',
  code: 'the code',
  until: 'until when',
  words: 'your own words',
};

const waysIn = {
  parts: { asking: 'Asking to join', codes: 'Join codes', invitations: 'Invitations', file: 'A file', letters: 'Letters' },
  nobodyAsks: 'nobody asks to join',
  partWhat: { file: 'a list of people, checked row by row', letters: 'what is written to people' },
  asking: {
    what: (count: number) => many(count, 'person asks', 'people ask'),
    none: 'Nobody is asking to join. People who use a code that needs approval appear here.',
    letIn: 'Let in',
    letInSome: (count: number) => `Let in ${some(count, 'person', 'people')}`,
    turnAway: 'Turn away',
    turnAwaySome: (count: number) => `Turn away ${some(count, 'person', 'people')}`,
    as: (name: string) => `Let in as ${name}`,
    newAccount: 'new account',
    knownAccount: 'has an account',
    since: (ago: string, code: string) => `asked ${ago}${code ? `, with ${code}` : ''}`,
    word: 'Message (optional)',
    wordHint: 'Goes into the email, if there is an address.',
    match: { 'ID number': 'same ID number', name: 'similar name' } satisfies Record<JoinRequest['matches'][number]['why'], string>,
    maybe: 'May be',
    likely: (people: number) =>
      `${some(people, 'of them may have an account already.', 'of them may have accounts already.')} Letting them in as new makes second accounts.`,
    leaveOut: (people: number) => `Leave ${many(people, 'this one', 'these')} out for now`,
    choose: (name: string) => `Choose ${name}`,
    chooseAll: 'Choose all',
    chosen: (count: number) => `${count} chosen`,
    done: 'Requests decided.',
    title: 'Decide',
    asks: 'Wants to join',
    gave: 'Gave',
    who: 'Who',
    more: (count: number) => `${count} more are waiting. Decide about these first.`,
  },
  codes: {
    what: (count: number) => many(count, 'code open', 'codes open'),
    none: 'No code opens these groups yet. Make one, and hand it out as text, link or QR code.',
    make: 'Make a code',
    makeTitle: 'A new join code',
    editTitle: 'Change this code',
    made: 'Code made.',
    saved: 'Saved.',
    deleted: 'Code deleted. People who joined with it stay.',
    replaced: 'The code was replaced. The old one no longer works.',
    code: 'Code',
    opens: 'Opens',
    until: 'Until',
    noEnd: 'no end',
    used: 'Used',
    ofLimit: (uses: number, limit: number | null) => (limit === null ? String(uses) : `${uses} of ${limit}`),
    state: 'State',
    states: codeStates,
    from: (moment: string) => `from ${moment}`,
    forLeaders: 'for leaders',
    decides: 'needs approval',
    by: (name: string, day: string) => `made by ${name}, ${day}`,
    copyCode: 'Copy code',
    copyLink: 'Copy link',
    copyText: 'Copy invitation text',
    copied: 'Copied.',
    door: 'Door sheet',
    pause: 'Pause',
    unpause: 'Open again',
    replace: 'Replace by another code',
    remove: 'Delete',
    change: 'Change',
    acts: (code: string) => `What can be done with ${code}`,
    who: 'Who came in',
    whoFile: 'Download with their answers',
    nobody: 'Nobody has joined with it yet.',
    groups: 'Opens these groups',
    also: 'Also opens',
    groupsHint: 'People who join are in all of them, with every course they open.',
    kind: 'Which code',
    generated: 'Random',
    chosen: 'Choose my own',
    ownCode: 'Your code',
    ownHint: 'At least 8 letters and numbers. It can be guessed, so it needs a last day and a limit.',
    guessing: (bits: number) =>
      bits < 20
        ? 'Very easy to guess: a machine needs seconds.'
        : bits < 30
          ? 'Easy to guess for somebody who tries: keep the limit low.'
          : 'Hard to guess.',
    firstDay: 'From',
    lastDay: 'Until',
    limit: 'Limit',
    limitHint: 'Empty: no limit.',
    ending: 'Only addresses ending in',
    endingHint: 'Such as brannoch.example. They confirm the address by email first.',
    decision: 'Requests need approval',
    decisionHint: 'People ask to join, and join once somebody approves.',
    leaders: 'People who join lead these groups',
    leadersHint: 'Anybody who finds the code could use it: set a last day, a limit, and approval.',
    asks: 'Ask new people for',
    email: 'Email',
    idNumber: 'ID number',
    asking: { no: 'not asked', may: 'optional', must: 'required' },
    questions: 'Questions of your own',
    addQuestion: 'Add a question',
    question: 'Question',
    questionKind: 'Answered by',
    questionKinds: { text: 'Short text', choice: 'One of several', date: 'A day' } satisfies Record<JoinQuestion['kind'], string>,
    choices: 'Choices, with commas between',
    required: 'Required',
    dropQuestion: 'Remove question',
    note: 'Note for yourselves',
    tags: 'Tags for people who join',
    more: 'Dates, limit, questions and more',
    young: 'Young learners: no address is asked for, and nobody is named before they join.',
    invitationText: (parts: { organisation: string; groups: string[]; link: string; code: string; until: string | null }) =>
      `You can join ${list(parts.groups)} at ${parts.organisation}.

Open ${parts.link}
or enter the code ${parts.code}${
        parts.until
          ? `

It works until ${parts.until}.`
          : ''
      }
`,
  },
  door: {
    join: 'Join',
    ledBy: (names: string[]) => `Led by ${list(names)}`,
    open: 'Open this address, or scan the QR code:',
    code: 'or sign in and enter this code:',
    opensCourses: (courses: string[]) => `Opens ${list(courses)}.`,
    opensOn: (course: string, day: string) => `${course} (from ${day})`,
    cameIn: (uses: number, limit: number | null) => `${uses}${limit === null ? '' : ` of ${limit}`}`,
    cameInWord: (uses: number) => many(uses, 'has joined', 'have joined'),
    until: (moment: string) => `Until ${moment}`,
    closed: (state: JoinCode['state']) => `This code does not work now: ${codeStates[state]}.`,
    print: 'Print',
    back: 'Back',
    qr: (link: string) => `QR code of ${link}`,
  },
  invitations: {
    what: (count: number) => many(count, 'invitation out', 'invitations out'),
    invite: 'Invite',
    inviteSome: (count: number) => `Invite ${some(count, 'person', 'people')}`,
    title: 'Invite people',
    addresses: 'Addresses, in any form',
    addressesHint: 'One per line, a spreadsheet column, or Ada Lind <ada@crew.example>, bo@crew.example',
    found: (count: number, repeated: number) => `${some(count, 'address', 'addresses')}${repeated > 0 ? `, ${repeated} given twice` : ''}`,
    notAddresses: (texts: string[]) =>
      `Not an address: ${texts.slice(0, 3).join(', ')}${texts.length > 3 ? ` and ${texts.length - 3} more` : ''}`,
    words: 'Message (optional)',
    done: 'The invitations are on their way.',
    again: 'Send again',
    againSome: (count: number) => `Send ${some(count, 'invitation', 'invitations')} again`,
    sentAgain: 'Sent again with new links.',
    takeBack: 'Withdraw',
    takenBack: 'Invitation withdrawn. Its link no longer works.',
    none: 'Nobody has been invited yet.',
    states: invitationStates,
    to: 'To',
    group: 'Into',
    state: 'State',
    when: 'When',
    until: 'Until',
    asLeader: 'as leader',
    preview: 'The letter',
  },
  letters: {
    title: 'Letters',
    what: 'Emails that are sent automatically. A text saved here is used for this group and everything below it.',
    kinds: letterKindWords,
    subject: 'Subject',
    body: 'Text',
    fields: 'Fields',
    field: (field: LetterField) => `{${field}}: ${letterFieldWords[field]}`,
    preview: 'Preview',
    from: (name: string) => `Text of ${name}`,
    first: 'Default text',
    save: 'Save for this branch',
    saved: 'Text saved.',
    takeBack: 'Use the text from above',
    problems: {
      'unknown field': 'The text uses a field in braces that does not exist.',
      'no link': 'The text needs {link}.',
      empty: 'A letter needs a subject and a text.',
    },
    sample: {
      name: 'Ada',
      group: 'Gullhaven',
      organisation: 'Brannoch Isles Rescue',
      leader: 'Ottoline Brandt',
      link: 'https://roster.example/…',
      code: 'GK7MT-QX4RA',
      until: '3 November 2026',
      words: 'See you on the quay.',
    } satisfies Record<LetterField, string>,
  },
};

const cards = {
  title: 'Sign-in cards',
  act: 'Sign-in cards',
  nobody: 'Choose people in a group first, then Sign-in cards.',
  ahead: (count: number) =>
    count === 0
      ? 'There is nobody you may make a card for.'
      : `One card for each of ${some(count, 'person', 'people')}, with a QR code that signs them in.`,
  replaced: (count: number) => `${some(count, 'earlier card stops', 'earlier cards stop')} working.`,
  notYours: (count: number) =>
    `${some(count, 'person gets', 'people get')} none: they are in groups that are not yours, have powers, or an account that has ended.`,
  make: (count: number) => `Make ${some(count, 'card', 'cards')}`,
  made: (count: number) => `${some(count, 'card', 'cards')}. These QR codes are shown only once. Print them before you leave this page.`,
  print: 'Print',
  pdf: 'Save as PDF',
  fileName: 'sign-in-cards.pdf',
  paper: 'Paper',
  onPage: 'Cards on a page',
  order: 'Order',
  orders: { group: 'By group', name: 'By name' },
  noCamera: (address: string) => `No camera? Type this word at ${address}`,
  aPage: (count: number) => `${count} a page`,
  page: (number: number) => `Page ${number}`,
  signInName: 'Sign-in name',
  once: (day: string) => `This QR code signs you in once${day ? `, until ${day}` : ''}. Then you choose a password.`,
  lasting: 'This QR code signs you in every time. Keep it to yourself.',
  qr: (name: string) => `QR code that signs in ${name}`,
};

const obstacleWords = (name: string, obstacle: Obstacle): string => {
  switch (obstacle.code) {
    case 'asking':
      return `${name} has been asking to join ${obstacle.group} since ${showMoment(obstacle.since)}. Nobody has decided yet.`;
    case 'paused':
      return `The account of ${name} is paused.`;
    case 'ended':
      return `The account of ${name} has ended${obstacle.day ? `: its last day was ${showDay(obstacle.day)}` : ''}.`;
    case 'begins later':
      return `The account of ${name} is active from ${showDay(obstacle.day)}.`;
    case 'too many tries':
      return `Too many wrong passwords: ${name} can try again at ${showTime(obstacle.until)}.`;
    case 'wrong password':
      return `${name} typed a wrong password at ${showTime(obstacle.at)}.`;
    case 'letter came back':
      return `The email to ${name} came back on ${showMoment(obstacle.at)}: the address does not work.`;
    case 'never in':
      return `${name} has never signed in and has no password yet.`;
    case 'no password':
      return `${name} has no password.`;
    case 'group rests':
      return `${name} is only in ${obstacle.group}, which is not active today.`;
    case 'in no group':
      return `${name} is in no group, so no course is open.`;
    case 'course opens later':
      return `${obstacle.course} opens for ${name} on ${showDay(obstacle.day)}.`;
    case 'course not open':
      return `${obstacle.course} is not open to ${name}.`;
    case 'in line':
      return `${name} is ${obstacle.place > 0 ? `number ${obstacle.place} ` : ''}in line for a seat in ${obstacle.course}.`;
    case 'nothing open':
      return `No course is open to ${name}.`;
    case 'nothing':
      return `Nothing stops ${name}: the account is active, and courses are open.`;
  }
};
const help = {
  title: 'Help someone in',
  what: 'Who cannot get in? You see the first thing that stops them, and how to fix it.',
  who: 'Name, address, number or code',
  whoHint: 'The sign-in page shows a number of six digits that they can read out.',
  noAccount: 'No account in your groups has the name that was typed. Ask how they write it, or invite them.',
  nobody: (typed: string) => `No match for “${typed}”.`,
  recent: 'Could not sign in lately',
  noneRecent: 'Nobody in your groups had trouble signing in during the last two weeks.',
  tries: (count: number, ago: string) => (count === 1 ? `a wrong password ${ago}` : `${count} wrong passwords, the last ${ago}`),
  codeIs: (code: string, groups: string[], state: JoinCode['state']) =>
    state === 'open'
      ? `The code ${code} is open and lets people into ${list(groups)}.`
      : `The code ${code} for ${list(groups)} does not work: ${codeStates[state]}.`,
  course: 'Which course do they want?',
  obstacle: obstacleWords,
  acts: {
    decide: 'Decide about the request',
    'let work': 'Activate',
    'change days': 'Change the dates',
    'let in now': 'Let them in now',
    'change address': 'Change the address',
    card: 'Make a sign-in card',
    'put in group': 'Add to a group',
    'see why': 'See why',
    'see seats': 'Look at the seats',
  } satisfies Record<HelpAct, string>,
  copy: 'Copy the answer',
  notYours: 'You cannot fix this: the account is also in groups that are not yours, or you lack the power. An administrator can.',
  beside: 'Ask them to scan this QR code:',
  besideWord: (signInName: string) => `On the telephone: they choose “Sign in with a word” and type ${signInName} and this word:`,
  besideQr: (name: string) => `QR code that signs in ${name}`,
  secondsLeft: (seconds: number) => `${some(seconds, 'second', 'seconds')} left`,
  besideOver: 'It has expired. Make another one if they are not in.',
  fromPerson: 'Cannot get in?',
  inFind: 'Help someone in',
  readOut: 'Cannot get in? Read this number out to whoever helps you:',
};

const seats = {
  licence: 'Licence',
  about: (about: string, seats: number | null, until: string | null, inForce: boolean) =>
    `${about}${seats === null ? '' : `, ${some(seats, 'seat', 'seats')}`}${until ? ` until ${until}` : ''}${inForce ? '' : ', not in force today'}.`,
  onLeaving: {
    'comes back': 'A seat comes back when its holder leaves.',
    'comes back if not begun': 'A seat comes back if its holder leaves before beginning.',
    'stays used': 'A seat stays used until the licence ends.',
  },
  make: 'Add a licence',
  edit: 'Change this licence',
  editTitle: 'Change the licence',
  saved: 'Licence saved.',
  limited: 'Limits saved.',
  none: 'No licence pays for courses here.',
  noneYet: 'No licence pays for courses here. Add one for a course that is bought by the seat; all other courses cost nobody a seat.',
  group: 'Group',
  bar: 'In use, and the limit',
  used: 'In use',
  free: 'Free',
  freeOrOver: (free: number) => (free < 0 ? `${showNumber(-free)} over` : showNumber(free)),
  inLine: 'In line',
  limit: 'Limit',
  noLimit: 'none',
  limitOf: (group: string) => `Seat limit of ${group}`,
  barLabel: (used: number, limit: number | null) =>
    `${some(used, 'seat', 'seats')} in use${limit === null ? '' : `, at most ${showNumber(limit)}`}`,
  limitsAddUp: (limits: number, seats: number) =>
    `The limits add up to ${showNumber(limits)}, more than the ${showNumber(seats)} seats: first come, first served.`,
  inUse: 'in use',
  waiting: (count: number) => `${showNumber(count)} in line`,
  nobodyWaits: 'nobody in line',
  peopleTitle: { 'in use': 'using a seat', 'in line': 'in line for a seat' },
  peopleWhat: {
    'in use': 'A seat counts in one of its holder’s groups.',
    'in line': 'A seat that comes free goes to the first whose groups have room.',
  },
  since: (course: string, day: string) => `${course}, since ${day}`,
  name: 'Name',
  paysFor: 'Pays for',
  aSet: (name: string) => `${name} (course set)`,
  seats: 'Seats',
  seatsHint: 'Used by groups here and below.',
  fewer: 'Nobody loses a seat when there are fewer. New people wait until there is room.',
  firstDay: 'First day',
  lastDay: 'Last day',
  whenLeaving: 'When somebody leaves',
  thenOpen: 'Next: under Access, choose this licence when you open a course.',
};

const join = {
  title: 'Enter a code',
  code: 'Code',
  codeHint: 'Ten letters and numbers, such as GK7MT-QX4RA. Capitals and the dash do not matter.',
  look: 'Continue',
  another: 'Another code',
  into: (groups: string[]) => `Join ${list(groups)}`,
  asLeader: 'You will be a leader here.',
  at: (organisation: string) => `at ${organisation}`,
  ledBy: (names: string[]) => `Led by ${list(names)}`,
  opens: 'Opens',
  opensOn: (name: string, day: string | null) => (day === null ? name : `${name}, from ${showDay(day)}`),
  wouldWait: (names: string[]) => `No seat is free for ${list(names)}. You can join, and will be in line for a seat.`,
  waits: (names: string[]) => `You are in line for a seat for ${list(names)}. The course opens when a seat is free.`,
  opensNothing: 'No course yet. You get the courses that are opened later.',
  decided: 'Requests need approval.',
  until: (moment: string) => `Until ${moment}`,
  have: 'I have an account',
  fresh: 'I am new here',
  asMyself: (name: string) => `Join as ${name}`,
  askAsMyself: (name: string) => `Ask to join as ${name}`,
  notMe: 'Not you? Sign out.',
  register: 'Join',
  ask: 'Ask to join',
  signInAndJoin: 'Sign in and join',
  optional: (label: string) => `${label} (optional)`,
  password: 'Choose a password',
  in: 'You have joined',
  inWhat: (groups: string[]) => `You are now in ${list(groups)}.`,
  signInName: 'You sign in as',
  keepCard: 'Keep this. Print it or write it down: it is how you sign in next time.',
  print: 'Print',
  toCourses: 'Go to my courses',
  asking: 'Request sent',
  askingWhat: (deciders: string[]) =>
    `${deciders.length > 0 ? list(deciders) : 'A leader'} will decide. You can sign in as soon as you are let in.`,
  askingSignIn: 'Sign in with it to see the status of your request.',
  already: 'You are already in.',
  alreadyAsking: 'You have already asked. Nobody has decided yet.',
  letter: 'Check your email',
  letterWhat: (email: string) => `We sent a link to ${email}. Use it to join.`,
  confirmFirst: (ending: string) => `Only addresses ending in ${ending} can join. Enter yours, and we send a link to it.`,
  sendConfirm: 'Send me the link',
  yourAddress: (email: string) => `Your address is ${email}.`,
  given: {
    missing: 'Required',
    'not a choice': 'Choose one of these',
    'not a day': 'A day, such as 2026-11-03',
    'too long': 'At most 300 letters',
    email: 'Not a complete address',
  },
  nowhereTitle: 'Not open to you',
  nowhere: 'This page is for members of a group you are not in. If you have a code, enter it.',
};

const myGroups = {
  title: 'My groups',
  none: 'You are not in a group. If you have a code, enter it.',
  asking: 'You asked to join',
  since: (day: string, deciders: string[]) => `since ${day}${deciders.length > 0 ? `; ${list(deciders)} will decide` : ''}`,
  turnedAway: (word: string | null) => `You were not let in.${word ? ` “${word}”` : ''}`,
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
  'set-group-state': 'Groups archived or restored',
  'delete-groups': 'Groups deleted',
  'tag-people': 'People tagged',
  'edit-tag': 'Tags changed',
  'merge-tags': 'Tags merged',
  'edit-person': 'People’s details changed',
  'set-person-state': 'Accounts paused, ended or activated',
  'merge-people': 'Accounts merged',
  'erase-person': 'People erased',
  'set-leaders': 'Leaders changed',
  'hand-over': 'Handed over',
  'take-back-invitation': 'Invitations withdrawn',
  'invite-people': 'People invited',
  'send-invitations-again': 'Invitations sent again',
  'make-code': 'Join codes made',
  'edit-code': 'Join codes changed',
  'delete-code': 'Join codes deleted',
  'decide-requests': 'Decisions about who comes in',
  'join-by-code': 'Join codes used',
  'edit-letter': 'Email texts changed',
  'accept-invitation': 'Invitations accepted',
  'make-licence': 'Licence made',
  'edit-licence': 'Licence changed',
  'limit-seats': 'Seats limited',
  'make-courses': 'Courses made',
  'edit-site': 'Settings changed',
  'see-as': 'Looked as somebody else',
  'send-sign-in': 'Sign-in links emailed',
  'one-time-sign-in': 'One-time sign-ins given',
  'end-sessions': 'Sessions ended',
  'export-person': 'People exported',
  'print-cards': 'Sign-in cards made',
  'let-in-now': 'Let in at once',
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
  jobAt: (share: number) => `${share > 0 ? `${Math.round(share * 100)}%. ` : ''}You can close this page. The work continues.`,
  jobFailed: 'This failed. Nothing was changed.',
  stopJob: 'Stop',
  jobStopped: 'Stopped. Nothing was changed.',
  undoInLog: 'Other changes depend on this. Undo it from the log.',
  undoLook: 'Undo…',
  undoTitle: 'Undo this?',
  undoing: 'Undoing',
  whatItWouldDo: 'What this would do',
  looking: 'Working it out…',
  who: 'Who?',
  canBeUndone: 'Can be undone from the log.',
  kind: 'What was done',
  kinds,
  you: 'You',
  somebodyAbove: 'A leader above you',
  noneYet: 'Nothing has been done yet. Changes to people, groups and access are listed here and can be undone.',
  wasUndone: '(undone)',
  gains: (count: number) => (count === 1 ? 'person gains a course.' : 'people gain a course.'),
  loses: (count: number) => (count === 1 ? 'person loses a course.' : 'people lose a course.'),
  still: (count: number) => `still ${count === 1 ? 'gets' : 'get'} in by another way.`,
  becomeDone: (count: number) => `${many(count, 'becomes', 'become')} done: everything still open to them is finished.`,
  noLongerDone: (count: number) => `${many(count, 'is', 'are')} under way again: more is open to them.`,
  newPeople: (count: number) => many(count, 'new person', 'new people'),
  takenBack: (count: number) =>
    `${many(count, 'new person is', 'new people are')} removed again. Anyone who has signed in since is deactivated, not deleted.`,
  join: (count: number) => many(count, 'joins', 'join'),
  leave: (count: number) => many(count, 'leaves', 'leave'),
  moreGroups: (count: number) => `and ${some(count, 'group', 'groups')} more`,
  newcomers: (count: number) => `${some(count, 'new person', 'new people')}. `,
  groupsMade: (count: number) => many(count, 'group is made', 'groups are made'),
  groupsMoved: (count: number) => many(count, 'group moves', 'groups move'),
  groupsGone: (count: number) => many(count, 'group is deleted', 'groups are deleted'),
  groupsBack: (count: number) => many(count, 'group comes back', 'groups come back'),
  seatsNeeded: (count: number) => many(count, 'seat is needed', 'seats are needed'),
  /** A leader hears of what lies above them only whether there is room. */
  seatsFree: (free: number | null, isShort: boolean) =>
    free === null ? (isShort ? 'There is not enough room for all.' : 'There is room for all.') : `${showNumber(free)} free.`,
  fromLine: (count: number) => `${many(count, 'person', 'people')} in line would get a seat.`,
  inLine: (count: number) => `${many(count, 'person', 'people')} would be in line for a seat.`,
  inLineRows: (rows: readonly number[]) => {
    const first = rows.slice(0, 12).map(String);
    const more = rows.length - first.length;
    return `In the order of the file: ${many(rows.length, 'row', 'rows')} ${list(more > 0 ? [...first, `${showNumber(more)} more`] : first)}.`;
  },
  leaveIt: 'What you entered is not saved. Leave this page?',
  noSeatMoves: 'Nobody gets or loses a seat by this.',
  seatsEnded: (count: number) => many(count, 'seat comes back.', 'seats come back.'),
  letters: (count: number) => many(count, 'email is sent', 'emails are sent'),
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
  conflicts: {
    'name taken': () => 'Another group beside it has this name.',
    'name empty': () => 'A group needs a name.',
    'name too long': () => 'At most 120 characters.',
    'already in': (count) => `${some(count, 'person is', 'people are')} already in this group.`,
    'not in': (count) => `${some(count, 'person is', 'people are')} not in this group.`,
    'said from above': () => 'Set by a leader above you. You cannot remove it.',
    'grant gone': () => 'This cell has changed meanwhile. Discard the draft and check again.',
    'same already': (count) => (count === 1 ? 'This is already set.' : `${count} of these are already set.`),
    'course by leader': () => 'You can open a course only while it is open to the group you lead.',
    'changed since': (count) => `${some(count, 'part has', 'parts have')} changed since and will stay as they are.`,
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
    'not a leader': () => 'They no longer lead here.',
    'power lacked': () => 'You cannot give or take away a power that you do not have here.',
    'address taken': () => 'Somebody has this address already.',
    'sign-in name too short': () => 'A sign-in name has at least 3 characters.',
    'sign-in name too long': () => 'A sign-in name has at most 60 characters.',
    'sign-in name signs': () => 'A sign-in name has letters, digits, dots, dashes and underscores, and begins with a letter or digit.',
    'sign-in name reserved': () => 'This sign-in name is reserved. Choose another.',
    'sign-in name offensive': () => 'Choose another sign-in name.',
    'sign-in name taken': () => 'Somebody has this sign-in name already.',
    'name missing': () => 'A name is needed.',
    erased: (count) => `${some(count, 'person was', 'people were')} erased since; that part cannot come back.`,
    'needs an address': () => 'Enter a complete address.',
    'own account': () => 'You cannot do this to your own account.',
    'code taken': () => 'That code is taken. Choose another.',
    'code too short': () => 'A code of your own has at least 8 letters and numbers.',
    'code too long': () => 'A code has at most 30 letters and numbers.',
    'code letters only': () => 'A code has letters from A to Z and numbers only.',
    'code needs a limit': () => 'A code of your own can be guessed, so it needs a use limit.',
    'code needs an end': () => 'A code of your own can be guessed, so it needs a last day.',
    'leaders code needs an end': () => 'A code for leaders needs a last day.',
    'leaders code needs a limit': () => 'A code for leaders needs a use limit.',
    'leaders code needs a decision': () => 'A code for leaders needs approval.',
    'moments out of order': () => 'It ends before it begins.',
    'ending wrong': () => 'An ending of addresses looks like brannoch.example.',
    'choices missing': () => 'A question with choices needs at least two of them.',
    'young learners': () => 'Young learners are not written to and give no address. Use a code without email, or sign-in cards.',
    'already asked': (count) => `${some(count, 'address was', 'addresses were')} invited before; the earlier link stops working.`,
    'decided since': (count) => `Somebody else has decided ${some(count, 'request', 'requests')} meanwhile.`,
    'letter lacks link': () => 'The text needs {link}.',
    'letter unknown field': () => 'The text uses a field in braces that does not exist.',
    'letter empty': () => 'A letter needs a subject and a text.',
    'list not whole': (count) => `${some(count, 'row needs', 'rows need')} fixing first: people in them could be removed by mistake.`,
    'too many leave': (count) =>
      `${some(count, 'person would leave', 'people would leave')}: more than you allowed. Check that the list is complete.`,
    'licence goes': (count: number) => `${some(count, 'licence', 'licences')} would end because the group that holds it is deleted:`,
    'paid above': (count: number) => `${some(count, 'opening', 'openings')} still needs a seat: the course is paid for above your groups.`,
    'too many passwords': (count) =>
      `${count} passwords are too many. At most 2,000 are possible; leave the column out and print sign-in cards.`,
  } satisfies Record<Conflict['code'], (count: number) => string>,
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
      case 'decide-requests':
        return `${entry.fields[0] === 'let in' ? 'Let' : 'Turned'} ${who()} ${entry.fields[0] === 'let in' ? 'into' : 'away from'} ${where}${count('as') > 0 ? ', as somebody known' : ''}.`;
      case 'join-by-code':
        return count('asks') > 0
          ? `Somebody asked to join ${where} by a code.`
          : `${count('leads') > 0 ? 'A leader' : 'Somebody'} joined ${where} by a code.`;
      case 'edit-letter':
        return count('own') > 0 ? `Gave ${where} an email text of its own.` : `Went back to the email text from above for ${where}.`;
      case 'accept-invitation':
        return `${count('leads') > 0 ? 'A leader' : 'Somebody'} joined ${where} by invitation.`;
      case 'make-licence':
        return `Made the licence ${entry.names?.after ?? ''} with ${some(count('seats'), 'seat', 'seats')}.`;
      case 'edit-licence':
        return `Changed the licence ${entry.names?.after ?? ''}${entry.fields.includes('seats') ? `: ${some(count('seats'), 'seat', 'seats')}` : ''}.`;
      case 'limit-seats':
        return `Limited the seats of ${entry.names?.after ?? ''} for ${where}.`;
      case 'make-courses':
        return `Made ${some(count('courses'), 'course', 'courses')}${entry.names ? `: ${entry.names.after}` : ''}.`;
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
  addresses,
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
  waysIn,
  cards,
  help,
  join,
  seats,
  myGroups,
  changes,
};
