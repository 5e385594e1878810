import type { Ref } from 'vue';
import { base64Of } from '../ui/base64.ts';
import { failureWords } from '../ui/failure-words.ts';
import { call } from './call.ts';

/** Sends the file that somebody chose; what went wrong is said in `problem`. @returns null when nothing was chosen or it was not kept. */
export async function uploadChosen(
  event: Event,
  problem: Ref<string | null>,
): Promise<{ id: number; name: string; isPicture: boolean } | null> {
  const field = event.target as HTMLInputElement;
  const file = field.files?.[0];
  field.value = '';
  problem.value = null;
  if (!file) return null;
  try {
    return { name: file.name, ...(await call('upload', { body: { fileName: file.name, base64: await base64Of(file) } })) };
  } catch (error) {
    problem.value = failureWords(error);
    return null;
  }
}
