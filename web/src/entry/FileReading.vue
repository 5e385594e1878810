<script setup lang="ts">
import { type Delimiter, delimiters, type Encoding, encodings } from '@gate-roster/core';
import { showNumber } from '../ui/format.ts';
import * as words from '../words.ts';
import type { RosterFile } from './use-roster-file.ts';

/** How the file was read, in a sentence that opens to correct it. */
const { file } = defineProps<{ file: RosterFile }>();
const delimiterItems = delimiters.map((value) => ({ value, title: words.entry.delimiters[value] }));
const encodingItems = encodings.map((value) => ({ value, title: words.entry.encodings[value] }));
</script>

<template>
  <p v-if="file.read.value" class="soft reading">
    {{
      words.entry.reading(
        showNumber(file.summary.value?.rows ?? file.read.value.lines),
        file.read.value.delimiter ? words.entry.delimiters[file.read.value.delimiter] : null,
        file.mapping.value?.hasHeader ?? true,
        file.read.value.encoding ? words.entry.encodings[file.read.value.encoding] : null,
        file.read.value.sheet,
      )
    }}
    <span v-if="file.read.value.cleaned > 0">{{ words.entry.cleaned(file.read.value.cleaned) }}</span>
    <span v-if="file.usedMapping.value">{{ words.entry.readAs(file.usedMapping.value) }}</span>
    <v-menu :close-on-content-click="false">
      <template #activator="{ props: activator }"
        ><button v-bind="activator" type="button" class="plain-link">{{ words.entry.notRight }}</button></template
      >
      <v-card class="correct">
        <v-select
          v-if="file.read.value.sheets.length > 1"
          :label="words.entry.sheet"
          :items="file.read.value.sheets"
          :model-value="file.read.value.sheet"
          @update:model-value="(sheet: string) => file.reread({ sheet })"
        />
        <v-select
          v-if="file.read.value.delimiter"
          :label="words.entry.delimiter"
          :items="delimiterItems"
          :model-value="file.read.value.delimiter"
          @update:model-value="(delimiter: Delimiter) => file.reread({ delimiter, encoding: file.read.value?.encoding ?? undefined })"
        />
        <v-select
          v-if="file.read.value.encoding"
          :label="words.entry.encoding"
          :items="encodingItems"
          :model-value="file.read.value.encoding"
          @update:model-value="(encoding: Encoding) => file.reread({ encoding, delimiter: file.read.value?.delimiter ?? undefined })"
        />
        <v-checkbox
          :label="words.entry.hasHeader"
          :model-value="file.mapping.value?.hasHeader ?? true"
          @update:model-value="file.setHeader($event === true)"
        />
      </v-card>
    </v-menu>
  </p>
</template>

<style scoped>
.reading {
  font-size: 14px;
  margin-top: 4px;
}
.correct {
  padding: 14px;
  display: grid;
  gap: 12px;
  min-width: 260px;
}
</style>
