/**
 * `server ARGUMENTS…`: the web application, by Next's own command line. The database, which takes as long to open as
 * Next takes to load, begins to open first; surveys that a stop broke off need both.
 */
import { createRequire } from 'node:module';
import { database } from '@/server/db/database';

// Whoever asks for it next is told when it cannot be opened.
database().catch(() => undefined);
createRequire(import.meta.url)('next/dist/bin/next');
