import { randomUUID } from 'node:crypto';

/** Where tests find a PostgreSQL server; `npm test` starts one, and without it nothing of one is tested. */
export const postgres = process.env['DETTO_TEST_POSTGRES'] ?? null;

/**
 * A test of one process that has the database to itself: it takes up at once what one that was killed had. On a server
 * others wait until that is missed (`jobs/claims.test.ts`).
 */
export const testOfOne = process.env['DETTO_TEST_ON'] === 'server' ? test.skip : test;

/** Makes an empty database on the test server; gives back its address. */
export async function emptyDatabase(): Promise<string> {
  if (!postgres) throw new Error('DETTO_TEST_POSTGRES names no server.');
  const { default: pg } = await import('pg');
  const name = `test_${randomUUID().replaceAll('-', '')}`;
  const client = new pg.Client({ connectionString: postgres });
  await client.connect();
  await client.query(`create database ${name}`);
  await client.end();
  return Object.assign(new URL(postgres), { pathname: `/${name}` }).href;
}
