import type { MyActivity, WorkVersion } from '@gate-roster/contract';
import { computed, type ComputedRef, type Ref, ref, watch } from 'vue';
import { call, Failure } from '../api/call.ts';
import { queryClient } from '../api/queries.ts';
import { failureWords } from '../ui/failure-words.ts';
import { tell } from '../ui/notice.ts';
import * as words from '../words.ts';
import { fileToSend } from './shrink-picture.ts';

export interface MyPieceForm {
  text: Ref<string>;
  link: Ref<string>;
  skillIds: Ref<number[]>;
  /** What is not handed in yet. */
  draft: ComputedRef<WorkVersion | undefined>;
  /** What was handed in, the latest first. */
  past: ComputedRef<WorkVersion[]>;
  /** The one that waits to be marked. */
  waiting: ComputedRef<WorkVersion | undefined>;
  /** null: as often as one likes. */
  triesLeft: ComputedRef<number | null>;
  isTyped: ComputedRef<boolean>;
  busy: Ref<'no' | 'saving' | 'handing in' | 'file'>;
  /** What went wrong, in words. */
  problem: Ref<string | null>;
  toggle: (skillId: number) => void;
  save: (handIn: boolean) => Promise<void>;
  addFiles: (files: Iterable<File>) => Promise<void>;
  removeFile: (fileId: number) => Promise<void>;
  takeBack: () => Promise<void>;
}

const w = words.myWork;

/** One activity for which something is handed in: the draft, what waits, and what came back. */
export function useMyPiece(
  activity: () => MyActivity,
  send: (file: File) => Promise<{ fileName: string; base64: string }> = fileToSend,
): MyPieceForm {
  const versions = computed(() => activity().versions);
  const draft = computed(() => versions.value.find(({ state }) => state === 'draft'));
  const past = computed(() => versions.value.filter(({ state }) => state !== 'draft').toReversed());
  const waiting = computed(() => past.value.find(({ state }) => state === 'waiting'));
  /** Who hands in again begins from what they had written. */
  const begun = computed(() => draft.value ?? past.value.find(({ state }) => state === 'sent back'));
  const text = ref('');
  const link = ref('');
  const skillIds = ref<number[]>([]);
  const typed = computed(() => JSON.stringify([text.value, link.value, skillIds.value]));
  const savedAs = ref('');
  const isTyped = computed(() => typed.value !== savedAs.value);
  function beginAgain(): void {
    text.value = begun.value?.words ?? '';
    link.value = begun.value?.link ?? '';
    skillIds.value = [...(begun.value?.skillIds ?? [])];
    savedAs.value = typed.value;
  }
  beginAgain();
  watch(
    () => begun.value?.id,
    () => {
      if (!isTyped.value) beginAgain();
    },
  );
  const triesLeft = computed(() => {
    const tries = activity().asks?.tries;
    return tries ? tries - past.value.length : null;
  });
  const problem = ref<string | null>(null);
  const busy = ref<'no' | 'saving' | 'handing in' | 'file'>('no');
  const params = (): { activityId: number } => ({ activityId: activity().id });
  const again = (): Promise<void> =>
    queryClient.invalidateQueries({ predicate: ({ queryKey }) => ['my-work', 'my-courses'].includes(String(queryKey[0])) });
  function sayWhy(failure: unknown): void {
    const why = failure instanceof Failure && failure.code === 'given-wrong' ? failure.problem?.where?.[0]?.what : undefined;
    problem.value = (why && words.whyNot[why]) ?? failureWords(failure);
  }
  function sayWhyNoFile(failure: unknown): void {
    const isTheFile = failure instanceof Failure && ['wrong-file', 'too-large'].includes(failure.code);
    problem.value = isTheFile ? w.wrongFile : failureWords(failure);
  }

  return {
    text,
    link,
    skillIds,
    draft,
    past,
    waiting,
    triesLeft,
    isTyped,
    busy,
    problem,
    toggle(id) {
      skillIds.value = skillIds.value.includes(id) ? skillIds.value.filter((each) => each !== id) : [...skillIds.value, id];
    },
    async save(handIn) {
      busy.value = handIn ? 'handing in' : 'saving';
      problem.value = null;
      // More may be typed while it is under way.
      const sent = typed.value;
      const body = { words: text.value, link: link.value.trim() === '' ? null : link.value.trim(), skillIds: skillIds.value, handIn };
      try {
        await call('saveWork', { params: params(), body });
        savedAs.value = sent;
        await again();
        tell(handIn ? w.handedIn : w.draftSaved);
      } catch (failure) {
        sayWhy(failure);
      }
      busy.value = 'no';
    },
    async addFiles(files) {
      busy.value = 'file';
      problem.value = null;
      for (const file of files)
        try {
          await call('addWorkFile', { params: params(), body: await send(file) });
        } catch (failure) {
          sayWhyNoFile(failure);
        }
      await again();
      busy.value = 'no';
    },
    async removeFile(fileId) {
      await call('removeWorkFile', { params: { fileId } }).catch(sayWhy);
      await again();
    },
    async takeBack() {
      problem.value = null;
      try {
        await call('takeBackWork', { params: params() });
        tell(w.takenBack);
      } catch (failure) {
        problem.value = failureWords(failure);
      }
      await again();
    },
  };
}
