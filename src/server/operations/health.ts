import { sql } from 'drizzle-orm';
import { config } from '../config';
import { database } from '../db/database';
import { isFull, meansDiskFull } from '../disk';

export interface Health {
  /** HTTP status that fits it. */
  status: 200 | 503 | 507;
  state: 'ok' | 'disk-full' | 'database-down';
  message: string | null;
}

const FULL: Health = {
  status: 507,
  state: 'disk-full',
  message: 'The disk is full. Free some space; nothing that was saved is lost.',
};

/** Whether Detto can read and keep what it is given. */
export async function health(): Promise<Health> {
  try {
    await (await database()).execute(sql`select 1`);
    if (await isFull(config().dataDir)) return FULL;
    return { status: 200, state: 'ok', message: null };
  } catch (error) {
    // A database that could not be opened can be neither read nor written: Detto is not up.
    if (meansDiskFull(error)) return { ...FULL, status: 503 };
    return {
      status: 503,
      state: 'database-down',
      message: 'The database does not answer. It is opened again; try again in a moment.',
    };
  }
}
