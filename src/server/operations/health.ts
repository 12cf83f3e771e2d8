import { sql } from 'drizzle-orm';
import { config } from '../config';
import { database } from '../db/database';
import { isFull, meansDiskFull, meansReadOnly, whyUnwritable } from '../disk';

export interface Health {
  /** HTTP status that fits it. */
  status: 200 | 503 | 507;
  state: 'ok' | 'busy' | 'disk-full' | 'read-only' | 'database-down';
  message: string | null;
}

const FULL: Health = {
  status: 507,
  state: 'disk-full',
  message: 'The disk is full. Free some space; nothing that was saved is lost.',
};

/** Milliseconds within which somebody who watches over Detto gets an answer, whatever it does. */
const PATIENCE_MS = 800;

const pause = (ms: number) => new Promise<false>((resolve) => setTimeout(resolve, ms, false).unref());

/** Whether Detto can read and keep what it is given. */
export async function health(): Promise<Health> {
  const { dataDir } = config();
  const READ_ONLY: Health = {
    ...{ status: 503, state: 'read-only' },
    message: `The data folder ${dataDir} cannot be written. Nothing that was saved is lost.`,
  };
  try {
    const asked = database().then((db) => db.execute(sql`select 1`));
    const isAnswered = await Promise.race([asked.then(() => true), pause(PATIENCE_MS)]);
    if (await isFull(dataDir)) return FULL;
    if (await whyUnwritable(dataDir)) return READ_ONLY;
    if (isAnswered) return { status: 200, state: 'ok', message: null };
    asked.catch(() => undefined);
    return { status: 200, state: 'busy', message: 'The database is busy and answers later.' };
  } catch (error) {
    if (meansReadOnly(error, dataDir)) return READ_ONLY;
    // A database that could not be opened can be neither read nor written: Detto is not up.
    if (meansDiskFull(error)) return { ...FULL, status: 503 };
    return {
      status: 503,
      state: 'database-down',
      message: 'The database does not answer. It is opened again; try again in a moment.',
    };
  }
}
