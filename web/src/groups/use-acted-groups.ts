import { computed, type ComputedRef, ref, type Ref } from 'vue';
import type { Scope } from '../shell/scope.ts';
import type { GroupAct } from './group-act.ts';
import type { ShownTree } from './tree-query.ts';

/** Groups of the tree that are chosen, that are on their way elsewhere (by keyboard or by dragging), and what is done to some of them. */
export function useActedGroups(
  tree: Readonly<Ref<Pick<ShownTree, 'path'> | undefined>>,
  scope: Pick<Scope, 'groupId' | 'goTo'>,
): {
  picked: Ref<number[]>;
  isPicked: (id: number) => boolean;
  pick: (id: number) => void;
  carried: Ref<number[]>;
  /** On which group they are, while they are dragged. */
  over: Ref<number | null>;
  isDragging: ComputedRef<boolean>;
  /** What goes along with a group that is taken up: itself, or all that are chosen with it. */
  takenWith: (id: number) => number[];
  carry: (ids: number[], how: 'by hand' | 'dragged') => void;
  putDown: () => void;
  /** Asks whether what is carried shall be moved into a group. */
  putInto: (id: number) => void;
  act: Ref<GroupAct | null>;
  /** What is acted on. */
  acted: ComputedRef<{ ids: number[]; into: number | null }>;
  begin: (wanted: GroupAct, ids: number[], into?: number | null) => void;
  onDone: (done: GroupAct) => void;
} {
  const picked = ref<number[]>([]);
  const isPicked = (id: number): boolean => picked.value.includes(id);
  function pick(id: number): void {
    picked.value = isPicked(id) ? picked.value.filter((each) => each !== id) : [...picked.value, id];
  }

  const act = ref<GroupAct | null>(null);
  /** Also where the reader stood when it began. */
  const acted = ref<{ ids: number[]; into: number | null; path: number[] }>({ ids: [], into: null, path: [] });
  function begin(wanted: GroupAct, ids: number[], into: number | null = null): void {
    acted.value = { ids, into, path: tree.value?.path(scope.groupId.value).map(({ id }) => id) ?? [] };
    act.value = wanted;
  }
  /** After deleting the group that is open, the nearest group above that stays is opened. */
  function onDone(done: GroupAct): void {
    picked.value = [];
    if (done !== 'delete') return;
    const gone = new Set(acted.value.ids);
    const first = acted.value.path.findIndex((id) => gone.has(id));
    const stays = acted.value.path[first - 1];
    if (first >= 0 && stays !== undefined) scope.goTo(stays);
  }

  const carried = ref<number[]>([]);
  const over = ref<number | null>(null);
  const dragged = ref(false);
  function carry(ids: number[], how: 'by hand' | 'dragged'): void {
    carried.value = ids;
    dragged.value = how === 'dragged';
  }
  function putDown(): void {
    carry([], 'by hand');
    over.value = null;
  }
  function putInto(id: number): void {
    const ids = carried.value;
    putDown();
    if (ids.length > 0 && !ids.includes(id)) begin('move', ids, id);
  }
  return {
    picked,
    isPicked,
    pick,
    carried,
    over,
    isDragging: computed(() => dragged.value),
    takenWith: (id) => (isPicked(id) ? picked.value : [id]),
    carry,
    putDown,
    putInto,
    act,
    acted: computed(() => ({ ids: acted.value.ids, into: acted.value.into })),
    begin,
    onDone,
  };
}
