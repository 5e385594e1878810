<script setup lang="ts">
import type { JoinOffer } from '@gate-roster/contract';
import { type GivenProblem, givenProblems, type JoinGiven } from '@gate-roster/core';
import { computed, onMounted, ref } from 'vue';
import { useRouter } from 'vue-router';
import { useRequestId } from '../api/request-id.ts';
import { call, Failure } from '../api/call.ts';
import AccountCard from '../accounts/AccountCard.vue';
import NewPassword from '../accounts/NewPassword.vue';
import { useSession } from '../shell/session.ts';
import { failureWords } from '../ui/failure-words.ts';
import { vFocusFirst } from '../ui/focus-first.ts';
import { showMoment } from '../ui/format.ts';
import * as words from '../words.ts';

/** Coming in by a code: what one joins is shown before anything is asked. */
const session = useSession();
const router = useRouter();
const w = words.join;
// `#GK7MT-QX4RA`, or with what a letter brought: `#GK7MT-QX4RA/token`. In the fragment, so that it reaches no log.
const [fromLink = '', confirmed] = decodeURIComponent(location.hash.slice(1)).split('/');
const typed = ref(fromLink);
type Offer = JoinOffer & { confirmedEmail: string | null };
const offer = ref<Offer | null>(null);
const problem = ref<string | null>(null);
const isBusy = ref(false);
type Stage = 'code' | 'offer' | 'in' | 'asking' | 'letter';
const stage = ref<Stage>('code');
const how = ref<'new' | 'known'>('new');
const given = ref<JoinGiven>({ givenName: '', familyName: '', email: '', idNumber: '', answers: {} });
const wrong = ref<Record<string, string>>({});
const password = ref('');
const known = ref({ name: '', password: '' });
const signInName = ref<string | null>(null);
const waits = ref<string[]>([]);
const wouldWait = computed(() => offer.value?.courses.flatMap(({ name, inLine }) => (inLine ? [name] : [])) ?? []);
const price = computed(() => offer.value?.price ?? null);
/** To the page on which it is paid; where the service does not answer now, to ours, from which it can be tried again. */
async function toPayment(page: string | null): Promise<void> {
  if (page === null) await router.push({ name: 'join-paying' });
  else location.assign(page);
}
const groupNames = computed(() => offer.value?.groups.map(({ name }) => name) ?? []);

async function during(work: () => Promise<void>): Promise<void> {
  isBusy.value = true;
  problem.value = null;
  try {
    await work();
  } catch (error) {
    problem.value = failureWords(error);
    if (error instanceof Failure && error.code === 'given-wrong')
      wrong.value = Object.fromEntries((error.problem?.where ?? []).map(({ place, what }) => [place, wrongWords(what)]));
  } finally {
    isBusy.value = false;
  }
}
const wrongWords = (code: string): string => w.given[code as keyof typeof w.given] ?? w.given.missing;

const look = (): Promise<void> =>
  during(async () => {
    await session.load();
    offer.value = await call('joinLook', { body: { code: typed.value, ...(confirmed ? { confirmed } : {}) } });
    stage.value = 'offer';
  });
onMounted(() => {
  if (typed.value) void look();
});
function another(): void {
  history.replaceState(null, '', '/join');
  Object.assign(typed, { value: '' });
  offer.value = null;
  stage.value = 'code';
}

function check(isKnown: boolean): boolean {
  if (!offer.value) return false;
  const problems: GivenProblem[] = givenProblems(
    offer.value.asks,
    { ...given.value, email: offer.value.confirmedEmail ?? given.value.email },
    isKnown,
  );
  wrong.value = Object.fromEntries(problems.map(({ field, code }) => [field, wrongWords(code)]));
  if (!isKnown && password.value.length < 10) wrong.value['password'] = words.accounts.passwordHint;
  return Object.keys(wrong.value).length === 0;
}
const requestId = useRequestId();
const register = (): Promise<void> =>
  during(async () => {
    if (!check(false)) return;
    const sent = { code: typed.value, ...(confirmed ? { confirmed } : {}), given: given.value, total: price.value?.total ?? null };
    const answer = await call('join', { body: { ...sent, password: password.value, requestId: requestId(sent) } });
    signInName.value = answer.signInName;
    if (answer.outcome === 'paying') return toPayment(answer.page);
    waits.value = answer.inLine;
    if (answer.me) session.me = answer.me;
    stage.value = answer.outcome === 'asking' ? 'asking' : 'in';
  });
async function comeIn(answers: Record<string, string>): Promise<void> {
  const sent = { code: typed.value, answers, total: price.value?.total ?? null };
  const { outcome, inLine, page } = await call('joinAsMyself', { body: { ...sent, requestId: requestId(sent) } });
  if (outcome === 'paying') return toPayment(page);
  waits.value = inLine;
  session.me = undefined;
  await session.load();
  stage.value = outcome === 'asking' ? 'asking' : 'in';
}
const joinAsMyself = (): Promise<void> =>
  during(async () => {
    if (check(true)) await comeIn(given.value.answers);
  });
/** One step: signs in, and comes in. */
const signInAndJoin = (): Promise<void> =>
  during(async () => {
    try {
      session.me = await call('signIn', { body: { signInName: known.value.name, password: known.value.password } });
    } catch (error) {
      if (error instanceof Failure && error.code === 'still-paying') return toPayment(null);
      throw error;
    }
    offer.value = await call('joinLook', { body: { code: typed.value } });
    // Somebody who would be in line, or has to pay, is told before and says yes to it.
    if (offer.value.mine === 'not in' && offer.value.asks.questions.length === 0 && wouldWait.value.length === 0 && price.value === null)
      await comeIn({});
  });
const confirmAddress = (): Promise<void> =>
  during(async () => {
    await call('joinConfirm', { body: { code: typed.value, email: given.value.email } });
    stage.value = 'letter';
  });
async function signOut(): Promise<void> {
  await session.signOut();
  if (offer.value) offer.value.mine = null;
}
const title = computed(() => {
  if (stage.value === 'in') return w.in;
  if (stage.value === 'asking') return w.asking;
  if (stage.value === 'letter') return w.letter;
  return offer.value ? w.into(groupNames.value) : w.title;
});
const label = (text: string, must: boolean): string => (must ? text : w.optional(text));
const print = (): void => {
  window.print();
};
const needsConfirming = computed(() => offer.value?.emailEnding && offer.value.confirmedEmail === null);
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
        <form
          @submit.prevent="
            offer.mine !== null ? joinAsMyself() : how === 'known' ? signInAndJoin() : needsConfirming ? confirmAddress() : register()
          "
        >
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
            <NewPassword v-if="offer.mine === null" v-model="password" :label="w.password" />
          </template>
          <p v-if="wrong['password']" class="wrong" role="alert">{{ wrong['password'] }}</p>
          <p v-if="problem" class="wrong" role="alert">{{ problem }}</p>
          <v-btn type="submit" variant="flat" height="44" :loading="isBusy">{{
            price && (offer.mine !== null || (how === 'new' && !needsConfirming))
              ? w.pay(price.total, price.currency)
              : offer.mine !== null
                ? offer.needsDecision
                  ? w.askAsMyself(session.me?.givenName ?? '')
                  : w.asMyself(session.me?.givenName ?? '')
                : how === 'known'
                  ? w.signInAndJoin
                  : needsConfirming
                    ? w.sendConfirm
                    : offer.needsDecision
                      ? w.ask
                      : w.register
          }}</v-btn>
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
