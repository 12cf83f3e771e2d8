/** Jest in ESM mode: many of the packages here ship only as ES modules. */
const base = {
  testEnvironment: 'node',
  extensionsToTreatAsEsm: ['.ts', '.tsx'],
  moduleNameMapper: { '^@/(.*)$': '<rootDir>/src/$1' },
  modulePathIgnorePatterns: ['<rootDir>/.next', '<rootDir>/dist'],
  transform: {
    '^.+\\.tsx?$': [
      '@swc/jest',
      {
        jsc: {
          parser: { syntax: 'typescript', tsx: true },
          target: 'es2022',
          transform: { react: { runtime: 'automatic' } },
          experimental: { keepImportAttributes: true },
        },
        module: { type: 'es6' },
      },
    ],
  },
};

export default {
  projects: [
    {
      ...base,
      displayName: 'unit',
      roots: ['<rootDir>/src', '<rootDir>/cli', '<rootDir>/demo'],
      setupFilesAfterEnv: ['<rootDir>/src/server/testing/patience.ts', '<rootDir>/src/server/testing/on-server.ts'],
    },
    {
      ...base,
      displayName: 'e2e',
      roots: ['<rootDir>/e2e'],
      globalSetup: '<rootDir>/e2e/support/start.ts',
      globalTeardown: '<rootDir>/e2e/support/stop.ts',
      setupFilesAfterEnv: ['<rootDir>/e2e/support/patience.ts'],
    },
  ],
};
