import type { JoinOffer } from '@gate-roster/contract';
import { givenProblems, type JoinGiven } from '@gate-roster/core';
import { computed, type ComputedRef, type Ref, ref } from 'vue';
import { call, Failure } from '../api/call.ts';
import { useRequestId } from '../api/request-id.ts';
import { useSession } from '../shell/session.ts';
import { failureWords } from '../ui/failure-words.ts';
import * as words from '../words.ts';

export type JoinStage = 'code' | 'offer' | 'in' | 'asking' | 'letter';
/** What the one button of the form does. */
export type JoinStep = 'pay' | 'register' | 'ask' | 'confirm address' | 'sign in and join' | 'join as myself' | 'ask as myself';
type Offer = JoinOffer & { confirmedEmail: string | null };

export interface Joining {
  stage: Ref<JoinStage>;
  typed: Ref<string>;
  offer: Ref<Offer | null>;
  /** Is it somebody who is new here, or who has an account? */
  how: Ref<'new' | 'known'>;
  given: Ref<JoinGiven>;
  password: Ref<string>;
  known: Ref<{ name: string; password: string }>;
  /** What is wrong with a field, by its key. */
  wrong: Ref<Record<string, string>>;
  problem: Ref<string | null>;
  isBusy: Ref<boolean>;
  signInName: Ref<string | null>;
  /** Courses for which one is in line now. */
  waits: Ref<string[]>;
  /** Courses for which one would be in line. */
  wouldWait: ComputedRef<string[]>;
  /** The address has to be confirmed by a letter before anything else is asked. */
  needsConfirming: ComputedRef<boolean>;
  step: ComputedRef<JoinStep>;
  look: () => Promise<void>;
  submit: () => Promise<void>;
  signOut: () => Promise<void>;
  /** Begins again with another code. */
  another: () => void;
}

/**
 * Coming in by a code: what one joins is shown before anything is asked.
 * @param fromLink The fragment of the address: `#GK7MT-QX4RA`, or with what a letter brought: `#GK7MT-QX4RA/token`. In the fragment, so that it
 * reaches no log.
 * @param toPayment Goes to the page on which it is paid; null: that service does not answer now, and ours lets them try again.
 */
export function useJoin(fromLink: string, toPayment: (page: string | null) => Promise<void> | void): Joining {
  const session = useSession();
  const requestId = useRequestId();
  const [code = '', confirmed] = decodeURIComponent(fromLink.replace(/^#/u, '')).split('/');
  const fromLetter = confirmed ? { confirmed } : {};
  const typed = ref(code);
  const offer = ref<Offer | null>(null);
  const stage = ref<JoinStage>('code');
  const how = ref<'new' | 'known'>('new');
  const given = ref<JoinGiven>({ givenName: '', familyName: '', email: '', idNumber: '', answers: {} });
  const password = ref('');
  const known = ref({ name: '', password: '' });
  const wrong = ref<Record<string, string>>({});
  const problem = ref<string | null>(null);
  const isBusy = ref(false);
  const signInName = ref<string | null>(null);
  const waits = ref<string[]>([]);
  const wouldWait = computed(() => offer.value?.courses.flatMap(({ name, inLine }) => (inLine ? [name] : [])) ?? []);
  const total = computed(() => offer.value?.price?.total ?? null);
  const needsConfirming = computed(() => Boolean(offer.value?.emailEnding) && offer.value?.confirmedEmail === null);
  const step = computed<JoinStep>(() => {
    const isMyself = offer.value !== null && offer.value.mine !== null;
    if (!isMyself && how.value === 'known') return 'sign in and join';
    if (!isMyself && needsConfirming.value) return 'confirm address';
    if (total.value !== null) return 'pay';
    if (isMyself) return offer.value?.needsDecision ? 'ask as myself' : 'join as myself';
    return offer.value?.needsDecision ? 'ask' : 'register';
  });

  async function during(work: () => Promise<void> | void): Promise<void> {
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

  async function look(): Promise<void> {
    await session.load();
    offer.value = await call('joinLook', { body: { code: typed.value, ...fromLetter } });
    stage.value = 'offer';
  }

  /** @returns Whether nothing is wrong with what was given. */
  function check(isKnown: boolean): boolean {
    if (!offer.value) return false;
    const mine = { ...given.value, email: offer.value.confirmedEmail ?? given.value.email };
    wrong.value = Object.fromEntries(
      givenProblems(offer.value.asks, mine, isKnown).map(({ field, code: what }) => [field, wrongWords(what)]),
    );
    if (!isKnown && password.value.length < shortestPassword) wrong.value['password'] = words.accounts.passwordHint;
    return Object.keys(wrong.value).length === 0;
  }

  async function register(): Promise<void> {
    if (!check(false)) return;
    const sent = { code: typed.value, ...fromLetter, given: given.value, total: total.value };
    const answer = await call('join', { body: { ...sent, password: password.value, requestId: requestId(sent) } });
    signInName.value = answer.signInName;
    if (answer.outcome === 'paying') return toPayment(answer.page);
    waits.value = answer.inLine;
    if (answer.me) session.me = answer.me;
    stage.value = answer.outcome === 'asking' ? 'asking' : 'in';
  }

  async function comeIn(answers: Record<string, string>): Promise<void> {
    const sent = { code: typed.value, answers, total: total.value };
    const { outcome, inLine, page } = await call('joinAsMyself', { body: { ...sent, requestId: requestId(sent) } });
    if (outcome === 'paying') return toPayment(page);
    waits.value = inLine;
    session.me = undefined;
    await session.load();
    stage.value = outcome === 'asking' ? 'asking' : 'in';
  }

  /** Signs in, and comes in with the same click; somebody who would be in line, has to pay or is asked something says yes to it first. */
  async function signInAndJoin(): Promise<void> {
    try {
      session.me = await call('signIn', { body: { signInName: known.value.name, password: known.value.password } });
    } catch (error) {
      if (error instanceof Failure && error.code === 'still-paying') return toPayment(null);
      throw error;
    }
    offer.value = await call('joinLook', { body: { code: typed.value } });
    const isPlain = offer.value.asks.questions.length === 0 && wouldWait.value.length === 0 && total.value === null;
    if (offer.value.mine === 'not in' && isPlain) await comeIn({});
  }

  async function confirmAddress(): Promise<void> {
    await call('joinConfirm', { body: { code: typed.value, email: given.value.email } });
    stage.value = 'letter';
  }

  return {
    stage,
    typed,
    offer,
    how,
    given,
    password,
    known,
    wrong,
    problem,
    isBusy,
    signInName,
    waits,
    wouldWait,
    needsConfirming,
    step,
    look: () => during(look),
    submit: () =>
      during(() => {
        if (step.value === 'sign in and join') return signInAndJoin();
        if (step.value === 'confirm address') return confirmAddress();
        if (offer.value?.mine === null) return register();
        return check(true) ? comeIn(given.value.answers) : undefined;
      }),
    async signOut() {
      await session.signOut();
      if (offer.value) offer.value.mine = null;
    },
    another() {
      typed.value = '';
      offer.value = null;
      stage.value = 'code';
    },
  };
}

const shortestPassword = 10;
const wrongWords = (code: string): string => words.join.given[code as keyof typeof words.join.given] ?? words.join.given.missing;
