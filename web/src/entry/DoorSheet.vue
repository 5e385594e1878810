<script setup lang="ts">
import { useQuery } from '@tanstack/vue-query';
import { computed } from 'vue';
import { useRoute, useRouter } from 'vue-router';
import { call } from '../api/call.ts';
import LoadState from '../ui/LoadState.vue';
import QrCode from '../ui/QrCode.vue';
import { showDay, showMoment } from '../ui/format.ts';
import * as words from '../words.ts';

/** What hangs at the door or stands on the room's screen: what one joins, the code, how many have come in, live. */
const route = useRoute();
const router = useRouter();
const w = words.waysIn.door;
const codeId = computed(() => Number(route.params['codeId']));
const { data, error, isPending, refetch } = useQuery({
  queryKey: ['door', codeId],
  queryFn: ({ signal }) => call('door', { params: { codeId: codeId.value } }, signal),
});
const print = (): void => {
  window.print();
};
const leaders = computed(() => [...new Set(data.value?.groups.flatMap((group) => group.leaders) ?? [])]);
</script>

<template>
  <main class="door">
    <div class="acts no-print">
      <v-btn variant="text" @click="router.back()">{{ w.back }}</v-btn>
      <v-btn variant="flat" @click="print">{{ w.print }}</v-btn>
    </div>
    <LoadState v-if="!data" :error="error" :is-pending="isPending" @again="refetch()" />
    <article v-else class="sheet">
      <div class="words">
        <p class="organisation">{{ data.organisation }}</p>
        <h1>{{ w.join }} {{ data.groups.map(({ name }) => name).join(', ') }}</h1>
        <p v-if="leaders.length > 0">{{ w.ledBy(leaders) }}</p>
        <p v-if="data.courses.length > 0" class="soft">
          {{ w.opensCourses(data.courses.map(({ name, opensOn }) => (opensOn === null ? name : w.opensOn(name, showDay(opensOn))))) }}
        </p>
        <p v-if="data.price">{{ words.join.price(data.price.total, data.price.vat, data.price.currency) }}</p>
        <p v-if="data.state !== 'open'" class="closed" role="alert">{{ w.closed(data.state) }}</p>
        <p class="how">{{ w.open }}</p>
        <p class="mono address">{{ data.link.replace(/^https?:\/\//u, '').replace(/#.*$/u, '') }}</p>
        <p class="how">{{ w.code }}</p>
        <p class="mono code">{{ data.code }}</p>
        <p class="soft">
          <span v-if="data.until">{{ w.until(showMoment(data.until)) }}</span>
        </p>
      </div>
      <div class="side">
        <QrCode class="qr" :text="data.link" :label="w.qr(data.link)" />
        <p class="came no-print" role="status">
          <b class="big">{{ w.cameIn(data.uses, data.useLimit) }}</b>
          {{ w.cameInWord(data.uses) }}
        </p>
      </div>
    </article>
  </main>
</template>

<style scoped>
.door {
  flex: 1;
  overflow: auto;
  background: var(--paper);
  padding: 14px 26px 26px;
}
.acts {
  display: flex;
  justify-content: space-between;
  margin-bottom: 14px;
}
.sheet {
  background: var(--sheet);
  border: 1px solid var(--rule);
  border-radius: 10px;
  padding: 36px 44px;
  display: grid;
  grid-template-columns: 1fr minmax(240px, 38%);
  gap: 36px;
  align-items: center;
}
.words {
  display: grid;
  gap: 10px;
  min-width: 0;
}
.organisation {
  font: 600 17px var(--heading);
  color: var(--ink2);
}
h1 {
  font-size: clamp(30px, 4vw, 52px);
  overflow-wrap: anywhere;
}
.how {
  margin-top: 12px;
  color: var(--ink2);
}
.address {
  font-size: clamp(18px, 2.2vw, 28px);
  overflow-wrap: anywhere;
}
.code {
  font-size: clamp(34px, 5.4vw, 68px);
  font-weight: 700;
  letter-spacing: 0.03em;
  line-height: 1.1;
}
.side {
  display: grid;
  gap: 18px;
  justify-items: center;
}
.qr {
  width: 100%;
  max-width: 380px;
  border: 1px solid var(--rule);
  border-radius: 8px;
}
.came {
  font-size: 18px;
}
.came .big {
  font-size: 34px;
}
.closed {
  background: var(--wrong2);
  color: var(--wrong);
  padding: 8px 12px;
  border-radius: 8px;
}
@media (max-width: 760px) {
  .sheet {
    grid-template-columns: 1fr;
    padding: 20px;
  }
}
</style>
