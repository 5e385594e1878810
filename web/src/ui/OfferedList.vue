<script setup lang="ts">
/** What a search offers, a line each; a click takes it. */
defineProps<{ items: readonly { key: string | number; title: string; note?: string }[] }>();
defineEmits<{ take: [index: number] }>();
</script>

<template>
  <ul v-if="items.length > 0" class="plain-list offered">
    <li v-for="(item, index) in items" :key="item.key">
      <button type="button" @click="$emit('take', index)">
        {{ item.title }} <span v-if="item.note" class="soft">{{ item.note }}</span>
      </button>
    </li>
  </ul>
</template>

<style scoped>
.offered {
  border: 1px solid var(--rule);
  border-radius: 8px;
  background: var(--sheet);
  overflow: hidden;
}
button {
  width: 100%;
  text-align: left;
  padding: 8px 12px;
  background: none;
  border: 0;
  font: inherit;
  cursor: pointer;
}
button:hover {
  background: var(--tide2);
}
</style>
