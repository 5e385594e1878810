/// <reference types="vite/client" />
declare module 'virtual:route-table' {
  /** Methods and addresses of the contract's routes (web/route-table.ts). */
  export const routes: {
    [Name in keyof import('@gate-roster/contract').Routes]: Pick<import('@gate-roster/contract').Route, 'method' | 'path' | 'once'>;
  };
}
declare module 'vuetify/styles';
declare module '@fontsource-variable/atkinson-hyperlegible-next';
declare module '@fontsource-variable/atkinson-hyperlegible-mono';
declare module '@fontsource-variable/bricolage-grotesque';
// For the linter alone, which reads .vue files as plain modules.
declare module '*.vue' {
  import type { DefineComponent } from 'vue';
  const component: DefineComponent;
  export default component;
}
