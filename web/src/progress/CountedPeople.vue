<script setup lang="ts" generic="K extends string">
import { useScope } from '../shell/scope.ts';
import * as words from '../words.ts';

/** One line of numbers, each of which opens to its people. */
const { kinds, people, counts } = defineProps<{
  label: string;
  kinds: readonly { name: K; text: string }[];
  counts: Readonly<Record<K, number>>;
  /** Of the kind that is open. */
  people: readonly { id: number; name: string; about: readonly string[] }[];
}>();
const of = defineModel<K | null>({ required: true });
const scope = useScope();
</script>

<template>
  <section class="counted" :aria-label="label">
    <p>
      <slot />
      <button
        v-for="kind in kinds"
        :key="kind.name"
        type="button"
        class="plain-link"
        :aria-expanded="of === kind.name"
        @click="of = of === kind.name ? null : kind.name"
      >
        {{ kind.text }}
      </button>
    </p>
    <ul v-if="of" class="plain-list names">
      <li v-for="person in people" :key="person.id">
        <router-link :to="{ name: 'groups', params: { groupId: scope.groupId.value }, query: { person: String(person.id) } }">{{
          person.name
        }}</router-link>
        <span class="soft">{{ person.about.join(', ') }}</span>
      </li>
      <li v-if="people.length < counts[of]" class="soft">{{ words.progress.news.more(counts[of] - people.length) }}</li>
    </ul>
  </section>
</template>

<style scoped>
.counted {
  margin: 6px 0;
}
.counted p {
  display: flex;
  gap: 4px 16px;
  flex-wrap: wrap;
  align-items: baseline;
  margin: 0;
}
.counted button {
  min-height: 26px;
}
.names {
  columns: 3 240px;
  max-height: 168px;
  overflow: auto;
  padding: 6px 0;
}
.names li {
  break-inside: avoid;
}
.names .soft {
  margin-left: 8px;
}
</style>
