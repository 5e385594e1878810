import { useLocalStorage } from '@vueuse/core';

/** What this browser remembers of how somebody likes to work. */
export const themeChoice = useLocalStorage<'system' | 'light' | 'dark'>('gate-roster-theme', 'system');
export const singleKeys = useLocalStorage('gate-roster-single-keys', true);
export const treeWidth = useLocalStorage('gate-roster-tree-width', 296);
