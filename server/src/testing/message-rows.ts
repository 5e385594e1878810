import { randomUUID } from 'node:crypto';
import { type Expected, type Ids, inBranch, is, nowhere } from './looks-of-everybody.ts';
import { gullhaven, plainRule } from './outside-changes.ts';

/** Routes of settings, messages, calendars and automatic rules as everybody. */
export const messageRows = {
  siteSettings: [{ given: () => ({}), expected: is(200, 404, 404, 404, 404, 401) }],
  editSite: [
    {
      given: () => ({
        body: { organisation: 'Brannoch Isles Rescue', dueSoonDays: 7, undoDays: 180, markReminderDays: 3, quietFrom: 0, quietUntil: 0 },
      }),
      expected: is(204, 404, 404, 404, 404, 401),
    },
  ],
  messages: [{ given: () => ({ params: { groupId: gullhaven } }), expected: inBranch }],
  message: [{ given: ({ message }) => ({ params: { messageId: message } }), expected: inBranch }],
  messageReaders: [{ given: ({ message }) => ({ params: { messageId: message }, query: { list: 'seen' } }), expected: inBranch }],
  reminders: [
    { given: () => ({ params: { groupId: gullhaven } }), expected: inBranch },
    { given: () => ({ params: { groupId: 12 } }), expected: is(200, 404, 404, 404, 404, 401) },
  ],
  rehearseReminders: [
    { given: () => ({ params: { groupId: gullhaven } }), expected: inBranch },
    { given: () => ({ params: { groupId: 12 } }), expected: is(200, 404, 404, 404, 404, 401) },
  ],
  goingOut: [
    { given: () => ({ params: { groupId: gullhaven } }), expected: inBranch },
    { given: () => ({ params: { groupId: 12 } }), expected: is(200, 404, 404, 404, 404, 401) },
  ],
  happened: [
    { given: () => ({ params: { groupId: gullhaven } }), expected: inBranch },
    { given: () => ({ params: { groupId: 12 } }), expected: is(200, 404, 404, 404, 404, 401) },
  ],
  myHappenings: [{ given: () => ({ params: { groupId: gullhaven }, query: {} }), expected: nowhere }],
  writeAnswer: [
    {
      given: ({ message }) => ({ params: { messageId: message }, body: { words: 'At home.', toPersonId: null, requestId: randomUUID() } }),
      expected: is(200, 200, 404, 404, 404, 401),
    },
  ],
  hideAnswer: [
    { given: ({ message }) => ({ params: { messageId: message, answerId: 999_999 }, body: { hidden: true } }), expected: nowhere },
  ],
  myCalendar: [{ given: () => ({}), expected: is(200, 200, 200, 200, 404, 401) }],
  replaceCalendar: [{ given: () => ({ body: {} }), expected: is(200, 200, 200, 200, 404, 401) }],
  calendar: [{ given: () => ({ params: { key: 'k'.repeat(32) } }), expected: is(404, 404, 404, 404, 404, 404) }],
  stopCalendar: [{ given: () => ({}), expected: is(204, 204, 204, 204, 404, 401) }],
  period: [
    { given: () => ({ params: { groupId: gullhaven } }), expected: is(200, 200, 404, 404, 404, 401) },
    { given: () => ({ params: { groupId: 12 } }), expected: is(200, 404, 404, 404, 404, 401) },
  ],
  splits: [
    { given: () => ({ params: { groupId: gullhaven } }), expected: is(200, 200, 404, 404, 404, 401) },
    { given: () => ({ params: { groupId: 12 } }), expected: is(200, 404, 404, 404, 404, 401) },
  ],
  rules: [{ given: () => ({ params: { groupId: gullhaven } }), expected: inBranch }],
  ruleActs: [
    { given: () => ({ params: { ruleId: 1 } }), expected: inBranch },
    { given: () => ({ params: { ruleId: 2 } }), expected: is(200, 404, 404, 404, 404, 401) },
  ],
  rehearseRule: [
    {
      given: () => ({ params: { groupId: gullhaven }, body: { values: plainRule(gullhaven) } }),
      expected: is(200, 200, 404, 404, 404, 401),
    },
  ],
  whyNot: [
    { given: ({ member }) => ({ params: { ruleId: 1, personId: member } }), expected: inBranch },
    { given: ({ elsewhere }) => ({ params: { ruleId: 1, personId: elsewhere } }), expected: is(200, 404, 404, 404, 404, 401) },
  ],
  closeThread: [
    { given: ({ message }) => ({ params: { messageId: message }, body: { closed: false } }), expected: is(200, 200, 404, 404, 404, 401) },
  ],
  messageFile: [{ given: ({ message }) => ({ params: { messageId: message, fileId: 999_999 } }), expected: nowhere }],
  handInActivities: [{ given: () => ({ params: { groupId: gullhaven } }), expected: is(200, 200, 404, 404, 404, 401) }],
  myMessages: [{ given: () => ({}), expected: is(200, 200, 200, 200, 200, 401) }],
  readMessage: [{ given: () => ({ params: { messageId: 999_999 }, body: {} }), expected: nowhere }],
  answerMessage: [
    { given: () => ({ params: { messageId: 999_999 }, body: { words: 'Yes', requestId: randomUUID() } }), expected: nowhere },
  ],
  chooseLetters: [{ given: () => ({ body: { letters: 'at once' } }), expected: is(200, 200, 200, 200, 200, 401) }],
  stopLetters: [{ given: () => ({ body: { key: randomUUID() } }), expected: is(404, 404, 404, 404, 404, 404) }],
  stopLettersAtOnce: [{ given: () => ({ params: { key: randomUUID() } }), expected: is(404, 404, 404, 404, 404, 404) }],
} satisfies Record<string, { given: (ids: Ids) => object; expected: Expected }[]>;
