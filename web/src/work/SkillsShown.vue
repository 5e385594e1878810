<script setup lang="ts">
import { useQuery } from '@tanstack/vue-query';
import { computed, ref, watch } from 'vue';
import { call } from '../api/call.ts';
import { useScope } from '../shell/scope.ts';
import LoadState from '../ui/LoadState.vue';
import { listName, showDayOf, showNumber } from '../ui/format.ts';
import * as words from '../words.ts';

/** Which skills the work of a scope has shown, and (opened) by whom each was shown. */
const { query } = defineProps<{ query: { subgroups: 'yes' | 'no'; filter: string } }>();
const emit = defineEmits<{ 'speaks-of': [{ learners: number; ofAll: number; notCounted: number }] }>();
const w = words.work;
const scope = useScope();
const opened = ref<number | null>(null);
const params = computed(() => ({ groupId: scope.groupId.value }));
const { data, error, isPending, refetch } = useQuery({
  queryKey: ['progress', 'skills', params, computed(() => query)],
  queryFn: ({ signal }) => call('skillsOffered', { params: params.value, query }, signal),
});
watch(
  data,
  (report) => {
    if (report) emit('speaks-of', report);
  },
  { immediate: true },
);
const people = useQuery({
  queryKey: ['progress', 'skill', params, computed(() => query), opened],
  queryFn: ({ signal }) => call('skillPeople', { params: { ...params.value, skillId: opened.value ?? 0 }, query }, signal),
  enabled: computed(() => opened.value !== null),
});
const shown = computed(() => people.data.value);
const show = (id: number): void => {
  opened.value = opened.value === id ? null : id;
};
</script>

<template>
  <LoadState v-if="!data" :error="error" :is-pending="isPending" @again="refetch()" />
  <p v-else-if="data.skills.length === 0" class="soft">{{ w.skillsNone }}</p>
  <div v-else class="wide" tabindex="0" role="region" :aria-label="w.skillsTitle">
    <table>
      <thead>
        <tr>
          <th v-for="(head, at) in w.skillHead" :key="head" :class="{ num: at > 1 }">{{ head }}</th>
        </tr>
      </thead>
      <tbody v-for="skill in data.skills" :key="skill.skillId">
        <tr>
          <td>
            <span v-if="skill.people === 0">{{ skill.name }}</span>
            <button v-else type="button" class="plain-link" :aria-expanded="opened === skill.skillId" @click="show(skill.skillId)">
              {{ skill.name }}
            </button>
          </td>
          <td class="soft">{{ skill.course ?? w.anyCourse }}</td>
          <td class="num">{{ showNumber(skill.people) }}</td>
          <td class="num">{{ showNumber(skill.times) }}</td>
        </tr>
        <tr v-if="opened === skill.skillId && shown">
          <td colspan="4">
            <ul class="plain-list who">
              <li v-for="person in shown.people" :key="person.id">
                <router-link :to="{ name: 'groups', params, query: { person: String(person.id) } }">{{ listName(person) }}</router-link>
                <span class="soft">{{ `${w.times(person.times)}, ${showDayOf(person.lastAt)}, ${w.confirmedBy(person.by)}` }}</span>
              </li>
              <li v-if="shown.more > 0" class="soft">{{ w.morePeople(shown.more) }}</li>
            </ul>
          </td>
        </tr>
      </tbody>
    </table>
  </div>
</template>

<style scoped>
.wide {
  overflow: auto;
}
table {
  border-collapse: collapse;
  min-width: 560px;
  background: var(--sheet);
  border: 1px solid var(--rule);
}
th,
td {
  text-align: left;
  padding: 7px 14px;
  border-bottom: 1px solid var(--rule);
}
.num {
  text-align: right;
  font-variant-numeric: tabular-nums;
}
.who {
  display: grid;
  gap: 4px;
  padding: 4px 0;
}
.who li {
  display: flex;
  gap: 10px;
  flex-wrap: wrap;
}
</style>
