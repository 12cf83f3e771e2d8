/**
 * `npm run bench -- rounds [PICTURES] [PER_MINUTE]`: drafts of the evidence drafter a second; a round against the stand-in service
 * as fast as its rate limit allows, with the memory of the process and the Galley meanwhile; and a round that is killed 20
 * times, with what the service counted.
 */
import { fork, type ChildProcess } from 'node:child_process';
import { mkdirSync, mkdtempSync, readdirSync, rmSync, statSync, writeFileSync } from 'node:fs';
import type { AddressInfo } from 'node:net';
import { tmpdir } from 'node:os';
import path from 'node:path';
import sharp from 'sharp';
import { draftingService } from '../demo/drafting-service';
import engine from '../scripts/engine.json';
import { composeDraft, NOTHING_KNOWN } from '../src/core/draft/compose';
import { readSource } from '../src/core/formats/html/read-page';

const PICTURES = Number(process.argv[2] ?? 2_000);
const PER_MINUTE = Number(process.argv[3] ?? 1_200);
const KILLED = 400;
const KILLS = 20;
const ON_PAGE = 50;

const scratch = mkdtempSync(path.join(tmpdir(), 'detto-bench-'));

/** A folder of pages with so many pictures, each of another content and in a context of its own. */
async function folderOf(count: number): Promise<string> {
  const folder = path.join(scratch, `site-${count}`);
  mkdirSync(folder);
  for (let page = 0; page * ON_PAGE < count; page++) {
    const images: string[] = [];
    for (let i = page * ON_PAGE; i < Math.min(count, (page + 1) * ON_PAGE); i++) {
      // Its number in blocks of black and white, so that no two are one once they are encoded.
      const pixels = Buffer.alloc(128 * 96, 40);
      for (let bit = 0; bit < 16; bit++)
        if ((i >> bit) & 1) for (let y = 0; y < 96; y++) pixels.fill(220, y * 128 + bit * 8, y * 128 + bit * 8 + 8);
      const picture = sharp(pixels, { raw: { width: 128, height: 96, channels: 1 } }).png();
      writeFileSync(path.join(folder, `p${i}.png`), await picture.toBuffer());
      images.push(
        `<p>Boat number${i} at quay${i * 7}, seen by keeper${i * 3}.</p><img src="p${i}.png" width="640" height="480">`,
      );
    }
    writeFileSync(
      path.join(folder, `page${page}.html`),
      `<html lang="en"><title>Tones ${page}</title>${images.join('')}`,
    );
  }
  return folder;
}

const service = draftingService(null, { balance: 1e9 });
await new Promise<void>((resolve) => service.listen(0, '127.0.0.1', resolve));
const { port } = service.address() as AddressInfo;
const control = async (body: object) =>
  (await (await fetch(`http://127.0.0.1:${port}/control`, { method: 'POST', body: JSON.stringify(body) })).json()) as {
    requests: number;
    answered: number;
    repeated: number;
    pictures: Record<string, number>;
  };

interface Told {
  state: string;
  total: number;
  drafted: number;
  seconds: number;
  drafts: number;
  places: number;
  galley: number;
}

/** A process that does the round on a data folder. */
function start(data: string, folder: string, perMinute: number) {
  const child: ChildProcess = fork(
    'dist/bench/round-once.js',
    [folder, `http://127.0.0.1:${port}/v1`, String(perMinute)],
    {
      stdio: ['ignore', 'inherit', 'inherit', 'ipc'],
      execArgv: engine.flags,
      env: {
        ...process.env,
        ...engine.env,
        DETTO_DATA: data,
        DETTO_ALLOW_HOSTS: `127.0.0.1:${port}`,
        DETTO_LOG: 'silent',
      },
    },
  );
  const memory: number[] = [];
  const ready = new Promise<void>((resolve) => child.on('message', (m) => m === 'ready' && resolve()));
  const told = new Promise<Told | null>((resolve) => {
    child.on('message', (m) => {
      const text = String(m);
      if (text.startsWith('memory ')) memory.push(Number(text.slice(7)) / 1_048_576);
      else if (text.startsWith('{')) resolve(JSON.parse(text) as Told);
    });
    child.on('exit', () => resolve(null));
  });
  return { child, ready, told, memory };
}

const sizeOf = (folder: string): number =>
  readdirSync(folder, { recursive: true, withFileTypes: true })
    .filter((e) => e.isFile())
    .reduce((sum, e) => sum + statSync(path.join(e.parentPath, e.name)).size, 0);
const line = (what: string, value: string) => process.stdout.write(`  ${what.padEnd(58)}${value}\n`);

try {
  const [appearance] = readSource(
    '<h1>Puffins on the north cliff</h1><p>They come and go all morning.</p><figure><img src=puffins-on-cliff.jpg><figcaption>Puffins, in May. Photo: A. Marr</figcaption></figure><p>They stay until August.</p>',
  ).appearances;
  const begun = performance.now();
  let n = 0;
  while (performance.now() - begun < 2_000) {
    composeDraft({ ...NOTHING_KNOWN, appearance: appearance!, language: 'en' });
    n++;
  }
  line('evidence drafter, drafts a second from evidence at hand', String(Math.round(n / 2)));

  const folder = await folderOf(PICTURES);
  const data = path.join(scratch, 'data');
  await control({ reset: true });
  const run = start(data, folder, PER_MINUTE);
  await run.ready;
  const before = sizeOf(path.join(data, 'database'));
  const told = (await run.told)!;
  // What is surely decorative is not asked about.
  const { answered: calls } = await control({});
  const least = calls / (PER_MINUTE / 60);
  line(`round of ${told.total}, ${told.state}, drafted, of them asked`, `${told.drafted}, ${calls}`);
  line(
    'seconds, and the least that its rate allows',
    `${told.seconds.toFixed(1)}, ${least.toFixed(1)} (${(told.seconds / least).toFixed(2)})`,
  );
  const quarter = Math.max(1, Math.floor(run.memory.length / 4));
  line(
    'memory after a quarter, and at most after that',
    `${Math.round(run.memory[quarter] ?? 0)} MB, ${Math.round(Math.max(...run.memory.slice(quarter)))} MB`,
  );
  line('slowest list of the Galley meanwhile', `${Math.round(told.galley)} ms`);
  line(
    'database growth for a draft',
    `${((sizeOf(path.join(data, 'database')) - before) / told.drafted / 1024).toFixed(1)} KB`,
  );

  const small = await folderOf(KILLED);
  const killed = path.join(scratch, 'killed');
  await control({ reset: true, delayMs: 40 });
  let next = start(killed, small, 60_000);
  await next.ready;
  for (let i = 0; i < KILLS; i++) {
    const { answered } = await control({});
    // At another point of the way each time, once something was answered since the last start.
    for (let now = answered; now < answered + 6 + ((i * 5) % 11); now = (await control({})).answered)
      await new Promise((resolve) => setTimeout(resolve, 15));
    next.child.kill('SIGKILL');
    await next.told;
    next = start(killed, small, 60_000);
  }
  const end = (await next.told)!;
  const counts = await control({});
  line(`round of ${end.total}, killed ${KILLS} times, ${end.state}, drafted`, String(end.drafted));
  line('drafts, places with one', `${end.drafts}, ${end.places}`);
  line(
    'answers that were paid, and pictures asked about more than once',
    `${counts.answered}, ${Object.values(counts.pictures).filter((c) => c > 1).length}`,
  );
  line('answers from memory, after a kill', String(counts.repeated));
} finally {
  service.close();
  service.closeAllConnections();
  rmSync(scratch, { recursive: true, force: true });
}
