import type { StoryEvent } from '@gate-roster/contract';
import { showDay, showScore } from '../ui/format.ts';

const scored = (score: number | null): string => (score === null ? '' : `, score ${showScore(score)}`);
const nth = (tries: number | null): string => (tries === null || tries < 2 ? '' : `, try ${tries}`);

/** One learner from beginning to end. */
export const story = {
  link: 'Everything in the order of time',
  print: 'Print',
  courses: 'Courses',
  head: ['Course', 'Status', 'Units', 'Score', 'Due', 'Done on', 'Open through'],
  events: 'In the order of time',
  newestFirst: 'Newest first',
  oldestFirst: 'Oldest first',
  none: 'Nothing has happened yet.',
  closed: 'not open',
  event: ({ kind, about, what, score, tries, day }: StoryEvent): string => {
    switch (kind) {
      case 'came in':
        return `Came into ${about.name}`;
      case 'left':
        return `Left ${about.name}`;
      case 'began':
        return `Began ${about.name}`;
      case 'opened again':
        return `${about.name} opened again, round ${tries ?? 2}`;
      case 'finished':
        return `Finished ${what ?? ''} of ${about.name}${scored(score)}${nth(tries)}`;
      case 'done':
        return `Done with ${about.name}${scored(score)}`;
      case 'handed in':
        return `Handed in ${what ?? ''} of ${about.name}${nth(tries)}`;
      case 'sent back':
        return `${what ?? ''} of ${about.name} was sent back`;
      case 'marked':
        return `${what ?? ''} of ${about.name} was marked${scored(score)}`;
      case 'more time':
        return `More time in ${about.name}${day === null ? '' : `, until ${showDay(day)}`}`;
      case 'exempt':
        return `Exempted from ${about.name}`;
      case 'done elsewhere':
        return `${about.name} counted as done elsewhere${day === null ? '' : ` on ${showDay(day)}`}`;
      case 'certificate':
        return `Was given the certificate ${what ?? ''} for ${about.name}`;
      case 'certificate withdrawn':
        return `The certificate ${what ?? ''} for ${about.name} was withdrawn`;
    }
  },
};
