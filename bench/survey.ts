/**
 * `npm run bench -- survey FOLDER`: a folder of real pages, served by nginx on this machine, surveyed whole (fetch,
 * parse, names, pictures decoded and hashed, audit, database) beside `wget -r`, which only fetches. Medians of three.
 */
import { fork, spawn, spawnSync } from 'node:child_process';
import { mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import { createServer, type AddressInfo } from 'node:net';
import { tmpdir } from 'node:os';
import path from 'node:path';

const folder = process.argv[2] ?? '/usr/share/gimp/2.0/help/en';
const ROUNDS = 3;

const scratch = mkdtempSync(path.join(tmpdir(), 'detto-bench-'));
const port = await new Promise<number>((resolve) => {
  const probe = createServer().listen(0, '127.0.0.1', () => {
    const { port } = probe.address() as AddressInfo;
    probe.close(() => resolve(port));
  });
});
const site = `http://127.0.0.1:${port}/index.html`;
writeFileSync(
  path.join(scratch, 'nginx.conf'),
  `daemon off; pid ${scratch}/pid; error_log stderr crit; worker_processes 1; events {}
http { types { text/html html htm; text/css css; image/png png; image/jpeg jpg; image/svg+xml svg; image/gif gif; }
access_log off; client_body_temp_path ${scratch}/b; proxy_temp_path ${scratch}/p; fastcgi_temp_path ${scratch}/f; uwsgi_temp_path ${scratch}/u; scgi_temp_path ${scratch}/s;
server { listen 127.0.0.1:${port}; root ${folder}; } }`,
);
const nginx = spawn('nginx', ['-c', path.join(scratch, 'nginx.conf'), '-p', scratch], {
  stdio: ['ignore', 'ignore', 'inherit'],
});
await new Promise((resolve) => setTimeout(resolve, 500));

interface Round {
  pages: number;
  ms: number;
}

async function median(name: string, round: (i: number) => Promise<Round> | Round): Promise<{ rate: number }> {
  const rounds: Round[] = [];
  for (let i = 0; i < ROUNDS; i++) rounds.push(await round(i));
  rounds.sort((a, b) => a.ms - b.ms);
  const { pages, ms } = rounds[ROUNDS >> 1]!;
  const rate = (1000 * pages) / ms;
  process.stdout.write(`| ${name} | ${pages} | ${(ms / 1000).toFixed(1)} s | ${rate.toFixed(1)} |\n`);
  return { rate };
}

try {
  process.stdout.write('| | pages | time | pages a second |\n|---|---|---|---|\n');
  const fetched = await median('wget -r', (i) => {
    const into = path.join(scratch, `wget${i}`);
    const start = performance.now();
    spawnSync('wget', ['-q', '-r', '-l', 'inf', '-P', into, site]);
    const ms = performance.now() - start;
    const pages = spawnSync('find', [into, '-name', '*.html'], { encoding: 'utf8' }).stdout.split('\n').length - 1;
    return { pages, ms };
  });
  const surveyed = await median('Detto, everything', async (i) => {
    const start = performance.now();
    const child = fork('dist/workers/survey-once.js', [site], {
      stdio: ['ignore', 'inherit', 'inherit', 'ipc'],
      env: {
        ...process.env,
        DETTO_DATA: path.join(scratch, `data${i}`),
        DETTO_ALLOW_HOSTS: `127.0.0.1:${port}`,
        DETTO_LOG: 'silent',
        NODE_OPTIONS: '--disable-warning=ExperimentalWarning',
      },
    });
    const told = await new Promise<string>((resolve) => child.on('message', (message) => resolve(String(message))));
    return { pages: (JSON.parse(told) as { pages: number }).pages, ms: performance.now() - start };
  });
  process.stdout.write(`\nDetto has ${(surveyed.rate / fetched.rate).toFixed(2)} of the pages a second of wget -r.\n`);
} finally {
  nginx.kill();
  rmSync(scratch, { recursive: true, force: true });
}
