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

const OUTSIDE_CORE = ['@/*', '!@/core/*', '**/server/**', '**/ui/**', '**/app/**', '**/contract/**', ...WORLD];
/** The rooms of the core, from the ground up: what everything speaks of knows nothing of what is done with it. */
const CORE_ROOMS = [
  'model',
  'words',
  'picture',
  'purpose',
  'formats',
  'lists',
  'rules',
  'house-style',
  'draft',
  'brief',
];

/**
 * The rooms of the server, from the ground up: a room imports only from those before it, and from the files beside the
 * rooms (`log`, `config`, `disk`). What follows what is in `pipeline`, above all that do the work.
 */
const ROOMS = [
  'ports',
  ...['net', 'db', 'limits', 'blobs', 'secrets', 'http', 'language'],
  ...['jobs', 'workers'],
  'catalogue',
  ...['audit', 'analysis'],
  ...['survey', 'intake', 'wordings', 'drafting'],
  ...['bulk', 'lists'],
  ...['delivery', 'brief', 'desk'],
  'pipeline',
  'operations',
];
const roomAbove = (room, rooms) =>
  layer(
    [`src/server/${room}/**`],
    [
      ...rooms.flatMap((r) => [`../${r}/*`, `../../${r}/*`, `@/server/${r}/*`]),
      ...['@/ui/*', '@/app/*', 'react', 'next', 'next/*'],
    ],
    `${room} stands below what it imports here; see ROOMS in eslint.config.mjs.`,
  );

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
  layer(['src/core/**'], OUTSIDE_CORE, 'The core computes; it knows no interface, database, network or file system.'),
  ...CORE_ROOMS.map((room, i) =>
    layer(
      [`src/core/${room}/**`],
      [
        ...CORE_ROOMS.slice(i + 1).flatMap((above) => [`../${above}`, `../../${above}`, `**/${above}/**`]),
        ...OUTSIDE_CORE,
      ],
      `${room} stands below what it imports here; see CORE_ROOMS in eslint.config.mjs.`,
    ),
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
  {
    // The ledger has a row of its own to lock.
    files: ['src/server/**/*.ts'],
    ignores: ['src/server/db/**', 'src/server/drafting/ledger.ts', '**/*.test.ts'],
    rules: {
      'no-restricted-syntax': [
        'error',
        {
          selector: "MemberExpression[property.name='transaction']",
          message: 'Several processes may share the database: use collectionTransaction or transactionWithJobs.',
        },
      ],
    },
  },
  ...ROOMS.map((room, i) => roomAbove(room, ROOMS.slice(i + 1))),
  layer(
    ['src/server/*.ts'],
    [
      ...ROOMS.filter((r) => r !== 'net' && r !== 'ports').map((r) => `./${r}/*`),
      '@/ui/*',
      '@/app/*',
      'react',
      'next',
      'next/*',
    ],
    'What every room uses knows none of them.',
  ),
);
