import { mkdirSync, mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import { execFile } from 'node:child_process';
import http from 'node:http';
import net, { type AddressInfo } from 'node:net';
import { tmpdir } from 'node:os';
import path from 'node:path';
import { promisify } from 'node:util';
import { eq } from 'drizzle-orm';
import { bookFiles, PIXEL, zipOf } from '@/core/formats/testing/packages';

/** A found page in a browser sends nothing and opens nothing but what Detto serves: a canary counts what reaches it. */
const folder = mkdtempSync(path.join(tmpdir(), 'detto-found-'));
process.env['DETTO_DATA'] = path.join(folder, 'data');
const root = path.join(folder, 'set');

const { insertCollection } = await import('./collections');
const { foundPage } = await import('./page-view');
const { closeDatabase, database } = await import('../db/database');
const { appearance, page } = await import('../db/schema');
const { findChromium } = await import('../net/chromium');
const { startJobs, stopJobs } = await import('../pipeline/pipeline');
const { startSurvey, surveyOver } = await import('../survey/surveys');

let reached: string[] = [];
const canary = net.createServer((socket) => {
  reached.push('a connection');
  socket.on('data', (data) => reached.push(data.toString('latin1').split('\r\n')[0]!));
  socket.on('error', () => undefined);
});
let served: http.Server;
let shown = new Response('');
let c: Awaited<ReturnType<typeof insertCollection>>;
const portOf = (server: net.Server) => (server.address() as AddressInfo).port;

/** All that makes a browser connect, as far as the HTML Living Standard, Resource Hints and CSS know it. */
const reaching = (to: string, xml: boolean) => {
  const rels = [
    'preconnect',
    'dns-prefetch',
    'prefetch',
    'preload',
    'modulepreload',
    'prerender',
    'stylesheet',
    'icon',
  ];
  const head = [
    `<meta http-equiv="refresh" content="0;url=${to}refresh"/>`,
    ...rels.map((rel) => `<link rel="${rel}" href="${to}${rel}" as="image"/>`),
    xml ? '' : `<LINK\nREL=preconnect HREF=${to}unquoted>`,
    `<style>@import url("${to}import"); body { background: url("${to}background") }</style>`,
  ].join('\n');
  const body = [
    '<p>Before <img src="dot.png" alt="A dot"/> after.</p>',
    `<img src="${to}picture" srcset="${to}candidate 2x" alt=""/>`,
    xml
      ? ''
      : `<iframe src="${to}frame"></iframe><object data="${to}object"></object><video poster="${to}poster"></video>`,
    xml ? '' : `<script>new Image().src = "${to}script"</script><img src=x onerror="fetch('${to}handler')">`,
    `<svg xmlns="http://www.w3.org/2000/svg"><image href="${to}image"/><use href="${to}use#a"/></svg>`,
    `<a href="${to}link">A link</a><link rel="preconnect" href="${to}in-body"/>`,
  ].join('\n');
  return { head, body };
};

beforeAll(async () => {
  await Promise.all([new Promise<void>((done) => canary.listen(0, '127.0.0.1', done))]);
  const to = `http://127.0.0.1:${portOf(canary)}/`;
  mkdirSync(root, { recursive: true });
  const { head, body } = reaching(to, false);
  const html = `<!doctype html><html lang="en"><head><title>Page</title>${head}</head><body>${body}</body></html>`;
  writeFileSync(path.join(root, 'page.html'), html);
  writeFileSync(path.join(root, 'dot.png'), PIXEL);
  writeFileSync(
    path.join(root, 'letter.eml'),
    [
      'From: a@isle.example\r\nTo: b@isle.example\r\nSubject: Letter\r\nMIME-Version: 1.0',
      `Content-Type: text/html; charset=utf-8\r\n\r\n${html}`,
    ].join('\r\n'),
  );
  const inBook = reaching(to, true);
  const chapter = `<html xmlns="http://www.w3.org/1999/xhtml" lang="en"><head><title>One</title>${inBook.head}</head><body>${inBook.body}</body></html>`;
  writeFileSync(path.join(root, 'book.epub'), await zipOf({ ...bookFiles(['<p>x</p>']), ...withChapter(chapter) }));
  c = await insertCollection({ name: 'Found', kind: 'folder', root, maxPages: 100, maxDepth: 3 });
  startJobs();
  await surveyOver(await startSurvey(c.id));
  served = http.createServer((request, response) => {
    if (!request.url!.startsWith('/page')) return void response.writeHead(404).end();
    void shown.text().then((text) => response.writeHead(200, Object.fromEntries(shown.headers)).end(text));
  });
  await new Promise<void>((done) => served.listen(0, '127.0.0.1', done));
});
afterAll(async () => {
  canary.close();
  served.close();
  await stopJobs();
  await closeDatabase();
  rmSync(folder, { recursive: true, force: true });
});

/** The chapter of the sample book, whatever its name there. */
const withChapter = (chapter: string) => {
  const name = Object.keys(bookFiles(['<p>x</p>'])).find((n) => /\.xhtml$/.test(n) && !/nav/.test(n))!;
  return { [name]: chapter };
};

/** The document as Chromium has it after some time. Plain, because Playwright switches off what connects ahead. */
async function openedIn(address: string): Promise<string> {
  const profile = mkdtempSync(path.join(folder, 'profile-'));
  const flags = ['--headless', '--no-sandbox', '--disable-gpu', '--no-first-run', '--virtual-time-budget=3000'];
  const args = [...flags, `--user-data-dir=${profile}`, '--dump-dom', address];
  const { stdout } = await promisify(execFile)(findChromium(null)!, args, { timeout: 60_000 });
  return stdout;
}

test('a page, a chapter and a message that would connect in every known way connect nowhere', async () => {
  const db = await database();
  const rows = await db
    .select({ id: appearance.id, format: page.format })
    .from(appearance)
    .innerJoin(page, eq(page.id, appearance.pageId))
    .where(eq(appearance.collectionId, c.id))
    .orderBy(appearance.id);
  for (const format of ['html', 'epub', 'mail'] as const) {
    const place = rows.find((r) => r.format === format);
    expect([format, place === undefined]).toEqual([format, false]);
    shown = await foundPage(c.id, place!.id, { notDrawn: '', here: '' });
    reached = [];
    expect(await openedIn(`http://127.0.0.1:${portOf(served)}/page`)).toContain('A link');
    expect([format, reached]).toEqual([format, []]);
  }
});

test('the canary is reached by a hint that nobody took out', async () => {
  const page = `<!doctype html><title>x</title><link rel="preconnect" href="http://127.0.0.1:${portOf(canary)}/">A link`;
  shown = new Response(page, {
    headers: { 'content-type': 'text/html', 'content-security-policy': "default-src 'none'" },
  });
  reached = [];
  await openedIn(`http://127.0.0.1:${portOf(served)}/page`);
  expect(reached).toEqual(['a connection']);
});
