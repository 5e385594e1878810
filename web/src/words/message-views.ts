import type { HappenedKind, Happening, letterStates } from '@gate-roster/contract';
import { showNumber } from '../ui/format.ts';
import { some } from './grammar.ts';

/** What is on its way. */
export const goingOut = {
  title: 'Going out',
  what: ({ waiting, sent, bounced, stopped }: { waiting: number; sent: number; bounced: number; stopped: number }, digests: number) =>
    `Emails of the last 90 days: ${showNumber(sent)} sent, ${showNumber(waiting)} waiting, ${showNumber(bounced)} came back${
      stopped > 0 ? `; to ${some(stopped, 'person', 'people')} no more are sent` : ''
    }. ${digests > 0 ? `For ${some(digests, 'person', 'people')} messages wait for their next email.` : ''}`,
  later: 'Messages that leave later',
  leaves: (group: string, at: string) => `to ${group}, on ${at}`,
  letters: 'Emails',
  states: { all: 'All', waiting: 'Waiting', sent: 'Sent', bounced: 'Came back' } satisfies Record<
    (typeof letterStates)[number] | 'all',
    string
  >,
  stopped: ', no more are sent to this address',
  none: 'None.',
  heads: { person: 'To', kind: 'What', state: 'State', at: 'When' },
  more: (shown: string) => `More than ${shown}`,
};

const kindWords: Record<HappenedKind, string> = {
  'came in': 'Came in',
  began: 'Began a course',
  finished: 'Finished a course',
  scored: 'Scored',
  'new course': 'New course',
  'new handout': 'New handout',
  'new leader': 'New leader',
};
const rounded = (score: number): string => showNumber(Math.round(score));

/** What happened in a group. */
export const happened = {
  title: 'What happened',
  kinds: kindWords,
  all: 'Everything',
  none: 'Nothing yet.',
  more: 'Show earlier',
  today: 'Today',
  somebody: 'A young learner',
  /** What follows a name, or all of it where nobody is named. */
  says: ({ kind, group, about, score }: Happening): string => {
    const where = group?.name ?? '';
    switch (kind) {
      case 'came in':
        return `came into ${where || 'the group'}.`;
      case 'began':
        return `began ${about ?? ''}.`;
      case 'finished':
        return `finished ${about ?? ''}${score === null ? '' : ` with ${rounded(score)}%`}.`;
      case 'scored':
        return `scored ${score === null ? '' : `${rounded(score)}% `}in ${about ?? ''}.`;
      case 'new course':
        return `${about ?? ''} was opened for ${where || 'the group'}.`;
      case 'new handout':
        return `${where || 'The group'} has a new handout: ${about ?? ''}.`;
      case 'new leader':
        return `leads ${where || 'the group'}.`;
    }
  },
  membersTitle: 'Shown to members',
  members: (kinds: readonly HappenedKind[], from: string | null, isOwn: boolean) =>
    kinds.length === 0
      ? 'Members of this group are not shown what happens.'
      : `Members see: ${kinds.map((kind) => kindWords[kind].toLowerCase()).join(', ')}${isOwn ? '' : from === null ? ', as a group above says' : `, as ${from} says`}.`,
  membersHint: 'Young learners, and people who hide their name, have no name there.',
  change: 'Change…',
  saved: 'Saved.',
  inherit: 'As in the groups above',
  mine: 'What happened in the group',
};
