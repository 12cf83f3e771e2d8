import { isFull } from '../disk';

/** How the embedded PostgreSQL says that it gave up while it opened, whatever kept it. */
export const meansAborted = (message: string): boolean => /^Aborted|failed to initialize|^unreachable/.test(message);

/**
 * Opens a database, and once more where that was given up and the disk has room by now: it may have been full meanwhile,
 * and a database is called damaged only when it cannot be opened twice.
 *
 * @param folder of the database
 * @throws what `open` throws the second time, or at once where the disk is full or the reason is another
 */
export async function openAgain<T>(folder: string, open: () => Promise<T>): Promise<T> {
  try {
    return await open();
  } catch (error) {
    if (!(error instanceof Error) || !meansAborted(error.message) || (await isFull(folder))) throw error;
    return open();
  }
}
