<script setup lang="ts">
import { computed, onMounted } from 'vue';
import { useRouter } from 'vue-router';
import AccountCard from '../accounts/AccountCard.vue';
import NewPassword from '../accounts/NewPassword.vue';
import { useSession } from '../shell/session.ts';
import { vFocusFirst } from '../ui/focus-first.ts';
import { showMoment } from '../ui/format.ts';
import * as words from '../words.ts';
import { type JoinStep, useJoin } from './use-join.ts';

/** Coming in by a code: what one joins is shown before anything is asked. */
const session = useSession();
const router = useRouter();
const w = words.join;
const joining = useJoin(location.hash, async (page) => {
  if (page === null) await router.push({ name: 'join-paying' });
  else location.assign(page);
});
const { stage, typed, offer, how, given, password, known, wrong, problem, isBusy, signInName, waits, wouldWait, needsConfirming, step } =
  joining;
const { look, submit, signOut } = joining;
onMounted(() => {
  if (typed.value) void look();
});
function another(): void {
  history.replaceState(null, '', '/join');
  joining.another();
}
const price = computed(() => offer.value?.price ?? null);
const groupNames = computed(() => offer.value?.groups.map(({ name }) => name) ?? []);
const title = computed(() => {
  if (stage.value === 'in') return w.in;
  if (stage.value === 'asking') return w.asking;
  if (stage.value === 'letter') return w.letter;
  return offer.value ? w.into(groupNames.value) : w.title;
});
const myName = computed(() => session.me?.givenName ?? '');
const stepWords = computed<Record<JoinStep, string>>(() => ({
  pay: price.value ? w.pay(price.value.total, price.value.currency) : '',
  'join as myself': w.asMyself(myName.value),
  'ask as myself': w.askAsMyself(myName.value),
  'sign in and join': w.signInAndJoin,
  'confirm address': w.sendConfirm,
  ask: w.ask,
  register: w.register,
}));
const label = (text: string, must: boolean): string => (must ? text : w.optional(text));
const print = (): void => {
  window.print();
};
</script>

<template>
  <AccountCard :title="title">
    <form v-if="stage === 'code'" @submit.prevent="look">
      <v-text-field
        v-model="typed"
        v-focus-first
        class="code"
        autocomplete="off"
        autocapitalize="characters"
        spellcheck="false"
        :label="w.code"
        :hint="w.codeHint"
      />
      <p v-if="problem" class="wrong" role="alert">{{ problem }}</p>
      <v-btn type="submit" variant="flat" height="44" :disabled="typed.trim() === ''" :loading="isBusy">{{ w.look }}</v-btn>
    </form>

    <div v-else-if="stage === 'offer' && offer" class="body">
      <p class="soft">{{ w.at(offer.organisation) }}</p>
      <ul class="plain-list groups">
        <li v-for="group in offer.groups" :key="group.name">
          <b>{{ group.name }}</b> <span class="soft">{{ group.path.join(' › ') }}</span>
          <p v-if="group.leaders.length > 0" class="soft">{{ w.ledBy(group.leaders) }}</p>
        </li>
      </ul>
      <p v-if="offer.leads">{{ w.asLeader }}</p>
      <p v-else-if="offer.courses.length > 0">
        <b>{{ w.opens }}</b> {{ offer.courses.map(({ name, opensOn }) => w.opensOn(name, opensOn)).join(', ') }}
      </p>
      <p v-else class="soft">{{ w.opensNothing }}</p>
      <p v-if="wouldWait.length > 0" class="waits">{{ w.wouldWait(wouldWait) }}</p>
      <p v-if="price" class="price">{{ w.price(price.total, price.vat, price.currency) }}</p>
      <p v-if="offer.needsDecision" class="soft">{{ w.decided }}</p>
      <p v-if="offer.until" class="soft">{{ w.until(showMoment(offer.until)) }}</p>

      <template v-if="offer.mine === 'in'">
        <p>{{ w.already }}</p>
        <v-btn variant="flat" height="44" :to="{ name: 'home' }">{{ w.toCourses }}</v-btn>
      </template>
      <p v-else-if="offer.mine === 'asking'">{{ w.alreadyAsking }}</p>
      <v-btn v-else-if="offer.mine === 'paying' && price" variant="flat" height="44" :to="{ name: 'join-paying' }">{{
        w.pay(price.total, price.currency)
      }}</v-btn>
      <template v-else>
        <v-btn-toggle v-if="offer.mine === null" v-model="how" mandatory divided density="comfortable" class="how">
          <v-btn value="new">{{ w.fresh }}</v-btn>
          <v-btn value="known">{{ w.have }}</v-btn>
        </v-btn-toggle>
        <form @submit.prevent="submit()">
          <template v-if="offer.mine === null && how === 'known'">
            <v-text-field v-model="known.name" autocomplete="username" autocapitalize="none" :label="words.accounts.nameOrEmail" />
            <v-text-field v-model="known.password" type="password" autocomplete="current-password" :label="words.accounts.password" />
          </template>
          <template v-else-if="offer.mine === null && needsConfirming">
            <p>{{ w.confirmFirst(offer.emailEnding ?? '') }}</p>
            <v-text-field
              v-model="given.email"
              type="email"
              autocomplete="email"
              :label="words.people.email"
              :error-messages="wrong['email'] ?? []"
            />
          </template>
          <template v-else>
            <template v-if="offer.mine === null">
              <v-text-field
                v-model="given.givenName"
                autocomplete="given-name"
                :label="words.people.givenName"
                :error-messages="wrong['givenName'] ?? []"
              />
              <v-text-field v-model="given.familyName" autocomplete="family-name" :label="words.people.familyName" />
              <p v-if="offer.confirmedEmail" class="soft">{{ w.yourAddress(offer.confirmedEmail) }}</p>
              <v-text-field
                v-else-if="offer.asks.email !== 'no'"
                v-model="given.email"
                type="email"
                autocomplete="email"
                :label="label(words.people.email, offer.asks.email === 'must')"
                :error-messages="wrong['email'] ?? []"
              />
              <v-text-field
                v-if="offer.asks.idNumber !== 'no'"
                v-model="given.idNumber"
                :label="label(words.people.idNumber, offer.asks.idNumber === 'must')"
                :error-messages="wrong['idNumber'] ?? []"
              />
            </template>
            <template v-for="question in offer.asks.questions" :key="question.key">
              <v-select
                v-if="question.kind === 'choice'"
                :model-value="given.answers[question.key] ?? null"
                :items="question.choices"
                :label="label(question.label, question.required)"
                :error-messages="wrong[question.key] ?? []"
                @update:model-value="given.answers[question.key] = $event ?? ''"
              />
              <v-text-field
                v-else
                v-model="given.answers[question.key]"
                :type="question.kind === 'date' ? 'date' : 'text'"
                :label="label(question.label, question.required)"
                :error-messages="wrong[question.key] ?? []"
              />
            </template>
            <NewPassword v-if="offer.mine === null" v-model="password" :label="w.password" :problem="wrong['password']" />
          </template>
          <p v-if="problem" class="wrong" role="alert">{{ problem }}</p>
          <v-btn type="submit" variant="flat" height="44" :loading="isBusy">{{ stepWords[step] }}</v-btn>
        </form>
        <button v-if="offer.mine !== null" type="button" class="plain-link other" @click="signOut">{{ w.notMe }}</button>
      </template>
      <button type="button" class="plain-link other" @click="another">{{ w.another }}</button>
    </div>

    <div v-else class="body" role="status">
      <p v-if="stage === 'in'">{{ w.inWhat(groupNames) }}</p>
      <p v-if="stage === 'in' && waits.length > 0" class="waits">{{ w.waits(waits) }}</p>
      <p v-if="stage === 'asking'">{{ w.askingWhat(offer?.groups.flatMap(({ leaders }) => leaders) ?? []) }}</p>
      <p v-if="stage === 'letter'">{{ w.letterWhat(given.email) }}</p>
      <section v-if="signInName" class="slip">
        <p class="soft">{{ w.signInName }}</p>
        <p class="mono name">{{ signInName }}</p>
        <p class="soft">{{ stage === 'asking' ? w.askingSignIn : w.keepCard }}</p>
        <button type="button" class="plain-link" @click="print">{{ w.print }}</button>
      </section>
      <v-btn v-if="stage === 'in'" variant="flat" height="44" @click="router.push({ name: 'home' })">{{ w.toCourses }}</v-btn>
    </div>
  </AccountCard>
</template>

<style scoped>
.body {
  padding: 0 24px;
  display: grid;
  gap: 12px;
}
.body form {
  padding: 0;
  display: grid;
  gap: 14px;
}
.groups li {
  padding: 4px 0;
}
.how {
  width: 100%;
}
.how > * {
  flex: 1;
}
.code :deep(input) {
  font:
    600 22px 'Atkinson Hyperlegible Mono Variable',
    monospace;
  text-transform: uppercase;
  letter-spacing: 0.04em;
}
.price {
  font-weight: 600;
}
.waits {
  border-left: 4px solid var(--brass);
  padding-left: 12px;
}
.other {
  justify-self: start;
  min-height: 44px;
}
.slip {
  border: 2px dashed var(--rule);
  border-radius: 8px;
  padding: 14px 16px;
  display: grid;
  gap: 4px;
  justify-items: start;
}
.name {
  font-size: 24px;
  font-weight: 600;
}
</style>
