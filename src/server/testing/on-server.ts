/** Has a file of tests run on a PostgreSQL server instead of the embedded database (`npm run test:server`). */
import { emptyDatabase } from './postgres';

if (process.env['DETTO_TEST_ON'] === 'server') process.env['DATABASE_URL'] = await emptyDatabase();
