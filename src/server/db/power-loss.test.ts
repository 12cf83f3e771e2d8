import { cpSync, existsSync, mkdirSync, mkdtempSync, readdirSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import path from 'node:path';
import { type PGlite } from '@electric-sql/pglite';
import { jest } from '@jest/globals';
import { copyTemplate } from './database-template';
import { openEmbedded } from './embedded';
import { SyncedFiles } from './synced-files';

/**
 * What is acknowledged survives a loss of power. A disk is simulated: a file on it is what it was when it was last synced;
 * of what was written since, each page got there, or not, or half.
 */
jest.setTimeout(240_000);
const scratch = mkdtempSync(path.join(tmpdir(), 'detto-power-'));
afterAll(() => rmSync(scratch, { recursive: true, force: true }));

const PAGE = 8192;
const SECTOR = 512;

/** Pseudo-random numbers from 0 to 1, the same for the same seed (mulberry32). */
function randomFrom(seed: number): () => number {
  let a = seed;
  return () => {
    a = (a + 0x6d2b79f5) | 0;
    let t = Math.imul(a ^ (a >>> 15), 1 | a);
    t = (t + Math.imul(t ^ (t >>> 7), 61 | t)) ^ t;
    return ((t ^ (t >>> 14)) >>> 0) / 4294967296;
  };
}

const filesBelow = (folder: string) =>
  readdirSync(folder, { withFileTypes: true, recursive: true })
    .filter((e) => e.isFile())
    .map((e) => path.relative(folder, path.join(e.parentPath, e.name)));

interface Stream {
  nfd: number;
  path: string;
}

/** The folder of a database, with a second one that holds what a sync has brought to the disk. */
class WatchedFiles extends SyncedFiles {
  syncs = 0;

  constructor(
    private readonly live: string,
    private readonly disk: string,
  ) {
    super(live);
  }

  override async init(pg: PGlite, options: Parameters<SyncedFiles['init']>[1]): ReturnType<SyncedFiles['init']> {
    const started = await super.init(pg, options);
    started.emscriptenOpts.preRun!.push((module: unknown) => {
      const { stream_ops: streams } = (module as { NODEFS: { stream_ops: { fsync(stream: Stream): number } } }).NODEFS;
      const sync = streams.fsync;
      streams.fsync = (stream) => {
        const done = sync(stream);
        this.syncs++;
        this.bring(stream.path.replace(/^\/pglite\/data\/?/, ''));
        return done;
      };
    });
    return started;
  }

  /** A file as it is now; of a folder, the names in it, as file systems with a journal keep them. */
  private bring(name: string): void {
    const from = path.join(this.live, name);
    const to = path.join(this.disk, name);
    if (!existsSync(from)) return;
    if (
      readdirSync(path.dirname(from), { withFileTypes: true }).some((e) => e.name === path.basename(from) && e.isFile())
    ) {
      mkdirSync(path.dirname(to), { recursive: true });
      writeFileSync(to, readFileSync(from));
    }
  }
}

/** The folder as it may be found after the power failed: synced, with some of what was written since. */
function afterLoss(live: string, disk: string, into: string, random: () => number): void {
  cpSync(disk, into, { recursive: true });
  for (const name of filesBelow(live)) {
    const now = readFileSync(path.join(live, name));
    const to = path.join(into, name);
    const synced = existsSync(to) ? readFileSync(to) : Buffer.alloc(0);
    if (now.equals(synced)) continue;
    const length = Math.max(now.length, synced.length);
    const out = Buffer.concat([synced, Buffer.alloc(length - synced.length)]);
    for (let at = 0; at < now.length; at += PAGE) {
      const fate = random();
      if (fate < 0.4) continue;
      const end = fate < 0.7 ? Math.min(now.length, at + SECTOR * (1 + Math.floor(random() * 15))) : at + PAGE;
      now.copy(out, at, at, Math.min(end, now.length));
    }
    mkdirSync(path.dirname(to), { recursive: true });
    writeFileSync(to, out);
  }
}

/** Folders that a database needs, empty ones too. */
function sameFolders(from: string, to: string): void {
  for (const e of readdirSync(from, { withFileTypes: true, recursive: true }))
    if (e.isDirectory())
      mkdirSync(path.join(to, path.relative(from, path.join(e.parentPath, e.name))), { recursive: true });
}

test.each([1, 2])('every acknowledged text is there after the power failed (%i)', async (seed) => {
  const random = randomFrom(seed);
  const live = path.join(scratch, `live-${seed}`);
  const disk = path.join(scratch, `disk-${seed}`);
  const found = path.join(scratch, `found-${seed}`);
  await copyTemplate('dist/database-template/database', live);
  const made = await openEmbedded(live);
  await made.exec(
    'create table texts (id int primary key, text text); create table bulk (id serial primary key, t text)',
  );
  await made.close();
  // All that is older has reached the disk.
  cpSync(live, disk, { recursive: true });

  const files = new WatchedFiles(live, disk);
  const db = await openEmbedded(live, { fs: files });
  let acknowledged = 0;
  for (let i = 0; i < 12; i++) {
    await db.query('insert into texts values ($1, $2)', [i, `words ${i} `.repeat(40)]);
    acknowledged++;
    if (i % 3 === 0)
      await db.query('insert into bulk (t) select repeat(md5(g::text), 20) from generate_series(1, 400) g');
    if (i === 7) await db.exec('checkpoint');
    await db.query('update texts set text = text || $1 where id = $2', [' changed', Math.floor(random() * (i + 1))]);
  }
  // Something is under way when it happens.
  const open = db.transaction(async (tx) => {
    await tx.query('insert into bulk (t) select repeat(md5(g::text), 20) from generate_series(1, 800) g');
    throw new Error('the power failed');
  });
  await open.catch(() => undefined);
  expect(files.syncs).toBeGreaterThan(acknowledged);
  afterLoss(live, disk, found, random);
  sameFolders(live, found);
  await db.close();

  const again = await openEmbedded(found);
  const { rows } = await again.query<{ id: number; text: string }>('select id, text from texts order by id');
  expect(rows.map((r) => r.id)).toEqual(Array.from({ length: acknowledged }, (_, i) => i));
  for (const { id, text } of rows) expect(text.startsWith(`words ${id} `.repeat(40))).toBe(true);
  const [bulk] = (await again.query<{ n: number }>('select count(*)::int n from bulk')).rows;
  expect(bulk!.n).toBe(1600);
  await again.exec('create index on bulk (t)');
  await again.close();
});
