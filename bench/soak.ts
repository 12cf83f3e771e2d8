/**
 * `npm run soak -- --minutes N`: Detto under what can cost an editor their work, all at once and on loopback only: a hostile
 * site surveyed again and again, kill -9 at any moment, a small disk that fills up, 20 clients that list and save. In the
 * end every text that was acknowledged has to be there, every stored file right, and a last survey whole. Prints one
 * table; exits with 1 when a line of it does not hold.
 */
import { mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import path from 'node:path';
import { parseArgs } from 'node:util';
import { DettoProcess, freePort, StartError } from '../e2e/support/detto-process';
import { GOOD_PAGES, hostileSite } from './soak/site';
import { SmallDisk } from './soak/small-disk';

const MOST_MINUTES = 120;
const CLIENTS = 20;
const DISK_MB = 420;
const RESERVE_MB = 64;
/** Seconds an orderly end may take, and megabytes that Detto may take in the end. */
const END_LIMIT = 10;
const MEMORY_LIMIT = 900;

const { values } = parseArgs({
  options: { minutes: { type: 'string', default: '2' }, seed: { type: 'string', default: '1' } },
});
const minutes = Number(values.minutes);
if (!(minutes > 0 && minutes <= MOST_MINUTES)) {
  process.stderr.write(`Say how long, up to ${MOST_MINUTES} minutes: npm run soak -- --minutes 10\n`);
  process.exit(2);
}
// As Detto itself: nothing it keeps is anybody else's.
process.umask(0o077);
let seed = Number(values.seed);
/** Pseudo-random numbers from 0 to 1, so that a run can be had again (Numerical Recipes). */
const random = () => (seed = (seed * 1664525 + 1013904223) % 2 ** 32) / 2 ** 32;
const wait = (ms: number) => new Promise((resolve) => setTimeout(resolve, ms));

const scratch = mkdtempSync(path.join(tmpdir(), 'detto-soak-'));
const disk = SmallDisk.make(path.join(scratch, 'disk'), DISK_MB);
const data = path.join(disk.folder, 'data');
const site = await hostileSite();
const detto = new DettoProcess(await freePort(), {
  DETTO_DATA: data,
  DETTO_ALLOW_HOSTS: site.host,
  DETTO_RESERVE_MB: String(RESERVE_MB),
  DETTO_LOG: 'silent',
});

interface Line {
  id: number;
  appearanceId: number;
  revision: number;
}

const counts = { lists: 0, saves: 0, conflicts: 0, refused: 0, full: 0, fills: 0, refusedStarts: 0, surveys: 0 };
/** Every text that Detto said it has, with the place it is for. */
const acknowledged: { place: number; text: string }[] = [];
let collection = '';
let over = false;
/** Detto is being killed and started again: nobody else starts it meanwhile. */
let restarting: Promise<void> = Promise.resolve();

async function ask(path: string, options: RequestInit = {}): Promise<Response | null> {
  return fetch(`${detto.address}${path}`, { ...options, signal: AbortSignal.timeout(20_000) }).catch(() => null);
}

async function client(number: number): Promise<void> {
  for (let i = 0; !over; i++) {
    await wait(100 + random() * 400);
    const listed = await ask(`/api/collections/${collection}/lines?offset=${Math.floor(random() * 100)}&limit=40`);
    if (listed?.status === 507) counts.full++;
    if (!listed?.ok) continue;
    counts.lists++;
    const { lines } = (await listed.json().catch(() => ({ lines: [] }))) as { lines: Line[] };
    const line = lines[Math.floor(random() * lines.length)];
    if (!line || random() < 0.3) continue;
    const text = `Client ${number}, text ${i}, of picture ${line.id}`;
    const saved = await ask(`/api/collections/${collection}/wordings`, {
      method: 'PUT',
      body: JSON.stringify({
        target: { kind: 'places', places: [line.appearanceId] },
        text,
        // Some write from a state that is old by then.
        since: random() < 0.8 ? line.revision : Math.max(0, line.revision - 3),
      }),
    });
    const answer = saved && (saved.ok || saved.status === 409) ? await saved.text().catch(() => null) : null;
    if (answer === null) {
      counts.refused++;
      if (saved?.status === 507) counts.full++;
      continue;
    }
    counts.saves++;
    if (saved!.status === 409) counts.conflicts++;
    acknowledged.push({ place: line.appearanceId, text });
  }
}

/** On a full disk Detto may refuse to start, in a sentence that says so; as soon as there is room, it has to. */
async function startAgain(): Promise<void> {
  for (;;)
    try {
      return await detto.start();
    } catch (error) {
      if (!(error instanceof StartError && / disk is full/.test(error.message))) throw error;
      counts.refusedStarts++;
      await wait(1_000);
    }
}

async function killer(): Promise<void> {
  while (!over) {
    await wait(9_000 + random() * 12_000);
    if (over) return;
    restarting = (async () => {
      await detto.kill();
      await wait(random() * 500);
      await startAgain();
    })();
    await restarting;
  }
}

async function filler(): Promise<void> {
  while (!over && disk.isSmall) {
    await wait(14_000 + random() * 10_000);
    if (over) return;
    counts.fills++;
    disk.fill();
    await wait(4_000 + random() * 6_000);
    disk.free();
  }
}

async function surveyor(): Promise<void> {
  while (!over) {
    await wait(3_000);
    const started = await ask(`/api/collections/${collection}/surveys`, { method: 'POST' });
    if (started?.ok) counts.surveys++;
  }
}

/** Surveys without being disturbed; gives back how it ended. */
async function wholeSurvey(): Promise<{ state: string; pagesDone: number; message: string | null }> {
  for (let i = 0; i < 300; i++) {
    const answer = await ask(`/api/collections/${collection}/surveys`, { method: 'POST' });
    let progress = answer?.ok
      ? ((await answer.json()) as { id: number; state: string; pagesDone: number; message: string | null })
      : null;
    for (let silent = 0; progress?.state === 'running'; silent++) {
      if (silent > 300) throw new Error('Detto does not answer any more.');
      await wait(300);
      const next = await ask(`/api/surveys/${progress.id}`);
      if (!next?.ok) continue;
      silent = 0;
      progress = (await next.json()) as typeof progress;
    }
    if (progress?.state === 'done') return progress;
    await wait(1000);
  }
  throw new Error('A survey that nothing disturbed did not end.');
}

async function run(): Promise<boolean> {
  await detto.start();
  const added = await ask('/api/collections', {
    method: 'POST',
    body: JSON.stringify({ kind: 'site', where: `${site.origin}/`, name: 'Soak', maxPages: 500 }),
  });
  collection = ((await added!.json()) as { id: string }).id;
  // Clients need something to word; every survey after this one is disturbed.
  await wholeSurvey();
  const until = wait(minutes * 60_000).then(() => (over = true));
  const work = [killer(), filler(), surveyor(), ...Array.from({ length: CLIENTS }, (_, i) => client(i))];
  await until;
  await Promise.all(work);
  await restarting;
  disk.free();
  const last = await wholeSurvey();
  const { total } = (await (await ask(`/api/collections/${collection}/lines?limit=1`))!.json()) as { total: number };
  const memory = detto.memory;
  const seconds = await detto.end();

  process.env['DETTO_DATA'] = data;
  process.env['DETTO_RESERVE_MB'] = '0';
  const { examine } = await import('../src/server/operations/doctor');
  const { database, closeDatabase } = await import('../src/server/db/database');
  const { wording, page } = await import('../src/server/db/schema');
  const found = await examine(false, () => undefined);
  const db = await database();
  const kept = new Set((await db.select().from(wording)).map((w) => `${w.appearanceId} ${w.text}`));
  const lost = acknowledged.filter((a) => !kept.has(`${a.place} ${a.text}`));
  const pages = (await db.select({ gone: page.gone, path: page.path }).from(page)).filter((p) => !p.gone);
  const good = pages.filter((p) => /\/page\d+$/.test(p.path)).length;
  await closeDatabase();

  const rows: [what: string, figure: string, holds: boolean][] = [
    [
      'texts acknowledged, of which lost',
      `${acknowledged.length}, ${lost.length}`,
      acknowledged.length > 0 && lost.length === 0,
    ],
    ['of them kept as one of two texts (409)', String(counts.conflicts), true],
    ['stored files, of which damaged', `${found.files}, ${found.damaged}`, found.files > 0 && found.damaged === 0],
    ['pages and pictures without a stored file', String(found.missing), found.missing === 0],
    ['last survey', `${last.state}, ${last.pagesDone} pages`, last.state === 'done'],
    ['good pages in it', `${good} of ${GOOD_PAGES}`, good === GOOD_PAGES],
    ['pictures listed', String(total), total >= GOOD_PAGES * 3],
    [
      'kills (-9), longest start after one',
      `${detto.kills}, ${Math.max(...detto.starts).toFixed(1)} s`,
      detto.kills > 0,
    ],
    ['times the disk was full', disk.isSmall ? String(counts.fills) : 'not tried: no disk could be mounted', true],
    ['answers that said so (507)', String(counts.full), true],
    ['starts refused because it was full', String(counts.refusedStarts), true],
    ['lists, saves, saves not acknowledged', `${counts.lists}, ${counts.saves}, ${counts.refused}`, counts.lists > 0],
    ['surveys asked for', String(counts.surveys), counts.surveys > 0],
    ['memory in the end', `${memory} MB`, memory > 0 && memory < MEMORY_LIMIT],
    ['end on SIGTERM', `${seconds.toFixed(1)} s`, seconds < END_LIMIT],
    ['files that others may read', String(found.open), found.open === 0],
  ];
  const width = Math.max(...rows.map(([what]) => what.length));
  process.stdout.write(
    `Soak of ${minutes} minute${minutes === 1 ? '' : 's'}, ${CLIENTS} clients, seed ${values.seed}\n`,
  );
  for (const [what, figure, holds] of rows)
    process.stdout.write(`${holds ? ' ' : '!'} ${what.padEnd(width)}  ${figure}\n`);
  for (const { place, text } of lost.slice(0, 10)) process.stdout.write(`! lost at ${place}: ${text}\n`);
  return rows.every(([, , holds]) => holds);
}

let holds = false;
try {
  holds = await run();
} catch (error) {
  process.stdout.write(`! ${error instanceof Error ? error.message : String(error)}\n`);
  over = true;
  await detto.kill();
} finally {
  await site.close();
  disk.remove();
  rmSync(scratch, { recursive: true, force: true });
}
process.exit(holds ? 0 : 1);
