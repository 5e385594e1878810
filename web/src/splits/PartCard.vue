<script setup lang="ts">
import type { SplitMember, SplitPart } from '@gate-roster/contract';
import { ref } from 'vue';
import * as words from '../words.ts';

/** A part of a group with its people, or those who are in none: somebody is dragged in, or put there from their menu. */
const { part, called, people, others, canEdit } = defineProps<{
  /** null: those who have what they always have. */
  part: SplitPart | null;
  called: string;
  people: readonly SplitMember[];
  /** Where its people can go. */
  others: readonly { key: number | null; called: string }[];
  canEdit: boolean;
  says: string;
}>();
const emit = defineEmits<{ move: [personId: number, into: number | null]; here: [personId: number]; turn: []; change: []; write: [] }>();
const w = words.splits;
const isOver = ref(false);
function drop(event: DragEvent): void {
  isOver.value = false;
  const id = Number(event.dataTransfer?.getData('text/plain'));
  if (Number.isInteger(id) && id > 0) emit('here', id);
}
function drag(event: DragEvent, { id }: SplitMember): void {
  event.dataTransfer?.setData('text/plain', String(id));
}
</script>

<template>
  <section
    class="part"
    :class="{ over: isOver, off: part && !part.isOn, rest: part === null }"
    :aria-label="called"
    @dragover.prevent="isOver = canEdit"
    @dragleave="isOver = false"
    @drop.prevent="drop"
  >
    <header>
      <h2>
        {{ called }} <span class="soft count">{{ people.length }}</span>
      </h2>
      <v-switch
        v-if="part"
        :model-value="part.isOn"
        :disabled="!canEdit"
        class="small-switch"
        :aria-label="w.isOn(called)"
        @update:model-value="emit('turn')"
      />
    </header>
    <p class="says" :class="{ plain: part === null }">
      {{ says }}
      <button v-if="part && canEdit" type="button" class="plain-link" :aria-label="w.editPart(called)" @click="emit('change')">
        {{ w.change }}
      </button>
      <button v-if="part && people.length > 0" type="button" class="plain-link" :aria-label="w.writeTo(called)" @click="emit('write')">
        {{ w.writeShort }}
      </button>
    </p>
    <ul class="plain-list people">
      <li v-for="person in people" :key="person.id" :draggable="canEdit" @dragstart="drag($event, person)">
        <span class="dot" :class="{ now: person.workingAt }" :title="person.workingAt ? w.working : w.idle" />
        <v-menu v-if="canEdit">
          <template #activator="{ props: activator }">
            <button v-bind="activator" type="button" class="name" :aria-label="w.moveTo(person.name)">
              {{ person.name }}<span class="sr-only">{{ person.workingAt ? `, ${w.working}` : '' }}</span>
            </button>
          </template>
          <v-list>
            <v-list-subheader>{{ w.moveTo(person.name) }}</v-list-subheader>
            <v-list-item v-for="other in others" :key="other.key ?? 0" :title="other.called" @click="emit('move', person.id, other.key)" />
          </v-list>
        </v-menu>
        <span v-else>{{ person.name }}</span>
      </li>
    </ul>
    <p v-if="canEdit && part" class="drop soft" aria-hidden="true">{{ w.dropHere }}</p>
  </section>
</template>

<style scoped>
.part {
  border: 1px solid var(--rule);
  border-radius: 8px;
  background: var(--sheet);
  padding: 12px 14px;
  display: flex;
  flex-direction: column;
  gap: 8px;
  min-width: 0;
}
.part.rest {
  border-style: dashed;
  background: transparent;
}
.part.over {
  outline: 2px solid var(--tide);
}
header {
  display: flex;
  justify-content: space-between;
  align-items: center;
  gap: 8px;
  min-height: 36px;
}
h2 {
  font-size: 18px;
  overflow-wrap: anywhere;
}
.count {
  font-weight: 400;
  font-variant-numeric: tabular-nums;
}
.says {
  font-size: 14px;
  background: var(--paper);
  border-radius: 6px;
  padding: 8px 10px;
}
.says.plain {
  background: none;
  padding-inline: 0;
}
.says .plain-link {
  margin-right: 8px;
}
.part.off .says,
.part.off .people {
  color: var(--ink2);
}
.people li {
  display: flex;
  align-items: center;
  gap: 10px;
  min-height: 36px;
  border-bottom: 1px solid var(--rule);
}
.dot {
  flex: none;
  width: 9px;
  height: 9px;
  border-radius: 50%;
  border: 1.5px solid var(--ink2);
}
.dot.now {
  background: var(--kelp);
  border-color: var(--kelp);
}
.name {
  font: inherit;
  color: inherit;
  background: none;
  border: 0;
  padding: 6px 0;
  text-align: left;
  flex: 1;
  cursor: grab;
}
.drop {
  border: 1px dashed var(--rule);
  border-radius: 6px;
  padding: 8px;
  text-align: center;
  font-size: 14px;
}
</style>
