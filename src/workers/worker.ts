/**
 * `worker`: a process that only does jobs, beside one that serves, on a database that they share. On a signal it puts back
 * what it was doing, for the others.
 */
import { config } from '@/server/config';
import { database } from '@/server/db/database';
import { log } from '@/server/log';
import { endOnSignals } from '@/server/operations/shutdown';
import { refuseStart } from '@/server/operations/start';
import { startJobs } from '@/server/pipeline/pipeline';

// Nothing that Detto keeps is anybody else's to read.
process.umask(0o077);
try {
  if (!config().databaseUrl)
    throw new Error(
      'A worker shares a PostgreSQL server with the process that serves. Set DATABASE_URL; the embedded database is for one process.',
    );
  await database();
  endOnSignals();
  startJobs();
  log.info('this process does jobs');
  // Its connections are idle most of the time, and none of them keeps it alive.
  setInterval(() => undefined, 2 ** 30);
} catch (error) {
  refuseStart(error);
}
