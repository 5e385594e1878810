import type { SplitMember, SplitPart, SplitRow } from '@gate-roster/contract';
import { ref } from 'vue';
import { useSplitDraft } from './use-split-draft.ts';

const member = (id: number, score: number | null = null): SplitMember => ({ id, name: `Nr ${id}`, score, tags: [], workingAt: null });
const members = ref([1, 2, 3, 4, 5, 6, 7].map((id) => member(id, id * 10)));
const part = (key: number, personIds: number[]): SplitPart => ({
  key,
  name: `P${key}`,
  leaderId: null,
  isOn: true,
  allowance: { mode: 'only', courses: [] },
  link: null,
  words: '',
  personIds,
});
const split = (parts: SplitPart[], more: Partial<SplitRow> = {}): SplitRow => ({
  id: 5,
  name: 'Drill',
  parts: parts.map((each) => ({ ...each, called: each.name })),
  runsUntil: null,
  startedAt: null,
  by: null,
  may: { edit: true, stop: true },
  ...more,
});
const draftOf = (row: SplitRow | null) => useSplitDraft(ref(row), members, ref(4));
const whereIs = (parts: readonly SplitPart[]) =>
  Object.fromEntries(parts.flatMap(({ key, personIds }) => personIds.map((id) => [id, key])));

describe('the draft of a split', () => {
  it('has nothing to save until somebody is moved, and again when they are moved back', () => {
    const draft = draftOf(split([part(1, [1, 2]), part(2, [3])]));
    expect(draft.change.value).toBeNull();
    expect(draft.rest.value.map(({ id }) => id)).toEqual([4, 5, 6, 7]);
    draft.move(1, 2);
    expect(whereIs(draft.parts.value)).toEqual({ 1: 2, 2: 1, 3: 2 });
    expect(draft.change.value).toMatchObject({ kind: 'set-split', splitId: 5, groupId: 4 });
    draft.move(1, null);
    draft.move(1, 1);
    expect(draft.change.value).toBeNull();
  });

  it('divides everybody again into as many parts as asked, and the parts that stand keep what they may do', () => {
    const draft = draftOf(split([part(1, [1])]));
    draft.divideAgain('score', { parts: 3 });
    expect(draft.parts.value.map(({ personIds }) => personIds.length).sort()).toEqual([2, 2, 3]);
    expect(draft.rest.value).toEqual([]);
    expect(draft.parts.value.map(({ allowance }) => allowance)).toEqual([{ mode: 'only', courses: [] }, null, null]);
    expect(new Set(draft.parts.value.map(({ key }) => key)).size).toBe(3);
    draft.divideAgain('chance', { size: 4 });
    expect(draft.parts.value).toHaveLength(2);
  });

  it('gives each leader a part, in which no leader is', () => {
    const draft = draftOf(null);
    draft.onePerLeader([{ id: 7 }, { id: 99 }]);
    expect(draft.parts.value.map(({ leaderId }) => leaderId)).toEqual([7, 99]);
    expect(draft.rest.value.map(({ id }) => id)).toEqual([7]);
  });

  it('of a new split has nothing to save until something is said', () => {
    const draft = draftOf(null);
    expect(draft.change.value).toBeNull();
    draft.move(1, 1);
    expect(draft.change.value).toMatchObject({ kind: 'set-split', splitId: null });
  });

  it('takes over who was with whom, not what they could do', () => {
    const draft = draftOf(null);
    draft.takeOver(split([part(3, [1, 2]), part(9, [5])]));
    expect(draft.parts.value.map(({ name, allowance, personIds }) => [name, allowance, personIds])).toEqual([
      ['P3', null, [1, 2]],
      ['P9', null, [5]],
    ]);
  });

  it('starts again from the split when that becomes another', async () => {
    const row = ref(split([part(1, [1])]));
    const draft = useSplitDraft(row, members, ref(4));
    draft.move(2, 1);
    row.value = split([part(1, [3])]);
    await Promise.resolve();
    expect(whereIs(draft.parts.value)).toEqual({ 3: 1 });
  });
});
