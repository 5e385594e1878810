<script setup lang="ts">
import type { Change, GrantDraft } from '@gate-roster/contract';
import { useQuery } from '@tanstack/vue-query';
import { computed, ref } from 'vue';
import GrantFields from '../access/GrantFields.vue';
import { call } from '../api/call.ts';
import LookPanel from '../changes/LookPanel.vue';
import { useChange } from '../changes/use-change.ts';
import { useTree } from '../groups/tree-query.ts';
import { useScope } from '../shell/scope.ts';
import { useSession } from '../shell/session.ts';
import * as words from '../words.ts';

/** Opens a course, or all that a course set holds, for some groups at once, with the same preview as from the grid. */
const {
  about,
  name,
  units = [],
  courseIds,
} = defineProps<{
  about: { courseId: number } | { courseSetId: number };
  name: string;
  units?: readonly { id: number; name: string }[];
  /** Of which a licence has to cover one. */
  courseIds: readonly number[];
}>();
const emit = defineEmits<{ close: [] }>();
const w = words.catalogue;
const scope = useScope();
const session = useSession();
const tree = useTree();
const groups = ref<number[]>([]);
const more = ref<Partial<GrantDraft>>({});
const choices = computed(() =>
  (tree.value?.visible(() => true) ?? []).map(({ row }) => ({
    value: row.id,
    title: row.name,
    path: (tree.value?.path(row.id) ?? []).map((step) => step.name).join(' › '),
  })),
);
const matches = (_title: string, typed: string, item?: { raw: { path: string } }): boolean =>
  (item?.raw.path ?? '').toLowerCase().includes(typed.toLowerCase());
const { data: seats } = useQuery({
  queryKey: ['seats', scope.groupId],
  queryFn: ({ signal }) => call('seats', { params: { groupId: scope.groupId.value } }, signal),
});
const licences = computed(() =>
  (seats.value?.licences ?? []).filter(
    ({ courses, lastDay }) => courseIds.some((id) => courses.includes(id)) && (lastDay === null || lastDay >= (session.me?.today ?? '')),
  ),
);
const change = computed<Change | null>(() =>
  groups.value.length === 0
    ? null
    : {
        kind: 'grant-access',
        end: [],
        begin: groups.value.map((groupId) => ({
          effect: 'open',
          withSubgroups: true,
          firm: false,
          firstDay: null,
          lastDay: null,
          units: null,
          due: null,
          ...more.value,
          groupId,
          ...('courseId' in about ? { courseId: about.courseId } : { courseId: null, courseSetId: about.courseSetId }),
        })),
      },
);
const inHand = useChange(change, w.opened, { settleMilliseconds: 250 });
async function apply(): Promise<void> {
  if (await inHand.apply()) emit('close');
}
</script>

<template>
  <LookPanel :in-hand="inHand" :change="change" :later="words.access.joinLater" @apply="apply" @discard="emit('close')">
    <h2>{{ w.openForSome(name) }}</h2>
    <v-autocomplete
      v-model="groups"
      autofocus
      multiple
      chips
      closable-chips
      clear-on-select
      :items="choices"
      :label="w.groups"
      :custom-filter="matches"
    >
      <template #item="{ props: item, item: each }"
        ><v-list-item v-bind="item" :subtitle="(each as { path?: string }).path ?? ''"
      /></template>
    </v-autocomplete>
    <GrantFields
      :more="more"
      :effects="['open']"
      :course="'courseId' in about ? { id: about.courseId, name, set: null, units: [...units] } : undefined"
      :licences="licences"
      has-below
      @refine="more = { ...more, ...$event }"
    />
  </LookPanel>
</template>
