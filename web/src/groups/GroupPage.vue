<script setup lang="ts">
import { completion } from '@gate-roster/core';
import { useQuery } from '@tanstack/vue-query';
import { computed, ref, watch } from 'vue';
import { useRoute, useRouter } from 'vue-router';
import { call } from '../api/call.ts';
import AddPeople from '../people/AddPeople.vue';
import PeopleList from '../people/PeopleList.vue';
import PersonPanel from '../people/PersonPanel.vue';
import ScopeBar from '../shell/ScopeBar.vue';
import { useScope } from '../shell/scope.ts';
import LoadState from '../ui/LoadState.vue';
import { showNumber, showPercent } from '../ui/format.ts';
import { words } from '../words.ts';
import GroupTree from './GroupTree.vue';
import RenameGroup from './RenameGroup.vue';

const scope = useScope();
const route = useRoute();
const router = useRouter();
const {
  data: group,
  error,
  isPending,
  refetch,
} = useQuery({
  queryKey: ['group', scope.groupId, scope.query],
  queryFn: ({ signal }) => call('group', { params: { groupId: scope.groupId.value }, query: scope.query.value }, signal),
});
const isAdding = ref(false);
const isRenaming = ref(false);
const counted = ref<'yes' | 'no'>('yes');
watch(scope.groupId, () => {
  isAdding.value = false;
  counted.value = 'yes';
});
const personId = computed(() => (route.query['person'] ? Number(route.query['person']) : null));
function showPerson(id: number | null): void {
  const { person: _dropped, ...rest } = route.query;
  isAdding.value = false;
  void router.replace({ query: id === null ? rest : { ...rest, person: String(id) } });
}
const notCounted = computed(() => group.value?.people.notCounted ?? []);
const done = computed(() => group.value && completion(group.value.progress));
</script>

<template>
  <div class="page">
    <GroupTree />
    <div class="side">
      <ScopeBar />
      <main class="sheet">
        <LoadState v-if="!group" :error="error" :is-pending="isPending" @again="refetch()" />
        <template v-else>
          <div class="head">
            <div>
              <h1>{{ group.name }}</h1>
              <p class="led">
                <span class="soft">{{ group.leaders.length > 0 ? words.groups.ledBy : words.groups.noLeader }}</span>
                {{ group.leaders.map(({ name }) => name).join(', ') }}
                <span v-for="tag in group.tags" :key="tag.id" class="tag">{{ tag.name }}</span>
              </p>
            </div>
            <div class="acts">
              <v-btn v-if="group.may.shapeGroups" @click="isRenaming = true">{{ words.groups.rename }}</v-btn>
              <v-btn v-if="group.may.bringIn" :to="scope.linkTo('ways-in')">{{ words.entry.bringIn }}</v-btn>
              <v-btn v-if="group.may.managePeople" variant="flat" @click="isAdding = true">{{ words.people.add }}</v-btn>
            </div>
          </div>
          <nav class="strip" :aria-label="words.groups.figures">
            <div class="figure on" aria-current="true">
              <small>{{ words.people.title }}</small>
              <p>
                <b class="big">{{ showNumber(group.people.counted) }}</b> {{ words.people.learners(group.people.counted) }}
              </p>
              <p class="soft">{{ words.people.leadersAndSeveral(group.people.leaders, group.people.inSeveral) }}</p>
            </div>
            <router-link class="figure" :to="scope.linkTo('access')">
              <small>{{ words.courses.title }}</small>
              <p>
                <b class="big">{{ group.courses.open }}</b> {{ words.courses.open }}
              </p>
              <p class="soft">{{ words.courses.fromAbove(group.courses.fromAbove, group.courses.blocked) }}</p>
            </router-link>
            <router-link v-if="group.may.seeProgress" class="figure" :to="scope.linkTo('progress')">
              <small>{{ words.areas.progress }}</small>
              <p>
                <b class="big">{{ done === null || done === undefined ? '–' : showPercent(done) }}</b> {{ words.progress.done }}
              </p>
              <p class="soft">
                <b v-if="group.progress.overdue > 0" class="late">{{ words.progress.overdue(group.progress.overdue) }}</b><template
                  v-if="group.progress.overdue > 0"
                  >{{ ', ' }}</template
                >{{ words.progress.underWay(group.progress.underWay) }}
              </p>
            </router-link>
          </nav>
          <PeopleList v-model:counted="counted" :group="group" :not-counted="notCounted" :person-id="personId" @person="showPerson" />
        </template>
      </main>
    </div>
    <aside v-if="isAdding && group" class="panel"><AddPeople :group="group" @close="isAdding = false" /></aside>
    <aside v-else-if="personId !== null" class="panel"><PersonPanel :person-id="personId" @close="showPerson(null)" /></aside>
    <RenameGroup v-if="group" v-model="isRenaming" :group="group" />
  </div>
</template>

<style scoped>
.page {
  display: flex;
  flex: 1;
  min-height: 0;
}
.side {
  flex: 1;
  min-width: 0;
  display: flex;
  flex-direction: column;
  background: var(--sheet);
  min-height: 0;
}
.sheet {
  display: flex;
  flex-direction: column;
  min-height: 0;
  flex: 1;
  padding: 12px 26px 0;
}
.head {
  display: flex;
  gap: 18px;
  align-items: flex-end;
  justify-content: space-between;
  flex-wrap: wrap;
}
.head h1 {
  overflow-wrap: anywhere;
}
.led {
  margin-top: 6px;
  font-size: 14px;
}
.tag {
  font-size: 13.5px;
  border-radius: 5px;
  padding: 2px 9px;
  background: var(--paper);
  border: 1px solid var(--rule);
  margin-left: 6px;
}
.acts {
  display: flex;
  gap: 12px;
  flex-wrap: wrap;
}
.strip {
  display: grid;
  grid-auto-flow: column;
  grid-auto-columns: 1fr;
  margin-top: 14px;
  border: 1px solid var(--rule);
  border-radius: 8px 8px 0 0;
  background: var(--paper);
  flex: none;
}
.figure {
  padding: 9px 14px 10px;
  border-right: 1px solid var(--rule);
  color: inherit;
  text-decoration: none;
}
.figure:last-child {
  border: 0;
}
.figure.on {
  background: var(--sheet);
  box-shadow: inset 0 4px 0 var(--tide);
}
a.figure:hover {
  background: var(--tide2);
}
.figure small {
  color: var(--ink2);
  font-size: 13.5px;
  font-weight: 600;
}
.figure .big {
  font-size: 22px;
  line-height: 1.25;
}
.figure p {
  font-size: 13.5px;
}
.panel {
  width: 380px;
  flex: none;
  border-left: 1px solid var(--rule);
  background: var(--paper);
  overflow: auto;
  padding: 18px 20px;
}
@media (max-width: 1100px) {
  .panel {
    position: absolute;
    inset: 52px 0 0 auto;
    max-width: 100%;
    z-index: 10;
    box-shadow: -10px 0 30px #0000001a;
  }
}
@media (max-width: 860px) {
  .sheet {
    padding: 12px 14px 0;
  }
  .strip {
    grid-auto-flow: row;
  }
  .figure {
    border-right: 0;
    border-bottom: 1px solid var(--rule);
  }
}
</style>
