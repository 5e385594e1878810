<script setup lang="ts">
import { useQuery, useQueryClient } from '@tanstack/vue-query';
import { ref } from 'vue';
import { call } from '../api/call.ts';
import { useRequestId } from '../api/request-id.ts';
import { failureWords } from '../ui/failure-words.ts';
import { showAgo } from '../ui/format.ts';
import { tell } from '../ui/notice.ts';
import { vFocusFirst } from '../ui/focus-first.ts';
import * as words from '../words.ts';

/** Courses that the learner has asked for, with the answer, and those that can be asked for; nothing while there are none. */
const queries = useQueryClient();
const w = words.learner.asking;
const { data } = useQuery({ queryKey: ['my-courses', 'requests'], queryFn: ({ signal }) => call('myCourseRequests', {}, signal) });
const requestId = useRequestId();
const asking = ref<number | null>(null);
const said = ref('');
const busy = ref<number | null>(null);
function begin(courseId: number): void {
  said.value = '';
  asking.value = courseId;
}
async function send(courseId: number, run: () => Promise<unknown>, done: string): Promise<void> {
  busy.value = courseId;
  try {
    await run();
    tell(done);
    asking.value = null;
  } catch (error) {
    tell(failureWords(error));
  } finally {
    busy.value = null;
    await queries.invalidateQueries({ queryKey: ['my-courses'] });
  }
}
function ask(courseId: number): Promise<void> {
  const body = { courseId, words: said.value.trim() || null };
  return send(courseId, () => call('askForCourse', { body: { ...body, requestId: requestId(body) } }), w.sent);
}
function takeBack(courseId: number, askedAt: string): Promise<void> {
  const sent = { courseId, askedAt };
  return send(courseId, () => call('takeBackCourseRequest', { body: { courseId, requestId: requestId(sent) } }), w.takenBack);
}
</script>

<template>
  <section v-if="data && data.requests.length > 0" class="wishes">
    <h2>{{ w.asked }}</h2>
    <article v-for="request in data.requests" :key="request.courseId" class="card">
      <h3>{{ request.course }}</h3>
      <p class="line">
        <span class="soft">{{
          request.state === 'asking' ? w.waits(showAgo(request.askedAt), request.deciders) : w.refused(request.word)
        }}</span>
        <v-btn
          v-if="request.state === 'asking'"
          variant="text"
          height="44"
          :loading="busy === request.courseId"
          :aria-label="w.takeBackLabel(request.course)"
          @click="takeBack(request.courseId, request.askedAt)"
          >{{ w.takeBack }}</v-btn
        >
      </p>
    </article>
  </section>
  <section v-if="data && data.courses.length > 0" class="wishes">
    <h2>{{ w.title }}</h2>
    <article v-for="course in data.courses" :key="course.id" class="card">
      <h3>{{ course.name }}</h3>
      <p v-if="course.description">{{ course.description }}</p>
      <form v-if="asking === course.id" class="form" @submit.prevent="ask(course.id)">
        <v-textarea v-model="said" v-focus-first rows="2" auto-grow maxlength="500" :label="w.words" />
        <p class="acts">
          <v-btn type="submit" variant="flat" height="44" :loading="busy === course.id">{{ w.send }}</v-btn>
          <v-btn variant="text" height="44" @click="asking = null">{{ words.common.cancel }}</v-btn>
        </p>
      </form>
      <p v-else class="line">
        <span class="soft">{{ w.unitsOf(course.units) }}</span>
        <v-btn variant="outlined" height="44" :aria-label="w.askLabel(course.name)" @click="begin(course.id)">{{ w.ask }}</v-btn>
      </p>
    </article>
  </section>
</template>

<style scoped>
.wishes {
  display: grid;
  gap: 12px;
  margin-top: 12px;
}
h2 {
  font-size: 18px;
}
h3 {
  font-size: 17px;
}
.card {
  background: transparent;
}
.line,
.acts {
  display: flex;
  justify-content: space-between;
  gap: 12px;
  align-items: center;
  flex-wrap: wrap;
}
.acts {
  justify-content: flex-start;
}
.form {
  display: grid;
  gap: 10px;
  width: 100%;
}
</style>
