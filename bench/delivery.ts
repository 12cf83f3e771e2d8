/**
 * `npm run bench -- delivery [PAGES]`: a delivery of very many changed pages (20,000 by default, of 20 KB with three texts
 * each) and of one page of 4.5 MB: how soon the first previews are there, how much memory it takes above idle, how long the
 * loop of the process that serves people is held, and what the download takes.
 */
import { mkdirSync, mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import path from 'node:path';
import { monitorEventLoopDelay } from 'node:perf_hooks';
import { eq, lte, sql } from 'drizzle-orm';

const folder = mkdtempSync(path.join(tmpdir(), 'detto-bench-'));
process.env['DETTO_DATA'] = path.join(folder, 'data');
process.env['DETTO_LOG'] = 'silent';
const site = path.join(folder, 'site');
const PAGES = Number(process.argv[2] ?? 20_000);

const { insertCollection } = await import('../src/server/catalogue/collections');
const { database, closeDatabase } = await import('../src/server/db/database');
const { appearance, page, preparedDocument } = await import('../src/server/db/schema');
const { deliveryById, startDelivery } = await import('../src/server/delivery/deliveries');
const { performDelivery } = await import('../src/server/delivery/perform-delivery');
const { planDelivery } = await import('../src/server/delivery/plan');
const { prepareDocuments } = await import('../src/server/delivery/prepare-documents');
const { deliveryPreview, deliverySums } = await import('../src/server/delivery/preview');
const { jobsIdle, startJobs, stopJobs } = await import('../src/server/pipeline/pipeline');
const { startSurvey, surveyOver } = await import('../src/server/survey/surveys');
const { DOT } = await import('../src/server/testing/site');

const text = '<p>The boats leave at ten, and come back at four when the tide allows it.</p>\n'.repeat(240);
const html = `<!doctype html><html lang="en"><title>Sailings</title>\n${text}<p><img src="a.gif"><img src="b.gif"><img src="c.gif"></p>\n`;
const large = `<!doctype html><html lang="en"><title>Large</title>\n${text.repeat(250)}<p><img src="a.gif"><img src="b.gif"></p>\n`;

mkdirSync(site, { recursive: true });
for (const name of ['a', 'b', 'c'])
  writeFileSync(path.join(site, `${name}.gif`), Buffer.concat([DOT, Buffer.from(name)]));
writeFileSync(path.join(site, 'p1.html'), html);
const c = await insertCollection({ name: 'Many', kind: 'folder', root: site, maxPages: 10, maxDepth: 1 });
startJobs();
await surveyOver(await startSurvey(c.id));
await jobsIdle();
await stopJobs();
const db = await database();
for (let i = 2; i <= PAGES; i++) writeFileSync(path.join(site, `p${i}.html`), html);
await db.execute(sql`insert into page (collection_id, path, title, lang, charset, source, survey_id, reader)
  select collection_id, 'p' || i || '.html', 'Page ' || i, lang, charset, source, survey_id, reader
  from page, generate_series(2, ${sql.raw(String(PAGES))}) i where path = 'p1.html'`);
await db.execute(sql`insert into appearance (collection_id, page_id, picture_id, identity, position, reading, state, place, purpose, evidence, survey_id)
  select a.collection_id, p.id, a.picture_id, p.id || a.identity, a.position, a.reading, a.state, a.place, a.purpose, a.evidence, a.survey_id
  from appearance a join page first on first.id = a.page_id and first.path = 'p1.html', page p where p.path <> 'p1.html'`);
await db.update(appearance).set({ words: sql`'The quay at noon, ' || ${appearance.id}`, state: 'described' });

const say = (line: string) => process.stdout.write(`${line}\n`);
const megabytes = () => process.memoryUsage().rss / 1_048_576;
const following = (report: (share: number) => void = () => undefined) => ({
  signal: new AbortController().signal,
  report,
});

interface Measured<T> {
  is: T;
  seconds: number;
  /** Megabytes above those before it, at most. */
  more: number;
  /** Milliseconds for which the loop was held at most, and in 99 of 100 looks. */
  held: [most: number, usually: number];
}

/** What a piece of work takes. */
async function measured<T>(work: () => Promise<T>): Promise<Measured<T>> {
  const before = megabytes();
  let most = before;
  const timer = setInterval(() => (most = Math.max(most, megabytes())), 50);
  const delay = monitorEventLoopDelay({ resolution: 5 });
  delay.enable();
  const begun = performance.now();
  const is = await work();
  const seconds = (performance.now() - begun) / 1000;
  delay.disable();
  clearInterval(timer);
  return { is, seconds, more: most - before, held: [delay.max / 1e6, delay.percentile(99) / 1e6] };
}

const row = (what: string, { seconds, more, held }: Measured<unknown>) =>
  say(
    `| ${what} | ${seconds.toFixed(2)} s | ${more.toFixed(0)} MB | ${held.map((ms) => ms.toFixed(0)).join(' / ')} ms |`,
  );

try {
  say(`${PAGES} pages of ${(html.length / 1024).toFixed(0)} KB with three texts each\n`);
  say('| | time | memory above idle | loop held, at most / 99 of 100 |\n|---|---|---|---|');
  row('plan', await measured(() => planDelivery(c)));
  let first = 0;
  const begun = performance.now();
  const preparing = measured(() =>
    prepareDocuments(
      c,
      following(() => undefined),
    ),
  );
  while (first === 0) {
    if ((await deliverySums(c.id)).prepared >= 50) first = (performance.now() - begun) / 1000;
    else await new Promise((resolve) => setTimeout(resolve, 20));
  }
  row('preview of all', await preparing);
  say(`| of it, the first 50 | ${first.toFixed(2)} s | | |`);
  await db.update(preparedDocument).set({ due: 'write' }).where(lte(preparedDocument.position, 50));
  row('50 previews once more', await measured(() => prepareDocuments(c, following())));
  row('one part of the preview, read', await measured(() => deliveryPreview(c.id, 10_000)));
  row('plan, where nothing has changed', await measured(() => planDelivery(c)));
  const id = await startDelivery(c, 'zip', {});
  row('ZIP', await measured(() => performDelivery(c.id, id, following())));
  const { state, pages, file } = await deliveryById(c.id, id);
  say(`\n${state}: ${pages} pages, ${((file?.bytes ?? 0) / 1_048_576).toFixed(0)} MB\n`);

  writeFileSync(path.join(site, 'p1.html'), large);
  await db.delete(page).where(eq(page.collectionId, c.id));
  startJobs();
  await surveyOver(await startSurvey(c.id));
  await jobsIdle();
  await stopJobs();
  await db.update(appearance).set({ words: 'The quay at noon', state: 'described' });
  say(`One page of ${(large.length / 1_048_576).toFixed(1)} MB with two texts\n`);
  say('| | time | memory above idle | loop held, at most / 99 of 100 |\n|---|---|---|---|');
  await planDelivery(c);
  row('preview', await measured(() => prepareDocuments(c, following())));
  const diff = await startDelivery(c, 'diff', {});
  row('unified diff', await measured(() => performDelivery(c.id, diff, following())));
} finally {
  await closeDatabase();
  rmSync(folder, { recursive: true, force: true });
}
process.exit(0);
