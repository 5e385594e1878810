import type { JoinCode } from '@gate-roster/contract';
import type { HelpAct, Obstacle, Power, Preset } from '@gate-roster/core';
import { showDay, showMoment, showTime } from '../ui/format.ts';
import { codeStates } from './entry.ts';
import { some, list } from './grammar.ts';

export const accounts = {
  signIn: 'Sign in',
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

export const addresses = {
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

export const enter = {
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
  makeCourses: 'make courses of their own',
  handOutSeats: 'hand out seats',
  orderSeats: 'order seats',
  markWork: 'mark work, give certificates',
  writeMessages: 'write messages',
  export: 'export',
};

export const leaders = {
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

export const help = {
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
