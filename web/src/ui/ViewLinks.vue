<script setup lang="ts">
/** The views of an area, as words in the scope bar. */
defineProps<{ views: readonly { name: string; title: string }[]; label: string }>();
const view = defineModel<string>({ required: true });
</script>

<template>
  <nav class="views" :aria-label="label">
    <button
      v-for="each in views"
      :key="each.name"
      type="button"
      :class="{ on: each.name === view }"
      :aria-current="each.name === view ? 'page' : undefined"
      @click="view = each.name"
    >
      {{ each.title }}
    </button>
  </nav>
</template>

<style scoped>
.views {
  display: flex;
  gap: 18px;
  flex: none;
}
button {
  background: none;
  border: 0;
  border-bottom: 2px solid transparent;
  font: inherit;
  color: var(--ink2);
  cursor: pointer;
  padding: 4px 0;
}
button:hover {
  color: var(--tide);
}
.on {
  color: var(--ink);
  font-weight: 700;
  border-bottom-color: var(--tide);
}
</style>
