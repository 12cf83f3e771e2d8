import { cpSync, mkdtempSync, readdirSync, readFileSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import path from 'node:path';
import type { Browser, Page } from 'playwright-core';
import { CAUSES } from '../src/contract/survey';
import { DEFAULT_INSTRUCTIONS } from '../src/core/draft/prompt';
import { FRONT_MATTER_KEYS } from '../src/core/model/document';
import { RULES } from '../src/core/rules';
import { openBrowser, openPage, PREPARED, SITE } from './support/detto';
import { DettoProcess } from './support/detto-process';

/**
 * A translation is one file: Detto runs in a pseudo-locale, which marks every letter that comes from the strings, and no
 * screen has a text of the interface without those marks. What is left has to stand in the surveyed site itself.
 */
const NAME = 'Skerry Sound';
const data = mkdtempSync(path.join(tmpdir(), 'detto-pseudo-'));
const detto = new DettoProcess(Number(process.env['E2E_SLOW_PORT']), {
  DETTO_DATA: data,
  DETTO_LANGUAGE: 'en-XA',
  DETTO_ALLOW_HOSTS: new URL(SITE).host,
});
let browser: Browser;
let page: Page;
const collection = 'skerry-sound';
/** All that the site itself says, its addresses, file names and pictures included. */
let site = '';

/** Letters and digits alone, so that mark-up and line breaks do not come between words. */
const plain = (text: string) => text.toLowerCase().replace(/[^\p{L}\p{N}]+/gu, '');
const api = async <T>(at: string): Promise<T> => (await (await fetch(`${detto.address}${at}`)).json()) as T;

/** Names that are the same in every language: of standards, formats, keys, attributes, and of Detto's own rules. */
const NAMES = [
  // Examples are markup; what is found in them comes from the strings.
  ...RULES.flatMap(({ id, sources, examples }) => [
    id,
    ...sources.map((s) => s.name),
    ...[...examples.passes, ...examples.fails].map((e) => JSON.stringify({ ...e, message: undefined })),
  ]),
  ...CAUSES,
  // Keys of front matter, as the settings list them.
  FRONT_MATTER_KEYS.map(({ picture, words }) => `${picture} → ${words}`).join(', '),
  NAME,
  'Ctrl Esc Enter Shift Tab',
  // A licence by its name, and what is read in a picture line by line.
  'CC BY-SA',
  'Winter sailings Brannoch',
  // What the collection’s editors tell models, who are told it in English.
  DEFAULT_INSTRUCTIONS,
  'alt title aria-label figcaption robots.txt KB MB ZIP JSON CSV DETTO_ALLOW_HOSTS DETTO_CHROMIUM',
].map(plain);

beforeAll(async () => {
  browser = await openBrowser();
  cpSync(PREPARED, data, { recursive: true });
  await detto.start();
  const order = { target: { kind: 'view', view: {}, except: [] }, service: null, existing: 'replace' };
  await fetch(`${detto.address}/api/collections/${collection}/rounds`, {
    method: 'POST',
    body: JSON.stringify({ order }),
  });
  // What is written in the pictures, and what their files say of themselves, stands where they are drawn.
  for (const file of readdirSync('demo', { recursive: true }) as string[])
    if (file.endsWith('.ts') && !file.includes('test')) site += plain(readFileSync(path.join('demo', file), 'utf8'));
  const paths = new Set(['/']);
  for (const at of paths) {
    const answer = await fetch(`${SITE}${at}`).catch(() => null);
    if (!answer?.ok || !/html|xml|css|plain/.test(answer.headers.get('content-type') ?? '')) continue;
    const text = await answer.text();
    site += plain(`${at} ${text.replace(/&amp;/g, '&').replace(/&nbsp;/g, ' ')} ${text.replace(/<[^>]+>/g, '')}`);
    for (const [, to] of text.matchAll(/(?:href|src)="(\/[^"#?]*)/g)) paths.add(to!);
  }
  ({ page } = await openPage(browser, { baseURL: detto.address }));
});
afterAll(async () => {
  await browser.close();
  await detto.end();
  rmSync(data, { recursive: true, force: true });
});

/**
 * Every text of a page that people see or hear, with what they are told by attributes.
 *
 * @param html of a page as the server sends it; the page that is open when not given
 */
function texts(html?: string): Promise<string[]> {
  return page.evaluate((source) => {
    const doc = source === undefined ? document : new DOMParser().parseFromString(source, 'text/html');
    const out: string[] = [doc.title];
    const walker = document.createTreeWalker(doc.body, NodeFilter.SHOW_TEXT);
    for (let node = walker.nextNode(); node; node = walker.nextNode())
      if (!node.parentElement!.closest('script, style, template, textarea')) out.push(node.nodeValue!);
    for (const element of doc.querySelectorAll('*'))
      for (const name of ['aria-label', 'title', 'placeholder', 'alt', 'aria-roledescription', 'aria-valuetext'])
        if (element.getAttribute(name)) out.push(element.getAttribute(name)!);
    return out;
  }, html);
}

/** Texts with plain letters that stand neither in the site nor among the names. */
async function english(html?: string): Promise<string[]> {
  // Names of files; in markup they belong to it.
  const files = /https?:\/\/\S+|inline:\w+|\b[\w-]+\.(?:jpe?g|png|gif|svg|webp|avif)\b/g;
  const left = (await texts(html)).flatMap((text) =>
    (text.includes('<') ? text : text.replace(files, ''))
      // What a draft asks is in the language of its page.
      .replace(/‹[^›]*›/g, '')
      // Between marked words stands what a sentence was given; between times, what is read in a timetable.
      .split(/[^\x20-\x7e’£é×]+|\d\d:\d\d/)
      .map((part) => part.replace(/^[^A-Za-z]+|[^A-Za-z]+$/g, ''))
      .filter((part) => /[A-Za-z]{2}/.test(part)),
  );
  const known = (part: string) => site.includes(plain(part)) || NAMES.some((name) => name.includes(plain(part)));
  return [...new Set(left.filter((part) => !known(part)))];
}

const pictureOf = async (file: string) =>
  (await api<{ lines: { id: number }[] }>(`/api/collections/${collection}/lines?q=${file}`)).lines[0]!.id;

const PLACES: [name: string, address: () => string | Promise<string>][] = [
  ['Shelf', () => '/'],
  ['Brief', () => `/c/${collection}/brief`],
  ['Survey, all of its log', () => `/c/${collection}/survey?what=all`],
  ['Galley', () => `/c/${collection}/galley`],
  ['Galley, what fails', () => `/c/${collection}/galley?state=missing`],
  ['Galley by template place', () => `/c/${collection}/galley?group=place`],
  ['Galley on paper', () => `/c/${collection}/galley/print`],
  ['Galley with nothing in it', () => `/c/${collection}/galley?q=nosuchthing`],
  ['Desk, a photo', async () => `/c/${collection}/desk/${await pictureOf('IMG_2041')}`],
  ['Desk, a text picture', async () => `/c/${collection}/desk/${await pictureOf('winter-sailings')}`],
  ['Desk, a picture in a link', async () => `/c/${collection}/desk/${await pictureOf('book-now')}`],
  ['Desk, an inline drawing', async () => `/c/${collection}/desk/${await pictureOf('')}`],
  ['Rounds', () => `/c/${collection}/rounds`],
  ['Reading drafts', () => `/c/${collection}/rounds/read`],
  ['Delivery', () => `/c/${collection}/delivery`],
  ['Rules', () => `/c/${collection}/rules`],
  ['a rule', () => `/c/${collection}/rules/stuffed`],
  ['House style', () => `/c/${collection}/style`],
  ['nothing', () => '/c/no-such-collection/galley'],
];

test.each(PLACES)('no English is left: %s', async (_, address) => {
  await page.goto(await address());
  await page.locator('#sheet').waitFor();
  expect(await english()).toEqual([]);
});

test.each(RULES.map((r) => r.id))('no English is left: the rule %s as the server sends it', async (id) => {
  const answer = await fetch(`${detto.address}/c/${collection}/rules/${id}`);
  expect(await english(await answer.text())).toEqual([]);
});

test('the test itself finds a text that does not come from the strings', async () => {
  await page.goto('/');
  // React takes away what it did not expect when it takes over the page.
  await page.waitForFunction(() =>
    Object.keys(document.querySelector('main')!).some((key) => key.startsWith('__react')),
  );
  await page.evaluate(() => document.querySelector('main')!.append('Forgotten in the markup'));
  expect(await english()).toEqual(['Forgotten in the markup']);
});
