import { plainMessage, toGroup } from './outside-changes.ts';
import type { Maker } from './random-course-change.ts';

/** Random changes to what is written, what people are reminded of and what members are told. */
export const messageMakers = {
  'send-message': [
    (pick, w, n) => ({
      kind: 'send-message',
      groupId: pick(w.groups),
      audience: { to: 'filter', withSubgroups: true, filter: [] },
      values: { ...plainMessage, title: `Message ${n}` },
    }),
    (pick, w) => {
      const groupId = pick(w.groups);
      return { kind: 'send-message', groupId, audience: toGroup(groupId), values: plainMessage };
    },
  ],
  'withdraw-message': [(pick, w) => ({ kind: 'withdraw-message', messageId: pick(w.messages) })],
  'show-members': [
    (pick, w, n) => ({ kind: 'show-members', groupId: pick(w.groups), kinds: n % 2 === 0 ? ['came in', 'finished'] : [] }),
    (pick, w) => ({ kind: 'show-members', groupId: pick(w.groups), kinds: null }),
  ],
  'set-reminder': [
    (pick, w, n) => ({
      kind: 'set-reminder',
      groupId: pick(w.groups),
      courseId: null,
      occasion: 'before due',
      values: n % 3 === 0 ? 'nobody' : { days: n % 30, text: null, alsoPassed: n % 2 === 0 },
    }),
    (pick, w) => ({ kind: 'set-reminder', groupId: pick(w.groups), courseId: null, occasion: 'before due', values: null }),
  ],
  'set-letter-look': [
    (pick, w, n) => ({
      kind: 'set-letter-look',
      groupId: pick(w.groups),
      look: n % 4 === 0 ? null : { senderName: `Crew ${n}`, logoId: null },
    }),
  ],
  'edit-letter': [
    (pick, w, n) => ({ kind: 'edit-letter', groupId: pick(w.groups), letter: 'let in', text: { subject: `In ${n}`, body: 'You are in.' } }),
  ],
} satisfies {
  [K in 'send-message' | 'withdraw-message' | 'show-members' | 'set-reminder' | 'set-letter-look' | 'edit-letter']: Maker<K>[];
};
