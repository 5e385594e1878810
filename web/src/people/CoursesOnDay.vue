<script setup lang="ts">
import { useQuery } from '@tanstack/vue-query';
import { computed, ref } from 'vue';
import AsOfBand from '../access/AsOfBand.vue';
import { call } from '../api/call.ts';
import LoadState from '../ui/LoadState.vue';
import * as words from '../words.ts';
import WhyList from '../access/WhyList.vue';

/** Which courses were, or will be, open to somebody on another day than today, and why. */
const { personId, day } = defineProps<{ personId: number; day: string }>();
const { data, error, isPending, refetch } = useQuery({
  queryKey: ['person', computed(() => personId), 'on', computed(() => day)],
  queryFn: ({ signal }) => call('personCourses', { params: { personId }, query: { day } }, signal),
});
/** How far they were then comes after what was open: a past day may still have to be worked out. */
const { data: standings } = useQuery({
  queryKey: ['person', computed(() => personId), 'standings on', computed(() => day)],
  queryFn: ({ signal }) => call('personStandings', { params: { personId }, query: { day } }, signal),
});
const standingOf = (courseId: number) => standings.value?.standings.find((each) => each.courseId === courseId);
const list = computed(() => [...(data.value?.courses ?? [])].sort((a, b) => Number(b.open) - Number(a.open)));
const why = ref<number | null>(null);
</script>

<template>
  <AsOfBand :shown="data" />
  <LoadState v-if="!data" :error="error" :is-pending="isPending" @again="refetch()" />
  <p v-else-if="!data.isKnown" class="soft">{{ words.asOf.noAccount }}</p>
  <ul v-else class="plain-list">
    <li v-for="course in list" :key="course.id" class="course" :class="{ shut: !course.open }">
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
      <p v-if="standingOf(course.id)" class="soft">
        <span :class="{ good: standingOf(course.id)!.status === 'done', late: standingOf(course.id)!.lateness === 'overdue' }">{{
          words.progress.statusOf(standingOf(course.id)!.status, standingOf(course.id)!.lateness)
        }}</span>
        {{
          words.progress.details(standingOf(course.id)!.score, standingOf(course.id)!.status === 'done' ? null : standingOf(course.id)!.due)
        }}
      </p>
      <WhyList v-if="why === course.id" :steps="course.why" />
    </li>
  </ul>
</template>

<style scoped src="./person-courses.css"></style>
