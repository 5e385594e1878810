<script setup lang="ts">
import { useTemplateRef } from 'vue';
import { useVirtualRows } from '../ui/virtual-rows.ts';
import * as words from '../words.ts';
import type { RosterFile } from './use-roster-file.ts';

/** What would be made, as the tree it would be: groups that are there lead down to it, new ones can be struck out. */
const { file } = defineProps<{ file: RosterFile }>();
const rowPixels = 24;
const scroller = useTemplateRef<HTMLElement>('scroller');
const { items, spaceAbove, spaceBelow } = useVirtualRows(scroller, () => file.wished.value.length, rowPixels);
</script>

<template>
  <section class="made" :aria-label="words.entry.wouldMake">
    <p class="soft">{{ words.entry.wouldMake }}</p>
    <ul ref="scroller" tabindex="0">
      <li aria-hidden="true" :style="{ height: `${spaceAbove}px` }" />
      <template v-for="{ index } in items" :key="file.wished.value[index]?.key ?? index">
        <li v-if="file.wished.value[index]" :style="{ paddingInlineStart: `${file.wished.value[index].depth * 18}px` }">
          <span :class="file.wished.value[index].isNew ? 'new' : 'soft'">{{ file.wished.value[index].name }}</span>
          <button
            v-if="file.wished.value[index].isNew"
            type="button"
            class="plain-link"
            :aria-label="words.entry.dontMake(file.wished.value[index].name)"
            @click="file.dontMake(file.wished.value[index].key)"
          >
            {{ words.entry.strike }}
          </button>
        </li>
      </template>
      <li aria-hidden="true" :style="{ height: `${spaceBelow}px` }" />
    </ul>
  </section>
</template>

<style scoped>
.made {
  display: flex;
  gap: 14px;
  flex: none;
}
ul {
  list-style: none;
  margin: 0;
  padding: 0;
  max-height: 112px;
  overflow: auto;
  flex: 1;
}
li {
  display: flex;
  gap: 12px;
  height: 24px;
  line-height: 24px;
}
.new {
  font-weight: 600;
}
</style>
