<script setup lang="ts">
import type { AskedChange, WhoList } from '@gate-roster/contract';
import { computed, ref } from 'vue';
import { call } from '../api/call.ts';
import { showDay, showNumber } from '../ui/format.ts';
import * as words from '../words.ts';
import {
  accessLines,
  courseLines,
  isAboutAccess,
  isAboutSeats,
  moveLines,
  partOf,
  peopleLines,
  seatLines,
  shapeLines,
} from './look-lines.ts';
import type { Names } from './look-names.ts';
import LookNames from './LookNames.vue';
import ShortOfSeats from './ShortOfSeats.vue';
import type { ChangeInHand } from './use-change.ts';

/** What a change would do: numbers that open to names, what stands in the way, and the one button that does it. */
const {
  inHand,
  change,
  applyLabel = words.changes.apply,
  later = '',
} = defineProps<{
  inHand: ChangeInHand;
  change: AskedChange | null;
  applyLabel?: string;
  later?: string;
}>();
const look = computed(() => inHand.look.value);
defineEmits<{ apply: []; discard: [] }>();

const isBlocked = computed(() => look.value?.conflicts.some(({ blocks }) => blocks) ?? true);
const names = ref<Names | null>(null);

/** The names behind a number: of a list, or of one course or group in it. */
async function openNames(list: WhoList, about: number | null, after: number | null = null): Promise<void> {
  const key = `${list}/${about ?? ''}`;
  if (after === null && names.value?.key === key) {
    names.value = null;
    return;
  }
  if (!change) return;
  const isMove = list === 'joins' || list === 'leaves';
  const page = await call('lookPeople', { body: { change, list, courseId: isMove ? null : about, groupId: isMove ? about : null, after } });
  names.value = {
    key,
    people: [...(after === null ? [] : (names.value?.people ?? [])), ...page.people],
    newcomers: page.newcomers,
    next: page.next,
  };
}
const moving = computed(() => (look.value ? moveLines(look.value) : { moves: [], more: 0 }));
const seats = computed(() => (look.value ? seatLines(look.value.seats) : []));
const spoken = computed(() => (look.value ? words.changes.spoken(look.value.gaining, look.value.losing) : ''));
</script>

<template>
  <section class="look" :aria-label="words.changes.whatItWouldDo">
    <slot />
    <p class="sr-only" role="status">{{ spoken }}</p>
    <div v-if="inHand.isLooking.value && !look" class="card soft">{{ words.changes.looking }}</div>
    <template v-if="look">
      <div
        v-for="conflict in look.conflicts"
        :key="conflict.code"
        class="card"
        :class="conflict.code === 'nothing to do' ? 'soft' : conflict.blocks ? 'stop' : 'warn'"
      >
        {{ words.changes.conflicts[conflict.code](conflict.count) }}
        <span v-if="conflict.about.length > 0">{{ words.changes.about(conflict.about, conflict.count) }}</span>
      </div>
      <div v-for="{ count, said, tone } in shapeLines(look)" :key="said" class="card">
        <b class="big" :class="tone">{{ showNumber(count) }}</b> {{ said }}
      </div>
      <div v-if="look.newPeople > 0" class="card">
        <b class="big good">{{ showNumber(look.newPeople) }}</b> {{ words.changes.newPeople(look.newPeople) }}
      </div>
      <div v-for="move in moving.moves" :key="`${move.list}${move.groupId}`" class="card">
        <b class="big">{{ showNumber(move.people) }}</b>
        {{ move.list === 'joins' ? words.changes.join(move.people) : words.changes.leave(move.people) }} <b>{{ move.group }}</b> {{ ' '
        }}<button
          type="button"
          class="plain-link"
          :aria-expanded="names?.key === `${move.list}/${move.groupId}`"
          @click="openNames(move.list, move.groupId)"
        >
          {{ words.changes.who }}
        </button>
        <LookNames
          v-if="names?.key === `${move.list}/${move.groupId}`"
          :names="names"
          @more="openNames(move.list, move.groupId, names.next)"
        />
      </div>
      <div v-for="{ list, count, said, tone } in peopleLines(look)" :key="list" class="card">
        <b class="big" :class="tone">{{ showNumber(count) }}</b> {{ said }} {{ ' '
        }}<button type="button" class="plain-link" :aria-expanded="names?.key === `${list}/`" @click="openNames(list, null)">
          {{ words.changes.who }}
        </button>
        <LookNames v-if="names?.key === `${list}/`" :names="names" @more="openNames(list, null, names.next)" />
      </div>
      <div v-if="moving.more > 0" class="card soft">{{ words.changes.moreGroups(moving.more) }}</div>
      <div
        v-for="{ list, people, effects } in accessLines(look)"
        v-show="people > 0 || (list === 'loses' && isAboutAccess(look, change))"
        :key="list"
        class="card"
      >
        <p>
          <b class="big" :class="{ good: list === 'gains' && people > 0, late: list === 'loses' && people > 0 }">{{
            showNumber(people)
          }}</b>
          {{ words.changes[list](people, partOf(effects)) }}
          <button
            v-if="people > 0"
            type="button"
            class="plain-link"
            :aria-expanded="names?.key === `${list}/`"
            @click="openNames(list, null)"
          >
            {{ words.changes.who }}
          </button>
        </p>
        <ul v-if="effects.length > 0" class="plain-list courses">
          <li v-for="effect in courseLines(effects).shown" :key="`${effect.courseId}${effect.day}`">
            {{ effect.course }}<template v-if="effect.day">{{ words.changes.fromDay(showDay(effect.day)) }}</template
            >{{ ': ' }}
            <button type="button" class="plain-link num" @click="openNames(list, effect.courseId)">
              {{ showNumber(effect.people) }}</button>{{
              list === 'gains' || list === 'loses' ? words.changes.partly(effect.partly, effect.people) : ''
            }}
          </li>
          <li v-if="courseLines(effects).more > 0" class="soft">{{ words.changes.moreCourses(courseLines(effects).more) }}</li>
        </ul>
        <slot v-if="list === 'still' && people > 0" name="still" />
        <LookNames
          v-if="names?.key.startsWith(`${list}/`)"
          :names="names"
          @more="openNames(list, Number(names.key.split('/')[1]) || null, names.next)"
        />
      </div>
      <div v-if="isAboutSeats(change) && seats.length === 0" class="card">{{ words.changes.noSeatMoves }}</div>
      <div v-for="seat in seats" :key="seat.list" class="card" :class="{ warn: seat.list === 'inLine' }">
        <b class="big" :class="seat.tone">{{ showNumber(seat.count) }}</b> {{ seat.said }} {{ seat.more }}
        <button type="button" class="plain-link" :aria-expanded="names?.key === `${seat.list}/`" @click="openNames(seat.list, null)">
          {{ words.changes.who }}
        </button>
        <template v-if="seat.list === 'inLine'">
          <ShortOfSeats v-if="look.seats.short.length > 0" :short="look.seats.short" @raised="inHand.lookAgain()" />
          <slot name="inLine" />
        </template>
        <LookNames v-if="names?.key === `${seat.list}/`" :names="names" @more="openNames(seat.list, null, names.next)" />
      </div>
      <div v-for="rule in look.rules" :key="rule.id" class="card">{{ words.changes.setsOff(rule.name, rule.people) }}</div>
      <div v-if="later && look.gaining > 0" class="card">{{ later }}</div>
    </template>
    <div v-if="inHand.problem.value" class="card stop" role="alert">{{ inHand.problem.value }}</div>
    <div class="acts">
      <v-btn
        variant="flat"
        :disabled="!look || isBlocked || inHand.isLooking.value"
        :loading="inHand.isApplying.value"
        @click="$emit('apply')"
        >{{ applyLabel }}</v-btn
      >
      <v-btn variant="text" @click="$emit('discard')">{{ words.changes.discard }}</v-btn>
    </div>
    <p class="soft small">{{ words.changes.canBeUndone }}</p>
  </section>
</template>

<style scoped>
.look {
  display: flex;
  flex-direction: column;
  gap: 12px;
}
.card {
  background: var(--sheet);
  border: 1px solid var(--rule);
  border-radius: 8px;
  padding: 10px 12px;
}
.card .big {
  font-size: 20px;
}
.warn {
  background: var(--brass2);
  border-color: var(--brass);
}
.stop {
  background: var(--wrong2);
  border-color: var(--wrong);
  color: var(--wrong);
}
.courses {
  margin-top: 4px;
  font-size: 14px;
  color: var(--ink2);
}
/* In a long form they stay in sight. */
.acts {
  display: flex;
  gap: 8px;
  padding: 8px 0;
  position: sticky;
  bottom: -18px;
  background: var(--paper);
  z-index: 1;
}
.small {
  font-size: 13.5px;
}
</style>
