import { existsSync } from 'node:fs';
import path from 'node:path';
import { closeFiles } from '@/server/blobs/blobs';
import { config } from '@/server/config';
import { closeDatabase } from '@/server/db/database';
import { examine, type DoctorReport } from '@/server/operations/doctor';
import { strings } from '@/ui/strings';

/** Whether nothing is left that ought to be fixed. */
export const isSound = (r: DoctorReport): boolean =>
  r.fixed || (r.damaged === 0 && r.orphans === 0 && r.missing === 0 && r.open === 0 && r.packBytes === r.usedBytes);

/**
 * Looks at a data folder, and fixes it where that is asked for.
 *
 * @throws DataFolderError when the folder cannot be used, or Detto is running on it
 */
export async function doctor(fix: boolean, progress: (line: string) => void): Promise<DoctorReport> {
  // Nothing says whether another process is writing into the folder now.
  if (config().databaseUrl) throw new Error(strings.cli.doctor.onServer);
  const at = path.join(config().dataDir, 'database');
  if (!existsSync(at)) throw new Error(strings.cli.doctor.noData(config().dataDir));
  try {
    return await examine(fix, (done, of) => progress(strings.cli.doctor.checked(done, of)));
  } finally {
    await closeFiles();
    await closeDatabase();
  }
}

/** The report as plain lines for a terminal. */
export function doctorText(r: DoctorReport): string {
  const s = strings.cli.doctor;
  const unused = r.packBytes - r.usedBytes;
  return [
    s.folder(config().dataDir, r.files, r.packs, r.usedBytes),
    r.damaged > 0 ? s.damaged(r.damaged, r.fixed) : s.noneDamaged,
    ...(r.missing > 0 ? [s.missing(r.missing)] : []),
    ...(r.orphans > 0 ? [s.orphans(r.orphans, r.fixed)] : []),
    ...(unused > 0 ? [s.unused(unused)] : []),
    ...(r.open > 0 ? [s.open(r.open)] : []),
    ...r.uploads.map(s.upload),
    r.fixed ? s.fixed : isSound(r) ? s.sound : s.toFix,
  ].join('\n');
}
