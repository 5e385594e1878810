import type { GroupLeader } from '@gate-roster/contract';
import { presets } from '@gate-roster/core';
import { useLeaderDraft } from './use-leader-draft.ts';

const sefu: GroupLeader = { id: 4, name: 'Sefu', powers: ['seeProgress'], firstDay: '2026-03-01', lastDay: null };
const ada: GroupLeader = { id: 9, name: 'Ada', powers: presets.helper.slice(), firstDay: null, lastDay: '2027-01-31' };
const kit = { id: 31, name: '', email: 'kit@shore.example', leads: true, until: '2026-12-20T10:00:00.000Z' };
const draft = () => useLeaderDraft(() => 7);
const begins = (who: object, more: object = {}) => ({
  kind: 'set-leaders',
  groupId: 7,
  end: [],
  begin: [{ who, powers: [...presets.head], firstDay: null, lastDay: null, ...more }],
});

test('somebody known or invited by a letter is put in charge, without the name that only the list shows', () => {
  const { who, change, isBegun, held, lastDay } = draft();
  expect([change.value, isBegun.value]).toEqual([null, false]);
  who.value = { personId: 12, name: 'Tuva Moe' };
  expect([change.value, isBegun.value]).toEqual([begins({ personId: 12 }), true]);
  who.value = { givenName: 'Kit', familyName: '', email: 'kit@shore.example', name: 'Kit, by letter' };
  lastDay.value = '2027-05-01';
  expect(change.value).toEqual(begins({ givenName: 'Kit', familyName: '', email: 'kit@shore.example' }, { lastDay: '2027-05-01' }));
  held.value = [];
  expect(change.value).toBeNull();
});

test('a leader is edited from what they have; an emptied day is none', () => {
  const { edit, change, firstDay } = draft();
  edit(sefu);
  expect(change.value).toEqual(begins({ personId: 4 }, { powers: ['seeProgress'], firstDay: '2026-03-01' }));
  firstDay.value = '';
  expect(change.value).toMatchObject({ begin: [{ firstDay: null }] });
});

test('one thing at a time: what was begun before is dropped', () => {
  const { edit, end, takeBack, change, ending, takingBack, who } = draft();
  const begun = () => [ending.value?.name, takingBack.value?.email, who.value?.name];
  takeBack(kit);
  expect([change.value, begun()]).toEqual([
    { kind: 'take-back-invitation', invitationId: 31 },
    [undefined, 'kit@shore.example', undefined],
  ]);
  end(sefu);
  expect([change.value, begun()]).toEqual([{ kind: 'set-leaders', groupId: 7, begin: [], end: [4] }, ['Sefu', undefined, undefined]]);
  edit(ada);
  expect([change.value, begun()]).toEqual([
    begins({ personId: 9 }, { powers: ada.powers, lastDay: '2027-01-31' }),
    [undefined, undefined, 'Ada'],
  ]);
  end(ada);
  takeBack(kit);
  expect(begun()).toEqual([undefined, 'kit@shore.example', undefined]);
});

test('who is named instead of a leader that was edited does not get that one’s powers and days', () => {
  const { edit, leaveOut, who, change, held, lastDay } = draft();
  edit(ada);
  leaveOut();
  who.value = { personId: 12, name: 'Tuva Moe' };
  expect(change.value).toEqual(begins({ personId: 12 }));
  held.value = ['seeProgress'];
  lastDay.value = '2027-05-01';
  leaveOut();
  who.value = { personId: 13, name: 'Oda Lind' };
  expect(change.value).toEqual(begins({ personId: 13 }, { powers: ['seeProgress'], lastDay: '2027-05-01' }));
});
