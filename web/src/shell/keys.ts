import { useEventListener } from '@vueuse/core';
import { singleKeys } from './settings.ts';

const pauseMilliseconds = 1200;

/** Single-letter keys, and `g` followed by a letter; off while somebody types, or when switched off. */
export function useKeys(single: Record<string, () => void>, afterG: Record<string, () => void>): void {
  let gAt = 0;
  useEventListener(document, 'keydown', (event: KeyboardEvent) => {
    if (!singleKeys.value || event.ctrlKey || event.metaKey || event.altKey || isTyping(event.target)) return;
    const act = Date.now() - gAt < pauseMilliseconds ? afterG[event.key] : single[event.key];
    gAt = event.key === 'g' && !act ? Date.now() : 0;
    if (!act) return;
    event.preventDefault();
    act();
  });
}

function isTyping(target: EventTarget | null): boolean {
  return (
    target instanceof HTMLElement &&
    (target.isContentEditable || ['INPUT', 'TEXTAREA', 'SELECT'].includes(target.tagName) || target.closest('[role="dialog"]') !== null)
  );
}
