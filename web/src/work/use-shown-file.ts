import type { WorkFile } from '@gate-roster/contract';
import { onScopeDispose, ref, type Ref, shallowRef } from 'vue';
import { failureWords } from '../ui/failure-words.ts';

/** What a file holds, as far as it can be shown: a picture by its address, text, or a PDF. */
export type ShownContent = { picture: string } | { text: string } | { pdf: Uint8Array } | null;

export interface ShownFile {
  opened: Ref<WorkFile | null>;
  content: Ref<ShownContent>;
  problem: Ref<string | null>;
  /** Opens a file, or closes the one that is open. */
  show: (file: WorkFile) => Promise<void>;
}

/** The file that is shown beside a list of files. One that arrives after another was opened is not shown in its place. */
export function useShownFile(bytesOf: (file: WorkFile) => Promise<Blob>): ShownFile {
  const opened = ref<WorkFile | null>(null);
  const content = shallowRef<ShownContent>(null);
  const problem = ref<string | null>(null);
  let asked = 0;
  function close(): void {
    asked++;
    if (content.value && 'picture' in content.value) URL.revokeObjectURL(content.value.picture);
    content.value = null;
    problem.value = null;
    opened.value = null;
  }
  onScopeDispose(close);
  return {
    opened,
    content,
    problem,
    async show(file) {
      const isSame = opened.value?.id === file.id;
      close();
      if (isSame) return;
      opened.value = file;
      const mine = asked;
      try {
        const found = await contentOf(file, await bytesOf(file), () => mine === asked);
        if (mine === asked) content.value = found;
      } catch (error) {
        if (mine === asked) problem.value = failureWords(error);
      }
    },
  };
}

/** @param isWanted A picture gets an address only while it is to be shown: the address holds its memory. */
async function contentOf({ mimeType }: WorkFile, blob: Blob, isWanted: () => boolean): Promise<ShownContent> {
  if (mimeType.startsWith('image/')) return isWanted() ? { picture: URL.createObjectURL(blob) } : null;
  if (mimeType === 'text/plain') return { text: await blob.text() };
  if (mimeType === 'application/pdf') return { pdf: new Uint8Array(await blob.arrayBuffer()) };
  return null;
}
