import { Thread } from '../threads/thread.ts';
import { type MakerName, makers, type Making } from './makers.ts';

const thread = new Thread('files-thread');

/** Makes a file in a thread of its own, one after the other, so that nobody else waits while a large one is made. */
export async function makeFile<N extends MakerName>(name: N, ...of: Making<N>['of']): Promise<Awaited<ReturnType<(typeof makers)[N]>>> {
  type Made = Awaited<ReturnType<(typeof makers)[N]>>;
  if (!thread.isThere) return (await (makers[name] as (...of: unknown[]) => unknown)(...of)) as Made;
  return (await thread.ask({ name, of } satisfies Making<N>)) as Made;
}
