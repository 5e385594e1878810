import vue from '@vitejs/plugin-vue';
import { defineConfig } from 'vite';
import vuetify from 'vite-plugin-vuetify';
import { routeTable } from './route-table.ts';

export default defineConfig({
  plugins: [
    routeTable(),
    // White space between elements stays, as in any HTML: a line break in a template is not a missing space on the screen.
    vue({ template: { compilerOptions: { whitespace: 'preserve' } } }),
    vuetify({ autoImport: true }),
  ],
  worker: { format: 'es' },
  build: {
    target: 'es2022',
    sourcemap: true,
    rolldownOptions: {
      // Words are only constants: a chunk carries those of the rooms that it shows.
      treeshake: { moduleSideEffects: [{ test: /\/web\/src\/words(?:\/[\w-]+)?\.ts$/u, sideEffects: false }] },
    },
    outDir: 'dist',
    modulePreload: { polyfill: false },
    // ECharts has a chunk of its own, fetched with the first chart.
    chunkSizeWarningLimit: 600,
  },
  server: {
    proxy: { '/api': process.env['API_URL'] ?? 'http://127.0.0.1:3000', '/player': process.env['API_URL'] ?? 'http://127.0.0.1:3000' },
  },
});
