<script setup lang="ts">
import type { Answer, Change, Routes } from '@gate-roster/contract';
import { computed, reactive, ref } from 'vue';
import { call } from '../api/call.ts';
import JobProgress from '../changes/JobProgress.vue';
import LookPanel from '../changes/LookPanel.vue';
import { useChange } from '../changes/use-change.ts';
import GroupPicker from '../groups/GroupPicker.vue';
import { useSession } from '../shell/session.ts';
import { failureWords } from '../ui/failure-words.ts';
import { showDay, showMoment } from '../ui/format.ts';
import { tell } from '../ui/notice.ts';
import * as words from '../words.ts';
import { useApplyPeriod } from './apply-period.ts';
import DayField from '../ui/DayField.vue';

/** Everything that the end of a period means for a branch; each line can be left out. */
const { group, period } = defineProps<{ group: { id: number; name: string }; period: Answer<Routes['period']> }>();
const w = words.periods;
const session = useSession();
const today = computed(() => session.me?.today ?? '');
const form = reactive({
  lastDay: period.lastDay ?? today.value,
  codes: period.codes > 0,
  invitations: period.invitations > 0,
  asking: period.asking > 0,
  word: '',
  rules: period.rules > 0,
  reminders: period.reminders > 0 && session.hasPower('writeMessages'),
  splits: period.splits > 0,
  seats: false,
  people: 'stay',
});
const into = ref<number | null>(null);
const keepsReport = ref(session.hasPower('seeProgress'));
const reportName = ref(w.kept(group.name, today.value));
const isPast = computed(() => form.lastDay !== '' && form.lastDay < today.value);
const change = computed<Change | null>(() => {
  if (form.people === 'move' && into.value === null) return null;
  return {
    kind: 'close-period',
    groupId: group.id,
    lastDay: form.lastDay || null,
    codes: form.codes,
    invitations: form.invitations,
    asking: form.asking ? { word: form.word.trim() || null } : null,
    rules: form.rules,
    reminders: form.reminders,
    splits: form.splits,
    seats: form.seats && isPast.value,
    people:
      form.people === 'move' ? { do: form.people, intoId: into.value ?? 0 } : form.people === 'end' ? { do: form.people } : { do: 'stay' },
  };
});
const inHand = useChange(change, w.closed, { settleMilliseconds: 300 });
const { job, apply: applyPeriod } = useApplyPeriod(change, inHand, { said: w.closed, done: () => undefined });
const choices = (['stay', 'end', 'move'] as const).map((value) => ({ value, title: w.peopleDo[value] }));
const shown = { view: 'groups' as const, subgroups: 'yes' as const, filter: [], courseId: null, groups: [], sort: 'name' as const };
/** The report is kept first: what is closed no longer counts anybody. */
async function apply(): Promise<void> {
  try {
    if (keepsReport.value && reportName.value.trim() !== '')
      await call('keepView', {
        params: { groupId: group.id },
        body: { name: reportName.value.trim(), forLeaders: false, shown, frozen: true },
      });
  } catch (failure) {
    tell(failureWords(failure));
    return;
  }
  await applyPeriod();
}
</script>

<template>
  <div class="two">
    <section class="lines">
      <p v-if="period.closed" class="note">
        {{ w.closedOn(showMoment(period.closed.at)) }} {{ period.closed.canUndo ? w.canUndo : w.cannotUndo }}
      </p>
      <p class="soft">{{ w.closeWhat }}</p>
      <DayField v-model="form.lastDay" :label="w.lastDay" :hint="w.lastDayHint" />
      <v-checkbox v-if="period.codes > 0" v-model="form.codes" :label="w.codes(period.codes)" />
      <v-checkbox v-if="period.invitations > 0" v-model="form.invitations" :label="w.invitations(period.invitations)" />
      <template v-if="period.asking > 0">
        <v-checkbox v-model="form.asking" :label="w.asking(period.asking)" />
        <v-text-field v-if="form.asking" v-model="form.word" maxlength="1000" :label="w.word" />
      </template>
      <v-checkbox v-if="period.rules > 0" v-model="form.rules" :label="w.rules(period.rules)" />
      <v-checkbox v-if="period.reminders > 0 && session.hasPower('writeMessages')" v-model="form.reminders" :label="w.reminders" />
      <v-checkbox v-if="period.splits > 0" v-model="form.splits" :label="w.splits(period.splits)" />
      <p>{{ w.seats(period.seats) }}</p>
      <v-checkbox v-if="period.seats.stayUsed > 0" v-model="form.seats" :disabled="!isPast" :label="w.takeSeats" :hint="w.takeSeatsHint" />
      <h2>{{ w.people(period.onlyHere) }}</h2>
      <template v-if="period.onlyHere > 0">
        <v-select v-model="form.people" :items="choices" :label="w.peopleHead" />
        <GroupPicker v-if="form.people === 'move'" v-model="into" :label="w.into" :autofocus="false" />
      </template>
      <template v-if="session.hasPower('seeProgress')">
        <v-checkbox v-model="keepsReport" :label="w.keepReport" />
        <v-text-field v-if="keepsReport" v-model="reportName" maxlength="200" :label="w.keepName" />
      </template>
    </section>
    <aside class="panel" :aria-label="w.views.close">
      <JobProgress v-if="job.sheet.value?.state === 'waiting'" :job="job" :title="w.views.close" />
      <p v-if="job.said.value" role="alert">{{ job.said.value }}</p>
      <LookPanel :in-hand="inHand" :change="change" :apply-label="w.close" @apply="apply" @discard="$router.back()">
        <h2>{{ group.name }}</h2>
        <p v-if="form.lastDay" class="soft">{{ w.lastDay }}: {{ showDay(form.lastDay) }}</p>
      </LookPanel>
    </aside>
  </div>
</template>

<style scoped src="./period.css"></style>
