import { fileURLToPath } from 'node:url';
import type { Plugin } from 'vite';
import { runnerImport } from 'vite';

const name = 'virtual:route-table';
const contract = fileURLToPath(new URL('../contract/src/routes.ts', import.meta.url));

/**
 * Gives the browser the methods and addresses of the contract's routes, and nothing else: the server checks what goes over the
 * wire, and the types come from the same table. So the schemas and their library stay out of what everybody loads.
 */
export function routeTable(): Plugin {
  return {
    name: 'route-table',
    resolveId: (id) => (id === name ? `\0${name}` : undefined),
    async load(id) {
      if (id !== `\0${name}`) return undefined;
      const { module, dependencies } = await runnerImport<{ routes: Record<string, { method: string; path: string; once?: true }> }>(
        contract,
      );
      for (const file of dependencies) this.addWatchFile(file);
      const table = Object.entries(module.routes).map(([route, { method, path, once }]) => [route, { method, path, once }]);
      return `export const routes = ${JSON.stringify(Object.fromEntries(table))};`;
    },
  };
}
