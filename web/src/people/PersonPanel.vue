<script setup lang="ts">
import { useQuery } from '@tanstack/vue-query';
import { computed, ref } from 'vue';
import { call } from '../api/call.ts';
import LoadState from '../ui/LoadState.vue';
import { personName, showAgo, showDay, showMoment } from '../ui/format.ts';
import { words } from '../words.ts';

/** One person beside the list: who they are, where they are, and why each course is open or not. */
const { personId } = defineProps<{ personId: number }>();
defineEmits<{ close: [] }>();
const {
  data: person,
  error,
  isPending,
  refetch,
} = useQuery({ queryKey: ['person', computed(() => personId)], queryFn: ({ signal }) => call('person', { params: { personId } }, signal) });
const why = ref<number | null>(null);
const shown = computed(
  () => person.value?.courses.filter((course) => course.open || course.status !== 'not begun' || course.opensLater) ?? [],
);
const closed = computed(() => person.value?.courses.filter((course) => !shown.value.includes(course)) ?? []);
</script>

<template>
  <section class="person" :aria-label="words.people.person">
    <div class="top">
      <v-btn variant="text" @click="$emit('close')">{{ words.common.close }}</v-btn>
    </div>
    <LoadState v-if="!person" :error="error" :is-pending="isPending" @again="refetch()" />
    <template v-else>
      <h2>{{ personName(person) }}</h2>
      <dl>
        <template v-if="person.signInName"
          ><dt>{{ words.people.signInName }}</dt>
          <dd class="mono">{{ person.signInName }}</dd></template
        >
        <dt>{{ words.people.email }}</dt>
        <dd>{{ person.email ?? words.people.noEmail }}</dd>
        <template v-if="person.idNumber"
          ><dt>{{ words.people.idNumber }}</dt>
          <dd class="mono">{{ person.idNumber }}</dd></template
        >
        <dt>{{ words.people.lastActive }}</dt>
        <dd :title="person.activeAt ? showMoment(person.activeAt) : undefined">
          {{ person.activeAt ? showAgo(person.activeAt) : words.people.neverActive }}
        </dd>
        <template v-if="person.state !== 'active'"
          ><dt>{{ words.people.state }}</dt>
          <dd>{{ words.people.states[person.state] }}</dd></template
        >
        <template v-if="person.tags.length > 0"
          ><dt>{{ words.people.tags }}</dt>
          <dd>{{ person.tags.map(({ name }) => name).join(', ') }}</dd></template
        >
      </dl>
      <h3>{{ words.people.groups }}</h3>
      <ul class="plain-list">
        <li v-for="group in person.groups" :key="group.id" class="group">
          <router-link :to="{ name: 'groups', params: { groupId: group.id } }">{{ group.name }}</router-link>
          <span class="soft">{{ group.path.join(' › ') }}</span>
          <p class="soft">
            {{ words.people.sinceBy(showDay(group.since), words.people.cameBy[group.cameBy] ?? group.cameBy, group.lastDay) }}
          </p>
        </li>
        <li v-if="person.groups.length === 0" class="soft">{{ words.people.inNoGroup }}</li>
      </ul>
      <h3>{{ words.courses.title }}</h3>
      <ul class="plain-list">
        <li v-for="course in [...shown, ...closed]" :key="course.id" class="course" :class="{ shut: !course.open }">
          <div class="line">
            <span
              ><b>{{ course.name }}</b> <span class="soft">{{ words.courses.standing(course) }}</span></span
            >
            <button
              type="button"
              class="plain-link"
              :aria-expanded="why === course.id"
              :aria-label="words.access.whyOf(course.name)"
              @click="why = why === course.id ? null : course.id"
            >
              {{ words.access.why }}
            </button>
          </div>
          <p v-if="course.open" class="soft">
            <span :class="{ good: course.status === 'done', late: course.lateness === 'overdue' }">{{
              words.progress.statusOf(course.status, course.lateness)
            }}</span>
            {{ words.progress.details(course.score, course.status === 'done' ? null : course.due) }}
          </p>
          <ol v-if="why === course.id" class="why">
            <li v-for="(step, index) in course.why" :key="index" :class="{ soft: step.verdict !== 'decided' }">
              {{ words.access.step(step) }}
            </li>
          </ol>
        </li>
      </ul>
    </template>
  </section>
</template>

<style scoped>
.person {
  display: grid;
  gap: 8px;
}
.top {
  display: flex;
  justify-content: flex-end;
  margin: -10px -12px -8px;
}
dl {
  display: grid;
  grid-template-columns: 110px 1fr;
  gap: 3px 10px;
  margin: 0;
  font-size: 14px;
}
dt {
  color: var(--ink2);
}
dd {
  margin: 0;
  overflow-wrap: anywhere;
}
h3 {
  margin-top: 12px;
}
.group,
.course {
  border-top: 1px solid var(--rule);
  padding: 6px 0;
  font-size: 14px;
}
.group a {
  color: var(--tide);
  font-weight: 600;
}
.line {
  display: flex;
  justify-content: space-between;
  gap: 10px;
}
.shut b {
  font-weight: 400;
  color: var(--ink2);
}
.why {
  margin: 6px 0 4px;
  padding-left: 20px;
  font-size: 13.5px;
}
</style>
