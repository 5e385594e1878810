<script setup lang="ts">
import type { KeptView, ShownView } from '@gate-roster/contract';
import { useQuery } from '@tanstack/vue-query';
import { computed, defineAsyncComponent, ref } from 'vue';
import { call } from '../api/call.ts';
import { useScope } from '../shell/scope.ts';
import { useSession } from '../shell/session.ts';
import { failureWords } from '../ui/failure-words.ts';
import { showDay } from '../ui/format.ts';
import { tell } from '../ui/notice.ts';
import * as words from '../words.ts';
import { placeOf } from './shown-view.ts';

/** Views that were kept under a name: open one, keep what is shown, share it. */
const { shown } = defineProps<{ shown: ShownView }>();
const ShareView = defineAsyncComponent(() => import('./ShareView.vue'));
const SharedLinks = defineAsyncComponent(() => import('./SharedLinks.vue'));
const w = words.views;
const scope = useScope();
const session = useSession();
const { data, refetch } = useQuery({ queryKey: ['kept-views'], queryFn: ({ signal }) => call('keptViews', {}, signal) });
const mine = computed(() => data.value?.views.filter(({ isMine }) => isMine) ?? []);
const ofOthers = computed(() => data.value?.views.filter(({ isMine }) => !isMine) ?? []);
const lists = computed(() =>
  [
    { title: w.mine, views: mine.value },
    { title: w.forLeaders, views: ofOthers.value },
  ].filter(({ views }) => views.length > 0),
);
const ViewByLetter = defineAsyncComponent(() => import('./ViewByLetter.vue'));
/** The day it tells of; null: always today. */
const dayOf = ({ frozenDay, shown: { day } }: KeptView): string | null => frozenDay ?? day;
const dialog = ref<'keep' | 'share' | 'links' | 'letter' | null>(null);
/** The view whose letters are asked about. */
const sent = ref<KeptView | null>(null);
const name = ref('');
const forLeaders = ref(false);
const frozen = ref(false);
const problem = ref<string | null>(null);

async function act(doing: () => Promise<unknown>, done: string): Promise<void> {
  problem.value = null;
  try {
    await doing();
    await refetch();
    tell(done);
    dialog.value = null;
  } catch (failure) {
    problem.value = failureWords(failure);
  }
}
const keep = (): Promise<void> =>
  act(
    () =>
      call('keepView', {
        params: { groupId: scope.groupId.value },
        body: { name: name.value.trim(), forLeaders: forLeaders.value && !frozen.value, shown, frozen: frozen.value },
      }),
    w.kept,
  );
const drop = ({ id }: KeptView): Promise<void> => act(() => call('dropKeptView', { params: { viewId: id } }), w.dropped);
const start = ({ id, isStart }: KeptView): Promise<void> =>
  act(
    async () => {
      await call('startWithView', { body: { viewId: isStart ? null : id } });
      await session.refresh();
    },
    isStart ? w.startUnset : w.startSet,
  );
const isShareable = computed(() => ['groups', 'learners', 'course', 'beside'].includes(shown.view) && session.hasPower('export'));
function begin(what: 'keep' | 'share' | 'links' | 'letter'): void {
  name.value = '';
  forLeaders.value = false;
  frozen.value = false;
  problem.value = null;
  dialog.value = what;
}
</script>

<template>
  <div>
    <v-menu :close-on-content-click="false">
      <template #activator="{ props: activator }">
        <v-btn v-bind="activator">{{ w.menu }}</v-btn>
      </template>
      <v-card class="menu" min-width="320" max-width="520">
        <p v-if="lists.length === 0" class="soft">{{ w.none }}</p>
        <section v-for="list in lists" :key="list.title" :aria-label="list.title">
          <h2>{{ list.title }}</h2>
          <ul class="plain-list">
            <li v-for="view in list.views" :key="view.id">
              <router-link
                class="plain-link"
                :to="view.frozenDay === null ? placeOf(view.group.id, view.shown) : { name: 'kept', params: { viewId: view.id } }"
                >{{ view.name }}</router-link
              >
              <span class="soft">{{ view.group.name }}{{ dayOf(view) === null ? '' : `, ${showDay(dayOf(view) ?? '')}` }}</span>
              <span class="acts">
                <button
                  v-if="view.frozenDay === null"
                  type="button"
                  class="plain-link"
                  :aria-label="`${view.isStart ? w.stopStart : w.start}: ${view.name}`"
                  :title="view.isStart ? w.startNow : w.start"
                  @click="start(view)"
                >
                  {{ view.isStart ? w.startsHere : w.startHere }}
                </button>
                <button
                  v-if="view.isMine && view.frozenDay === null && view.shown.day === null"
                  type="button"
                  class="plain-link"
                  :aria-label="w.byLetterOf(view.name)"
                  @click="
                    sent = view;
                    begin('letter');
                  "
                >
                  {{ w.byLetter }}
                </button>
                <button v-if="view.isMine" type="button" class="plain-link" :aria-label="w.drop(view.name)" @click="drop(view)">✕</button>
              </span>
            </li>
          </ul>
        </section>
        <div class="foot">
          <v-btn variant="text" @click="begin('keep')">{{ w.keep }}</v-btn>
          <v-btn v-if="isShareable" variant="text" @click="begin('share')">{{ w.share }}</v-btn>
          <v-btn v-if="session.hasPower('export')" variant="text" @click="begin('links')">{{ w.links }}</v-btn>
        </div>
      </v-card>
    </v-menu>
    <v-dialog :model-value="dialog !== null" max-width="560" :aria-label="w.menu" @update:model-value="dialog = null">
      <v-card class="dialog">
        <form v-if="dialog === 'keep'" @submit.prevent="keep">
          <h2>{{ w.keepTitle }}</h2>
          <p class="soft">{{ w.keepWhat }}</p>
          <v-text-field v-model="name" autofocus maxlength="200" :label="w.name" />
          <v-checkbox v-model="forLeaders" :disabled="frozen" :label="w.alsoLeaders" />
          <v-checkbox v-if="shown.view === 'groups'" v-model="frozen" :label="w.keepFrozen" />
          <p v-if="problem" class="wrong" role="alert">{{ problem }}</p>
          <div class="foot">
            <v-btn type="submit" variant="flat" :disabled="name.trim() === ''">{{ words.common.save }}</v-btn>
            <v-btn variant="text" @click="dialog = null">{{ words.common.cancel }}</v-btn>
          </div>
        </form>
        <ShareView v-else-if="dialog === 'share'" :shown="shown" @close="dialog = null" />
        <ViewByLetter v-else-if="dialog === 'letter' && sent" :key="sent.id" :view="sent" @close="dialog = null" />
        <SharedLinks v-else-if="dialog === 'links'" @close="dialog = null" />
      </v-card>
    </v-dialog>
  </div>
</template>

<style scoped>
.menu,
.dialog {
  padding: 14px 16px;
  display: grid;
  gap: 10px;
}
form {
  display: grid;
  gap: 10px;
}
h2 {
  font-size: 16px;
}
li {
  display: flex;
  gap: 10px;
  align-items: baseline;
  padding: 3px 0;
}
.acts {
  white-space: nowrap;
  margin-left: auto;
  display: flex;
  gap: 10px;
}
.foot {
  display: flex;
  flex-wrap: wrap;
  gap: 6px;
}
</style>
