import { type LogEntry, type WhyStep, changeKinds, comingKinds } from '@gate-roster/contract';
import * as words from './words.ts';

const entry = (more: Partial<LogEntry>): LogEntry => ({
  id: 1,
  kind: 'edit-group',
  madeAt: '2026-11-23T10:00:00.000Z',
  actor: null,
  rule: null,
  isMine: true,
  groups: [{ id: 3, name: 'Gullhaven' }],
  courses: [],
  people: [],
  counts: {},
  fileName: null,
  names: null,
  effects: [],
  fields: [],
  undid: null,
  undoOf: null,
  undoneBy: null,
  canUndo: true,
  ...more,
});
const course = { id: 7, name: 'Search patterns' };

test.each<[Partial<LogEntry>, string]>([
  [{ kind: 'edit-group', names: { before: 'A', after: 'B' } }, 'Renamed A to B.'],
  [
    { kind: 'edit-licence', names: { before: 'Few', after: 'Many' }, fields: ['seats'], counts: { seats: 94, seatsGiven: 2, inLine: 1 } },
    'Changed the licence Many: 94 seats; 2 seats handed out and 1 in line for a seat.',
  ],
  [
    { kind: 'grant-access', courses: [course], effects: ['open'], counts: { gained: 111 } },
    'Opened Search patterns for Gullhaven; 111 people gained.',
  ],
  [
    { kind: 'grant-access', courses: [course], effects: ['open', 'block'], counts: { lost: 2 } },
    'Opened and blocked Search patterns for Gullhaven; 2 lost.',
  ],
  [{ kind: 'add-members', people: [{ id: 1, name: 'Hana Holt' }], counts: { people: 1 } }, 'Added Hana Holt to Gullhaven.'],
  [{ kind: 'remove-members', people: [{ id: 1, name: 'Hana Holt' }], counts: { people: 12 } }, 'Removed 12 people from Gullhaven.'],
  [
    { kind: 'bring-in-roster', fileName: 'a.csv', counts: { newPeople: 1, joining: 2, changed: 0, leftOut: 9 } },
    'Brought in a.csv for Gullhaven: 1 new person, 2 known joining, 9 rows left out.',
  ],
  [{ kind: 'edit-group', fields: ['description', 'tags'] }, 'Changed the description and the tags of Gullhaven.'],
  [{ kind: 'make-groups', counts: { groups: 5, leaders: 3 } }, 'Made 5 groups in Gullhaven, with 3 leaders.'],
  [{ kind: 'delete-groups', counts: { groups: 3, people: 12 } }, 'Deleted Gullhaven with 2 subgroups; 12 people left.'],
  [{ kind: 'set-leaders', people: [{ id: 1, name: 'Hana Holt' }], counts: { begun: 1, people: 1 } }, 'Made Hana Holt leader of Gullhaven.'],
  [
    { kind: 'set-leaders', people: [{ id: 1, name: 'Hana Holt' }], counts: { ended: 1, people: 1 } },
    'Removed Hana Holt as leader of Gullhaven.',
  ],
  [{ kind: 'set-person-state', fields: ['paused'], counts: { people: 1 } }, 'Paused somebody.'],
  [{ kind: 'bring-in-roster', counts: { newPeople: 1 } }, 'Added 1 new person to Gullhaven.'],
  [
    { kind: 'undo', undid: 'grant-access', courses: [course], counts: { left: 1 } },
    'Undid: courses opened and blocked (Gullhaven, Search patterns); 1 part had changed since and stayed.',
  ],
])('the log says %j in words', (more, expected) => {
  expect(words.changes.sentence(entry(more))).toBe(expected);
});

test('every kind of change has its name in the log', () => {
  const kinds = Object.keys(words.changes.kinds);
  expect(changeKinds.filter((kind) => !kinds.includes(kind))).toEqual([]);
  // And a sentence of its own: what has none is told as an undo.
  const told = kinds.filter((kind) => kind !== 'undo').map((kind) => words.changes.sentence(entry({ kind })));
  expect(told.filter((sentence) => sentence.startsWith('Undid'))).toEqual([]);
  expect(new Set(told).size).toBe(told.length);
});

test('why is told step by step, and what lies outside only as something outside', () => {
  const step = (more: Partial<WhyStep>): string =>
    words.access.step({
      kind: 'grant',
      verdict: 'decided',
      effect: 'open',
      some: false,
      at: { id: 2, name: 'North Reach' },
      path: { id: 3, name: 'Gullhaven' },
      outside: false,
      firstDay: null,
      lastDay: null,
      terms: null,
      ...more,
    });
  expect(step({})).toBe('Opened at North Reach (for Gullhaven); this decides.');
  expect(step({ kind: 'firm', effect: 'block', firstDay: '2026-11-03' })).toBe(
    'Blocked firmly at North Reach from 3 Nov 2026 (for Gullhaven); this decides.',
  );
  expect(step({ outside: true, at: null, path: null })).toBe('Something outside your groups.');
});

test.each<[Parameters<typeof words.exceptions.said>[0], string]>([
  [{ what: 'exempt', firstDay: null, day: null, reason: 'At sea', proof: null }, 'Exempt: At sea'],
  [{ what: 'open', firstDay: null, day: null, reason: null, proof: null }, 'Opened for this person'],
  [
    { what: 'block', firstDay: '2026-11-03', day: '2026-12-01', reason: null, proof: null },
    'Blocked for this person from 3 Nov 2026 until 1 Dec 2026',
  ],
  [{ what: 'more time', firstDay: null, day: '2026-12-01', reason: null, proof: null }, 'More time: not due before 1 Dec 2026'],
  [{ what: 'done elsewhere', firstDay: null, day: '2026-12-01', reason: null, proof: null }, 'Done elsewhere on 1 Dec 2026'],
])('what holds for one person, %j, in words', (said, expected) => {
  expect(words.exceptions.said(said)).toBe(expected);
});

test('every kind of what is coming up has its words', () => {
  for (const kind of comingKinds) {
    const line = {
      day: '2026-12-01',
      lastDay: '2026-12-01',
      week: 'no' as const,
      kind,
      course: { id: 1, name: 'Ropes' },
      group: null,
      name: 'A',
      licenceId: null,
      people: 1,
      some: 1,
      most: null,
    };
    expect(words.coming.says(line)).toMatch(/\S/u);
    expect(`${words.coming.says(line)} ${words.coming.detail(line)}`).not.toMatch(/undefined|null|NaN/u);
    // Of one person nothing is said of all.
    expect(words.coming.detail({ ...line, some: 0 })).not.toMatch(/^All /u);
    expect(words.coming.detail({ ...line, people: 2, some: 0 })).not.toMatch(/^They (have begun|are in)/u);
  }
});
