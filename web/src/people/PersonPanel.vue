<script setup lang="ts">
import { useQuery } from '@tanstack/vue-query';
import { computed, nextTick, ref, watch } from 'vue';
import { call } from '../api/call.ts';
import LoadState from '../ui/LoadState.vue';
import { personName, showAgo, showDay, showMoment, showTime } from '../ui/format.ts';
import { presetOf } from '@gate-roster/core';
import HandOver from '../accounts/HandOver.vue';
import * as words from '../words.ts';
import WhyList from '../access/WhyList.vue';
import AsOfField from '../access/AsOfField.vue';
import { useAsOf } from '../access/as-of.ts';
import ExceptionForm from '../access/ExceptionForm.vue';
import { useSession } from '../shell/session.ts';
import PersonActs from './PersonActs.vue';
import type { PersonFormKind } from './person-acts.ts';
import CoursesOnDay from './CoursesOnDay.vue';
import PersonForm from './PersonForm.vue';
import PersonLog from './PersonLog.vue';
import WhatLacks from './WhatLacks.vue';

/** One person beside the list: who they are, where they are, and why each course is open or not. */
const { personId, courseId = null } = defineProps<{
  personId: number;
  /** The course at which it opens, with why. */
  courseId?: number | null;
}>();
const emit = defineEmits<{ close: [] }>();
const session = useSession();
const form = ref<PersonFormKind | 'hand over' | null>(null);
watch(
  () => personId,
  () => {
    form.value = null;
    excepting.value = null;
  },
);
const {
  data: person,
  error,
  isPending,
  refetch,
} = useQuery({ queryKey: ['person', computed(() => personId)], queryFn: ({ signal }) => call('person', { params: { personId } }, signal) });
const day = useAsOf();
const why = ref<number | null>(courseId);
watch(
  [() => personId, () => courseId, person],
  async ([, course]) => {
    if (course === null || !person.value) return;
    why.value = course;
    await nextTick();
    document.getElementById(`course-of-person-${course}`)?.scrollIntoView({ block: 'nearest' });
  },
  { immediate: true },
);
/** The course in which an exception is being made. */
const excepting = ref<number | null>(null);
const shown = computed(
  () => person.value?.courses.filter((course) => course.open || course.status !== 'not begun' || course.opensLater) ?? [],
);
const closed = computed(() => person.value?.courses.filter((course) => !shown.value.includes(course)) ?? []);
</script>

<template>
  <section class="person" :aria-label="words.people.person">
    <div class="top">
      <v-btn variant="text" @click="emit('close')">{{ words.common.close }}</v-btn>
    </div>
    <LoadState v-if="!person" :error="error" :is-pending="isPending" @again="refetch()" />
    <template v-else>
      <h2>{{ personName(person) }}</h2>
      <PersonActs :key="person.id" :person="person" @form="form = $event" />
      <HandOver v-if="form === 'hand over'" :person="{ id: person.id, name: personName(person) }" @close="form = null" />
      <PersonForm
        v-else-if="form"
        :key="`${person.id}${form}`"
        :person="person"
        :kind="form"
        @close="form = null"
        @gone="emit('close')"
        @hand-over="form = 'hand over'"
      />
      <dl>
        <template v-if="person.signInName"
          ><dt>{{ words.people.signInName }}</dt>
          <dd class="mono">{{ person.signInName }}</dd></template
        >
        <dt>{{ words.people.email }}</dt>
        <dd>
          {{ person.email ?? '' }}
          <span :class="person.addressState === 'confirmed' ? 'soft' : 'late'">{{ words.people.addressStates[person.addressState] }}</span>
        </dd>
        <template v-if="person.idNumber"
          ><dt>{{ words.people.idNumber }}</dt>
          <dd class="mono">{{ person.idNumber }}</dd></template
        >
        <dt>{{ words.people.lastActive }}</dt>
        <dd :title="person.activeAt ? showMoment(person.activeAt) : undefined">
          {{ person.activeAt ? showAgo(person.activeAt) : words.people.neverActive }}
        </dd>
        <template v-if="!person.hasPassword"
          ><dt />
          <dd class="soft">{{ words.people.noPassword }}</dd></template
        >
        <template v-if="person.state !== 'active' || person.firstDay || person.lastDay"
          ><dt>{{ words.people.state }}</dt>
          <dd>
            {{ words.people.states[person.state] }}
            {{ words.people.betweenDays(person.firstDay && showDay(person.firstDay), person.lastDay && showDay(person.lastDay)) }}
          </dd></template
        >
        <template v-if="person.tags.length > 0"
          ><dt>{{ words.people.tags }}</dt>
          <dd>{{ person.tags.map(({ name }) => name).join(', ') }}</dd></template
        >
      </dl>
      <template v-if="person.leads.length > 0">
        <h3>{{ words.people.leads }}</h3>
        <ul class="plain-list">
          <li v-for="led in person.leads" :key="led.id" class="group">
            <router-link :to="{ name: 'groups', params: { groupId: led.id } }">{{ led.name }}</router-link>
            <span class="soft"
              >{{ ' ' }}{{ words.leaders.held(presetOf(led.powers), led.powers) }}
              {{ led.lastDay ? words.leaders.until(showDay(led.lastDay)) : '' }}</span
            >
          </li>
        </ul>
      </template>
      <template v-if="person.answers.length > 0">
        <h3>{{ words.people.answers }}</h3>
        <dl class="answers">
          <template v-for="({ label, answer }, index) in person.answers" :key="index"
            ><dt>{{ label }}</dt>
            <dd>{{ answer }}</dd></template
          >
        </dl>
      </template>
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
      <p v-if="session.hasPower('seeProgress') && person.groups.length > 0">
        <router-link :to="{ name: 'learner', params: { personId: person.id }, query: day === null ? {} : { day } }">{{
          words.story.link
        }}</router-link>
      </p>
      <p v-for="part in person.inParts" :key="part.splitId">
        {{ words.splits.inPart(part.part, showTime(part.until)) }}
        <router-link :to="{ name: 'groups', params: { groupId: part.groupId, part: 'splits', thing: part.splitId } }">{{
          part.split
        }}</router-link>
      </p>
      <div v-if="person.courses.length > 0" class="line">
        <h3>{{ words.figures.courses }}</h3>
        <AsOfField />
      </div>
      <CoursesOnDay v-if="day !== null" :person-id="person.id" :day="day" />
      <ul v-else class="plain-list">
        <li
          v-for="course in [...shown, ...closed]"
          :id="`course-of-person-${course.id}`"
          :key="course.id"
          class="course"
          :class="{ shut: !course.open }"
        >
          <div class="line">
            <span
              ><b>{{ course.name }}</b> <span class="soft">{{ words.courses.standing(course) }}</span></span
            >
            <button
              v-if="person.may.exceptIn !== null"
              type="button"
              class="plain-link except"
              :aria-expanded="excepting === course.id"
              :aria-label="words.exceptions.actOf(course.name)"
              @click="excepting = excepting === course.id ? null : course.id"
            >
              {{ words.exceptions.act }}
            </button>
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
            <span :class="{ late: course.inLine !== null || course.noLicence }">{{ words.courses.seat(course) }}</span>
          </p>
          <p v-if="words.courses.renewal(course)" class="soft">{{ words.courses.renewal(course) }}</p>
          <p v-for="said in course.exceptions" :key="said.what" class="own">
            {{ words.exceptions.said(said) }}
            <a v-if="said.proof" :href="said.proof" target="_blank" rel="noopener noreferrer">{{ words.exceptions.seeProof }}</a>
          </p>
          <ExceptionForm
            v-if="excepting === course.id && person.may.exceptIn !== null"
            class="exception"
            :group-id="person.may.exceptIn"
            :people="[person.id]"
            :course-id="course.id"
            @close="excepting = null"
            @saved="excepting = null"
          />
          <template v-if="why === course.id">
            <WhyList :steps="course.why" />
            <WhatLacks :person="person" :course="course" @open="excepting = course.id" @account="form = 'state'" />
          </template>
        </li>
      </ul>
      <h3>{{ words.people.happened }}</h3>
      <PersonLog :person-id="person.id" />
    </template>
  </section>
</template>

<style scoped src="./person-courses.css"></style>
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
.group {
  border-top: 1px solid var(--rule);
  padding: 6px 0;
  font-size: 14px;
}
.group a {
  color: var(--tide);
  font-weight: 600;
}
.except {
  margin-left: auto;
}
.own {
  border-left: 3px solid var(--brass);
  padding-left: 8px;
}
.exception {
  padding: 10px 0;
}
</style>
