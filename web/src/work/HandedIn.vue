<script setup lang="ts">
import { type WorkList, workLists } from '@gate-roster/contract';
import { useInfiniteQuery } from '@tanstack/vue-query';
import { refDebounced, useEventListener } from '@vueuse/core';
import { computed, ref } from 'vue';
import { call } from '../api/call.ts';
import { filterCode } from '../filters/use-filter.ts';
import { useScope } from '../shell/scope.ts';
import { singleKeys } from '../shell/settings.ts';
import { idCode, oneOf, useUrlState } from '../shell/url-state.ts';
import LoadState from '../ui/LoadState.vue';
import { listName } from '../ui/format.ts';
import * as words from '../words.ts';
import MarkMany from './MarkMany.vue';
import { usePieces } from './use-pieces.ts';
import WorkSheet from './WorkSheet.vue';

/** Work that waits to be marked, is marked or sent back: the list, and the chosen piece beside it. */
const { query } = defineProps<{ query: { subgroups: 'yes' | 'no'; filter: string } }>();
const w = words.work;
const scope = useScope();
const list = useUrlState<WorkList>('list', 'waiting', oneOf(workLists));
const courseId = useUrlState('course', null, idCode);
const chosenId = useUrlState('piece', null, idCode);
const mine = ref(false);
/** Emptied by its own button it is null. */
const learner = ref<string | null>('');
const settled = refDebounced(learner, 300);
const searched = computed(() => (settled.value ?? '').trim());
const asked = computed(() => ({
  ...query,
  filter: filterCode.write([
    ...(filterCode.read(query.filter) ?? []),
    ...(searched.value === '' ? [] : [{ part: 'words' as const, text: searched.value }]),
  ]),
  list: list.value,
  mine: mine.value ? ('yes' as const) : ('no' as const),
  ...(courseId.value === null ? {} : { courseId: courseId.value }),
}));
const { data, error, isPending, refetch, fetchNextPage, hasNextPage } = useInfiniteQuery({
  queryKey: ['handed-in', scope.groupId, asked],
  queryFn: ({ pageParam, signal }) =>
    call(
      'handedIn',
      { params: { groupId: scope.groupId.value }, query: { ...asked.value, ...(pageParam === null ? {} : { after: pageParam }) } },
      signal,
    ),
  initialPageParam: null as string | null,
  getNextPageParam: ({ next }) => next,
});
const first = computed(() => data.value?.pages[0]);
const pieces = computed(() => data.value?.pages.flatMap((page) => page.pieces) ?? []);
const courses = computed(() => [{ id: null, name: w.allCourses }, ...(first.value?.courses ?? [])]);
const isNothing = computed(() => first.value !== undefined && first.value.courses.length === 0);
const { shown, step, goOn, isChoosing, ticked, isTicked, tick, stopChoosing } = usePieces(pieces, chosenId, [
  list,
  courseId,
  scope.groupId,
]);
useEventListener(document, 'keydown', (event: KeyboardEvent) => {
  if (!singleKeys.value || event.ctrlKey || event.altKey || event.metaKey || isChoosing.value) return;
  if (event.target instanceof HTMLElement && event.target.closest('input, textarea, select, [role="dialog"], [role="listbox"]')) return;
  if (event.key !== 'ArrowDown' && event.key !== 'ArrowUp') return;
  event.preventDefault();
  step(event.key === 'ArrowDown' ? 1 : -1);
});
</script>

<template>
  <div class="split handed">
    <nav class="list" :aria-label="w.title">
      <div class="which">
        <button
          v-for="name in workLists"
          :key="name"
          type="button"
          class="pick"
          :class="{ on: name === list }"
          :aria-pressed="name === list"
          @click="list = name"
        >
          {{ first ? w.listLabel(name, first.counts[name]) : w.lists[name] }}
        </button>
      </div>
      <div class="narrow">
        <v-text-field v-model="learner" :label="w.learner" clearable maxlength="100" />
        <v-select v-model="courseId" :items="courses" item-value="id" item-title="name" :label="w.course" />
        <v-checkbox v-if="list !== 'waiting'" v-model="mine" :label="w.mine" density="compact" />
        <p v-if="list === 'waiting' && first?.oldestDays != null" class="soft small">
          {{ w.waits(first.oldestDays, first.medianDays ?? 0) }}
        </p>
      </div>
      <LoadState v-if="!data" :error="error" :is-pending="isPending" @again="refetch()" />
      <p v-else-if="pieces.length === 0" class="soft none">{{ isNothing ? w.noneAtAll : w.none[list] }}</p>
      <ul v-else class="plain-list rows" tabindex="0" :aria-label="w.lists[list]">
        <li v-for="piece in pieces" :key="piece.versionId">
          <button
            type="button"
            class="piece"
            :class="{ on: isChoosing ? isTicked(piece.versionId) : piece.versionId === shown }"
            :aria-current="!isChoosing && piece.versionId === shown ? 'true' : undefined"
            :aria-pressed="isChoosing ? isTicked(piece.versionId) : undefined"
            @click="isChoosing ? tick(piece.versionId) : (chosenId = piece.versionId)"
          >
            <b>{{ isChoosing && isTicked(piece.versionId) ? '✓ ' : '' }}{{ listName(piece) }}</b>
            <span>{{ piece.activity }}</span>
            <span class="soft small">{{ w.row(piece) }}</span>
            <span v-if="piece.takenBy" class="small taken">{{ w.takenBy(piece.takenBy) }}</span>
          </button>
        </li>
        <li v-if="hasNextPage">
          <v-btn variant="text" @click="fetchNextPage()">{{ w.more }}</v-btn>
        </li>
      </ul>
      <div v-if="list === 'waiting' && pieces.length > 0" class="foot">
        <button type="button" class="plain-link" @click="isChoosing ? stopChoosing() : (isChoosing = true)">
          {{ isChoosing ? words.common.cancel : w.chooseSeveral }}
        </button>
        <p v-if="singleKeys && !isChoosing" class="soft small keys">
          <template v-for="([keys, does], at) in w.keys" :key="keys">
            <kbd v-for="each in keys.split(' ').length === 2 && keys.startsWith('↑') ? keys.split(' ') : [keys]" :key="each">{{
              each
            }}</kbd>
            {{ does }}{{ at < w.keys.length - 1 ? ', ' : '' }}
          </template>
        </p>
      </div>
    </nav>
    <aside v-if="isChoosing" class="panel">
      <MarkMany :pieces="ticked" :all="pieces" @close="stopChoosing" />
    </aside>
    <WorkSheet v-else-if="shown !== null" :key="shown" :version-id="shown" @done="goOn" />
    <main v-else class="part">
      <h1>{{ w.title }}</h1>
      <p class="soft">{{ isNothing ? w.noneAtAll : pieces.length > 0 ? w.choose : w.none[list] }}</p>
    </main>
  </div>
</template>

<style scoped>
.handed {
  flex: 1;
  min-height: 0;
}
.list {
  width: 300px;
  flex: none;
  display: flex;
  flex-direction: column;
  min-height: 0;
  border-right: 1px solid var(--rule);
  background: var(--paper);
}
.which {
  display: flex;
  flex-wrap: wrap;
  gap: 8px;
  padding: 12px 16px 8px;
}
.narrow {
  padding: 0 16px 10px;
  display: grid;
  gap: 6px;
}
.none {
  padding: 8px 16px;
}
.rows {
  overflow: auto;
  flex: 1;
}
.piece {
  display: grid;
  gap: 2px;
  width: 100%;
  text-align: left;
  padding: 9px 16px;
  border: 0;
  border-top: 1px solid var(--rule);
  border-left: 4px solid transparent;
  background: none;
  font: inherit;
  font-size: 14.5px;
  color: inherit;
  cursor: pointer;
}
.piece.on {
  background: var(--sheet);
  border-left-color: var(--tide);
}
.taken {
  color: var(--brass-ink);
}
.foot {
  border-top: 1px solid var(--rule);
  padding: 10px 16px 12px;
  display: grid;
  gap: 8px;
  justify-items: start;
}
.small {
  font-size: 13.5px;
}
.keys kbd {
  border: 1px solid var(--rule);
  border-radius: 4px;
  padding: 0 4px;
  font-size: 12.5px;
  background: var(--sheet);
  margin-right: 2px;
}
@media (max-width: 960px) {
  .list {
    width: 100%;
    border-right: 0;
    max-height: 45vh;
  }
  .keys {
    display: none;
  }
}
</style>
