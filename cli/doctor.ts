import { existsSync } from 'node:fs';
import path from 'node:path';
import { closeFiles } from '@/server/blobs/blobs';
import { config } from '@/server/config';
import { closeDatabase } from '@/server/db/database';
import { examine, type DoctorReport } from '@/server/operations/doctor';
import { count } from '@/core/rules/support/words';

const megabytes = (bytes: number) => `${(bytes / 1_048_576).toFixed(1)} MB`;

/** Whether nothing is left that ought to be mended. */
export const isSound = (r: DoctorReport): boolean =>
  r.fixed || (r.damaged === 0 && r.orphans === 0 && r.missing === 0 && r.open === 0 && r.packBytes === r.usedBytes);

/**
 * Looks at a data folder, and mends it where that is asked for.
 *
 * @throws DataFolderError when the folder cannot be used, or Detto is running on it
 */
export async function doctor(fix: boolean, progress: (line: string) => void): Promise<DoctorReport> {
  const at = path.join(config().dataDir, 'database');
  if (!existsSync(at)) throw new Error(`There is no data of Detto’s in ${config().dataDir}.`);
  try {
    return await examine(fix, (done, of) => progress(`${done} of ${of} stored files checked`));
  } finally {
    await closeFiles();
    await closeDatabase();
  }
}

/** The report as plain lines for a terminal. */
export function doctorText(r: DoctorReport): string {
  const did = (what: string) => (r.fixed ? `; ${what}` : '');
  const unused = r.packBytes - r.usedBytes;
  return [
    `Data folder ${config().dataDir}: ${count(r.files, 'stored file')} in ${count(r.packs, 'pack')}, ${megabytes(r.usedBytes)}.`,
    r.damaged > 0
      ? `${count(r.damaged, 'stored file is', 'stored files are')} damaged${did('dropped, and stored again by the next survey')}.`
      : 'Every stored file is what was stored.',
    ...(r.missing > 0
      ? [
          `${count(r.missing, 'page or picture has', 'pages or pictures have')} no stored file; the next survey fetches it.`,
        ]
      : []),
    ...(r.orphans > 0
      ? [`${count(r.orphans, 'stored file is', 'stored files are')} needed by nothing${did('removed')}.`]
      : []),
    ...(unused > 0 ? [`${megabytes(unused)} of the packs hold nothing that is needed.`] : []),
    ...(r.open > 0
      ? [`${count(r.open, 'file or folder', 'files and folders')} can be read or written by others.`]
      : []),
    ...r.uploads.map((at) => `An upload belongs to no collection: ${at}. It can be deleted.`),
    r.fixed
      ? 'What could be mended was.'
      : isSound(r)
        ? 'Nothing has to be mended.'
        : 'Run it with --fix to mend this.',
  ].join('\n');
}
