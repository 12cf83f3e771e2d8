import { positionOf } from '@/core/model/appearance';
/**
 * `npm run bench -- second-opinion FOLDER…`: pages of real sites, read by Detto and by Chromium.
 *
 * Accessible names and exposure of every picture are compared with Chromium's accessibility tree, and the rules of
 * presence with axe-core's image rules; every difference is printed. Then the time that all of Detto's rules take on a
 * parsed page beside that of axe-core's image rules. Scripts are taken out of the pages, for both alike.
 */
import { readFileSync, readdirSync, existsSync, statSync } from 'node:fs';
import path from 'node:path';
import { chromium, type CDPSession, type Page } from 'playwright-core';
import type { Appearance } from '../src/core/model/appearance';
import { activeRules, auditCollection } from '../src/core/rules/audit';
import { readSource } from '../src/core/formats/html/read-page';
import { decodeHtml } from '../src/core/formats/html/charset';
import { proposePurpose } from '../src/core/purpose/propose';
import type { RuleContext } from '../src/core/model/rule-context';
import { knowledge } from '../src/server/language/dictionaries';
import { FLAGS } from '../src/server/survey/browser/browser';
import { findChromium } from '../src/server/net/chromium';
import { collapse } from '../src/core/white-space';

const folders = process.argv.slice(2);
/** Pictures of one folder that are compared at most. */
const PICTURES = Number(process.env['PICTURES'] ?? 500);
/** Pictures of one page: those beyond are mostly the same again. */
const PER_PAGE = 25;
const WARM_UP = 200;
const HOST = 'http://corpus.invalid';
const AXE_RULES = [
  'image-alt',
  'input-image-alt',
  'object-alt',
  'area-alt',
  'role-img-alt',
  'svg-img-alt',
  'link-name',
  'button-name',
];
/** Detto's counterparts; of links and buttons only those that hold pictures. */
const PRESENCE = new Set(['no-alt', 'blank-alt', 'unnamed-control', 'unnamed-graphic', 'title-only']);
const COMPARED = new Set(['img', 'area', 'input', 'svg', 'role-img', 'object', 'embed']);

const axeSource = readFileSync('node_modules/axe-core/axe.min.js', 'utf8');
const executablePath = findChromium(process.env['DETTO_CHROMIUM'] || null)!;
const browser = await chromium.launch({ executablePath, args: FLAGS });
const active = activeRules({}, knowledge());
const total = { pages: 0, compared: 0, same: 0, axe: 0, both: 0 };
const times = { read: [] as number[], audit: [] as number[], axe: [] as number[] };

function contextsOf(source: string, file: string): RuleContext[] {
  const reading = readSource(source);
  return reading.appearances.map((appearance) => ({
    id: String(appearance.order),
    page: { ...reading, path: file, directives: [] },
    picture: null,
    appearance,
    purpose: proposePurpose(appearance, null).purpose,
    purposeSettled: false,
    targetTitle: null,
  }));
}

/** What Chromium shows as pictures, in the order of the source. */
const MARK = `(() => {
  const file = /\\.(?:png|jpe?g|gif|webp|avif|svg|bmp|ico|tiff?)(?:[?#]|$)/i;
  const isPicture = (e) => {
    if (e.closest('template')) return false;
    const tag = e.localName;
    if (tag === 'svg') return !e.parentElement?.closest('svg');
    if (e.namespaceURI !== 'http://www.w3.org/1999/xhtml') return false;
    if (tag === 'object' || tag === 'embed') {
      const type = e.getAttribute('type');
      const source = e.getAttribute(tag === 'object' ? 'data' : 'src') ?? '';
      return type ? /^image\\//i.test(type) : file.test(source);
    }
    return true;
  };
  window.pictures = [...document.querySelectorAll('img, area, input[type=image i], svg, object, embed, [role=img i]')].filter(isPicture);
  return window.pictures.length;
})()`;

interface Exposed {
  ignored: boolean;
  role: string;
  name: string;
}

async function exposedBy(session: CDPSession, index: number): Promise<Exposed | null> {
  const { result } = await session.send('Runtime.evaluate', { expression: `window.pictures[${index}]` });
  const { nodes } = await session.send('Accessibility.getPartialAXTree', {
    objectId: result.objectId!,
    fetchRelatives: false,
  });
  const node = nodes[0];
  if (!node) return null;
  return {
    ignored: node.ignored,
    role: String(node.role?.value ?? ''),
    name: collapse(String(node.name?.value ?? '')),
  };
}

/** Number of the picture that an axe-core result is about: itself, or the first in it. */
async function axeFindings(page: Page): Promise<{ rule: string; index: number; html: string }[]> {
  await page.evaluate(axeSource);
  return page.evaluate(async (rules) => {
    const { axe, pictures } = window as unknown as {
      axe: {
        run(
          where: Document,
          options: object,
        ): Promise<{ violations: { id: string; nodes: { element: Element; html: string }[] }[] }>;
      };
      pictures: Element[];
    };
    const options = { runOnly: { type: 'rule', values: rules }, elementRef: true, resultTypes: ['violations'] };
    const { violations } = await axe.run(document, options);
    return violations.flatMap(({ id, nodes }) =>
      nodes.map(({ element, html }) => ({
        rule: id,
        index: pictures.findIndex((p) => element === p || element.contains(p)),
        html: html.slice(0, 160),
      })),
    );
  }, AXE_RULES);
}

async function timeOfAxe(page: Page): Promise<number> {
  return page.evaluate(async (rules) => {
    const { axe } = window as unknown as { axe: { run(where: Document, options: object): Promise<unknown> } };
    const start = performance.now();
    await axe.run(document, { runOnly: { type: 'rule', values: rules }, resultTypes: ['violations'] });
    return performance.now() - start;
  }, AXE_RULES);
}

function timed<T>(into: number[], work: () => T): T {
  const start = performance.now();
  const result = work();
  into.push(performance.now() - start);
  return result;
}

/** Detto audits for hours in one process; what is measured is not how its code is compiled. None of these pages is compared. */
function warmUp(folder: string, files: string[]): void {
  for (const file of files.slice(0, WARM_UP))
    auditCollection(contextsOf(decodeHtml(readFileSync(path.join(folder, file))).text, file), active);
}

async function compare(folder: string, file: string, budget: number): Promise<number> {
  const { text } = decodeHtml(readFileSync(path.join(folder, file)));
  const source = text.replace(/<script\b[\s\S]*?<\/script\s*>/gi, '');
  const address = `${HOST}/${file.split(path.sep).map(encodeURIComponent).join('/')}`;
  const page = await browser.newPage();
  try {
    await page.route('**/*', (route) => {
      const wanted = decodeURIComponent(new URL(route.request().url()).pathname).slice(1);
      if (route.request().isNavigationRequest() && wanted === file)
        return route.fulfill({ contentType: 'text/html; charset=utf-8', body: source });
      const there = path.join(folder, wanted);
      if (there.startsWith(folder) && existsSync(there) && statSync(there).isFile())
        return route.fulfill({ path: there });
      return route.fulfill({ status: 404, body: '' });
    });
    await page.goto(address, { waitUntil: 'load', timeout: 20_000 });
    const contexts = contextsOf(source, file);
    const pictures = contexts.filter((s) => COMPARED.has(s.appearance.element));
    const shown = (await page.evaluate(MARK)) as number;
    if (shown !== pictures.length) {
      process.stdout.write(`  ${file}: ${pictures.length} pictures by source, ${shown} in Chromium; left out\n`);
      return 0;
    }
    const session = await page.context().newCDPSession(page);
    await session.send('Accessibility.enable');
    const most = Math.min(PER_PAGE, budget, pictures.length);
    for (let i = 0; i < most; i++) {
      const own = pictures[i]!.appearance;
      const theirs = await exposedBy(session, i);
      if (!theirs) continue;
      total.compared++;
      if (agrees(own, theirs)) total.same++;
      else
        process.stdout.write(
          `  name: ${file}:${positionOf(own).line} ${own.element}, Detto ${told(own)}, Chromium ${JSON.stringify(theirs)}\n`,
        );
    }
    timed(times.read, () => readSource(source));
    const findings = auditCollection(contexts, active);
    // Both have seen the page once by then.
    timed(times.audit, () => auditCollection(contexts, active));
    const axe = (await axeFindings(page)).filter((f) => f.index >= 0);
    times.axe.push(await timeOfAxe(page));
    const mine = new Map<number, string>();
    for (const f of findings)
      if (PRESENCE.has(f.rule))
        mine.set(
          pictures.findIndex((p) => p.id === f.context),
          f.rule,
        );
    const theirs = new Map(axe.map((f) => [f.index, f]));
    for (const [index, f] of theirs) {
      total.axe++;
      if (mine.has(index)) total.both++;
      else
        process.stdout.write(
          `  only axe-core: ${f.rule} ${file}:${positionOf(pictures[index]!.appearance).line} ${f.html}\n`,
        );
    }
    for (const [index, rule] of mine)
      if (index >= 0 && !theirs.has(index))
        process.stdout.write(
          `  only Detto: ${rule} ${file}:${positionOf(pictures[index]!.appearance).line} ${told(pictures[index]!.appearance)}\n`,
        );
    total.pages++;
    return most;
  } finally {
    await page.close();
  }
}

const told = (a: Appearance) =>
  JSON.stringify({
    ignored: a.accessible.ignored || a.accessible.hidden !== null,
    role: a.accessible.role,
    name: a.accessible.name,
    hidden: a.accessible.hidden,
  });

function agrees(own: Appearance, theirs: Exposed): boolean {
  const ignored = own.accessible.ignored || own.accessible.hidden !== null;
  return ignored === theirs.ignored && (ignored || collapse(own.accessible.name) === theirs.name);
}

/** Links are not followed: one of these packages has a loop of them. */
function pagesIn(folder: string, below = ''): string[] {
  return readdirSync(path.join(folder, below), { withFileTypes: true }).flatMap((entry) => {
    const at = path.join(below, entry.name);
    return entry.isDirectory() ? pagesIn(folder, at) : entry.isFile() ? [at] : [];
  });
}

const median = (all: number[]) => all.sort((a, b) => a - b)[Math.floor(all.length / 2)] ?? 0;
const sum = (all: number[]) => all.reduce((a, b) => a + b, 0);

for (const folder of folders.map((f) => path.resolve(f))) {
  const files = pagesIn(folder)
    .filter(
      (f) =>
        /\.html?$/.test(f) &&
        /<(?:img|area|svg|object|embed|input)\b/i.test(readFileSync(path.join(folder, f), 'latin1')),
    )
    .sort();
  process.stdout.write(`${path.basename(folder)}: ${files.length} pages with pictures\n`);
  let left = PICTURES;
  // Spread over the whole folder: neighbours are made by one template.
  const step = Math.max(1, Math.floor(files.length / (PICTURES / 5)));
  warmUp(
    folder,
    files.filter((_, i) => i % step !== 0),
  );
  for (let i = 0; i < files.length && left > 0; i += step) left -= await compare(folder, files[i]!, left);
}
await browser.close();
process.stdout.write(
  [
    `${total.pages} pages, ${total.compared} pictures compared with Chromium's accessibility tree, ${total.same} the same (${((100 * total.same) / total.compared).toFixed(2)} %)`,
    `axe-core's image rules: ${total.axe} violations on pictures, ${total.both} of them found by Detto too`,
    `per page, medians: reading ${median(times.read).toFixed(2)} ms, all of Detto's rules ${median(times.audit).toFixed(2)} ms, axe-core's image rules ${median(times.axe).toFixed(2)} ms`,
    `all pages: axe-core's image rules take ${(sum(times.axe) / sum(times.audit)).toFixed(0)} times as long as all of Detto's rules`,
    '',
  ].join('\n'),
);
