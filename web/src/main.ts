import '@fontsource-variable/atkinson-hyperlegible-mono';
import '@fontsource-variable/atkinson-hyperlegible-next';
import '@fontsource-variable/bricolage-grotesque';
import { QueryClient, VueQueryPlugin } from '@tanstack/vue-query';
import { createPinia } from 'pinia';
import { createApp } from 'vue';
import { Failure } from './api/call.ts';
import App from './shell/App.vue';
import { router } from './shell/router.ts';
import './ui/base.css';
import { makeVuetify } from './ui/theme.ts';

const retries = 3;
const queries = new QueryClient({
  defaultOptions: {
    queries: {
      staleTime: 30_000,
      // Only what may come back by itself is tried again.
      retry: (failures, error) =>
        error instanceof Failure && (error.code === 'offline' || error.code === 'database-away') && failures < retries,
    },
  },
});
const nonce = document.querySelector<HTMLMetaElement>('meta[name=csp-nonce]')?.content;

createApp(App).use(createPinia()).use(VueQueryPlugin, { queryClient: queries }).use(makeVuetify(nonce)).use(router).mount('#app');
