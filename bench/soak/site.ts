import { createHash } from 'node:crypto';
import { DOT, TestSite, type Answer } from '../../src/server/testing/site';

/** Pages that are as they should be; each shows three pictures of its own and some that others show too. */
export const GOOD_PAGES = 60;
const SHARED_PICTURES = 12;

const TEXT = 'Four boats a day, every day but two, from the quay to the island and the light on the rock. '.repeat(12);

/** A picture of its own, large enough that a small disk fills: a GIF with a comment of pseudo-random bytes behind it. */
function pictureOf(name: string): Buffer {
  const noise = Buffer.concat(
    Array.from({ length: 1500 }, (_, i) => createHash('sha256').update(`${name} ${i}`).digest()),
  );
  return Buffer.concat([DOT, noise]);
}

/** A PNG that claims a size and holds nothing of it. */
function emptyPng(side: number): Buffer {
  const head = Buffer.from('89504e470d0a1a0a0000000d494844520000000000000000080200000000000000', 'hex');
  head.writeUInt32BE(side, 16);
  head.writeUInt32BE(side, 20);
  return head;
}

const page = (title: string, body: string): Answer => ({
  body: `<!doctype html><html lang="en"><title>${title}</title><main><h1>${title}</h1>${body}</main>`,
});

/** Pages that were made to be in the way, each in its own manner. */
const HOSTILE: Record<string, () => Answer | 'silence'> = {
  '/long-alt': () => page('Long', `<img src="/p-long.gif" alt="${'a-_ &lt;b '.repeat(4000)}">`),
  '/han': () => page('Han', `<img src="/p-han.gif" alt="${'漢字仮名交文'.repeat(400)}">`),
  '/huge': () => page('Huge', '<img src="/100000.png" alt="Huge">'),
  '/many': () => page('Many', '<img src=/p-many.gif>'.repeat(20_000)),
  '/sheets': () => page('Sheets', '<link rel=stylesheet href="/css/0.css"><p>Text</p>'),
  '/silent': () => 'silence',
  '/gzip': () => ({ headers: { 'content-type': 'text/html', 'content-encoding': 'gzip' }, body: 'this is no gzip' }),
  '/circle': () => ({ status: 302, headers: { location: '/circle' } }),
  '/elsewhere': () => ({ status: 302, headers: { location: 'http://169.254.169.254/latest/meta-data' } }),
  '/deep': () => page('Deep', '<div>'.repeat(100_000)),
};

/** A site on loopback with good pages and hostile ones, and a robots.txt with a pattern that is slow to match by trying. */
export function hostileSite(): Promise<TestSite> {
  return TestSite.open(({ url = '' }) => {
    if (url === '/robots.txt') return { body: `User-agent: *\nDisallow: /${'*a'.repeat(25)}b\nCrawl-delay: 0\n` };
    if (url === '/') {
      const links = [...Array.from({ length: GOOD_PAGES }, (_, i) => `/page${i}`), ...Object.keys(HOSTILE)];
      return page(
        'Start',
        `${links.map((l) => `<a href="${l}">${l}</a>`).join(' ')}<a href="/${'a'.repeat(120)}">a</a>`,
      );
    }
    const css = /^\/css\/(.*)\.css$/.exec(url)?.[1];
    if (css !== undefined)
      return {
        headers: { 'content-type': 'text/css' },
        body: Array.from({ length: 20 }, (_, i) => `@import "/css/${css}-${i}.css";`).join('\n'),
      };
    if (url === '/100000.png') return { headers: { 'content-type': 'image/png' }, body: emptyPng(100_000) };
    const picture = /^\/(p-[\w-]+)\.gif$/.exec(url)?.[1];
    if (picture) return { headers: { 'content-type': 'image/gif' }, body: pictureOf(picture), delay: 5 };
    const n = /^\/page(\d+)$/.exec(url)?.[1];
    if (n !== undefined) {
      const own = [0, 1, 2].map((k) => `<p>${TEXT}</p><img src="/p-${n}-${k}.gif" width=300 height=200>`).join('');
      const shared = `<img src="/p-shared-${Number(n) % SHARED_PICTURES}.gif" alt="Shared" width=300 height=200>`;
      return page(`Page ${n}`, own + shared);
    }
    return HOSTILE[url]?.();
  });
}
