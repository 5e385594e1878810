import type { Given, RouteName, Routes } from '@gate-roster/contract';
import { blobOf } from '../api/call.ts';
import { saveBlob } from './save-csv.ts';

/** Fetches a file and hands it to the browser to keep. @throws Failure */
export async function saveFile<N extends RouteName>(name: N, given: Given<Routes[N]>, fileName: string): Promise<void> {
  saveBlob(fileName, await blobOf(name, given));
}
