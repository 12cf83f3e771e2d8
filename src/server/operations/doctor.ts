import { promises as fs } from 'node:fs';
import path from 'node:path';
import { asc, eq, sql } from 'drizzle-orm';
import { dropFile, packFile, packFolder, readStored } from '../blobs/blobs';
import { config } from '../config';
import { insertRows } from '../db/bulk';
import { closeToOthers, openToOthers } from '../db/data-folder';
import { database, type Database } from '../db/database';
import { collection, file } from '../db/schema';
import { ensureRoom } from '../disk';

export interface DoctorReport {
  /** Stored files, and how many of them are not what was stored. */
  files: number;
  damaged: number;
  /** Stored files that no page and no picture needs any more. */
  orphans: number;
  /** Pages and pictures whose file is not stored; the next survey fetches it. */
  missing: number;
  packs: number;
  /** Bytes of all packs, and of what is needed in them. */
  packBytes: number;
  usedBytes: number;
  /** Uploads in the data folder that belong to no collection. */
  uploads: string[];
  /** Files and folders that others than their owner may read or write. */
  open: number;
  /** Whether what can be fixed was. */
  fixed: boolean;
}

type FileRow = typeof file.$inferSelect;

/** A stored file that something points at. */
const needed = sql`(select source from page union select sha256 from picture where sha256 is not null and type is not null
  union select thumb from picture where thumb is not null)`;

/** Rows read at a time: of their files, only one is in memory. */
const PORTION = 500;

/**
 * Looks at everything that is kept beside the database in the data folder, and fixes it where that is wanted: damaged
 * copies are dropped so that the next survey stores them again, unneeded ones removed, packs written again without gaps.
 * Detto itself must not be running on the folder.
 *
 * @param progress hears how many of all stored files were checked
 * @throws DiskFullError when there is no room to write packs again; what was fixed before stays fixed
 */
export async function examine(fix: boolean, progress: (done: number, of: number) => void): Promise<DoctorReport> {
  const db = await database();
  const { dataDir } = config();
  const damaged = await checkHashes(db, fix, progress);
  const [orphaned] = await count(db, sql`select count(*)::int n from ${file} where sha256 not in ${needed}`);
  const [missing] = await count(
    db,
    sql`select count(*)::int n from ${needed} k(sha256) where not exists (select from ${file} f where f.sha256 = k.sha256)`,
  );
  if (fix) {
    await db.execute(sql`delete from ${file} where sha256 not in ${needed}`);
    // A thumbnail that is not stored is drawn again.
    await db.execute(sql`update picture set thumb = null, analysis_version = 0 where thumb is not null
      and not exists (select from ${file} f where f.sha256 = picture.thumb)`);
    await compact(db);
    await closeToOthers(dataDir);
  }
  const [files, used] = await count(db, sql`select count(*)::int n, coalesce(sum(length), 0)::float8 m from ${file}`);
  const packs = await packSizes();
  return {
    files: files!,
    damaged,
    orphans: orphaned!,
    missing: missing!,
    packs: packs.size,
    packBytes: [...packs.values()].reduce((sum, size) => sum + size, 0),
    usedBytes: used!,
    uploads: await strayUploads(db),
    open: await openToOthers(dataDir),
    fixed: fix,
  };
}

async function count(db: Database, query: ReturnType<typeof sql>): Promise<number[]> {
  const { rows } = (await db.execute(query)) as unknown as { rows: Record<string, number>[] };
  return Object.values(rows[0]!);
}

async function checkHashes(db: Database, fix: boolean, progress: (done: number, of: number) => void): Promise<number> {
  const [of] = await count(db, sql`select count(*)::int n from ${file}`);
  let damaged = 0;
  let done = 0;
  let after = '';
  for (;;) {
    const rows: FileRow[] = await db
      .select()
      .from(file)
      .where(sql`${file.sha256} > ${after}`)
      .orderBy(asc(file.sha256))
      .limit(PORTION);
    if (rows.length === 0) return damaged;
    after = rows.at(-1)!.sha256;
    for (const row of rows) {
      if (await readStored(row)) continue;
      damaged++;
      if (fix) await dropFile(db, row);
    }
    done += rows.length;
    progress(done, of!);
  }
}

/** Bytes of each pack, by its number. */
async function packSizes(): Promise<Map<number, number>> {
  const names = await fs.readdir(packFolder()).catch(() => []);
  const sizes = new Map<number, number>();
  for (const name of names) {
    const number = /^pack-(\d+)$/.exec(name)?.[1];
    if (number) sizes.set(Number(number), (await fs.stat(path.join(packFolder(), name))).size);
  }
  return sizes;
}

/** Writes packs with gaps again, one after the other; the old one goes when the database knows the new one. */
async function compact(db: Database): Promise<void> {
  const { dataDir, reserve } = config();
  const sizes = await packSizes();
  let next = Math.max(0, ...sizes.keys()) + 1;
  for (const [number, size] of sizes) {
    const rows = await db.select().from(file).where(eq(file.pack, number)).orderBy(asc(file.start));
    const used = rows.reduce((sum, r) => sum + r.length, 0);
    if (used === size) continue;
    await ensureRoom(dataDir, used, Math.min(reserve, 64 * 1024 * 1024));
    if (rows.length > 0) await rewrite(db, rows, next++);
    await fs.rm(packFile(number));
  }
}

async function rewrite(db: Database, rows: readonly FileRow[], number: number): Promise<void> {
  const handle = await fs.open(packFile(number), 'wx', 0o600);
  try {
    let start = 0;
    const moved: FileRow[] = [];
    for (const row of rows) {
      const bytes = await readStored(row);
      if (!bytes) throw new Error(`The stored file ${row.sha256} changed while it was moved.`);
      await handle.write(bytes, 0, bytes.length, start);
      moved.push({ ...row, pack: number, start });
      start += bytes.length;
    }
    await handle.sync();
    await insertRows(
      db,
      file,
      moved,
      sql`on conflict (sha256) do update set pack = excluded.pack, start = excluded.start`,
    );
  } finally {
    await handle.close();
  }
}

/** What was dropped on the Shelf and belongs to no collection, by its path. */
async function strayUploads(db: Database): Promise<string[]> {
  const dropped = path.join(config().dataDir, 'dropped');
  const names = await fs.readdir(dropped).catch(() => []);
  const roots = (await db.select({ root: collection.root }).from(collection)).map((c) => c.root);
  return names.map((name) => path.join(dropped, name)).filter((at) => !roots.some((root) => root.startsWith(at)));
}
