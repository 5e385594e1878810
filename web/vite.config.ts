import vue from '@vitejs/plugin-vue';
import { defineConfig } from 'vite';
import vuetify from 'vite-plugin-vuetify';

export default defineConfig({
  plugins: [vue(), vuetify({ autoImport: true })],
  worker: { format: 'es' },
  build: { target: 'es2022', sourcemap: true, outDir: 'dist', modulePreload: { polyfill: false } },
  server: {
    proxy: { '/api': process.env['API_URL'] ?? 'http://127.0.0.1:3000', '/player': process.env['API_URL'] ?? 'http://127.0.0.1:3000' },
  },
});
