<script setup lang="ts">
import type { Platform } from '@gate-roster/contract';
import { useQuery } from '@tanstack/vue-query';
import { ref } from 'vue';
import { call } from '../api/call.ts';
import { copyText } from '../ui/copy.ts';
import { failureWords } from '../ui/failure-words.ts';
import LoadState from '../ui/LoadState.vue';
import { tell } from '../ui/notice.ts';
import * as words from '../words.ts';
import PlatformForm from './PlatformForm.vue';

/** Outside course platforms: their credentials, on what they may report, and what came from them. */
const w = words.platforms;
const { data, error, isPending, refetch } = useQuery({
  queryKey: ['platforms'],
  queryFn: ({ signal }) => call('platforms', {}, signal),
});
/** The platform whose form is open; null: the form of a new one. */
const editing = ref<Platform | null | undefined>(undefined);
const told = ref<{ key: string; password: string } | null>(null);
const sure = ref<{ platform: Platform; act: 'password' | 'end' } | null>(null);
const problem = ref<string | null>(null);

async function saved(credentials: { key: string; password: string } | null): Promise<void> {
  editing.value = undefined;
  told.value = credentials;
  await refetch();
  tell(w.saved);
}

async function go(): Promise<void> {
  if (!sure.value) return;
  const { platform, act } = sure.value;
  const params = { platformId: platform.id };
  problem.value = null;
  try {
    if (act === 'password') told.value = { key: platform.key, password: (await call('platformPassword', { params })).password };
    else {
      await call('endPlatform', { params });
      tell(w.ended);
    }
    sure.value = null;
    await refetch();
  } catch (failure) {
    problem.value = failureWords(failure);
  }
}
</script>

<template>
  <section class="platforms">
    <h2>{{ w.title }}</h2>
    <LoadState v-if="!data" :error="error" :is-pending="isPending" @again="refetch()" />
    <template v-else>
      <p>
        {{ w.what }} <span class="mono">{{ data.address }}</span>
        <v-btn variant="text" @click="copyText(data.address)">{{ w.copyAddress }}</v-btn>
      </p>
      <p class="soft">{{ w.actors }}</p>
      <div v-if="told" class="told" role="status">
        <p>{{ w.told }}</p>
        <dl>
          <dt>{{ w.user }}</dt>
          <dd class="mono">{{ told.key }}</dd>
          <dt>{{ w.password }}</dt>
          <dd class="mono">{{ told.password }}</dd>
        </dl>
        <v-btn @click="copyText(told.password)">{{ w.copy }}</v-btn>
        <v-btn variant="text" @click="told = null">{{ words.common.close }}</v-btn>
      </div>
      <ul class="plain-list">
        <li v-for="platform in data.platforms" :key="platform.id">
          <PlatformForm
            v-if="editing?.id === platform.id"
            :platform="platform"
            :choices="data.courses"
            @saved="saved"
            @close="editing = undefined"
          />
          <template v-else>
            <p>
              <strong>{{ platform.name }}</strong> <span class="mono soft">{{ platform.key }}</span>
            </p>
            <p class="soft">{{ platform.isOwn ? w.own : w.reach(platform) }}</p>
            <p class="soft">{{ w.came(platform) }} {{ platform.notCounted > 0 ? w.notCounted(platform.notCounted) : '' }}</p>
            <div v-if="sure?.platform.id === platform.id" class="sure" role="alertdialog" :aria-label="platform.name">
              <p>{{ sure.act === 'end' ? w.endSure : w.newPasswordSure }}</p>
              <p v-if="problem" class="wrong" role="alert">{{ problem }}</p>
              <v-btn variant="flat" autofocus @click="go">{{ sure.act === 'end' ? w.end : w.newPassword }}</v-btn>
              <v-btn variant="text" @click="sure = null">{{ words.common.cancel }}</v-btn>
            </div>
            <div v-else-if="!platform.isOwn" class="acts">
              <v-btn variant="text" :aria-label="`${w.edit} ${platform.name}`" @click="editing = platform">{{ w.edit }}</v-btn>
              <v-btn variant="text" :aria-label="`${w.newPassword} ${platform.name}`" @click="sure = { platform, act: 'password' }">{{
                w.newPassword
              }}</v-btn>
              <v-btn variant="text" :aria-label="`${w.end} ${platform.name}`" @click="sure = { platform, act: 'end' }">{{ w.end }}</v-btn>
            </div>
          </template>
        </li>
      </ul>
      <PlatformForm v-if="editing === null" :platform="null" :choices="data.courses" @saved="saved" @close="editing = undefined" />
      <v-btn v-else @click="editing = null">{{ w.add }}</v-btn>
      <v-btn variant="text" :to="{ name: 'results' }">{{ words.results.link }}</v-btn>
    </template>
  </section>
</template>

<style scoped>
.platforms {
  display: grid;
  gap: 10px;
  max-width: 720px;
  justify-items: start;
}
ul {
  width: 100%;
}
li {
  padding: 8px 0;
  border-bottom: 1px solid var(--rule);
}
.acts {
  margin-left: -12px;
}
.told,
.sure {
  padding: 10px 14px;
  border: 1px solid var(--rule);
  border-radius: 8px;
}
dl {
  display: grid;
  grid-template-columns: auto 1fr;
  gap: 2px 12px;
  margin: 6px 0;
}
dd {
  margin: 0;
  overflow-wrap: anywhere;
}
</style>
