<script setup lang="ts">
import { cardsOnPage, papers, type SignInCard } from '@gate-roster/contract';
import { useQuery } from '@tanstack/vue-query';
import { computed, ref } from 'vue';
import { useRouter } from 'vue-router';
import { call } from '../api/call.ts';
import { useSession } from '../shell/session.ts';
import { failureWords } from '../ui/failure-words.ts';
import LoadState from '../ui/LoadState.vue';
import QrCode from '../ui/QrCode.vue';
import { showDayOf } from '../ui/format.ts';
import { saveFile } from '../ui/save-file.ts';
import { tell } from '../ui/notice.ts';
import * as words from '../words.ts';

const orders = ['group', 'name'] as const;

/** Sign-in cards for the people one came with: what making them does, then the sheet for print and PDF. */
const session = useSession();
const router = useRouter();
const w = words.cards;
// Whose cards: they came with the step to this page, and are still there after a reload.
const personIds = (history.state as { personIds?: number[] }).personIds ?? [];
const { data, error, isPending, refetch } = useQuery({
  queryKey: ['cards-ahead', personIds],
  queryFn: () => call('cardsAhead', { body: { personIds } }),
  enabled: personIds.length > 0,
});
const cards = ref<SignInCard[]>([]);
const paper = ref<(typeof papers)[number]>('A4');
const onPage = ref<(typeof cardsOnPage)[number]>(8);
const isBusy = ref(false);
async function make(): Promise<void> {
  isBusy.value = true;
  try {
    cards.value = (await call('makeCards', { body: { personIds } })).cards;
  } catch (failure) {
    tell(failureWords(failure));
  } finally {
    isBusy.value = false;
  }
}
async function savePdf(): Promise<void> {
  isBusy.value = true;
  try {
    await saveFile(
      'cardFile',
      { body: { cards: sorted.value.map(({ token, word }) => ({ token, word })), paper: paper.value, onPage: onPage.value } },
      w.fileName,
    );
  } catch (failure) {
    tell(failureWords(failure));
  } finally {
    isBusy.value = false;
  }
}
const print = (): void => {
  window.print();
};
const order = ref<(typeof orders)[number]>('group');
/** The server gives them by name. */
const sorted = computed(() =>
  order.value === 'name' ? cards.value : [...cards.value].sort((a, b) => a.group.localeCompare(b.group, undefined, { numeric: true })),
);
const pages = computed(() => {
  const found: SignInCard[][] = [];
  for (let at = 0; at < sorted.value.length; at += onPage.value) found.push(sorted.value.slice(at, at + onPage.value));
  return found;
});
const host = location.host;
</script>

<template>
  <main class="part">
    <div class="head no-print">
      <div>
        <h1>{{ w.title }}</h1>
        <p v-if="cards.length > 0" class="soft">{{ w.made(cards.length) }}</p>
      </div>
      <div class="acts">
        <v-btn variant="text" @click="router.back()">{{ words.waysIn.door.back }}</v-btn>
        <template v-if="cards.length > 0">
          <v-btn-toggle v-model="order" mandatory divided density="compact" :aria-label="w.order">
            <v-btn v-for="each in orders" :key="each" :value="each">{{ w.orders[each] }}</v-btn>
          </v-btn-toggle>
          <v-btn-toggle v-model="paper" mandatory divided density="compact" :aria-label="w.paper">
            <v-btn v-for="each in papers" :key="each" :value="each">{{ each }}</v-btn>
          </v-btn-toggle>
          <v-btn-toggle v-model="onPage" mandatory divided density="compact" :aria-label="w.onPage">
            <v-btn v-for="each in cardsOnPage" :key="each" :value="each">{{ w.aPage(each) }}</v-btn>
          </v-btn-toggle>
          <v-btn :loading="isBusy" @click="savePdf">{{ w.pdf }}</v-btn>
          <v-btn variant="flat" @click="print">{{ w.print }}</v-btn>
        </template>
      </div>
    </div>
    <p v-if="personIds.length === 0" class="soft">{{ w.nobody }}</p>
    <LoadState v-else-if="!data" :error="error" :is-pending="isPending" @again="refetch()" />
    <section v-else-if="cards.length === 0" class="ahead">
      <p>{{ w.ahead(data.cards) }}</p>
      <p v-if="data.replaced > 0" class="late">{{ w.replaced(data.replaced) }}</p>
      <p v-if="data.notYours > 0" class="soft">{{ w.notYours(data.notYours) }}</p>
      <v-btn variant="flat" :disabled="data.cards === 0" :loading="isBusy" @click="make">{{ w.make(data.cards) }}</v-btn>
    </section>
    <div v-else class="pages" :class="[paper, `of${onPage}`]">
      <section v-for="(page, index) in pages" :key="index" class="page" :aria-label="w.page(index + 1)">
        <article v-for="card in page" :key="card.personId" class="slip">
          <div>
            <p class="soft">{{ session.me?.organisation }}</p>
            <p class="name">{{ card.name }}</p>
            <p class="soft">{{ card.group }}</p>
            <p class="soft">{{ w.signInName }}</p>
            <p class="mono sign-in">{{ card.signInName }}</p>
            <p class="soft">{{ w.noCamera(`${host}/enter`) }}</p>
            <p class="mono sign-in">{{ card.word }}</p>
            <p class="soft">{{ card.isLasting ? w.lasting : w.once(card.until ? showDayOf(card.until) : '') }}</p>
          </div>
          <QrCode class="qr" :text="card.link" :label="w.qr(card.name)" />
        </article>
      </section>
    </div>
  </main>
</template>

<style scoped>
.acts {
  display: flex;
  gap: 12px;
  align-items: center;
  flex-wrap: wrap;
}
.ahead {
  display: grid;
  gap: 12px;
  justify-items: start;
}
.pages {
  display: grid;
  gap: 18px;
  justify-content: center;
}
.page {
  --page-width: 210mm;
  --page-height: 297mm;
  width: var(--page-width);
  height: var(--page-height);
  padding: 10mm;
  display: grid;
  grid-template-columns: 1fr 1fr;
  grid-auto-rows: calc((var(--page-height) - 20mm) / 4);
  background: #fff;
  color: #000;
  border: 1px solid var(--rule);
}
.Letter .page {
  --page-width: 8.5in;
  --page-height: 11in;
}
.of10 .page {
  grid-auto-rows: calc((var(--page-height) - 20mm) / 5);
}
.slip {
  border: 1px dashed #999;
  padding: 4mm 5mm;
  display: grid;
  grid-template-columns: 1fr 34mm;
  gap: 4mm;
  overflow: hidden;
  font-size: 12px;
  line-height: 1.3;
}
.slip > div {
  min-width: 0;
  display: grid;
  align-content: start;
  gap: 1mm;
}
.slip .soft {
  color: #555;
}
.name {
  font: 700 18px/1.15 var(--heading);
  overflow-wrap: anywhere;
}
.sign-in {
  font-size: 16px;
  font-weight: 700;
  overflow-wrap: anywhere;
}
.qr {
  width: 34mm;
  height: 34mm;
}
@media print {
  .part {
    padding: 0;
    overflow: visible;
    display: block;
  }
  .pages {
    display: block;
  }
  .page {
    border: 0;
    break-after: page;
  }
}
</style>
<style>
@page {
  margin: 0;
}
</style>
