import { chromium } from 'playwright-core';
import { ReaderPool } from '../../workers/reader-pool';
import { DOT, TestSite, type Handler } from '../../testing/site';
import { SurveyRun } from '../survey-run';
import { type GatheredPage } from '../store';
import { parseAllowed } from '../../net/allowed';
import { MemoryStore } from '../memory-store';
import { accessHeaders, userAgent } from '../request-headers';
import { SiteSource } from '../site-source';
import { BrowserRenderer, FLAGS, loadQuietly, type BrowserLimits } from './browser';
import { findChromium } from '../../net/chromium';

/** Pages as a real Chromium shows them, and what hostile ones may not do to it. */
let site: TestSite;
let readers: ReaderPool;
let handler: Handler = () => undefined;
/** Headers of each request by path, the last one. */
const headers = new Map<string, NodeJS.Dict<string | string[]>>();

beforeAll(async () => {
  site = await TestSite.open((request) => {
    headers.set(request.url!, request.headers);
    return request.url!.endsWith('.gif')
      ? { headers: { 'content-type': 'image/gif' }, body: Buffer.concat([DOT, Buffer.from(request.url!)]) }
      : handler(request);
  });
  readers = new ReaderPool(1);
});
afterAll(async () => {
  readers.close();
  await site.close();
});
beforeEach(() => {
  site.asked.splice(0);
  headers.clear();
});

const executable = findChromium(null);

async function survey(
  pages: Record<string, string>,
  { limits = {}, reading = 'browser', browser = executable }: Options = {},
): Promise<{ pages: Record<string, GatheredPage>; skipped: MemoryStore['skipped'] }> {
  handler = ({ url }) =>
    pages[url!] === undefined ? undefined : { body: `<!doctype html><title>T</title>${pages[url!]}` };
  const allowed = [parseAllowed(site.host)];
  const access = { user: 'editor', password: 'of the quay' };
  const source = new SiteSource(`${site.origin}/`, { allowed, access });
  const renderer = new BrowserRenderer({
    executable: browser,
    allowed,
    userAgent: userAgent('https://skerry.example/contact'),
    access: { origin: site.origin, headers: accessHeaders(access) },
    limits,
  });
  const store = new MemoryStore(100);
  try {
    await new SurveyRun(source, store, readers, { maxDepth: 5, concurrency: 3, reading, renderer }).gather();
  } finally {
    await renderer.close();
    await source.close();
  }
  return {
    pages: Object.fromEntries(store.pages.map((p) => [p.address.replace(site.origin, ''), p])),
    skipped: store.skipped,
  };
}
interface Options {
  limits?: Partial<BrowserLimits>;
  reading?: 'source' | 'auto' | 'browser';
  browser?: string | null;
}

const shown = (page: GatheredPage | undefined) =>
  page!.reading.appearances.map((a) => [a.markup.src!.replace(site.origin, ''), a.accessible.name, a.location.kind]);

test('a page loads without telling of each thing it loads', async () => {
  handler = ({ url }) => (url === '/' ? { body: '<img src=/quiet.gif>' } : undefined);
  const browser = await chromium.launch({ executablePath: executable!, args: FLAGS });
  try {
    const page = await browser.newPage();
    const requests: string[] = [];
    page.on('request', (request) => requests.push(new URL(request.url()).pathname));
    await page.goto(`${site.origin}/`);
    expect(requests).toEqual(['/', '/quiet.gif']);
    await loadQuietly(page);
    await page.goto(`${site.origin}/`);
    expect(await page.evaluate(() => document.images[0]!.naturalWidth)).toBe(1);
    expect(requests).toHaveLength(2);
  } finally {
    await browser.close();
  }
});

test('scripts run, lazy pictures come as the page is scrolled, links that scripts make are followed', async () => {
  const { pages } = await survey({
    '/': `<div id=root></div><script>
      fetch('/data').then(() => { root.innerHTML = '<img src=/now.gif alt=Now><a href=/next>n</a><p id=far style="margin-top:4000px">x</p>';
        new IntersectionObserver((seen) => { if (seen[0].isIntersecting && !far.firstElementChild) far.innerHTML = '<img src=/later.gif alt=Later>'; }).observe(far); });</script>`,
    '/next': '<p>Here it ends.</p>',
  });
  expect(shown(pages['/'])).toEqual([
    ['/now.gif', 'Now', 'script'],
    ['/later.gif', 'Later', 'script'],
  ]);
  expect(pages['/']!.reading.appearances.map((a) => a.layout.fold)).toEqual(['above', 'below']);
  expect(Object.keys(pages).sort()).toEqual(['/', '/next']);
});

test('closed shadow trees, computed backgrounds and pseudo-elements are seen', async () => {
  const { pages } = await survey({
    '/': `<style>#a::after{content:url(/after.gif)} :root{--deck:url(/deck.gif)} #b{background:var(--deck)}</style>
      <p id=a>a</p><p id=b>b</p><div id=c></div>
      <script>c.attachShadow({mode:'closed'}).innerHTML = '<img src=/shadow.gif alt=Shadow>'</script>`,
  });
  expect(
    shown(pages['/'])
      .map(([src]) => src)
      .sort(),
  ).toEqual(['/after.gif', '/deck.gif', '/shadow.gif']);
});

test('by itself, only a page that is empty without scripts is opened in the browser', async () => {
  const text =
    'Four boats a day, every day but two, from the quay to the island and the light on the rock, and back again in the evening, dogs and bicycles and all.';
  const { pages } = await survey(
    {
      '/': `<div id=root></div><script>root.innerHTML='<img src=/a.gif alt=A><a href=/text>t</a>'</script>`,
      '/text': `<p>${text}</p><script>document.body.append(new Image())</script>`,
    },
    { reading: 'auto' },
  );
  expect(pages['/']!.reading.rendered).toBe(true);
  expect(pages['/text']!.reading.rendered).toBe(false);
});

test('the page itself is asked for once; the site is reported who asks, and is given its password, other hosts are not', async () => {
  const other = await TestSite.open(({ headers: given }) => ({ body: String(given.authorization ?? 'nothing') }));
  try {
    await survey({
      '/': `<img src=/a.gif><script>fetch('/own'); fetch('${other.origin}/theirs', {mode:'no-cors'})</script>`,
    });
    expect(site.asked.filter((path) => path === '/')).toHaveLength(1);
    expect(headers.get('/own')!.authorization).toBe(`Basic ${Buffer.from('editor:of the quay').toString('base64')}`);
    expect(headers.get('/own')!['user-agent']).toMatch(/Chrome.*DettoBot.*https:\/\/skerry\.example\/contact/);
    // It is not among the hosts that were allowed, so nothing of the page's reached it at all.
    expect(other.asked).toEqual([]);
  } finally {
    await other.close();
  }
});

test('a script that leads elsewhere does not: it is reported, and the other page is one of its own', async () => {
  const { pages } = await survey({
    '/': `<p>Here.</p><img src=/here.gif alt=Here><script>location.href = '/there'</script>`,
    '/there': '<img src=/there.gif alt=There>',
  });
  expect(shown(pages['/'])).toEqual([['/here.gif', 'Here', 'html']]);
  expect(pages['/']!.note).toEqual({ id: 'note.script-leads', values: { address: `${site.origin}/there` } });
  expect(shown(pages['/there'])).toEqual([['/there.gif', 'There', 'html']]);
});

test('a script that never ends, or takes all memory, costs its own page only', async () => {
  const { pages } = await survey(
    {
      '/': '<a href=/loop>l</a><a href=/greedy>g</a><a href=/well>w</a>',
      '/loop': '<img src=/a.gif alt=Loop><script>for (;;);</script>',
      '/greedy':
        '<img src=/b.gif alt=Greedy><script>const all = []; for (;;) all.push(new Array(1e6).fill(all.length))</script>',
      '/well': '<img src=/c.gif alt=Well><script>alert("Stop"); open("/window")</script>',
    },
    { limits: { page: 8000 } },
  );
  expect(pages['/loop']).toMatchObject({
    note: { id: 'note.source-only', values: { reason: { id: 'skip.browser-slow' } } },
  });
  expect(shown(pages['/loop'])).toEqual([['/a.gif', 'Loop', 'html']]);
  expect(pages['/greedy']).toMatchObject({ note: { id: 'note.source-only' } });
  expect(pages['/well']).toMatchObject({ note: null, reading: { rendered: true } });
});

test('where there is no browser, every page says so and is read by its source', async () => {
  const { pages } = await survey({ '/': '<img src=/a.gif alt=A>' }, { browser: null });
  expect(pages['/']!.note).toEqual({ id: 'note.source-only', values: { reason: { id: 'skip.no-browser' } } });
  expect(shown(pages['/'])).toEqual([['/a.gif', 'A', 'html']]);
});

test('cookies of one page are not there on the next', async () => {
  await survey({
    '/': `<script>document.cookie = 'seen=yes'</script><a href=/next>n</a>`,
    '/next': `<script>fetch('/told?c=' + document.cookie)</script>`,
  });
  expect(site.asked).toContain('/told?c=');
  expect(headers.get('/told?c=')!.cookie).toBeUndefined();
});
