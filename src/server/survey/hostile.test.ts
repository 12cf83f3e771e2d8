import { mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import path from 'node:path';
import { jest } from '@jest/globals';
import { and, eq, sql } from 'drizzle-orm';
import { DOT, TestSite, type Answer } from '../testing/site';

/** One page or picture costs its own place in the survey, and nothing else. */
jest.setTimeout(240_000);

let site: TestSite;
let data: string;
let timedOut = 0;

/** A PNG of which only the header is right: IHDR as in PNG (W3C), 11.2.1. */
function pngOf(width: number, height: number): Buffer {
  const head = Buffer.alloc(33);
  Buffer.from([0x89, 0x50, 0x4e, 0x47, 0x0d, 0x0a, 0x1a, 0x0a]).copy(head);
  head.writeUInt32BE(13, 8);
  head.write('IHDR', 12, 'latin1');
  head.writeUInt32BE(width, 16);
  head.writeUInt32BE(height, 20);
  head.set([8, 2, 0, 0, 0], 24);
  return head;
}

const random = (length: number) =>
  Array.from({ length }, (_, i) => String.fromCharCode(97 + ((i * 7919 + ((i * i) % 101)) % 26))).join('');
const page = (body: string): Answer => ({ body: `<!doctype html><html lang=en><title>Page</title><body>${body}` });
const png = (width: number, height: number): Answer => ({
  headers: { 'content-type': 'image/png' },
  body: pngOf(width, height),
});

const PAGES: Record<string, () => Answer> = {
  '/': () =>
    page(
      ['latin', 'han', 'huge', 'many', 'styled', 'poison', 'long', 'good']
        .map((name) => `<a href="/${name}">${name}</a>`)
        .join(''),
    ),
  '/latin': () => page(`<img src="/dot.gif" alt="${random(3000)}">`),
  '/han': () =>
    page(
      `<img src="/dot.gif" alt="${Array.from({ length: 1500 }, (_, i) => String.fromCharCode(0x4e00 + ((i * 7919) % 20000))).join('')}">`,
    ),
  '/huge': () =>
    page(
      '<img src="/60000.png" alt="Huge"><img src="/100000.png" alt="Larger"><img src="/slow.gif" width="9e9" height="99999999999">',
    ),
  '/many': () => page(`<div>${'<img src=/dot.gif>'.repeat(200_000)}</div>`),
  '/styled': () => page('<link rel=stylesheet href="/css/0.css"><img src="/dot.gif" alt="Styled">'),
  '/poison': () => page('<title>poison</title><img src="/dot.gif" alt="Cannot be stored">'),
  '/long': () => page(`<a href="/${'x'.repeat(60_000)}">far</a>`),
  '/good': () => page('<img src="/dot.gif" alt="A good page">'),
};

beforeAll(async () => {
  site = await TestSite.open(({ url = '' }) => {
    if (url === '/dot.gif') return { headers: { 'content-type': 'image/gif' }, body: DOT };
    if (url === '/60000.png') return png(60_000, 60_000);
    if (url === '/100000.png') return png(100_000, 100_000);
    // Its first answer never comes.
    if (url === '/slow.gif')
      return timedOut++ === 0 ? 'silence' : { headers: { 'content-type': 'image/gif' }, body: DOT };
    const css = /^\/css\/(.*)\.css$/.exec(url)?.[1];
    if (css !== undefined)
      return {
        headers: { 'content-type': 'text/css' },
        body: Array.from({ length: 20 }, (_, i) => `@import "/css/${css}-${i}.css";`).join('\n'),
      };
    return PAGES[url]?.();
  });
  data = mkdtempSync(path.join(tmpdir(), 'detto-hostile-'));
  process.env['DETTO_DATA'] = path.join(data, 'data');
  process.env['DETTO_ALLOW_HOSTS'] = site.host;
});

afterAll(async () => {
  const { stopJobs } = await import('../pipeline/pipeline');
  const { closeFiles } = await import('../blobs/blobs');
  const { closeDatabase } = await import('../db/database');
  await stopJobs();
  await closeFiles();
  await closeDatabase();
  await site.close();
  rmSync(data, { recursive: true, force: true });
});

test('long texts, huge pictures, endless pages and sheets, and what cannot be stored: the rest of the survey is there', async () => {
  const { insertCollection } = await import('../catalogue/collections');
  const { startSurvey, surveyOver } = await import('./surveys');
  const { surveyProgress } = await import('./survey-progress');
  const { logLines } = await import('./survey-log');
  const { startJobs } = await import('../pipeline/pipeline');
  startJobs();
  const { database } = await import('../db/database');
  const { appearance, picture } = await import('../db/schema');
  const db = await database();
  // A stand-in for whatever a database may refuse of a page.
  await db.execute(sql`create function refuse() returns trigger language plpgsql as $$
    begin if new.path like '%/poison' then raise exception 'refused'; end if; return new; end $$`);
  await db.execute(sql`create trigger refuse before insert on page for each row execute function refuse()`);
  const c = await insertCollection({
    name: 'Hostile',
    kind: 'site',
    root: `${site.origin}/`,
    maxPages: 100,
    maxDepth: 3,
  });
  const id = await startSurvey(c.id);
  await surveyOver(id);
  expect(await surveyProgress(id)).toMatchObject({ state: 'done', message: null, pagesDone: 8 });
  const lines = await logLines(id, 'all', 0, 5000);
  const told = (ending: string) => lines.find((l) => l.address.endsWith(ending));
  expect(told('/poison')).toMatchObject({ state: 'skipped', reason: { id: 'skip.not-storable' } });
  expect(told('/many')).toMatchObject({
    state: 'done',
    reason: { id: 'note.pictures-limited', values: { read: 5_000, of: 200_000 } },
  });
  expect(
    lines.find(
      (l) => l.reason?.id === 'skip.long-address' && Math.abs(Number(l.reason.values?.['length']) - 60_024) < 5,
    ),
  ).toMatchObject({
    state: 'skipped',
  });
  // 1 of the page, 20 it imports, 29 of theirs; every one of them in the account.
  const sheets = lines.filter((l) => l.kind === 'stylesheet');
  expect(site.asked.filter((url) => url.startsWith('/css/'))).toHaveLength(50);
  expect(sheets.filter((l) => l.state === 'done')).toHaveLength(50);
  expect(sheets.find((l) => l.state === 'skipped')?.reason).toEqual({
    id: 'skip.too-many-sheets',
    values: { limit: 50 },
  });
  // The picture that did not answer was asked for once more.
  expect(told('/slow.gif')).toMatchObject({ state: 'done' });

  const kept = await db
    .select({ src: picture.src, width: picture.width, words: appearance.wordsKey })
    .from(appearance)
    .innerJoin(picture, eq(picture.id, appearance.pictureId))
    .where(and(eq(appearance.collectionId, c.id), eq(appearance.gone, false)));
  const pictureOf = (name: string) => kept.find((k) => k.src?.endsWith(name));
  expect(pictureOf('/60000.png')).toMatchObject({ width: 60_000, words: 'huge' });
  expect(pictureOf('/100000.png')).toMatchObject({ width: 100_000, words: 'larger' });
  expect(kept.filter((k) => (k.words?.length ?? 0) >= 1500)).toHaveLength(2);
  expect(kept.length).toBeLessThan(5_100);

  // So many of one picture are audited in portions: each once.
  const unnamed = (await db.execute(sql`select count(*)::int n, count(distinct appearance_id)::int places from finding
    where rule = 'no-alt' and not ignored`)) as unknown as { rows: { n: number; places: number }[] };
  expect(unnamed.rows).toEqual([{ n: 5001, places: 5001 }]);

  // Typed by hand, as long.
  const { saveWords } = await import('../wordings/wordings');
  const [place] = await db
    .select({ id: appearance.id })
    .from(appearance)
    .where(eq(appearance.collectionId, c.id))
    .limit(1);
  const text = random(9000);
  await saveWords({ collectionId: c.id, appearanceIds: [place!.id], text, act: 'long-text', by: 'person' });
  const [now] = await db.select({ words: appearance.words }).from(appearance).where(eq(appearance.id, place!.id));
  expect(now!.words).toBe(text);
  const after = (await db.execute(sql`select count(*)::int n, count(distinct appearance_id)::int places from finding
    where rule = 'no-alt' and not ignored`)) as unknown as { rows: { n: number; places: number }[] };
  expect(after.rows[0]!.n).toBe(after.rows[0]!.places);
});

test('a survey at which the process ended twice waits, with the address it was at', async () => {
  const { insertCollection } = await import('../catalogue/collections');
  const { resumeSurvey, surveyOver } = await import('./surveys');
  const { surveyProgress } = await import('./survey-progress');
  const { startJobs, stopJobs } = await import('../pipeline/pipeline');
  await stopJobs();
  const { database } = await import('../db/database');
  const { survey } = await import('../db/schema');
  const db = await database();
  const begun = async (name: string, starts: number) => {
    const c = await insertCollection({ name, kind: 'site', root: `${site.origin}/good`, maxPages: 1, maxDepth: 0 });
    const [row] = await db
      .insert(survey)
      .values({ collectionId: c.id, state: 'running', starts, reading: [`${site.origin}/freezes`] })
      .returning({ id: survey.id });
    return row!.id;
  };
  const twice = await begun('Twice', 2);
  const once = await begun('Once', 1);
  startJobs();
  await surveyOver(twice);
  expect(await surveyProgress(twice)).toMatchObject({
    state: 'stopped',
    message: { id: 'survey.ended-twice', values: { addresses: [`${site.origin}/freezes`] } },
  });
  await surveyOver(once);
  expect(await surveyProgress(once)).toMatchObject({ state: 'done' });
  const [settled] = await db.select({ starts: survey.starts }).from(survey).where(eq(survey.id, once));
  expect(settled!.starts).toBe(0);
  await resumeSurvey(twice);
  await surveyOver(twice);
  expect(await surveyProgress(twice)).toMatchObject({ state: 'done' });
});

test('a survey that was stopped stays stopped, whatever ends the process before its job was over', async () => {
  const { gather } = await import('./surveys');
  const { insertCollection } = await import('../catalogue/collections');
  const { database } = await import('../db/database');
  const { survey } = await import('../db/schema');
  const db = await database();
  const c = await insertCollection({
    name: 'Held',
    kind: 'site',
    root: `${site.origin}/good`,
    maxPages: 1,
    maxDepth: 0,
  });
  const [row] = await db
    .insert(survey)
    .values({ collectionId: c.id, state: 'stopped', phase: 'auditing' })
    .returning({ id: survey.id });
  const job = { signal: new AbortController().signal, report: () => undefined };
  expect(await gather(row!.id, job)).toBe(true);
  const [after] = await db.select().from(survey).where(eq(survey.id, row!.id));
  expect(after).toMatchObject({ state: 'stopped', phase: 'auditing', starts: 0 });
});

test('a disk that is nearly full stops a survey in words, and it goes on when there is room', async () => {
  const { config } = await import('../config');
  const { insertCollection } = await import('../catalogue/collections');
  const { resumeSurvey, startSurvey, surveyOver } = await import('./surveys');
  const { surveyProgress } = await import('./survey-progress');
  const c = await insertCollection({
    name: 'Full',
    kind: 'site',
    root: `${site.origin}/good`,
    maxPages: 1,
    maxDepth: 0,
  });
  const { reserve } = config();
  config().reserve = 2 ** 50;
  const id = await startSurvey(c.id);
  await surveyOver(id);
  expect(await surveyProgress(id)).toMatchObject({
    state: 'stopped',
    pagesDone: 0,
    message: { id: 'survey.disk-nearly-full', values: { reserve: { id: 'weight.gb', values: { n: 2 ** 20 } } } },
  });
  config().reserve = reserve;
  await resumeSurvey(id);
  await surveyOver(id);
  expect(await surveyProgress(id)).toMatchObject({ state: 'done', pagesDone: 1, message: null });
});

test('a stored page or picture that was damaged is fetched again by the next survey', async () => {
  const { insertCollection } = await import('../catalogue/collections');
  const { startSurvey, surveyOver } = await import('./surveys');
  const { readFile } = await import('../blobs/blobs');
  const { database } = await import('../db/database');
  const { file, page: pages, picture } = await import('../db/schema');
  const db = await database();
  const c = await insertCollection({
    name: 'Damaged',
    kind: 'site',
    root: `${site.origin}/good`,
    maxPages: 1,
    maxDepth: 0,
  });
  await surveyOver(await startSurvey(c.id));
  const [own] = await db.select({ source: pages.source }).from(pages).where(eq(pages.collectionId, c.id));
  const [shown] = await db.select({ sha256: picture.sha256 }).from(picture).where(eq(picture.collectionId, c.id));
  const hashes = [own!.source, shown!.sha256!];
  // Other bytes stand there than those which were stored.
  for (const sha256 of hashes) {
    await db
      .update(file)
      .set({ start: sql`${file.start} + 1` })
      .where(eq(file.sha256, sha256));
    await expect(readFile(sha256)).rejects.toMatchObject({ code: 'damaged-file' });
  }
  await surveyOver(await startSurvey(c.id));
  expect((await readFile(hashes[0]!)).toString()).toContain('A good page');
  expect(await readFile(hashes[1]!)).toEqual(DOT);
});
