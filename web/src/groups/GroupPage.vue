<script setup lang="ts">
import type { PeopleFilter } from '@gate-roster/contract';
import { completion } from '@gate-roster/core';
import { mdiChevronDown } from '@mdi/js';
import { useQuery } from '@tanstack/vue-query';
import { computed, ref, useTemplateRef, watch, defineAsyncComponent } from 'vue';
import { useRoute, useRouter } from 'vue-router';
import { call, Failure } from '../api/call.ts';
import PeopleList from '../people/PeopleList.vue';
import ScopeBar from '../shell/ScopeBar.vue';
import { useScope } from '../shell/scope.ts';
import { oneOf, useUrlState } from '../shell/url-state.ts';
import { copyText } from '../ui/copy.ts';
import LoadState from '../ui/LoadState.vue';
import { showNumber, showPercent } from '../ui/format.ts';
import * as words from '../words.ts';
import GroupTree from './GroupTree.vue';
import { useSession } from '../shell/session.ts';
import type { GroupAct } from './group-act.ts';
const BeginHere = defineAsyncComponent(() => import('./BeginHere.vue'));
const PersonPanel = defineAsyncComponent(() => import('../people/PersonPanel.vue'));
const AddPeople = defineAsyncComponent(() => import('../people/AddPeople.vue'));
const MakeGroups = defineAsyncComponent(() => import('./MakeGroups.vue'));
const FirstSteps = defineAsyncComponent(() => import('./FirstSteps.vue'));
const NewClient = defineAsyncComponent(() => import('./NewClient.vue'));
const GroupForm = defineAsyncComponent(() => import('./GroupForm.vue'));
const AddCourses = defineAsyncComponent(() => import('../courses/AddCourses.vue'));
// What opens only at a click comes with the click: the first load stays small.
const LeadersPanel = defineAsyncComponent(() => import('../accounts/LeadersPanel.vue'));

const scope = useScope();
const session = useSession();
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
const mayEntry = computed(() => session.hasPower('managePeople') || session.hasPower('decideEntry') || session.hasPower('openCourses'));
const { data: entry } = useQuery({
  queryKey: ['entry-figures', scope.groupId, scope.query],
  queryFn: ({ signal }) => call('entryFigures', { params: { groupId: scope.groupId.value }, query: scope.query.value }, signal),
  enabled: mayEntry,
});
/** What stands in the panel on the right, beside a person. */
type Panel = 'add' | 'make' | 'client' | 'copy' | 'edit' | 'leaders' | 'courses';
const panel = ref<Panel | null>(null);
const counted = useUrlState<PeopleFilter['counted']>('counted', 'yes', oneOf(['yes', 'no', 'nowhere']));
watch(scope.groupId, () => {
  panel.value = null;
});
const personId = computed(() => (route.query['person'] ? Number(route.query['person']) : null));
function showPerson(id: number | null): void {
  const { person: _dropped, ...rest } = route.query;
  panel.value = null;
  void router.replace({ query: id === null ? rest : { ...rest, person: String(id) } });
}
const groupTree = useTemplateRef<{ begin: (act: GroupAct, ids: number[]) => void; startHere: (id: number) => void }>('groupTree');
const act = (wanted: GroupAct): void => groupTree.value?.begin(wanted, [scope.groupId.value]);
/** While nobody is in, the top of the tree says where to begin; later it says only what is still missing. */
const isTop = computed(() => session.isAdministrator && group.value?.path.length === 1);
const isNew = computed(() => isTop.value && group.value?.people.counted === 0);
/** For its people; of no use to anybody else. */
const handoutsLink = computed(() => `${location.origin}/my-groups/${scope.groupId.value}`);
/** What one does to the group on a page of its own. */
const partLink = (part: 'splits' | 'period') => ({
  name: 'groups',
  params: { groupId: scope.groupId.value, part },
  query: scope.linkTo('groups').query,
});
const parentId = computed(() => group.value?.path.at(-2)?.id ?? scope.groupId.value);
/** Where a group is gone while it is looked at, its parent is shown. */
const lastParent = ref<number | null>(null);
watch(group, (now) => {
  if (now) lastParent.value = now.path.at(-2)?.id ?? null;
});
watch(error, (failure) => {
  if (failure instanceof Failure && failure.code === 'not-found' && lastParent.value !== null) scope.goTo(lastParent.value);
});
const notCounted = computed(() => group.value?.people.notCounted ?? []);
const done = computed(() => group.value && completion(group.value.progress));
</script>

<template>
  <div class="page">
    <GroupTree ref="groupTree" />
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
                <button v-if="group.may.appointLeaders" type="button" class="plain-link" @click="panel = 'leaders'">
                  {{ words.leaders.change }}
                </button>
                <span v-if="group.state === 'archived'" class="tag">{{ words.groups.archivedMark }}</span>
                <span v-for="tag in group.tags" :key="tag.id" class="tag">{{ tag.name }}</span>
                <span v-if="group.contact" class="tag">{{ words.groups.ask(group.contact.name) }}</span>
              </p>
              <p v-if="group.description" class="soft described">{{ group.description }}</p>
            </div>
            <div class="acts">
              <v-btn v-if="session.hasPower('openCourses')" :to="partLink('splits')">{{ words.figures.splits }}</v-btn>
              <v-menu v-if="group.may.shapeGroups">
                <template #activator="{ props: activator }">
                  <v-btn v-bind="activator" :append-icon="mdiChevronDown">{{ words.groups.acts }}</v-btn>
                </template>
                <v-list>
                  <v-list-item :title="words.groups.make" @click="panel = 'make'" />
                  <v-list-item :title="words.newClient.act" @click="panel = 'client'" />
                  <v-list-item :title="words.groups.edit" @click="panel = 'edit'" />
                  <v-list-item v-if="group.may.appointLeaders" :title="words.leaders.title" @click="panel = 'leaders'" />
                  <v-list-item v-if="group.handouts.length > 0" :title="words.groups.copyHandouts" @click="copyText(handoutsLink)" />
                  <v-list-item v-if="group.below > 0" :title="words.groups.startHere" @click="groupTree?.startHere(group.id)" />
                  <template v-if="group.may.shapeItself">
                    <v-divider />
                    <v-list-item :title="words.groups.move" @click="act('move')" />
                    <v-list-item :title="words.figures.endOfPeriod" :to="partLink('period')" />
                    <v-list-item :title="words.groups.copy" @click="panel = 'copy'" />
                    <v-list-item v-if="group.state === 'active'" :title="words.groups.archive" @click="act('archive')" />
                    <v-list-item v-else :title="words.groups.unarchive" @click="act('unarchive')" />
                    <v-list-item :title="words.groups.remove" class="late" @click="act('delete')" />
                  </template>
                </v-list>
              </v-menu>
              <v-btn v-if="group.may.shapeGroups" @click="panel = 'make'">{{ words.groups.make }}</v-btn>
              <v-btn v-if="group.may.bringIn" :to="scope.linkTo('ways-in', 'file')">{{ words.figures.bringIn }}</v-btn>
              <v-btn v-if="group.may.managePeople" variant="flat" @click="panel = 'add'">{{ words.people.add }}</v-btn>
            </div>
          </div>
          <BeginHere v-if="isNew" @groups="panel = 'make'" @courses="panel = 'courses'" />
          <BeginHere v-else-if="isTop" compact @courses="panel = 'courses'" />
          <nav v-if="!isNew" class="strip people-strip" :aria-label="words.groups.figures">
            <div class="figure on" aria-current="true">
              <small>{{ words.people.title }}</small>
              <p>
                <b class="big">{{ showNumber(group.people.counted) }}</b> {{ words.people.learners(group.people.counted) }}
              </p>
              <p class="soft">{{ words.people.leadersAndSeveral(group.people.leaders, group.people.inSeveral) }}</p>
            </div>
            <router-link v-if="mayEntry" class="figure" :to="scope.linkTo('ways-in')">
              <small>{{ words.areas['ways-in'] }}</small>
              <p>
                <b class="big">{{ entry?.codesOpen ?? '–' }}</b> {{ words.figures.codesOpen(entry?.codesOpen ?? 0) }}
              </p>
              <p class="soft">
                <b v-if="(entry?.asking ?? 0) > 0" class="late">{{ words.areas.waiting(entry?.asking ?? 0) }}</b><template v-else>{{
                  words.figures.nobodyAsks
                }}</template>
              </p>
            </router-link>
            <router-link class="figure" :to="scope.linkTo('access')">
              <small>{{ words.figures.courses }}</small>
              <p>
                <b class="big">{{ group.courses.open }}</b> {{ words.figures.coursesOpen }}
              </p>
              <p class="soft">{{ words.figures.coursesFromAbove(group.courses.fromAbove, group.courses.blocked) }}</p>
            </router-link>
            <router-link v-if="group.seats" class="figure" :to="scope.linkTo('seats')">
              <small>{{ words.areas.seats }}</small>
              <p>
                <b class="big">{{ showNumber(group.seats.used) }}</b> {{ words.figures.seatsInUse }}
              </p>
              <p class="soft">
                <b v-if="group.seats.inLine > 0" class="late">{{ words.figures.seatsWaiting(group.seats.inLine) }}</b><template v-else>{{
                  words.figures.nobodyWaits
                }}</template>
              </p>
            </router-link>
            <router-link v-if="group.may.seeProgress" class="figure" :to="scope.linkTo('progress')">
              <small>{{ words.areas.progress }}</small>
              <p>
                <b class="big">{{ done === null || done === undefined ? '–' : showPercent(done) }}</b> {{ words.figures.done }}
              </p>
              <p class="soft">
                <b v-if="group.progress.overdue > 0" class="late">{{ words.figures.overdue(group.progress.overdue) }}</b><template
                  v-if="group.progress.overdue > 0"
                  >{{ ', ' }}</template
                >{{ words.figures.underWay(group.progress.underWay) }}
              </p>
            </router-link>
          </nav>
          <FirstSteps
            v-if="!isTop && group.may.managePeople && group.people.counted === 0 && group.below === 0"
            :group="group"
            @add="panel = 'add'"
          />
          <PeopleList
            v-if="!isNew"
            v-model:counted="counted"
            :group="group"
            :not-counted="notCounted"
            :person-id="personId"
            @person="showPerson"
          />
        </template>
      </main>
    </div>
    <aside v-if="panel && group" class="panel">
      <AddPeople v-if="panel === 'add'" :group="group" @close="panel = null" />
      <MakeGroups v-else-if="panel === 'make'" :parent-id="group.id" :name="group.name" @close="panel = null" />
      <MakeGroups v-else-if="panel === 'copy'" :parent-id="parentId" :name="group.name" :copy-of="group.id" @close="panel = null" />
      <NewClient v-else-if="panel === 'client'" :parent-id="group.id" @close="panel = null" />
      <GroupForm v-else-if="panel === 'edit'" :key="group.id" :group="group" @close="panel = null" />
      <LeadersPanel v-else-if="panel === 'leaders'" :group="group" @close="panel = null" />
      <AddCourses v-else-if="panel === 'courses'" :home="null" may-for-all @close="panel = null" />
    </aside>
    <aside v-else-if="personId !== null" class="panel"><PersonPanel :person-id="personId" @close="showPerson(null)" /></aside>
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
  margin-left: 6px;
}
.described {
  margin-top: 4px;
  font-size: 14px;
  max-width: 70ch;
}
.acts {
  display: flex;
  gap: 12px;
  flex-wrap: wrap;
}
.people-strip {
  margin-top: 14px;
}
@media (max-width: 860px) {
  .sheet {
    padding: 12px 14px 0;
  }
}
</style>
