import '@fontsource-variable/atkinson-hyperlegible-mono';
import '@fontsource-variable/atkinson-hyperlegible-next';
import '@fontsource-variable/bricolage-grotesque';
import { VueQueryPlugin } from '@tanstack/vue-query';
import { createPinia } from 'pinia';
import { createApp } from 'vue';
import { queryClient } from './api/queries.ts';
import App from './shell/App.vue';
import { router } from './shell/router.ts';
import './ui/base.css';
import { makeVuetify } from './ui/theme.ts';

const nonce = document.querySelector<HTMLMetaElement>('meta[name=csp-nonce]')?.content;

createApp(App).use(createPinia()).use(VueQueryPlugin, { queryClient }).use(makeVuetify(nonce)).use(router).mount('#app');
