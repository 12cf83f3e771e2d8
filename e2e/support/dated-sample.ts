/** Of a full matrix, each day another third; `npm run test:long` runs all of it. */
const PARTS = 3;

/** Days since 1970, as `scripts/test.mjs` says it, so that a sample can be run again. */
const day = Number(process.env['DETTO_TEST_DAY'] ?? Math.floor(Date.now() / 86_400_000));

export const datedSample = <T>(all: readonly T[]): readonly T[] =>
  process.env['DETTO_TEST_ALL'] === '1' ? all : all.filter((_, i) => i % PARTS === day % PARTS);
