import type { Change, GroupLeader, Invited } from '@gate-roster/contract';
import { type Power, presets } from '@gate-roster/core';
import { computed, type ComputedRef, ref, type Ref } from 'vue';

/** Somebody who is there, or who is invited by a letter. */
export type NewLeader = { personId: number; name: string } | { givenName: string; familyName: string; email: string; name: string };

export interface LeaderDraft {
  who: Ref<NewLeader | null>;
  held: Ref<readonly Power[]>;
  firstDay: Ref<string | null>;
  lastDay: Ref<string | null>;
  /** Whose powers end, and whose invitation is taken back. */
  ending: Ref<GroupLeader | null>;
  takingBack: Ref<Invited | null>;
  change: ComputedRef<Change | null>;
  isBegun: ComputedRef<boolean>;
  /** Each begins afresh: what was begun before is dropped. */
  edit: (leader: GroupLeader) => void;
  end: (leader: GroupLeader) => void;
  takeBack: (invited: Invited) => void;
  /** Another is to be named; powers and days that were asked for stay, those of a leader who was edited do not. */
  leaveOut: () => void;
  reset: () => void;
}

/** What is about to be changed of who leads a group: one thing at a time. */
export function useLeaderDraft(groupId: () => number): LeaderDraft {
  const who = ref<NewLeader | null>(null);
  const held = ref<readonly Power[]>(presets.head);
  const firstDay = ref<string | null>(null);
  const lastDay = ref<string | null>(null);
  const ending = ref<GroupLeader | null>(null);
  const takingBack = ref<Invited | null>(null);
  let isEdited = false;
  function reset(): void {
    isEdited = false;
    for (const each of [who, firstDay, lastDay, ending, takingBack]) each.value = null;
    held.value = presets.head;
  }
  const change = computed<Change | null>(() => {
    if (takingBack.value) return { kind: 'take-back-invitation', invitationId: takingBack.value.id };
    if (ending.value) return { kind: 'set-leaders', groupId: groupId(), begin: [], end: [ending.value.id] };
    if (!who.value || held.value.length === 0) return null;
    const { name: _shown, ...person } = who.value;
    return {
      kind: 'set-leaders',
      groupId: groupId(),
      end: [],
      begin: [{ who: person, powers: [...held.value], firstDay: firstDay.value || null, lastDay: lastDay.value || null }],
    };
  });
  return {
    who,
    held,
    firstDay,
    lastDay,
    ending,
    takingBack,
    change,
    isBegun: computed(() => [who, ending, takingBack].some(({ value }) => value !== null)),
    edit(leader) {
      reset();
      isEdited = true;
      who.value = { personId: leader.id, name: leader.name };
      held.value = leader.powers;
      firstDay.value = leader.firstDay;
      lastDay.value = leader.lastDay;
    },
    end(leader) {
      reset();
      ending.value = leader;
    },
    takeBack(invited) {
      reset();
      takingBack.value = invited;
    },
    leaveOut() {
      if (isEdited) reset();
      else who.value = null;
    },
    reset,
  };
}
