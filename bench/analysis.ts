/**
 * `npm run bench -- analysis FOLDER…`: a collection of 10,000 real pictures looked at (text and things left out), with how
 * many a second, while the Galley is listed again and again; then how long grouping them takes.
 */
import { mkdirSync, mkdtempSync, readdirSync, rmSync, statSync, writeFileSync, copyFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import path from 'node:path';

const MOST = Number(process.env['PICTURES'] ?? 10_000);
const PER_PAGE = 100;
const data = mkdtempSync(path.join(tmpdir(), 'detto-analysis-'));
process.env['DETTO_DATA'] = path.join(data, 'detto');

function* filesOf(dir: string): Generator<string> {
  for (const entry of readdirSync(dir, { withFileTypes: true })) {
    const file = path.join(dir, entry.name);
    if (entry.isDirectory()) yield* filesOf(file);
    else if (entry.isFile() && /\.(?:jpe?g|png|webp|gif|svg)$/i.test(file)) yield file;
  }
}

const site = path.join(data, 'site');
mkdirSync(path.join(site, 'img'), { recursive: true });
let n = 0;
for (const folder of process.argv.slice(2))
  for (const file of filesOf(folder)) {
    if (n >= MOST || statSync(file).size === 0) continue;
    copyFileSync(file, path.join(site, 'img', `${n++}${path.extname(file).toLowerCase()}`));
  }
const names = readdirSync(path.join(site, 'img'));
for (let i = 0; i < names.length; i += PER_PAGE)
  writeFileSync(
    path.join(site, `${i}.html`),
    `<html lang="en"><title>Page ${i}</title>${names
      .slice(i, i + PER_PAGE)
      .map((name) => `<p>Words <img src="img/${name}" alt="Picture ${name}"></p>`)
      .join('')}`,
  );

const { insertCollection } = await import('../src/server/catalogue/collections');
const { startSurvey } = await import('../src/server/survey/surveys');
const { jobsIdle, startJobs, stopJobs } = await import('../src/server/pipeline/pipeline');
const { analysePictures } = await import('../src/server/analysis/analyse-pictures');
const { groupPictures } = await import('../src/server/analysis/grouping');
const { galleyLines } = await import('../src/server/catalogue/lines');
const { GalleyView } = await import('../src/contract/galley');
const { closeDatabase, database } = await import('../src/server/db/database');
const { picture } = await import('../src/server/db/schema');

const c = await insertCollection({ name: 'Many', kind: 'folder', root: site, maxPages: 100_000, maxDepth: 1 });
startJobs(['survey', 'audit']);
await startSurvey(c.id);
await jobsIdle();
const db = await database();
await db.update(picture).set({ analysisVersion: 0 });

const lists: number[] = [];
let over = false;
const listing = (async () => {
  for (let at = 0; !over; at = (at + 1500) % 9000) {
    const from = performance.now();
    await galleyLines(c.id, GalleyView.parse({ sort: at % 2 ? 'first' : 'reach' }), at, 40);
    lists.push(performance.now() - from);
    await new Promise((resolve) => setTimeout(resolve, 400));
  }
})();
const from = performance.now();
const seen = await analysePictures(c.id, new AbortController().signal);
const seconds = (performance.now() - from) / 1000;
over = true;
await listing;
const grouping = performance.now();
await groupPictures(c.id);
const at = (share: number) => [...lists].sort((a, b) => a - b)[Math.floor(share * (lists.length - 1))]!;
process.stdout.write(
  `${seen} pictures analysed in ${seconds.toFixed(0)} s, ${(seen / seconds).toFixed(1)} a second\n` +
    `the Galley listed ${lists.length} times meanwhile: median ${at(0.5).toFixed(0)} ms, 95 % within ${at(0.95).toFixed(0)} ms\n` +
    `grouped in ${((performance.now() - grouping) / 1000).toFixed(1)} s\n`,
);
await stopJobs();
await closeDatabase();
rmSync(data, { recursive: true, force: true });
