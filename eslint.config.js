import js from '@eslint/js'
import tseslint from 'typescript-eslint'
import { ownNames } from './scripts/lint/ownNames.mjs'

export default tseslint.config(
  {
    ignores: [
      'node_modules',
      'build',
      '.react-router',
      'data',
      'scripts/*.mjs',
      'server.js',
      '*.config.js',
      '*.cjs',
      '**/*.mjs',
    ],
  },
  js.configs.recommended,
  ...tseslint.configs.recommended,
  {
    languageOptions: { parserOptions: { project: './tsconfig.json', tsconfigRootDir: import.meta.dirname } },
    plugins: { dowser: { rules: { 'own-names': ownNames } } },
    rules: {
      'dowser/own-names': 'error',
      '@typescript-eslint/no-floating-promises': 'error',
      '@typescript-eslint/switch-exhaustiveness-check': ['error', { considerDefaultExhaustiveForUnions: true }],
      '@typescript-eslint/no-explicit-any': 'error',
      '@typescript-eslint/consistent-type-imports': ['error', { fixStyle: 'inline-type-imports' }],
      // An import of types alone must leave nothing behind: else a page loads what only its types come from.
      '@typescript-eslint/no-import-type-side-effects': 'error',
      '@typescript-eslint/only-throw-error': 'error',
      '@typescript-eslint/no-unused-vars': [
        'error',
        { argsIgnorePattern: '^_', varsIgnorePattern: '^_', caughtErrors: 'none' },
      ],
      '@typescript-eslint/no-non-null-assertion': 'off',
      'no-console': 'error',
      'no-restricted-globals': ['error', { name: 'event', message: 'the event is an argument' }],
      eqeqeq: 'error',
      // NaN is what a number column has for no value, and x !== x is how a hot loop asks for it.
      'no-self-compare': 'off',
    },
  },
  {
    files: ['core/**/*.ts'],
    rules: {
      'no-restricted-properties': [
        'error',
        { object: 'Date', property: 'now', message: 'now is an argument' },
        { object: 'Math', property: 'random', message: 'a seed is an argument' },
      ],
    },
  },
  // What a test looks up, it has named itself.
  { files: ['**/*.test.ts', 'tests/**/*.ts', 'demo/**/*.ts'], rules: { 'dowser/own-names': 'off' } },
  {
    files: ['**/*.cli.ts', 'bench/**/*.ts', 'tests/browser/screens.ts', 'tests/attack/main.ts'],
    rules: { 'no-console': 'off' },
  },
)
