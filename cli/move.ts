import { existsSync } from 'node:fs';
import path from 'node:path';
import { UserError } from '@/core/model/user-error';
import { config } from '@/server/config';
import { openEmbeddedDatabase } from '@/server/db/embedded-database';
import { openServerDatabase } from '@/server/db/server-database';
import { moveData } from '@/server/operations/move';
import { strings } from '@/ui/strings';

/**
 * Copies the database of a data folder to a server, or back.
 *
 * @param server address of the server
 * @param isBack from the server into the data folder
 * @returns what was copied, in a sentence
 * @throws DataFolderError when either cannot be used, or Detto is running on the data folder
 * @throws Error in words when the target holds something else, or both differ in the end
 */
export async function move(server: string, isBack: boolean, progress: (line: string) => void): Promise<string> {
  const { dataDir } = config();
  const folder = path.join(dataDir, 'database');
  const s = strings.cli.move;
  if (!isBack && !existsSync(folder)) throw new Error(strings.cli.doctor.noData(dataDir));
  const own = await openEmbeddedDatabase(folder);
  try {
    const there = await openServerDatabase(server, dataDir);
    try {
      const [from, to] = isBack ? [there, own] : [own, there];
      const { tables, rows } = await moveData(from, to, (table, n) => progress(s.progress(n, table)));
      return isBack ? s.back(tables, rows, dataDir) : s.moved(tables, rows, dataDir);
    } catch (error) {
      if (error instanceof UserError) throw new Error(strings.message(error.reason), { cause: error });
      throw error;
    } finally {
      await there.close();
    }
  } finally {
    await own.close();
  }
}
