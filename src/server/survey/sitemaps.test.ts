import { gzipSync } from 'node:zlib';
import { readSitemap } from './sitemaps';

// The examples of the sitemaps protocol, sitemaps.org, "XML tag definitions" and "Sitemap index" (from memory).
const SITEMAP = `<?xml version="1.0" encoding="UTF-8"?>
<urlset xmlns="http://www.sitemaps.org/schemas/sitemap/0.9">
  <url>
    <loc>http://www.example.com/</loc><lastmod>2005-01-01</lastmod><changefreq>monthly</changefreq><priority>0.8</priority>
  </url>
  <url>
    <loc>http://www.example.com/catalog?item=12&amp;desc=vacation_hawaii</loc><changefreq>weekly</changefreq>
  </url>
</urlset>`;
const PAGES = ['http://www.example.com/', 'http://www.example.com/catalog?item=12&desc=vacation_hawaii'];
const INDEX = `<sitemapindex xmlns="http://www.sitemaps.org/schemas/sitemap/0.9">
  <sitemap><loc>http://www.example.com/sitemap1.xml.gz</loc></sitemap>
  <sitemap><loc>http://www.example.com/sitemap2.xml.gz</loc></sitemap></sitemapindex>`;

test('a sitemap, with entities in it', () =>
  expect(readSitemap(Buffer.from(SITEMAP))).toEqual({ pages: PAGES, sitemaps: [] }));
test('a gzipped one', () => expect(readSitemap(gzipSync(SITEMAP)).pages).toEqual(PAGES));
test('an index', () =>
  expect(readSitemap(Buffer.from(INDEX)).sitemaps).toEqual([
    'http://www.example.com/sitemap1.xml.gz',
    'http://www.example.com/sitemap2.xml.gz',
  ]));
test('a list of addresses as text', () => expect(readSitemap(Buffer.from(PAGES.join('\r\n'))).pages).toEqual(PAGES));
test('addresses of pictures are not pages', () => {
  const xml = `<urlset xmlns:image="x"><url><loc>http://e.org/a</loc><image:image><image:loc>http://e.org/a.jpg</image:loc></image:image></url></urlset>`;
  expect(readSitemap(Buffer.from(xml)).pages).toEqual(['http://e.org/a']);
});
test('what is not well-formed, or unpacks to too much, is an error', () => {
  expect(() => readSitemap(Buffer.from('<urlset><url></urlset>'))).toThrow();
  expect(() => readSitemap(gzipSync(Buffer.alloc(60_000_000, 32)))).toThrow();
});
test('entities of a DTD are not expanded', () => {
  const xml = '<!DOCTYPE u [<!ENTITY a "http://evil.example/">]><urlset><url><loc>&a;</loc></url></urlset>';
  expect(() => readSitemap(Buffer.from(xml))).toThrow(/entity/i);
});
