import { gunzipSync } from 'node:zlib';
import { SaxesParser } from 'saxes';

/** Bytes of one sitemap unpacked, and addresses in it, at most (sitemaps protocol, "Sitemap file limits"). */
const MOST_BYTES = 52_428_800;
const MOST_ADDRESSES = 50_000;
const MOST_SITEMAPS = 500;

export interface Sitemap {
  /** Addresses of pages. */
  pages: string[];
  /** Addresses of further sitemaps, when it is an index. */
  sitemaps: string[];
}

/**
 * Reads one sitemap or sitemap index: XML, gzipped or not, or a list of addresses as plain text. Names are
 * compared without their namespace, as search engines do; external entities and DTDs are not expanded.
 *
 * @throws Error when it is not well-formed XML or unpacks to more than 50 MB
 */
export function readSitemap(bytes: Buffer): Sitemap {
  const zipped = bytes[0] === 0x1f && bytes[1] === 0x8b;
  const text = (zipped ? gunzipSync(bytes, { maxOutputLength: MOST_BYTES }) : bytes)
    .toString('utf8')
    .replace(/^\ufeff/, '');
  if (!/^\s*</.test(text)) {
    const lines = text.split(/\s+/).filter((line) => /^https?:\/\//.test(line));
    return { pages: lines.slice(0, MOST_ADDRESSES), sitemaps: [] };
  }
  const out: Sitemap = { pages: [], sitemaps: [] };
  const open: string[] = [];
  let address = '';
  const parser = new SaxesParser();
  parser.on('opentag', ({ name }) => {
    open.push(name.replace(/^.*:/, ''));
    address = '';
  });
  parser.on('text', (value) => (address += value));
  parser.on('cdata', (value) => (address += value));
  parser.on('closetag', ({ name }) => {
    const parent = open.at(-2);
    // `image:loc` and `video:content_loc` have other parents.
    if (name.replace(/^.*:/, '') === 'loc' && (parent === 'url' || parent === 'sitemap')) {
      const list = parent === 'url' ? out.pages : out.sitemaps;
      const most = parent === 'url' ? MOST_ADDRESSES : MOST_SITEMAPS;
      if (address.trim() && list.length < most) list.push(address.trim());
    }
    open.pop();
    address = '';
  });
  parser.write(text).close();
  return out;
}
