import prettier from 'eslint-config-prettier';
import reactHooks from 'eslint-plugin-react-hooks';
import tseslint from 'typescript-eslint';

/** Dependencies point inwards only: app → ui, server → contract → core. */
const layer = (files, forbidden, why) => ({
  files,
  ignores: ['**/*.test.ts', '**/*.test.tsx'],
  rules: {
    'no-restricted-imports': ['error', { patterns: [{ group: forbidden, message: why }] }],
  },
});
const WORLD = [
  'node:fs*',
  'node:http*',
  'node:net',
  'node:dns',
  'node:child_process',
  'node:worker_threads',
  'drizzle-orm*',
  '@electric-sql/*',
  'undici',
  'sharp',
  'playwright-core',
  'next',
  'next/*',
  'pino',
];

export default tseslint.config(
  { ignores: ['.next/', 'dist/', 'node_modules/', 'data/', 'next-env.d.ts'] },
  ...tseslint.configs.recommended,
  reactHooks.configs.flat.recommended,
  prettier,
  {
    linterOptions: { reportUnusedDisableDirectives: 'error' },
    rules: {
      '@typescript-eslint/no-unused-vars': ['error', { argsIgnorePattern: '^_', varsIgnorePattern: '^_' }],
      '@typescript-eslint/consistent-type-imports': ['error', { fixStyle: 'inline-type-imports' }],
      eqeqeq: 'error',
      'no-console': 'error',
    },
  },
  layer(
    ['src/core/**'],
    ['@/*', '!@/core/*', '**/server/**', '**/ui/**', '**/app/**', '**/contract/**', ...WORLD],
    'The core computes; it knows no interface, database, network or file system.',
  ),
  layer(
    ['src/contract/**'],
    ['@/server/*', '@/ui/*', '@/app/*', ...WORLD],
    'The contract is plain data between server and interface.',
  ),
  layer(
    ['src/ui/**'],
    ['@/server/*', '@/app/*', '**/server/**', 'drizzle-orm*', '@electric-sql/*', 'undici', 'sharp', 'node:*'],
    'The interface is given its data; it never asks the server modules.',
  ),
  layer(['src/server/**'], ['@/ui/*', '@/app/*', 'react', 'next', 'next/*'], 'The server knows no interface.'),
);
