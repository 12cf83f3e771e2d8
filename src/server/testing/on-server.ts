/**
 * Has a file of tests run on a PostgreSQL server instead of the embedded database, where `DETTO_TEST_POSTGRES` names one
 * (`npm run test:server`): each file on an empty database of its own.
 */
const { DETTO_TEST_POSTGRES: address } = process.env;
if (address) {
  const { randomUUID } = await import('node:crypto');
  const { default: pg } = await import('pg');
  const name = `test_${randomUUID().replaceAll('-', '')}`;
  const client = new pg.Client({ connectionString: address });
  await client.connect();
  await client.query(`create database ${name}`);
  await client.end();
  process.env['DATABASE_URL'] = Object.assign(new URL(address), { pathname: `/${name}` }).href;
}

export {};
