import { useEventListener } from '@vueuse/core';
import { onBeforeRouteLeave, onBeforeRouteUpdate } from 'vue-router';

/** Asks before a page is left on which something was typed or drafted. A reload asks in the browser's own words. */
export function useLeaveGuard(isDirty: () => boolean, question: () => string): void {
  const mayLeave = (): boolean => !isDirty() || window.confirm(question());
  onBeforeRouteLeave(mayLeave);
  onBeforeRouteUpdate((to, from) => to.path === from.path || mayLeave());
  useEventListener(window, 'beforeunload', (event) => {
    if (isDirty()) event.preventDefault();
  });
}
