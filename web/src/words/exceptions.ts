import type { Exception, PersonSheet } from '@gate-roster/contract';
import { showDay } from '../ui/format.ts';
import { some } from './grammar.ts';

type Said = PersonSheet['courses'][number]['exceptions'][number];

/** What holds for single people in a course. */
export const exceptions = {
  act: 'Course exception',
  actOf: (course: string) => `Exception in ${course}`,
  title: (count: number) => `Course exception for ${some(count, 'person', 'people')}`,
  course: 'Course',
  what: 'What',
  kinds: {
    open: 'Open the course',
    block: 'Block the course',
    'more time': 'Give more time',
    exempt: 'Exempt',
    'done elsewhere': 'Count as done elsewhere',
    none: 'End all exceptions',
  } satisfies Record<Exception['what'], string>,
  hints: {
    open: 'Whatever their groups say, except what is blocked firmly above you.',
    block: 'Whatever their groups say.',
    'more time': 'Only the due day moves.',
    exempt: 'They do not count in reports of this course.',
    'done elsewhere': 'It counts as done on that day.',
    none: 'What their groups say holds again.',
  } satisfies Record<Exception['what'], string>,
  firstDay: 'First day',
  lastDay: 'Last day',
  dueDays: 'Days allowed',
  notBefore: 'Due on',
  doneOn: 'Done on',
  reason: 'Reason',
  proof: 'Proof, as a link',
  saved: 'Exception saved.',
  said({ what, firstDay, day, reason }: Said): string {
    const days = [firstDay ? `from ${showDay(firstDay)}` : '', day ? `until ${showDay(day)}` : ''].filter(Boolean).join(' ');
    const facts = ((): string => {
      switch (what) {
        case 'open':
          return `Opened for this person ${days}`.trim();
        case 'block':
          return `Blocked for this person ${days}`.trim();
        case 'more time':
          return `More time: not due before ${day ? showDay(day) : ''}`;
        case 'exempt':
          return 'Exempt';
        case 'done elsewhere':
          return `Done elsewhere${day ? ` on ${showDay(day)}` : ''}`;
      }
    })();
    return reason ? `${facts}: ${reason}` : facts;
  },
  seeProof: 'Proof',
};
