import 'vuetify/styles';
import { createVuetify, type ThemeDefinition } from 'vuetify';
import { aliases, mdi } from 'vuetify/iconsets/mdi-svg';

/** Colours by what they mean: tide can be done or is chosen, flare is late or lost, brass seats, kelp done, slate under way. */
const light = {
  background: '#F4F1E8', surface: '#FFFDF8', primary: '#0E4F55', error: '#8E1F3B', 'on-background': '#1B2A2B', 'on-surface': '#1B2A2B', 'on-primary': '#FFFFFF',
  paper: '#F4F1E8', paper2: '#EAE5D8', sheet: '#FFFDF8', rule: '#DDD6C6', ink: '#1B2A2B', ink2: '#56625F', tide: '#0E4F55', tide2: '#DCE9E6', band: '#0E4F55', band2: '#0A4046',
  flare: '#D9622B', flare2: '#FBE6DA', 'flare-ink': '#A8400F', brass: '#A97C14', brass2: '#F6EBCB', 'brass-ink': '#7A590B', kelp: '#2E7D5B', kelp2: '#DCEEE3', 'kelp-ink': '#1F6244',
  slate: '#5C7A92', slate2: '#E1E9EF', 'slate-ink': '#3F5A70', fog: '#C9C4B6', wrong: '#8E1F3B', wrong2: '#F9E7EB', field: '#6F7A76',
};
const dark: typeof light = {
  background: '#10191A', surface: '#162122', primary: '#6FC2BC', error: '#FF94AA', 'on-background': '#E9EFEA', 'on-surface': '#E9EFEA', 'on-primary': '#0B1516',
  paper: '#10191A', paper2: '#1B2829', sheet: '#162122', rule: '#2E4041', ink: '#E9EFEA', ink2: '#A9B8B3', tide: '#6FC2BC', tide2: '#1D3C3D', band: '#0B2E31', band2: '#124247',
  flare: '#D9622B', flare2: '#3A2318', 'flare-ink': '#FF9E73', brass: '#A97C14', brass2: '#352B12', 'brass-ink': '#E6C063', kelp: '#2E7D5B', kelp2: '#16352A', 'kelp-ink': '#84D0A9',
  slate: '#5C7A92', slate2: '#22303A', 'slate-ink': '#A9C4DA', fog: '#3A4847', wrong: '#FF94AA', wrong2: '#3B1A22', field: '#8C9A95',
};
const theme = (name: 'light' | 'dark'): ThemeDefinition => ({ dark: name === 'dark', colors: name === 'dark' ? dark : light, variables: { 'border-color': name === 'dark' ? '#2E4041' : '#DDD6C6', 'border-opacity': 1, 'high-emphasis-opacity': 1, 'medium-emphasis-opacity': 0.85 } });

const flatField = { variant: 'outlined', density: 'compact', hideDetails: 'auto' } as const;

export const makeVuetify = (cspNonce: string | undefined) =>
  createVuetify({
    icons: { defaultSet: 'mdi', aliases, sets: { mdi } },
    theme: { defaultTheme: 'system', themes: { light: theme('light'), dark: theme('dark') }, ...(cspNonce ? { cspNonce } : {}) },
    defaults: {
      global: { ripple: false },
      VBtn: { variant: 'outlined', color: 'primary', rounded: 'md', height: 36 },
      VTextField: flatField, VSelect: flatField, VAutocomplete: flatField, VTextarea: flatField,
      VCheckbox: { density: 'compact', hideDetails: true, color: 'primary' },
      VSwitch: { density: 'compact', hideDetails: true, color: 'primary', inset: true },
      VMenu: { offset: 4 },
      VList: { density: 'compact' },
    },
  });
