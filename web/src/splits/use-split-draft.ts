import type { Change, SplitMember, SplitPart, SplitRow } from '@gate-roster/contract';
import { divide, type DivideBy, partsOfSize } from '@gate-roster/core';
import { computed, type ComputedRef, type Ref, ref, shallowRef, watch } from 'vue';
import * as words from '../words.ts';

/** How people are divided again. */
export type DivideInto = { parts: number } | { size: number };

export interface SplitDraft {
  name: Ref<string>;
  parts: Ref<SplitPart[]>;
  /** What would be saved; null: nothing is different. */
  change: ComputedRef<Change | null>;
  /** The split as it is in the draft, different or not; null: it cannot be saved like this. */
  whole: ComputedRef<Change | null>;
  /** Members who are in no part. */
  rest: ComputedRef<SplitMember[]>;
  membersOf: (part: SplitPart) => SplitMember[];
  /** Puts somebody into a part, or (null) into none. */
  move: (personId: number, into: number | null) => void;
  edit: (key: number, values: Partial<SplitPart>) => void;
  add: () => void;
  remove: (key: number) => void;
  divideAgain: (by: DivideBy, into: DivideInto) => void;
  onePerLeader: (leaders: readonly { id: number }[]) => void;
  /** The same people in the same parts as in another split. */
  takeOver: (other: SplitRow) => void;
  reset: () => void;
}

/** A part with nothing in it; its number stands for its name. */
export const emptyPart = (key: number): SplitPart => ({
  key,
  name: words.splits.partName(key),
  leaderId: null,
  isOn: true,
  allowance: null,
  link: null,
  words: '',
  personIds: [],
});

/** What is typed and moved about a split before it is saved; it starts again from the split when that becomes another. */
export function useSplitDraft(split: Ref<SplitRow | null>, members: Ref<readonly SplitMember[]>, groupId: Ref<number>): SplitDraft {
  const stored = (): SplitPart[] =>
    split.value === null ? [emptyPart(1), emptyPart(2)] : split.value.parts.map(({ called: _, ...part }) => part);
  const name = ref('');
  const parts = shallowRef<SplitPart[]>([]);
  function reset(): void {
    name.value = split.value?.name ?? words.splits.newName;
    parts.value = stored();
  }
  const seen = computed(() => JSON.stringify([split.value?.id, split.value?.name, stored()]));
  watch(seen, reset, { immediate: true });

  const inOrder = (list: readonly SplitPart[]): SplitPart[] =>
    list.map((part) => ({ ...part, personIds: part.personIds.toSorted((a, b) => a - b) }));
  // A new split has nothing to save, and nobody is asked before leaving it, until something is said.
  const isSame = computed(
    () =>
      name.value.trim() === (split.value?.name ?? words.splits.newName) &&
      JSON.stringify(inOrder(parts.value)) === JSON.stringify(inOrder(stored())),
  );
  const whole = computed<Change | null>(() =>
    name.value.trim() === '' || parts.value.length === 0
      ? null
      : {
          kind: 'set-split',
          splitId: split.value?.id ?? null,
          groupId: groupId.value,
          name: name.value.trim(),
          parts: inOrder(parts.value),
        },
  );
  const change = computed(() => (isSame.value ? null : whole.value));
  const inParts = computed(() => new Set(parts.value.flatMap(({ personIds }) => personIds)));
  const rest = computed(() => members.value.filter(({ id }) => !inParts.value.has(id)));
  const nextKey = (): number => Math.max(0, ...parts.value.map(({ key }) => key)) + 1;

  /** As many parts as there are lists; those that stand keep what they may do. */
  function fill(lists: readonly (readonly number[])[], more: (index: number) => Partial<SplitPart> = () => ({})): void {
    const next = nextKey();
    parts.value = lists.map((personIds, index) => ({
      ...(parts.value[index] ?? emptyPart(next + index - parts.value.length)),
      ...more(index),
      personIds: [...personIds],
    }));
  }

  return {
    name,
    parts,
    change,
    whole,
    rest,
    membersOf: ({ personIds }) => {
      const there = new Set(personIds);
      return members.value.filter(({ id }) => there.has(id));
    },
    move(personId, into) {
      parts.value = parts.value.map((part) => ({
        ...part,
        personIds: [...part.personIds.filter((id) => id !== personId), ...(part.key === into ? [personId] : [])],
      }));
    },
    edit(key, values) {
      parts.value = parts.value.map((part) => (part.key === key ? { ...part, ...values } : part));
    },
    add() {
      parts.value = [...parts.value, emptyPart(nextKey())];
    },
    remove(key) {
      parts.value = parts.value.filter((part) => part.key !== key);
    },
    divideAgain(by, into) {
      const count = 'parts' in into ? into.parts : partsOfSize(members.value.length, into.size);
      fill(divide(members.value, count, by));
    },
    onePerLeader(leaders) {
      const led = new Set(leaders.map(({ id }) => id));
      const others = members.value.filter(({ id }) => !led.has(id));
      fill(divide(others, leaders.length, 'chance'), (index) => ({ leaderId: leaders[index]?.id ?? null }));
    },
    takeOver(other) {
      fill(
        other.parts.map(({ personIds }) => personIds),
        (index) => ({ name: other.parts[index]?.name ?? '', leaderId: other.parts[index]?.leaderId ?? null }),
      );
    },
    reset,
  };
}
