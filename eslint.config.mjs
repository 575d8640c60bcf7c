import globals from 'globals';
import tseslint from 'typescript-eslint';
import vue from 'eslint-plugin-vue';
import prettier from 'eslint-config-prettier';

const namesOf = (machine) => Object.keys(globals[machine]);
const [browser, worker, node] = ['browser', 'worker', 'node'].map(namesOf);
/** What reaches out of the program is no matter of the core, wherever it can be had. */
const OUTWARD = new Set(['fetch', 'Request', 'Response', 'WebSocket', 'navigator', 'self']);
const anywhere = namesOf('shared-node-browser').filter((name) => !OUTWARD.has(name));
const onlyIn = (these, others) => {
  const there = new Set(others);
  return [...new Set(these)].filter((name) => !there.has(name));
};

export default tseslint.config(
  { ignores: ['dist/**', 'public/**', 'test-results/**', 'playwright-report/**', '.cache/**'] },
  ...tseslint.configs.recommended,
  ...vue.configs['flat/recommended'],
  prettier,
  // One compiler run has all layers: what the machine of each has not is kept out of it here.
  {
    files: ['src/app/**'],
    ignores: ['**/*.test.ts'],
    rules: { 'no-restricted-globals': ['error', ...onlyIn(node, browser)] },
  },
  {
    files: ['src/worker/**', 'src/app/audio/worklet/**'],
    // The client is of the page.
    ignores: ['**/*.test.ts', 'src/worker/client.ts'],
    rules: { 'no-restricted-globals': ['error', ...onlyIn([...browser, ...node], worker)] },
  },
  {
    files: ['src/{server,cli}/**', 'demo/**', 'bench/**'],
    // These two are run in a page.
    ignores: ['**/*.test.ts', 'bench/browser.ts', 'bench/scenes.ts'],
    rules: { 'no-restricted-globals': ['error', ...onlyIn([...browser, ...worker], node)] },
  },
  {
    files: ['src/core/**'],
    ignores: ['**/*.test.ts'],
    rules: {
      'no-restricted-globals': ['error', ...onlyIn([...browser, ...worker, ...node], anywhere)],
    },
  },
  { files: ['**/*.vue'], languageOptions: { parserOptions: { parser: tseslint.parser } } },
  {
    rules: {
      'vue/multi-word-component-names': 'off',
      'vue/no-v-html': 'error',
      'vue/require-default-prop': 'off',
      'no-eval': 'error',
      'no-implied-eval': 'error',
      'no-empty': ['error', { allowEmptyCatch: false }],
      eqeqeq: ['error', 'always', { null: 'ignore' }],
      '@typescript-eslint/no-explicit-any': 'error',
      '@typescript-eslint/no-non-null-assertion': 'off',
      '@typescript-eslint/no-unused-vars': ['error', { argsIgnorePattern: '^_' }],
    },
  },
);
