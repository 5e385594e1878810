import js from '@eslint/js';
import prettier from 'eslint-config-prettier/flat';
import vue from 'eslint-plugin-vue';
import { defineConfig, globalIgnores } from 'eslint/config';
import globals from 'globals';
import ts from 'typescript-eslint';

/** The floors, ground first. A floor imports only from those named here; the rest of the house is out of reach. */
const floors = {
  core: [],
  contract: ['core'],
  server: ['core', 'contract'],
  web: ['core', 'contract'],
  demo: ['core', 'contract', 'server'],
  bench: ['core', 'contract', 'server'],
  e2e: ['core', 'contract'],
};

/** Arguments go on the stack: a list of a hundred thousand overflows it. */
const noSpreadPush = {
  selector: 'CallExpression[callee.property.name=/^(push|unshift)$/] > SpreadElement',
  message: 'Lists grow large here: make a new list, or push one by one.',
};

const upwards = (floor) => {
  const banned = Object.keys(floors).filter((other) => other !== floor && !floors[floor].includes(other));
  return {
    files: [`${floor}/**/*.{ts,vue}`],
    rules: {
      'no-restricted-imports': [
        'error',
        {
          patterns: [
            {
              group: [...banned.map((other) => `@gate-roster/${other}`), ...banned.map((other) => `**/../${other}/**`)],
              message: `${floor} stands below: an import does not go up a floor.`,
            },
            {
              group: Object.keys(floors).map((other) => `@gate-roster/${other}/*`),
              message: 'Import what the floor offers, not what lies inside it.',
            },
          ],
        },
      ],
    },
  };
};

// Rules that need types are in .oxlintrc.json: its checker reads the types of the whole house in seconds.
export default defineConfig(
  globalIgnores(['**/dist/', '.local/', '**/drizzle/', 'docs/']),
  js.configs.recommended,
  ts.configs.recommended,
  vue.configs['flat/recommended'],
  {
    rules: {
      '@typescript-eslint/no-unused-vars': ['error', { argsIgnorePattern: '^_', varsIgnorePattern: '^_' }],
    },
  },
  ...Object.keys(floors).map(upwards),
  {
    files: ['{contract,server,web}/src/**/*.{ts,vue}'],
    ignores: ['**/*.test.ts'],
    rules: { 'no-restricted-syntax': ['error', noSpreadPush] },
  },
  {
    // The core is pure: no I/O, no clock, no randomness of its own.
    files: ['core/src/**/*.ts'],
    ignores: ['**/*.test.ts'],
    rules: {
      'no-restricted-globals': [
        'error',
        'process',
        'window',
        'document',
        'fetch',
        'localStorage',
        'setTimeout',
        'crypto',
        'performance',
        'navigator',
        'location',
      ],
      'no-restricted-syntax': [
        'error',
        { selector: "NewExpression[callee.name='Date'][arguments.length=0]", message: 'Time comes in as an argument.' },
        { selector: "CallExpression[callee.object.name='Date'][callee.property.name='now']", message: 'Time comes in as an argument.' },
        {
          selector: "CallExpression[callee.object.name='Math'][callee.property.name='random']",
          message: 'Randomness comes in as an argument.',
        },
        { selector: 'ImportDeclaration[source.value=/^node:/]', message: 'The core does no I/O.' },
        noSpreadPush,
      ],
    },
  },
  {
    files: ['web/**/*.vue'],
    languageOptions: { parserOptions: { parser: ts.parser }, globals: globals.browser },
    rules: {
      'vue/multi-word-component-names': 'off',
      // Whether a switch leaves a kind out is known by its types.
      'vue/return-in-computed-property': 'off',
      // Vuetify's are imported by its plugin, the router's are everywhere.
      'vue/no-undef-components': ['error', { ignorePatterns: ['v(-\\w+)+', 'router-(link|view)', 'Router(Link|View)'] }],
    },
  },
  { files: ['web/src/**/*.ts'], languageOptions: { globals: globals.browser } },
  { files: ['server/src/player/page/*.js'], languageOptions: { globals: globals.browser } },
  { files: ['**/*.mjs'], languageOptions: { globals: globals.node } },
  { files: ['**/*.test.ts'], languageOptions: { globals: globals.jest } },
  prettier,
);
