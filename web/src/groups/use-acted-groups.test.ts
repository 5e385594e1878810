import { computed, ref } from 'vue';
import type { TreeRow } from './tree-query.ts';
import { useActedGroups } from './use-acted-groups.ts';

/** Groups 1 › 2 › 3 › 4, of which 4 is open; where one goes is noted. */
function atDepth(): { acted: ReturnType<typeof useActedGroups>; gone: number[] } {
  const gone: number[] = [];
  const path = (): TreeRow[] => [1, 2, 3, 4].map((id) => ({ id }) as TreeRow);
  const acted = useActedGroups(ref({ path }), {
    groupId: computed(() => 4),
    goTo: (id) => {
      gone.push(id);
    },
  });
  return { acted, gone };
}

test('who takes one of several chosen groups up takes them all; another one goes alone', () => {
  const { acted } = atDepth();
  for (const id of [7, 8, 7, 9]) acted.pick(id);
  expect(acted.picked.value).toEqual([8, 9]);
  expect([acted.takenWith(9), acted.takenWith(7)]).toEqual([[8, 9], [7]]);
});

test('what is carried is put into another group, and into none of those that are carried', () => {
  const { acted } = atDepth();
  acted.carry([8, 9], 'dragged');
  acted.over.value = 9;
  expect(acted.isDragging.value).toBe(true);
  acted.putInto(9);
  expect([acted.act.value, acted.carried.value, acted.over.value, acted.isDragging.value]).toEqual([null, [], null, false]);
  acted.putInto(2);
  expect(acted.act.value).toBeNull();
  acted.carry([8, 9], 'by hand');
  expect(acted.isDragging.value).toBe(false);
  acted.putInto(2);
  expect([acted.act.value, acted.acted.value]).toEqual(['move', { ids: [8, 9], into: 2 }]);
});

test('after the open group was deleted, or one above it, the nearest that stays is opened; nothing else leads away', () => {
  const places = (ids: number[], done: 'delete' | 'archive'): number[] => {
    const { acted, gone } = atDepth();
    acted.pick(8);
    acted.begin(done, ids);
    acted.onDone(done);
    expect(acted.picked.value).toEqual([]);
    return gone;
  };
  expect([places([4], 'delete'), places([2, 3], 'delete'), places([8], 'delete'), places([1], 'delete'), places([4], 'archive')]).toEqual([
    [3],
    [1],
    [],
    [],
    [],
  ]);
});
