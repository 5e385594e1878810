/** So many keys are remembered; of more, the one that was done longest ago is done again. */
const mostKeys = 10_000;

/**
 * Whether something that every request does may be left out, since this process did it for the same key within so many milliseconds.
 * @returns True the first time, and again once the time has passed.
 */
export function seldom(milliseconds: number, now: () => number = Date.now): (key: string) => boolean {
  const doneAt = new Map<string, number>();
  return (key) => {
    const last = doneAt.get(key);
    if (last !== undefined && now() - last < milliseconds) return false;
    // Set again it is the last in order, so that the first is the oldest.
    doneAt.delete(key);
    doneAt.set(key, now());
    const [oldest] = doneAt.keys();
    if (doneAt.size > mostKeys && oldest !== undefined) doneAt.delete(oldest);
    return true;
  };
}
