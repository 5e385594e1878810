import { useEventListener } from '@vueuse/core';
import { onBeforeRouteLeave, onBeforeRouteUpdate, type RouteLocationNormalized } from 'vue-router';

/** Asks before a page is left on which something was typed or drafted. A reload asks in the browser's own words. */
export function useLeaveGuard(
  isDirty: () => boolean,
  question: () => string,
  staysOn: (to: RouteLocationNormalized, from: RouteLocationNormalized) => boolean = () => false,
): void {
  const mayLeave = (): boolean => !isDirty() || window.confirm(question());
  onBeforeRouteLeave(mayLeave);
  // Of what stands in the query only the person has forms.
  onBeforeRouteUpdate(
    (to, from) => (to.path === from.path && to.query['person'] === from.query['person']) || staysOn(to, from) || mayLeave(),
  );
  useEventListener(window, 'beforeunload', (event) => {
    if (isDirty()) event.preventDefault();
  });
}
