import { closeFiles } from '../blobs/blobs';
import { closeDatabase } from '../db/database';
import { log } from '../log';
import { stopJobs } from '../pipeline/pipeline';

/** Milliseconds after which the process ends, whatever still hangs. */
const PATIENCE = 8000;

/** On a signal to end: surveys break off, to go on at the next start, and the database is closed. */
export function endOnSignals(): void {
  let ending = false;
  const end = async () => {
    if (ending) return;
    ending = true;
    setTimeout(() => {
      log.error('ended without closing: something did not end in time');
      process.exit(1);
    }, PATIENCE).unref();
    try {
      await stopJobs();
      await closeFiles();
      await closeDatabase();
    } catch (error) {
      log.error({ error }, 'ended without closing');
    }
    process.exit(0);
  };
  process.on('SIGTERM', () => void end());
  process.on('SIGINT', () => void end());
}
