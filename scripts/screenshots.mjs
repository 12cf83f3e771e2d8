// `npm run screenshots [-- NAME …]`: refreshes docs/screenshots from a demo of its own that nobody has
// worked in yet; all of them, or those that are named.
import { spawn } from 'node:child_process';
import { mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import path from 'node:path';
import { chromium } from 'playwright-core';
import { chromium as browserFile } from './debian.mjs';

const names = process.argv.slice(2);
const data = mkdtempSync(path.join(tmpdir(), 'detto-screenshots-'));
const DETTO = 'http://127.0.0.1:4810';
const [ISLE, DOCUMENTS] = ['skerry-sound', 'skerry-sound-documents'];
const WORDS = 'Two puffins face each other on a grassy cliff top, bills nearly touching';
const LONG = `Height of the water at Brannoch over one day in June.

## High and low

| Time | Height |
| --- | --- |
| 06:00 | 4.7 m |
| 12:30 | 0.9 m |
| 18:15 | 4.6 m |

- The slip is under water from 05:20 to 06:50.
- From noon to one, boats use the [north steps](https://skerry.example/steps).
`;

const demo = spawn(process.execPath, ['scripts/demo.mjs'], {
  stdio: ['ignore', 'ignore', 'inherit'],
  env: {
    ...process.env,
    ...{ DETTO_DATA: data, DETTO_PORT: '4810', DETTO_DEMO_SITE_PORT: '4811', DETTO_DEMO_SERVICE_PORT: '4812' },
  },
});

const ask = async (address, method = 'GET', body) => {
  const response = await fetch(`${DETTO}/api${address}`, { method, ...(body ? { body: JSON.stringify(body) } : {}) });
  if (!response.ok && response.status !== 409) throw new Error(`${method} ${address}: ${await response.text()}`);
  return response.json();
};
const pause = (ms) => new Promise((resolve) => setTimeout(resolve, ms));
/** Asks until an answer is as wanted. */
async function until(of, holds) {
  for (;;) {
    const answer = await of().catch(() => null);
    if (answer !== null && holds(answer)) return answer;
    await pause(500);
  }
}
const lineOf = async (file, collection = ISLE) => {
  const { lines } = await ask(`/collections/${collection}/lines?q=${encodeURIComponent(file)}`);
  return lines.find((l) => l.name === file) ?? lines[0];
};
const word = (line, text, more = {}) =>
  ask(`/collections/${ISLE}/wordings`, 'PUT', {
    target: { kind: 'places', places: [line.appearanceId] },
    ...{ text, ...more },
  });

try {
  await until(
    () => ask('/collections'),
    (shelf) => shelf.length === 2,
  );
  for (const c of [ISLE, DOCUMENTS]) {
    await until(
      () => ask(`/collections/${c}/counts`),
      ({ pictures }) => pictures > 0,
    );
    // What waits between two jobs is no end.
    for (let quiet = 0; quiet < 6; await pause(500))
      quiet = (await ask(`/collections/${c}/jobs`)).length === 0 ? quiet + 1 : 0;
  }
  const browser = await chromium.launch({ executablePath: browserFile(), args: ['--no-sandbox', '--disable-gpu'] });
  const open = async (address, { scheme = 'light' } = {}) => {
    const page = await browser.newPage({ viewport: { width: 1280, height: 800 }, colorScheme: scheme });
    await page.goto(DETTO + address);
    await page.waitForLoadState('networkidle').catch(() => undefined);
    await pause(800);
    return page;
  };
  const take = async (name, address, act = async () => undefined, how = {}) => {
    if (names.length > 0 && !names.includes(name)) return;
    const page = await open(address, how);
    await act(page);
    await pause(600);
    await page.screenshot({ path: `docs/screenshots/${name}.png` });
    await page.close();
    process.stdout.write(`${name}\n`);
  };
  const desk = ({ id, appearanceId }, collection = ISLE) => `/c/${collection}/desk/${id}?place=${appearanceId}`;

  // Where the demo stands on this machine is nobody's business.
  await take('shelf', '/', (page) =>
    page.evaluate((here) => {
      const texts = document.createTreeWalker(document.body, NodeFilter.SHOW_TEXT);
      while (texts.nextNode()) texts.currentNode.data = texts.currentNode.data.replace(`${here}/`, '');
    }, process.cwd()),
  );
  await take('survey', `/c/${ISLE}/survey`);
  await take('brief', `/c/${ISLE}/brief`);
  await take('galley', `/c/${ISLE}/galley`);
  await take('rules', `/c/${ISLE}/rules`);
  await take('rule', `/c/${ISLE}/rules/stuffed`);
  await take('style', `/c/${ISLE}/style`);
  await take('replace', `/c/${ISLE}/galley`, async (page) => {
    await page.getByRole('button', { name: /^Find and replace/ }).click();
    const [find, put] = await page.getByRole('dialog').getByRole('textbox').all();
    await find.fill('quay');
    await put.fill('harbour');
    await page.getByRole('dialog').locator('ins').first().waitFor();
  });
  const sailings = await lineOf('winter-sailings.png');
  await take('inside', desk(sailings), async (page) => {
    await page.getByRole('checkbox', { name: /text/i }).last().check();
  });
  const puffins = await lineOf('IMG_2041.jpg');
  await word(puffins, WORDS);
  await take('desk', desk(puffins));
  await take('desk-dark', desk(puffins), undefined, { scheme: 'dark' });
  await take('alike', desk(puffins), (page) =>
    page
      .getByText(/look alike$/)
      .last()
      .scrollIntoViewIfNeeded(),
  );
  const tides = await lineOf('tides.svg');
  const texts = { picture: tides.id, text: LONG, act: crypto.randomUUID() };
  await ask(`/collections/${ISLE}/texts`, 'PUT', { field: 'long-description', ...texts });
  await take('long-description', desk(tides), (page) =>
    page.getByText('Long description', { exact: true }).first().scrollIntoViewIfNeeded(),
  );
  await take('document', desk(await lineOf('talk.pptx', DOCUMENTS), DOCUMENTS), async (page) => {
    await page.getByRole('button', { name: 'Show the page' }).click();
    await page.frameLocator('iframe').locator('img[src^="data:"]').first().waitFor({ timeout: 90_000 });
    await page.locator('iframe').scrollIntoViewIfNeeded();
  });
  const seal = await lineOf('seal.gif');
  await word(seal, 'A seal on a rock', { since: seal.revision });
  await word(seal, 'A grey seal rests on a rock at low tide', { since: seal.revision });
  await take('two-texts', desk(seal));
  await take('delivery', `/c/${ISLE}/delivery`);
  const [service] = await ask('/drafting-services');
  const view = { kind: 'view', view: {}, except: [] };
  for (const order of [
    { target: view, service: null },
    { target: view, service: service.id },
  ])
    await ask(`/collections/${ISLE}/rounds`, 'POST', { order });
  await until(
    () => ask(`/collections/${ISLE}/rounds`),
    (rounds) => rounds[0].toRead > 8,
  );
  await take('rounds', `/c/${ISLE}/rounds`);
  await take('reading', `/c/${ISLE}/rounds/read`);
  await browser.close();
} finally {
  demo.kill();
  await new Promise((resolve) => demo.once('exit', resolve));
  rmSync(data, { recursive: true, force: true });
}
