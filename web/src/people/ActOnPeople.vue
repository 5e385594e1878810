<script setup lang="ts">
import type { AskedChange, GroupSheet } from '@gate-roster/contract';
import { useQuery } from '@tanstack/vue-query';
import { computed, ref, watch } from 'vue';
import { call } from '../api/call.ts';
import JobProgress from '../changes/JobProgress.vue';
import LookPanel from '../changes/LookPanel.vue';
import { useChange } from '../changes/use-change.ts';
import { useLargeChange } from '../changes/use-large-change.ts';
import GroupPicker from '../groups/GroupPicker.vue';
import { tell } from '../ui/notice.ts';
import * as words from '../words.ts';
import type { Chosen } from './chosen.ts';
import { type PeopleAct, type StateAsked, stateValues } from './person-acts.ts';
import StateChoice from './StateChoice.vue';

/** One act on all the people chosen: what it would do, and the button that does it. */
const { group, chosen } = defineProps<{ group: GroupSheet; chosen: Chosen }>();
const act = defineModel<Exclude<PeopleAct, 'except'> | null>({ required: true });
const emit = defineEmits<{ moved: [] }>();
const target = ref<number | null>(null);
const add = ref<string[]>([]);
const remove = ref<number[]>([]);
/** A tag that is typed needs no list any more, which would lie over the button. */
const isMenuOpen = ref(false);
const closeMenu = (): void => {
  setTimeout(() => (isMenuOpen.value = false));
};
const whenOpened: StateAsked = { state: 'paused', firstDay: null, lastDay: null };
const state = ref<StateAsked>(whenOpened);
watch(act, () => {
  target.value = null;
  add.value = [];
  remove.value = [];
  state.value = whenOpened;
});
const { data: tags } = useQuery({
  queryKey: ['tags', computed(() => group.id)],
  queryFn: ({ signal }) => call('branchTags', { params: { groupId: group.id } }, signal),
  enabled: () => act.value === 'tag',
});
const change = computed<AskedChange | null>(() => {
  const { people: personIds } = chosen;
  switch (act.value) {
    case 'remove':
      return { kind: 'remove-members', groupId: group.id, personIds };
    case 'put':
      return target.value === null ? null : { kind: 'add-members', groupId: target.value, personIds, firstDay: null, lastDay: null };
    case 'move':
      return target.value === null ? null : { kind: 'move-members', fromId: group.id, intoId: target.value, personIds };
    case 'tag':
      return add.value.length + remove.value.length === 0
        ? null
        : { kind: 'tag-people', personIds, groupId: group.id, add: add.value, remove: remove.value };
    case 'state':
      return { kind: 'set-person-state', personIds, ...stateValues(state.value) };
    default:
      return null;
  }
});
const title = computed(() => {
  const { count } = chosen;
  return {
    put: words.people.putTitle(count),
    move: words.people.moveTitle(count, group.name),
    remove: words.people.removeTitle(count, group.name),
    tag: words.people.tagTitle(count),
    state: words.people.stateTitle(count),
  }[act.value ?? 'put'];
});
const label = computed(
  () =>
    ({
      put: words.people.put,
      move: words.people.moveTo.replace('…', ''),
      remove: words.people.remove,
      tag: words.people.tag,
      state: words.common.save,
    })[act.value ?? 'put'],
);
const done = computed(() =>
  act.value === 'tag' ? words.people.tagged : act.value === 'state' ? words.people.stateSaved : words.people.moved,
);
const inHand = useChange(change, done);
function close(): void {
  act.value = null;
  emit('moved');
}
const { job, apply: applyIt } = useLargeChange('people', { change, inHand, people: () => chosen.count }, (isThis) => {
  tell(isThis ? done.value : words.people.manyDone);
  if (isThis) close();
});
async function apply(): Promise<void> {
  if ((await applyIt()) === 'applied') close();
}
</script>

<template>
  <v-dialog
    :model-value="act !== null"
    max-width="480"
    scrollable
    :aria-label="words.changes.whatItWouldDo"
    @update:model-value="act = null"
  >
    <v-card>
      <div class="act">
        <h2>{{ title }}</h2>
        <JobProgress v-if="job.sheet.value" :job="job" :title="title" />
        <p v-if="job.said.value" role="alert">{{ job.said.value }}</p>
        <p v-if="act === 'remove'" class="soft">{{ words.people.removeStays }}</p>
        <p v-if="act === 'move'" class="soft">{{ words.people.moveWhat }}</p>
        <GroupPicker v-if="act === 'put' || act === 'move'" v-model="target" :label="words.people.intoGroup" />
        <!-- A list that arrives while the field has the focus would open by itself, over the button. -->
        <template v-if="act === 'tag' && tags">
          <v-combobox
            v-model="add"
            v-model:menu="isMenuOpen"
            autofocus
            multiple
            chips
            closable-chips
            :items="tags.tags.map(({ name }) => name)"
            :label="words.people.addTags"
            :hint="words.people.addTagsHint"
            @keydown.enter="closeMenu"
          />
          <v-select
            v-model="remove"
            multiple
            chips
            closable-chips
            :items="tags.tags"
            item-value="id"
            item-title="name"
            :label="words.people.removeTags"
          />
        </template>
        <StateChoice v-if="act === 'state'" v-model="state" />
        <LookPanel
          v-if="change && !job.sheet.value"
          :in-hand="inHand"
          :change="change"
          :apply-label="label"
          @apply="apply"
          @discard="act = null"
        />
      </div>
    </v-card>
  </v-dialog>
</template>

<style scoped>
.act {
  padding: 20px 24px;
  display: grid;
  gap: 14px;
  overflow: auto;
}
</style>
