<script setup lang="ts">
import { useQuery } from '@tanstack/vue-query';
import { defineAsyncComponent } from 'vue';
import { call } from '../api/call.ts';
import type { Chosen } from '../people/chosen.ts';
import { useScope } from '../shell/scope.ts';

/** A table of learners with what can be done to the chosen ones above it, and one person beside it. */
const {
  chosen,
  courseId = null,
  cellCourseId = null,
  isPast = false,
} = defineProps<{
  chosen: Chosen;
  /** The course that the table is about. */
  courseId?: number | null;
  /** The course in whose cell somebody pressed: the person opens at it. */
  cellCourseId?: number | null;
  /** What was is only looked at: nobody can be chosen. */
  isPast?: boolean;
}>();
const emit = defineEmits<{ done: [] }>();
const personId = defineModel<number | null>('personId', { required: true });
const ChosenPeople = defineAsyncComponent(() => import('../people/ChosenPeople.vue'));
const PersonPanel = defineAsyncComponent(() => import('../people/PersonPanel.vue'));
const scope = useScope();
const { data: group } = useQuery({
  queryKey: ['group', scope.groupId, scope.query],
  queryFn: ({ signal }) => call('group', { params: { groupId: scope.groupId.value }, query: scope.query.value }, signal),
});
</script>

<template>
  <div class="learners" :class="{ past: isPast }">
    <section class="card">
      <slot name="head" />
      <ChosenPeople
        v-if="!isPast && group && chosen.count > 0"
        :group="group"
        :chosen="chosen"
        are-members
        :course-id="courseId"
        @done="emit('done')"
      />
      <slot />
    </section>
    <aside v-if="personId !== null" class="panel">
      <PersonPanel :person-id="personId" :course-id="cellCourseId ?? courseId" @close="personId = null" />
    </aside>
    <aside v-else-if="$slots['beside']" class="beside"><slot name="beside" /></aside>
  </div>
</template>

<style scoped>
.learners {
  display: flex;
  gap: 14px;
  min-height: 340px;
  flex: 1 0 0;
}
.past :deep(.box) {
  display: none;
}
.card {
  flex: 1;
  min-width: 0;
  display: flex;
  flex-direction: column;
  background: var(--sheet);
  border: 1px solid var(--rule);
  border-radius: 8px;
  overflow: hidden;
}
.beside {
  width: 300px;
  flex: none;
  display: grid;
  gap: 14px;
  align-content: start;
}
.panel {
  width: 360px;
  flex: none;
  overflow: auto;
  background: var(--paper);
  border: 1px solid var(--rule);
  border-radius: 8px;
  padding: 16px 18px;
}
@media (max-width: 1000px) {
  .learners {
    flex-direction: column;
  }
  .panel,
  .beside {
    width: 100%;
  }
}
</style>
