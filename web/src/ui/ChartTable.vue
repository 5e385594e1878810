<script setup lang="ts">
import * as words from '../words.ts';

/** The numbers behind a chart, folded away: the first column names, the others count. */
defineProps<{ head: readonly string[]; lines: readonly (readonly string[])[] }>();
</script>

<template>
  <details>
    <summary class="plain-link">{{ words.common.asTable }}</summary>
    <table>
      <thead>
        <tr>
          <th v-for="(title, index) in head" :key="index" scope="col" :class="{ num: index > 0 }">{{ title }}</th>
        </tr>
      </thead>
      <tbody>
        <tr v-for="line in lines" :key="line[0]">
          <td v-for="(text, index) in line" :key="index" :class="{ num: index > 0 }">{{ text }}</td>
        </tr>
      </tbody>
    </table>
  </details>
</template>

<style scoped>
table {
  width: 100%;
  font-size: 14px;
}
th {
  text-align: left;
}
th.num {
  text-align: right;
}
</style>
