import js from '@eslint/js';
import reactHooks from 'eslint-plugin-react-hooks';
import tseslint from 'typescript-eslint';

const CLOCK = 'The core has no clock and no chance: time and randomness come in from outside.';

export default tseslint.config(
  { ignores: ['dist', '.data', 'test-results', 'playwright-report', 'shop/assets', 'node_modules'] },
  js.configs.recommended,
  {
    files: ['**/*.{ts,tsx}'],
    extends: [...tseslint.configs.strictTypeChecked, ...tseslint.configs.stylisticTypeChecked],
    languageOptions: {
      parserOptions: {
        // One program for all: one a room holds most files many times. What a room may use is checked by its own.
        project: './tsconfig.lint.json',
        tsconfigRootDir: import.meta.dirname,
      },
    },
    rules: {
      '@typescript-eslint/restrict-template-expressions': ['error', { allowNumber: true }],
      '@typescript-eslint/no-unused-vars': ['error', { argsIgnorePattern: '^_', varsIgnorePattern: '^_' }],
      // Indexing is checked, so a place that is known to be there says so.
      '@typescript-eslint/no-non-null-assertion': 'off',
      '@typescript-eslint/no-empty-pattern': 'off',
      'no-empty-pattern': 'off',
      '@typescript-eslint/consistent-type-imports': 'error',
      // An empty text often means none.
      '@typescript-eslint/prefer-nullish-coalescing': ['error', { ignorePrimitives: { string: true } }],
    },
  },
  {
    files: ['core/**/*.ts'],
    ignores: ['**/*.test.ts'],
    rules: {
      'no-restricted-properties': [
        'error',
        { object: 'Date', property: 'now', message: CLOCK },
        { object: 'Math', property: 'random', message: CLOCK },
      ],
      'no-restricted-syntax': [
        'error',
        { selector: 'NewExpression[callee.name="Date"][arguments.length=0]', message: CLOCK },
      ],
      'no-restricted-globals': [
        'error',
        'process',
        'window',
        'document',
        'fetch',
        'setTimeout',
        'setInterval',
        'performance',
      ],
    },
  },
  { files: ['{web,storefront/picker}/**/*.{ts,tsx}'], ...reactHooks.configs.flat.recommended },
  {
    files: ['bin/**/*.mjs', '*.mjs', '*.js'],
    languageOptions: {
      globals: { process: 'readonly', console: 'readonly', URL: 'readonly', fetch: 'readonly', Buffer: 'readonly' },
    },
  },
);
