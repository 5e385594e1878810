<script setup lang="ts">
import type { HelpAct } from '@gate-roster/core';
import { useQuery } from '@tanstack/vue-query';
import { useNow } from '@vueuse/core';
import { computed, ref } from 'vue';
import { useRouter } from 'vue-router';
import { call } from '../api/call.ts';
import { applyAtOnce } from '../changes/apply-at-once.ts';
import { copyText } from '../ui/copy.ts';
import { failureWords } from '../ui/failure-words.ts';
import LoadState from '../ui/LoadState.vue';
import { tell } from '../ui/notice.ts';
import QrCode from '../ui/QrCode.vue';
import * as words from '../words.ts';

/** The first thing that stops this person in one line, and the one act that mends it. */
const { personId } = defineProps<{ personId: number }>();
const router = useRouter();
const w = words.help;
const course = ref<number | null>(null);
const { data, error, isPending, refetch } = useQuery({
  queryKey: ['help', 'person', computed(() => personId), course],
  queryFn: ({ signal }) =>
    call('helpPerson', { params: { personId }, query: course.value === null ? {} : { course: course.value } }, signal),
  staleTime: 0,
});
const sentence = computed(() => (data.value ? w.obstacle(data.value.person.name, data.value.obstacle) : ''));
const beside = ref<{ link: string; word: string; until: string } | null>(null);
const now = useNow({ interval: 1000 });
const secondsLeft = computed(() =>
  beside.value ? Math.max(0, Math.round((Date.parse(beside.value.until) - now.value.getTime()) / 1000)) : 0,
);
async function letInNow(): Promise<void> {
  try {
    beside.value = await call('letInNow', { params: { personId } });
  } catch (failure) {
    tell(failureWords(failure));
  }
}
async function mend(act: HelpAct): Promise<void> {
  const groupId = data.value?.groupId ?? 0;
  if (act === 'let in now') await letInNow();
  else if (act === 'let work') {
    await applyAtOnce(
      { kind: 'set-person-state', personIds: [personId], state: 'active', firstDay: null, lastDay: null },
      words.people.stateSaved,
    );
    await refetch();
  } else if (act === 'decide') await router.push({ name: 'ways-in', params: { groupId, part: 'asking' } });
  else if (act === 'see seats') await router.push({ name: 'seats', params: { groupId } });
  else if (act === 'card') await router.push({ name: 'cards', state: { personIds: [personId] } });
  else await router.push({ name: 'groups', params: { groupId }, query: { person: String(personId) } });
}
const canLetIn = computed(
  () =>
    data.value?.mayMend &&
    data.value.obstacle.act !== 'let in now' &&
    !['asking', 'paused', 'ended', 'begins later'].includes(data.value.obstacle.code),
);
</script>

<template>
  <LoadState v-if="!data" :error="error" :is-pending="isPending" @again="refetch()" />
  <section v-else class="help" :aria-label="data.person.name">
    <h2>
      {{ data.person.name }} <span v-if="data.signInName" class="mono soft">{{ data.signInName }}</span>
    </h2>
    <v-select
      v-if="data.courses.length > 0"
      v-model="course"
      clearable
      :items="data.courses"
      item-value="id"
      item-title="name"
      :label="w.course"
    />
    <p class="sentence" :class="{ fine: data.obstacle.code === 'nothing' }" role="status">{{ sentence }}</p>
    <div class="acts">
      <v-btn v-if="data.mayMend" variant="flat" @click="mend(data.obstacle.act)">{{ w.acts[data.obstacle.act] }}</v-btn>
      <v-btn v-if="canLetIn" @click="letInNow">{{ w.acts['let in now'] }}</v-btn>
      <v-btn variant="text" @click="copyText(sentence)">{{ w.copy }}</v-btn>
    </div>
    <p v-if="!data.mayMend" class="soft">{{ w.notYours }}</p>
    <div v-if="beside && secondsLeft > 0" class="beside">
      <p>{{ w.beside }}</p>
      <QrCode class="qr" :text="beside.link" :label="w.besideQr(data.person.name)" />
      <p>
        {{ w.besideWord(data.signInName ?? '') }} <b class="mono word">{{ beside.word }}</b>
      </p>
      <p class="soft" role="timer">{{ w.secondsLeft(secondsLeft) }}</p>
    </div>
    <p v-else-if="beside" class="soft">{{ w.besideOver }}</p>
  </section>
</template>

<style scoped>
.help {
  display: grid;
  gap: 14px;
  background: var(--sheet);
  border: 1px solid var(--rule);
  border-radius: 10px;
  padding: 18px 20px;
}
.sentence {
  font-size: 18px;
  border-left: 4px solid var(--flare);
  padding-left: 12px;
}
.sentence.fine {
  border-color: var(--kelp);
}
.acts {
  display: flex;
  gap: 12px;
  flex-wrap: wrap;
}
.mono {
  font-size: 15px;
  font-weight: 400;
}
.beside {
  display: grid;
  gap: 8px;
  justify-items: center;
  border: 2px dashed var(--rule);
  border-radius: 8px;
  padding: 14px;
}
.qr {
  width: min(70vw, 280px);
}
</style>
