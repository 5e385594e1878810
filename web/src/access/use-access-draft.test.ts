import type { AccessCell, AccessGrid } from '@gate-roster/contract';
import { ref } from 'vue';
import { sameInAll, useAccessDraft } from './use-access-draft.ts';
import { saidAt } from './use-grid-acts.ts';

const closed: AccessCell = { state: 'closed', units: 0, opensOn: null, openedHere: false, grants: [], decidedAt: null };
const said = {
  set: null,
  withSubgroups: true,
  firm: false,
  firstDay: null,
  lastDay: null,
  units: null,
  due: null,
  payers: null,
  note: null,
  by: null,
  madeOn: '2026-11-03',
};
const blocked: AccessCell = { ...closed, state: 'blocked', grants: [{ ...said, id: 77, effect: 'block', mayEnd: true }] };
const row = (id: number, parentId: number | null, cell: AccessCell = closed): AccessGrid['rows'][number] => ({
  id,
  parentId,
  name: `g${id}`,
  depth: 0,
  isAbove: false,
  mayOpen: true,
  cells: [cell],
});
const grid: AccessGrid = {
  day: '2026-03-01',
  isPast: false,
  since: '2026-01-01',
  licences: [],
  courses: [{ id: 9, name: 'Search', units: [], set: null }],
  rows: [row(1, null), row(2, 1), row(3, 2, blocked), row(4, 2)],
};
const draftOn = () => useAccessDraft(ref(grid));
const states = (draft: ReturnType<typeof draftOn>): string[] => grid.rows.map((each) => draft.stateOf(each, 9, each.cells[0] ?? closed));

test('a cell says what is drafted there, else its one statement; several, one of a set, or one that ends are not copied', () => {
  const note = 'Until the slip is whole again';
  const own = { ...said, id: 5, effect: 'open' as const, mayEnd: true, due: { at: { days: 9 }, leastDays: 2, firm: true }, note };
  const { withSubgroups, firm, firstDay, lastDay, units, due, payers } = own;
  const more = { withSubgroups, firm, firstDay, lastDay, units, due, payers, note };
  expect(saidAt(null, { ...closed, grants: [own] })).toEqual({ effect: 'open', more });
  expect(saidAt({ effect: 'block', ends: [5] }, { ...closed, grants: [own] })).toEqual({ effect: 'block' });
  expect(saidAt({ effect: 'end' }, { ...closed, grants: [own] })).toBeNull();
  expect([saidAt(null, { ...closed, grants: [own, own] }), saidAt(null, closed)]).toEqual([null, null]);
  expect(saidAt(null, { ...closed, grants: [{ ...own, set: 'Duty' }] })).toBeNull();
});

describe('useAccessDraft', () => {
  it('holds firmly what keeps people out, and leaves opens alone', () => {
    const draft = draftOn();
    draft.put(1, 9, { effect: 'open' });
    draft.put(2, 9, { effect: 'block', more: { lastDay: '2026-05-01' } });
    draft.put(3, 9, { effect: 'end', ends: [77] });
    expect(draft.loose.value).toEqual(['2/9', '3/9']);
    draft.holdFirmly();
    expect(draft.loose.value).toEqual([]);
    expect([1, 2, 3].map((id) => draft.at(id, 9))).toEqual([
      { effect: 'open' },
      { effect: 'block', more: { lastDay: '2026-05-01', firm: true } },
      { effect: 'block', ends: [77], more: { firm: true } },
    ]);
  });

  it('shows an open reaching the groups below that say nothing themselves', () => {
    const draft = draftOn();
    draft.put(1, 9, { effect: 'open' });
    expect(states(draft)).toEqual(['here', 'above', 'blocked', 'above']);
    expect(grid.rows.map((each) => draft.touches(each, 9))).toEqual([true, true, false, true]);
  });

  it('shows an open of some units as a part, with how many', () => {
    const draft = draftOn();
    draft.put(1, 9, { effect: 'open', more: { units: [4, 5] } });
    expect([draft.stateOf(row(1, null), 9, closed), draft.unitsOf(row(1, null), 9, closed)]).toEqual(['part', 2]);
    expect(draft.unitsOf(row(4, 2), 9, { ...closed, units: 7 })).toBe(7);
  });

  it('keeps an open without subgroups to its group', () => {
    const draft = draftOn();
    draft.put(1, 9, { effect: 'open', more: { withSubgroups: false } });
    expect(states(draft)).toEqual(['here', 'closed', 'blocked', 'closed']);
  });

  it('lets a new word at a group take the place of the one that stands there', () => {
    const draft = draftOn();
    draft.put(3, 9, { effect: 'open' });
    expect(draft.change.value).toMatchObject({
      kind: 'grant-access',
      end: [77],
      begin: [{ groupId: 3, courseId: 9, effect: 'open', withSubgroups: true, firm: false }],
    });
    draft.put(3, 9, { effect: 'end' });
    expect(draft.change.value).toMatchObject({ end: [77], begin: [] });
  });

  it('leaves a word from above standing, unless one asks to take it back', () => {
    const above: AccessCell = { ...blocked, grants: [{ ...said, id: 78, effect: 'block', mayEnd: false }] };
    const draft = useAccessDraft(ref({ ...grid, rows: [row(1, null, above)] }));
    draft.put(1, 9, { effect: 'block' });
    expect(draft.change.value).toMatchObject({ end: [] });
    draft.put(1, 9, { effect: 'end' });
    expect(draft.change.value).toMatchObject({ end: [78] });
  });

  it('has nothing to take back where nothing stands, and no change when all is dropped', () => {
    const draft = draftOn();
    draft.put(4, 9, { effect: 'end' });
    expect(draft.change.value).toBeNull();
    draft.put(4, 9, { effect: 'block' });
    draft.refine([{ groupId: 4, courseId: 9 }], { firm: true });
    expect(draft.change.value).toMatchObject({ begin: [{ firm: true, effect: 'block' }] });
    draft.put(4, 9, null);
    expect(draft.change.value).toBeNull();
  });

  it('sets what several statements say at once, and tells what they say alike', () => {
    const draft = draftOn();
    for (const id of [1, 2, 4]) draft.put(id, 9, { effect: 'open' });
    const places = [1, 2, 3, 4].map((groupId) => ({ groupId, courseId: 9 }));
    draft.refine(places, { firstDay: '2027-01-04' });
    draft.refine(places.slice(0, 1), { units: [5], lastDay: null });
    const said = [...draft.cells.value.values()].map(({ more }) => more ?? {});
    expect(said.map(({ firstDay }) => firstDay)).toEqual(['2027-01-04', '2027-01-04', '2027-01-04']);
    expect(sameInAll(said)).toEqual({ firstDay: '2027-01-04' });
    draft.refine(places.slice(1, 2), { firstDay: null });
    expect(sameInAll([...draft.cells.value.values()].map(({ more }) => more ?? {}))).toEqual({});
  });
});
