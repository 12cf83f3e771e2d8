import { fork, type ChildProcess } from 'node:child_process';
import { mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import path from 'node:path';
import { jest } from '@jest/globals';
import type { Collection } from '../catalogue/collections';
import { DOT, TestSite, type Answer } from '../testing/site';

/** Surveys that are taken up again, and surveys that come again: nothing twice, nothing lost, no more asked than needed. */
jest.setTimeout(240_000);

let site: TestSite;
let data: string;
let c: Collection;
let version = 1;
let gone = false;

beforeAll(async () => {
  site = await TestSite.open(({ url, headers }): Answer | undefined => {
    if (url === '/dot.gif') {
      if (headers['if-none-match'] === '"dot"') return { status: 304 };
      return { headers: { 'content-type': 'image/gif', etag: '"dot"' }, body: DOT };
    }
    if (url === '/')
      return { body: `<html lang=en><title>Start</title>${'/a /b /c'.replace(/\/\w/g, '<a href="$&">x</a>')}` };
    if (url === '/a') {
      const etag = `"a${version}"`;
      if (headers['if-none-match'] === etag) return { status: 304 };
      return { headers: { etag }, body: `<html lang=en><title>A${version}</title><img src="dot.gif" alt="Dot">` };
    }
    if (url === '/b') return { body: '<html lang=en><title>B</title><img src="dot.gif">' };
    if (url === '/c' && !gone) return { body: '<html lang=en><title>C</title><img src="dot.gif" alt="">' };
    return undefined;
  });
  data = mkdtempSync(path.join(tmpdir(), 'detto-again-'));
  process.env['DETTO_DATA'] = path.join(data, 'data');
  process.env['DETTO_ALLOW_HOSTS'] = site.host;
  const { insertCollection } = await import('../catalogue/collections');
  c = await insertCollection({ name: 'Again', kind: 'site', root: `${site.origin}/`, maxPages: 100, maxDepth: 5 });
});

afterAll(async () => {
  const { stopJobs } = await import('../pipeline/pipeline');
  const { closeDatabase } = await import('../db/database');
  await stopJobs();
  await closeDatabase();
  await site.close();
  rmSync(data, { recursive: true, force: true });
});

async function survey() {
  const { startSurvey, surveyOver } = await import('./surveys');
  const { pastSurveys } = await import('./survey-progress');
  const { startJobs } = await import('../pipeline/pipeline');
  startJobs();
  await surveyOver(await startSurvey(c.id));
  return (await pastSurveys(c.id))[0]!;
}

test('a second survey asks only whether things have changed, and says what is new, changed and gone', async () => {
  expect((await survey()).summary).toMatchObject({
    pages: 4,
    newPages: 4,
    changedPages: 0,
    gonePages: 0,
    described: 1,
    missing: 1,
    decorative: 1,
  });
  site.asked.splice(0);
  expect((await survey()).summary).toMatchObject({
    pages: 4,
    newPages: 0,
    changedPages: 0,
    gonePages: 0,
    described: 1,
  });
  expect(site.asked.filter((url) => url === '/dot.gif')).toHaveLength(1);
  version = 2;
  gone = true;
  const third = await survey();
  expect(third).toMatchObject({
    state: 'done',
    summary: { pages: 3, newPages: 0, changedPages: 1, gonePages: 1, decorative: 0 },
  });
  const { surveyLog } = await import('./survey-log');
  const account = await surveyLog(third.id, { what: 'not-found', from: 0 });
  expect(account.lines.map((l) => [l.address.replace(site.origin, ''), l.status, l.foundOn])).toEqual([
    ['/c', 404, `${site.origin}/`],
  ]);
});

/** Pages of the long site, each with a picture of its own and a link to the next two. */
const PAGES = 60;

test('a process that is killed twenty times goes on from where it was, with nothing twice and nothing lost', async () => {
  const long = await TestSite.open(({ url }) => {
    const at = Number(/\d+/.exec(url ?? '')?.[0] ?? 0);
    if (url?.startsWith('/p'))
      return { headers: { 'content-type': 'image/gif' }, body: Buffer.concat([DOT, Buffer.from(String(at))]) };
    if (at >= PAGES) return undefined;
    const links = [at + 1, at + 2].filter((n) => n < PAGES).map((n) => `<a href="/${n}">x</a>`);
    return {
      body: `<html lang=en><title>${at}</title><img src="/p${at}.gif" alt="Picture ${at}">${links.join('')}`,
      delay: 150,
    };
  });
  const folder = mkdtempSync(path.join(tmpdir(), 'detto-kill-'));
  try {
    const run = (): { child: ChildProcess; done: Promise<string | null> } => {
      const child = fork(path.resolve('dist/workers/survey-once.js'), [`${long.origin}/0`], {
        env: {
          ...process.env,
          NODE_OPTIONS: '',
          DETTO_DATA: folder,
          DATABASE_URL: '',
          DETTO_ALLOW_HOSTS: long.host,
          DETTO_LOG: 'silent',
        },
        stdio: ['ignore', 'ignore', 'inherit', 'ipc'],
      });
      let told: string | null = null;
      child.on('message', (message) => (told = String(message)));
      return { child, done: new Promise((resolve) => child.on('exit', () => resolve(told))) };
    };
    let told: string | null = null;
    let kills = 0;
    // Moments from a fixed sequence, spread over the start, the gathering and the end.
    for (; kills < 20 && told === null; kills++) {
      const { child, done } = run();
      const timer = setTimeout(() => child.kill('SIGKILL'), 300 + ((kills * 7919) % 1700));
      told = await done;
      clearTimeout(timer);
    }
    // Slow enough that it was never done before.
    expect(kills).toBe(20);
    for (let tries = 0; told === null && tries < 3; tries++) told = await run().done;
    expect(JSON.parse(told ?? '{}')).toMatchObject({
      state: 'done',
      pages: PAGES,
      paths: PAGES,
      pictures: PAGES,
      appearances: PAGES,
      surveys: 1,
      // 60 pages and 60 pictures met, and none of them waits.
      met: 2 * PAGES,
      waiting: 0,
    });
  } finally {
    await long.close();
    rmSync(folder, { recursive: true, force: true });
  }
});
