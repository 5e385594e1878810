<script setup lang="ts">
import { useQuery } from '@tanstack/vue-query';
import { computed } from 'vue';
import { useRoute } from 'vue-router';
import AskWhom from './AskWhom.vue';
import MyHappenings from '../messages/MyHappenings.vue';
import MyInvitations from '../accounts/MyInvitations.vue';
import { addressOf, call } from '../api/call.ts';
import NotOpen from '../entry/NotOpen.vue';
import LoadState from '../ui/LoadState.vue';
import { showMoment } from '../ui/format.ts';
import * as words from '../words.ts';

/** The groups one is in: whom to ask, what they hand out, and what one still asks for. */
const route = useRoute();
const { data, error, isPending, refetch } = useQuery({ queryKey: ['my-courses'], queryFn: ({ signal }) => call('myCourses', {}, signal) });
const { data: asked } = useQuery({ queryKey: ['my-requests'], queryFn: ({ signal }) => call('myRequests', {}, signal) });
/** A link to one group's page, which somebody may have passed on. */
const only = computed(() => (route.params['groupId'] ? Number(route.params['groupId']) : null));
const groups = computed(
  () =>
    data.value?.groups.filter(
      ({ id, handouts }) => only.value === null || id === only.value || handouts.some(({ groupId }) => groupId === only.value),
    ) ?? [],
);
</script>

<template>
  <NotOpen v-if="data && only !== null && groups.length === 0" />
  <main v-else class="mine">
    <div class="column">
      <h1>{{ words.myGroups.title }}</h1>
      <MyInvitations />
      <LoadState v-if="!data" :error="error" :is-pending="isPending" @again="refetch()" />
      <template v-else>
        <section v-for="request in asked?.requests ?? []" :key="request.group + request.askedAt" class="card waiting">
          <template v-if="request.state === 'asking'">
            <p>
              {{ words.myGroups.asking }} <b>{{ request.group }}</b>
            </p>
            <p class="soft">{{ words.myGroups.since(showMoment(request.askedAt), request.deciders) }}</p>
          </template>
          <p v-else>
            <b>{{ request.group }}</b> {{ words.myGroups.turnedAway(request.word) }}
          </p>
        </section>
        <p v-for="paid in asked?.paid ?? []" :key="paid.number" class="soft">
          {{ words.join.youPaid(paid.groups, paid.total, paid.currency) }}
          <a class="plain-link" :href="addressOf('receipt', { params: { number: paid.number } })">{{ words.join.paying.receipt }}</a>
        </p>
        <p v-if="groups.length === 0" class="soft">{{ words.myGroups.none }}</p>
        <section v-for="group in groups" :key="group.id" class="card group">
          <img
            v-if="group.pictureOf !== null"
            class="picture"
            :src="addressOf('groupPicture', { params: { groupId: group.pictureOf } })"
            :alt="words.learner.pictureOf(group.name)"
          />
          <div>
            <h2>{{ group.name }}</h2>
            <p v-if="group.path.length > 0" class="soft">{{ group.path.join(': ') }}</p>
            <AskWhom :people="group.ask" />
            <ul v-if="group.handouts.length > 0" class="plain-list handouts" :aria-label="words.learner.handouts">
              <li v-for="handout in group.handouts" :key="handout.id">
                <a v-if="handout.url" :href="handout.url" target="_blank" rel="noreferrer noopener">{{ handout.title }}</a>
                <a v-else :href="addressOf('handoutFile', { params: { groupId: handout.groupId, handoutId: handout.id } })" download>{{
                  handout.title
                }}</a>
              </li>
            </ul>
            <MyHappenings :group-id="group.id" />
          </div>
        </section>
        <v-btn class="enter" height="44" :to="{ name: 'join' }">{{ words.areas.enterCode }}</v-btn>
      </template>
    </div>
  </main>
</template>

<style scoped>
.group {
  display: flex;
  gap: 12px;
  align-items: flex-start;
}
.picture {
  width: 48px;
  height: 48px;
  object-fit: cover;
  border-radius: 8px;
}
.handouts {
  display: flex;
  flex-wrap: wrap;
  gap: 4px 16px;
}
.handouts a {
  color: var(--tide);
  font-weight: 600;
  display: inline-flex;
  align-items: center;
  min-height: 44px;
}
.waiting {
  border-color: var(--brass);
  background: var(--brass2);
}
.card h2 {
  font-size: 18px;
}
.enter {
  justify-self: start;
}
</style>
