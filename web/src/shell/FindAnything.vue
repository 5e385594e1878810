<script setup lang="ts">
import { mdiAccountOutline, mdiBookOpenOutline, mdiLifebuoy, mdiSitemapOutline } from '@mdi/js';
import { keepPreviousData, useQuery } from '@tanstack/vue-query';
import { refDebounced } from '@vueuse/core';
import { computed, ref, watch } from 'vue';
import { useRouter } from 'vue-router';
import { call } from '../api/call.ts';
import { courseLink } from '../courses/course-link.ts';
import { personName } from '../ui/format.ts';
import * as words from '../words.ts';
import { useSession } from './session.ts';

/** Groups, people and courses by any part of their name, address, number or code. */
const isOpen = defineModel<boolean>({ required: true });
const router = useRouter();
const session = useSession();
const typed = ref('');
const asked = refDebounced(
  computed(() => typed.value.trim()),
  150,
);
const chosen = ref(0);
watch(isOpen, (open) => {
  if (open) typed.value = '';
});
watch(asked, () => {
  chosen.value = 0;
});
const { data, isFetching } = useQuery({
  queryKey: ['find', asked],
  queryFn: ({ signal }) => call('find', { query: { q: asked.value } }, signal),
  enabled: () => asked.value !== '',
  placeholderData: keepPreviousData,
});

const hits = computed(() => {
  if (!data.value || asked.value === '') return [];
  return [
    ...data.value.groups.map(({ id, name, path }) => ({
      key: `g${id}`,
      icon: mdiSitemapOutline,
      title: name,
      subtitle: path.join(' › '),
      to: { name: 'groups', params: { groupId: id } },
    })),
    ...data.value.people.map((person) => ({
      key: `p${person.id}`,
      icon: mdiAccountOutline,
      title: personName(person),
      subtitle: person.group?.name ?? words.people.inNoGroup,
      // Who is in no group is shown over the own home.
      to: { name: 'groups', params: { groupId: person.group?.id ?? session.me?.homeGroupId ?? 0 }, query: { person: String(person.id) } },
    })),
    ...data.value.courses.map(({ id, name, code, isSet }) => ({
      key: `${isSet ? 's' : 'c'}${id}`,
      icon: mdiBookOpenOutline,
      title: name,
      subtitle: isSet ? words.catalogue.set : [words.courses.course, code].filter(Boolean).join(' '),
      to: courseLink(session.me?.homeGroupId ?? 0, id, isSet ? 'sets' : 'courses'),
    })),
    ...(session.hasPower('helpSignIn')
      ? [
          {
            key: 'help',
            icon: mdiLifebuoy,
            title: words.help.inFind,
            subtitle: asked.value,
            to: { name: 'help', query: { q: asked.value } },
          },
        ]
      : []),
  ];
});

function move(by: number): void {
  chosen.value = Math.max(0, Math.min(hits.value.length - 1, chosen.value + by));
}
function open(index: number): void {
  const hit = hits.value[index];
  if (!hit) return;
  isOpen.value = false;
  void router.push(hit.to);
}
</script>

<template>
  <v-dialog v-model="isOpen" max-width="560" class="find-anything" :aria-label="words.find.title">
    <v-card>
      <v-text-field
        v-model="typed"
        autofocus
        variant="solo"
        flat
        :placeholder="words.find.hint"
        :aria-label="words.find.title"
        role="combobox"
        aria-expanded="true"
        aria-controls="find-hits"
        :aria-activedescendant="hits[chosen] ? `hit-${hits[chosen]?.key}` : undefined"
        @keydown.down.prevent="move(1)"
        @keydown.up.prevent="move(-1)"
        @keydown.enter="open(chosen)"
      />
      <ul id="find-hits" role="listbox" :aria-label="words.find.title" class="plain-list hits">
        <li
          v-for="(hit, index) in hits"
          :id="`hit-${hit.key}`"
          :key="hit.key"
          role="option"
          :aria-selected="index === chosen"
          :class="{ on: index === chosen }"
          @click="open(index)"
          @mousemove="chosen = index"
        >
          <v-icon :icon="hit.icon" size="18" /><span class="title">{{ hit.title }}</span
          ><span class="soft">{{ hit.subtitle }}</span>
        </li>
      </ul>
      <p class="foot soft" role="status">
        {{
          asked === ''
            ? words.find.how
            : hits.every(({ key }) => key === 'help') && !isFetching
              ? words.find.nothing(asked)
              : words.find.keys
        }}
      </p>
    </v-card>
  </v-dialog>
</template>

<style scoped>
.hits {
  max-height: 400px;
  overflow: auto;
}
.hits li {
  display: flex;
  gap: 10px;
  align-items: baseline;
  padding: 8px 16px;
  cursor: pointer;
}
.hits li.on {
  background: var(--tide2);
}
.title {
  font-weight: 600;
}
.foot {
  padding: 10px 16px;
  border-top: 1px solid var(--rule);
  font-size: 13.5px;
}
</style>
