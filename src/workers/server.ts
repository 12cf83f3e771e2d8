/**
 * `server ARGUMENTS…`: the web application, by Next's own command line. The database, which takes as long to open as
 * Next takes to load, begins to open first; surveys that a stop broke off need both. Where it cannot be opened, the
 * process says why in one sentence and ends.
 */
import { createRequire } from 'node:module';
import { config } from '@/server/config';
import { database } from '@/server/db/database';
import { refuseStart } from '@/server/operations/start';

// Nothing that Detto keeps is anybody else's to read.
process.umask(0o077);
try {
  config();
  database().catch(refuseStart);
  createRequire(import.meta.url)('next/dist/bin/next');
} catch (error) {
  refuseStart(error);
}
