<script setup lang="ts">
/** One or several things out of a list, each with how many people it has. */
const { multiple = false } = defineProps<{
  label: string;
  items: readonly { id: number; name: string; people: number }[];
  multiple?: boolean;
}>();
const chosen = defineModel<number | number[] | null>({ required: true });
</script>

<template>
  <v-autocomplete
    v-model="chosen"
    :multiple="multiple"
    :chips="multiple"
    :closable-chips="multiple"
    :clearable="!multiple"
    :items="items"
    item-value="id"
    item-title="name"
    :label="label"
  >
    <template #item="{ props: item, item: each }"
      ><v-list-item v-bind="item"
        ><template #append
          ><span class="num soft">{{ (each as { people?: number }).people ?? '' }}</span></template
        ></v-list-item
      ></template
    >
  </v-autocomplete>
</template>
