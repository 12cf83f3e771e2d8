import { readdirSync } from 'node:fs';
import { mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import path from 'node:path';

/**
 * The HTTP interface as a whole: every method of every route, found in the folder, so that a new one is tested as well.
 * Requests to it do not pass the proxy of pages, since that holds bodies and cuts them off.
 */
const folder = mkdtempSync(path.join(tmpdir(), 'detto-routes-'));
process.env['DETTO_DATA'] = folder;
const { closeDatabase } = await import('@/server/db/database');
const { insertCollection } = await import('@/server/catalogue/collections');
const { stopJobs } = await import('@/server/pipeline/pipeline');
const { JSON_LIMIT, LIST_LIMIT } = await import('@/server/http/bodies');
const { faultOf } = await import('./answering');

type Method = (request: Request, context: { params: Promise<Record<string, string>> }) => Promise<Response>;
const METHODS = ['GET', 'POST', 'PUT', 'PATCH', 'DELETE'] as const;
const root = path.resolve('src/app/api');
const files = (readdirSync(root, { recursive: true }) as string[])
  .filter((f) => path.basename(f) === 'route.ts')
  .sort();
const routes: [name: string, method: (typeof METHODS)[number], call: Method][] = [];
for (const file of files) {
  const module = (await import(path.join(root, file))) as Record<string, Method>;
  for (const method of METHODS)
    if (module[method]) routes.push([`${method} /api/${path.dirname(file)}`, method, module[method]]);
}
const params = Promise.resolve({
  ...{
    collection: 'isle',
    survey: '1',
    act: 'act-of-tests',
    view: '1',
    draft: '1',
    round: '1',
    service: '1',
    conflict: '1',
  },
  ...{ facet: 'state', format: 'csv', form: 'pages.zip', name: 'en', upload: crypto.randomUUID(), picture: '1' },
});
const ask = (method: string, headers: Record<string, string>, body?: BodyInit) =>
  new Request('http://127.0.0.1/api/x?name=x&path=a.html&act=act-of-lists', {
    ...{ method, headers: { host: '127.0.0.1', ...headers } },
    ...(body === undefined ? {} : { body }),
  });

beforeAll(async () => {
  await insertCollection({ name: 'Isle', kind: 'folder', root: folder, maxPages: 1, maxDepth: 1 });
});
afterAll(async () => {
  await stopJobs();
  await closeDatabase();
  rmSync(folder, { recursive: true, force: true });
});

test('there are as many routes as anybody would miss', () => expect(routes.length).toBeGreaterThan(50));

test.each(routes)('%s is not given under a foreign name, nor to a page elsewhere', async (_, method, call) => {
  const foreign = await call(ask(method, { host: 'evil.test' }), { params });
  expect([foreign.status, foreign.headers.get('cache-control')]).toEqual([421, 'no-store']);
  const elsewhere = await call(ask(method, { 'sec-fetch-site': 'cross-site', origin: 'https://evil.test' }), {
    params,
  });
  expect(elsewhere.status).toBe(421);
});

const takesBody = routes.filter(([, method]) => method === 'POST' || method === 'PUT' || method === 'PATCH');
/** Those that stream files, each with a limit of its own (`survey/source.ts`), and those that read no body. */
const STREAMED =
  /uploads|\/session$|surveys\/\[survey\]\/(?:resume|stop)|uploads$|\/test$|\/surveys$|delivery\/\[form\]|delivery\/compare$|\[action\]$/;

test.each(takesBody.filter(([name]) => !STREAMED.test(name)))(
  '%s refuses a body that is over its limit, in words',
  async (name, method, call) => {
    const limit = name.endsWith('/list') ? LIST_LIMIT : JSON_LIMIT;
    const over = await call(ask(method, {}, new Uint8Array(limit + 1).fill(32)), { params });
    const { error } = (await over.json()) as { error: string };
    expect([over.status, error]).toEqual([413, expect.stringMatching(/^What was sent is over the limit of \d+ MB\.$/)]);
    // At its limit it is read, and found to be nothing that is asked for.
    const at = await call(ask(method, {}, new Uint8Array(limit).fill(32)), { params });
    expect(at.status).not.toBe(413);
    expect(at.status).toBeLessThan(500);
  },
);

test('what is measured is read by a reader of the format of Prometheus', async () => {
  const { default: parse } = await import('parse-prometheus-text-format');
  const [, , health] = routes.find(([name]) => name === 'GET /api/health')!;
  const [, , metrics] = routes.find(([name]) => name === 'GET /api/metrics')!;
  await health(ask('GET', {}), { params });
  const answer = await metrics(ask('GET', {}), { params });
  expect(answer.headers.get('content-type')).toMatch(/^text\/plain; version=0\.0\.4/);
  const families = parse(await answer.text());
  const named = (name: string) => families.find((f) => f.name === name)!;
  expect(named('detto_request_seconds').type).toBe('HISTOGRAM');
  expect(named('detto_request_seconds').metrics.some((m) => Number(m.buckets?.['+Inf']) > 0)).toBe(true);
  expect(named('detto_workers').metrics[0]!.value).toBe('0');
  expect(new Set(families.map((f) => f.name)).size).toBe(families.length);
  for (const f of families) expect(f.help).not.toBe('');
});

test('a process is ready once its database answers', async () => {
  const [, , ready] = routes.find(([name]) => name === 'GET /api/ready')!;
  const answer = await ready(ask('GET', {}), { params });
  expect([answer.status, await answer.json()]).toEqual([200, { ready: true, message: null }]);
});

test('what nobody foresaw is logged, and says nothing of itself', () => {
  const { status, error } = faultOf(new TypeError('/secret/path: cannot read properties of undefined'));
  expect(status).toBe(500);
  expect(error).toMatch(/^Something went wrong in Detto\. Its log says what, under [\da-f]{8}\.$/);
});
