<script setup lang="ts">
import type { Change } from '@gate-roster/contract';
import { useQuery } from '@tanstack/vue-query';
import { computed, defineAsyncComponent, ref } from 'vue';
import { useRoute, useRouter } from 'vue-router';
import { call } from '../api/call.ts';
import LookPanel from '../changes/LookPanel.vue';
import { useChange } from '../changes/use-change.ts';
import { keptQuery, useScope } from '../shell/scope.ts';
import LoadState from '../ui/LoadState.vue';
import { vFocusFirst } from '../ui/focus-first.ts';
import * as words from '../words.ts';
import ItemsOfSet from './ItemsOfSet.vue';
import StatementList from './StatementList.vue';

/** One course set: what it holds, which groups have it; what is added reaches all of them, what is taken out is lost to them. */
const OpenForGroups = defineAsyncComponent(() => import('./OpenForGroups.vue'));
const { courseSetId } = defineProps<{ courseSetId: number }>();
const w = words.catalogue;
const scope = useScope();
const route = useRoute();
const router = useRouter();
const {
  data: set,
  error,
  isPending,
  refetch,
} = useQuery({
  queryKey: ['access', scope.groupId, 'course-set', computed(() => courseSetId), scope.query],
  queryFn: ({ signal }) => call('courseSet', { params: { groupId: scope.groupId.value, courseSetId }, query: scope.query.value }, signal),
});
const panel = ref<'add' | 'take out' | 'rename' | 'delete' | 'open' | null>(null);
const nothing = { courses: [] as number[], sets: [] as number[] };
const add = ref({ ...nothing });
const takeOut = ref({ ...nothing });
const name = ref('');
function show(which: typeof panel.value): void {
  panel.value = which;
  add.value = { ...nothing };
  takeOut.value = { ...nothing };
  name.value = set.value?.name ?? '';
}
const isSomething = ({ courses, sets }: typeof nothing): boolean => courses.length + sets.length > 0;
const change = computed<Change | null>(() => {
  const edit = { kind: 'edit-course-set' as const, courseSetId, add: add.value, takeOut: takeOut.value };
  if (panel.value === 'delete') return { kind: 'delete-course-set', courseSetId };
  if (panel.value === 'rename') return name.value.trim() === '' || name.value === set.value?.name ? null : { ...edit, name: name.value };
  return isSomething(add.value) || isSomething(takeOut.value) ? edit : null;
});
const inHand = useChange(change, () => (panel.value === 'delete' ? w.setGone : w.setSaved), { settleMilliseconds: 250 });
const to = (part: 'courses' | 'sets', thing?: number) => ({
  name: 'access',
  params: { groupId: scope.groupId.value, part, ...(thing ? { thing } : {}) },
  query: keptQuery(route.query),
});
async function apply(): Promise<void> {
  const isGone = panel.value === 'delete';
  if (!(await inHand.apply())) return;
  show(null);
  if (isGone) await router.push(to('courses'));
}
/** What stands in the set itself can be ticked to be taken out. */
function tick(kind: 'courses' | 'sets', id: number): void {
  panel.value = 'take out';
  add.value = { ...nothing };
  const list = takeOut.value[kind];
  takeOut.value = { ...takeOut.value, [kind]: list.includes(id) ? list.filter((each) => each !== id) : [...list, id] };
  if (!isSomething(takeOut.value)) panel.value = null;
}
</script>

<template>
  <div class="split">
    <main class="part">
      <router-link class="back" :to="to('courses')">{{ `‹ ${w.back}` }}</router-link>
      <LoadState v-if="!set" :error="error" :is-pending="isPending" @again="refetch()" />
      <template v-else>
        <div class="head">
          <div>
            <p class="soft">{{ w.set }}</p>
            <h1>{{ set.name }}</h1>
          </div>
          <div class="acts">
            <template v-if="set.mayEdit">
              <v-btn variant="text" @click="show('delete')">{{ w.deleteSet }}</v-btn>
              <v-btn variant="text" @click="show('rename')">{{ w.renameSet }}</v-btn>
              <v-btn @click="show('add')">{{ w.addCourses }}</v-btn>
            </template>
            <v-btn v-if="set.mayOpen" variant="flat" @click="show('open')">{{ w.openFor }}</v-btn>
          </div>
        </div>
        <section>
          <h2>{{ w.holds }}</h2>
          <p v-if="set.courses.length === 0" class="soft">{{ w.holdsNone }}</p>
          <ul v-else class="plain-list courses">
            <li v-for="course in set.courses" :key="course.id">
              <v-checkbox-btn
                v-if="set.mayEdit && course.through === null"
                density="compact"
                :model-value="takeOut.courses.includes(course.id)"
                :aria-label="w.takeOut(course.name)"
                @update:model-value="tick('courses', course.id)"
              />
              <router-link :to="to('courses', course.id)">{{ course.name }}</router-link>
              <span class="soft">{{
                [course.code, course.through && w.through(course.through.name), course.archived && w.archived].filter(Boolean).join(', ')
              }}</span>
            </li>
          </ul>
        </section>
        <section v-if="set.sets.length > 0">
          <h2>{{ w.holdsSets }}</h2>
          <ul class="plain-list courses">
            <li v-for="inner in set.sets" :key="inner.id">
              <v-checkbox-btn
                v-if="set.mayEdit"
                density="compact"
                :model-value="takeOut.sets.includes(inner.id)"
                :aria-label="w.takeOut(inner.name)"
                @update:model-value="tick('sets', inner.id)"
              />
              <router-link :to="to('sets', inner.id)">{{ inner.name }}</router-link>
            </li>
          </ul>
        </section>
        <p v-if="set.heldBy.length > 0">
          {{ w.heldBy }}
          <router-link v-for="outer in set.heldBy" :key="outer.id" class="outer" :to="to('sets', outer.id)">{{ outer.name }}</router-link>
        </p>
        <StatementList :statements="set.statements" :elsewhere="set.elsewhere" :licences="set.licences" />
      </template>
    </main>
    <aside v-if="set && panel" class="panel">
      <OpenForGroups
        v-if="panel === 'open'"
        :about="{ courseSetId }"
        :name="set.name"
        :course-ids="set.courses.map(({ id }) => id)"
        @close="show(null)"
      />
      <LookPanel
        v-else
        :in-hand="inHand"
        :change="change"
        :apply-label="
          panel === 'add'
            ? w.addCourses
            : panel === 'take out'
              ? w.takeOutCount(takeOut.courses.length + takeOut.sets.length)
              : words.common.save
        "
        @apply="apply"
        @discard="show(null)"
      >
        <template v-if="panel === 'add'">
          <h2>{{ w.addCourses }}</h2>
          <p class="soft">{{ w.addCoursesHint }}</p>
          <ItemsOfSet
            v-model="add"
            :without="courseSetId"
            :in-it="set.courses.filter(({ through }) => through === null).map(({ id }) => id)"
          />
        </template>
        <h2 v-else-if="panel === 'take out'">{{ w.takeOutTitle }}</h2>
        <template v-else-if="panel === 'rename'">
          <h2>{{ w.renameSet }}</h2>
          <v-text-field v-model="name" v-focus-first :label="w.name" maxlength="200" />
        </template>
        <h2 v-else>{{ w.deleteSet }}</h2>
      </LookPanel>
    </aside>
  </div>
</template>

<style scoped>
.back {
  color: var(--tide);
}
.acts {
  display: flex;
  gap: 10px;
  align-items: center;
  flex-wrap: wrap;
}
h2 {
  font-size: 17px;
  margin-bottom: 4px;
}
.courses li {
  display: flex;
  gap: 10px;
  align-items: center;
  min-height: 32px;
}
.courses .v-checkbox-btn {
  flex: none;
}
.outer {
  margin-left: 10px;
}
</style>
