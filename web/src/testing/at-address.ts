import { createMemoryHistory, createRouter, type Router } from 'vue-router';
import { createApp, defineComponent, h } from 'vue';

/** Runs what a screen does at an address of a group (`/progress/3?view=course`), without a page. @returns The router, afterwards. */
export async function atAddress(address: string, act: () => Promise<void> | void): Promise<Router> {
  const page = defineComponent(() => () => h('p'));
  const router = createRouter({ history: createMemoryHistory(), routes: [{ path: '/:area/:groupId', name: 'here', component: page }] });
  await router.push(address);
  const app = createApp(page);
  app.use(router);
  await app.runWithContext(act);
  return router;
}

/** Until what was written into an address is there. */
export const addressWritten = (): Promise<void> => new Promise((resolve) => setTimeout(resolve, 0));
