/**
 * Makes the database that a new data folder begins with a copy of: its tables and the job queue's are there already, so
 * that a first start neither makes a database nor migrates one. `process.argv[2]` names the folder.
 */
import { closeDatabase } from '@/server/db/database';
import { openQueue } from '@/server/jobs/queue';
import path from 'node:path';

process.env['DETTO_DATA'] = path.dirname(path.resolve(process.argv[2]!));
await openQueue();
await closeDatabase();
