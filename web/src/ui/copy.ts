import * as words from '../words.ts';
import { tell } from './notice.ts';

/** Puts a text where it can be pasted from, and says so. */
export async function copyText(text: string): Promise<void> {
  await navigator.clipboard.writeText(text);
  tell(words.common.copied);
}
