/**
 * `npm run bench -- rules FOLDER…`: all rules on 100,000 appearances, in the windows in which a survey audits them, on one
 * core; which rules cost most; and what the rules that run while one writes take for a text of 300 characters.
 *
 * The appearances are those of pages of real sites, read again under other paths until there are enough.
 */
import { spawnSync } from 'node:child_process';
import { readFileSync, readdirSync, writeFileSync } from 'node:fs';
import path from 'node:path';
import type { Appearance } from '../src/core/model/appearance';
import { activeRules, auditGroup, auditAppearance, phrasesOf, wordsGroup } from '../src/core/rules/audit';
import { groupBy } from '../src/core/group-by';
import { readPage } from '../src/core/formats/html/read-page';
import { proposePurpose } from '../src/core/purpose/propose';
import { RULES } from '../src/core/rules';
import type { AppearanceRule } from '../src/core/rules/support/rule';
import type { RuleContext } from '../src/core/model/rule-context';
import { withWords } from '../src/core/model/wording';
import { promptly } from '../src/core/words/spelling';
import { createLanguageDetector } from '../src/core/words/page-language';
import { knowledge } from '../src/server/language/dictionaries';

const folders = process.argv.slice(2);
const WANTED = 100_000;
const WINDOW = 4000;
const LANGUAGES = ['en', 'de', 'fr', 'es', 'it', 'nl', 'pt'];

interface Page {
  path: string;
  reading: ReturnType<typeof readPage>;
}

function pagesIn(folder: string, below = ''): string[] {
  return readdirSync(path.join(folder, below), { withFileTypes: true }).flatMap((entry) => {
    const at = path.join(below, entry.name);
    return entry.isDirectory() ? pagesIn(folder, at) : entry.isFile() && /\.html?$/.test(at) ? [at] : [];
  });
}

/** Reads the pages and prints those that show pictures, a line of JSON each. */
function printReadings(): void {
  for (const folder of folders)
    for (const file of pagesIn(folder)) {
      // The words of a page are counted once in a survey, and no part of an audit.
      const reading = { ...readPage(readFileSync(path.join(folder, file))), words: {} };
      const page: Page = { path: file, reading };
      if (page.reading.appearances.length > 0) writeFileSync(1, `${JSON.stringify(page)}\n`);
    }
}

if (process.env['READ']) {
  printReadings();
  process.exit(0);
}
// Pages are read in a process of their own, as a survey does, so that what reading takes is not counted here; each is
// held as text until its turn, as the database holds it.
const read = spawnSync(process.execPath, process.argv.slice(1), {
  env: { ...process.env, READ: '1' },
  maxBuffer: 2 ** 30,
  stdio: ['ignore', 'pipe', 'inherit'],
});
const lines = read.stdout.toString().trim().split('\n').filter(Boolean);
if (lines.length === 0) {
  process.stderr.write('Name folders with HTML pages that show pictures: npm run bench -- rules FOLDER…\n');
  process.exit(2);
}
function* pagesRead(): Generator<Page> {
  for (const line of lines) yield JSON.parse(line) as Page;
}

function spotOf(page: Page, appearance: Appearance, copy: number): RuleContext {
  const { title, description, headings, directives, lang } = page.reading;
  const src = appearance.markup.src ?? `element ${appearance.order}`;
  const id = `${copy % 40}/${page.path}/${src}`;
  // Every seventh copy is in another language's hands, so that every dictionary is used.
  const spoken = lang ?? LANGUAGES[copy % 7 === 0 ? (copy / 7) % LANGUAGES.length : 0]!;
  return {
    id: `${copy} ${page.path} ${appearance.order}`,
    page: { path: `${copy}/${page.path}`, lang: spoken, title, description, headings, directives },
    picture: {
      id,
      sha256: id,
      type: 'image/png',
      bytes: 20_000,
      width: 640,
      height: 480,
      src,
      broken: null,
      unread: null,
      smallerCopyBytes: null,
      analysis: null,
    },
    appearance,
    purpose: proposePurpose(appearance, null).purpose,
    purposeSettled: false,
    targetTitle: null,
  };
}

function* contexts(): Generator<RuleContext> {
  let n = 0;
  for (let copy = 0; ; copy++)
    for (const page of pagesRead())
      for (const appearance of page.reading.appearances) {
        yield spotOf(page, appearance, copy);
        if (++n === WANTED) return;
      }
}

function* windows(): Generator<RuleContext[]> {
  let window: RuleContext[] = [];
  for (const context of contexts()) {
    window.push(context);
    if (window.length === WINDOW) {
      yield window;
      window = [];
    }
  }
  if (window.length > 0) yield window;
}

const phrases = phrasesOf(
  [...pagesRead()].flatMap((p) => p.reading.appearances.flatMap((appearance) => wordsGroup({ appearance }) ?? [])),
  {},
);
const know = knowledge({ phrases });
const active = activeRules({}, know);
const withLikelyLanguage = createLanguageDetector(know);
const before = process.memoryUsage().rss;
let memory = 0;
let findings = 0;
const start = process.cpuUsage();
for (const window of windows()) {
  const told = withLikelyLanguage(window);
  for (const context of told) findings += auditAppearance(context, active).length;
  for (const group of groupBy(told, (s) => s.picture!.id).values())
    findings += auditGroup('picture', group, active).length;
  for (const group of groupBy(told, (s) => s.page.path).values()) findings += auditGroup('page', group, active).length;
  for (const [key, group] of groupBy(told, wordsGroup)) if (key) findings += auditGroup('words', group, active).length;
  memory = Math.max(memory, process.memoryUsage().rss);
}
const used = process.cpuUsage(start);
const seconds = (used.user + used.system) / 1e6;
process.stdout.write(
  `${WANTED} appearances of ${lines.length} pages, ${RULES.length} rules, ${findings} findings: ` +
    `${seconds.toFixed(1)} s of processor time, ${Math.round(memory / 1e6)} MB at most, ${Math.round(before / 1e6)} MB of them before the first\n\n| rule | µs an appearance |\n| --- | --- |\n`,
);

const sample = withLikelyLanguage([...windows()].slice(0, 3).flat());
const costs = active.rules
  .filter(({ rule }) => rule.scope === 'appearance')
  .map(({ rule, parameters }) => {
    const began = performance.now();
    for (const context of sample) (rule as AppearanceRule<unknown>).check(context, parameters, know);
    return { id: rule.id, cost: (1000 * (performance.now() - began)) / sample.length };
  })
  .sort((a, b) => b.cost - a.cost);
for (const { id, cost } of costs.slice(0, 6)) process.stdout.write(`| ${id} | ${cost.toFixed(1)} |\n`);

const words =
  'Two puffins face each other on the grasy top of the north cliff, bills touching, while a third one lands behind them with its wings spread; below them the ferry crosses the sound, and the lighthouse of the Holm, red and white, stands against a bank of cloud that has hidden the hills of the far island.';
const [first] = sample;
const typed = Array.from({ length: 400 }, (_, i) => words.slice(0, 300 - (i % 20)));
const prompt = new Map(LANGUAGES.map((l) => [l, promptly(know.speller(l)!)]));
const live = activeRules({}, { ...know, speller: (language) => prompt.get(language) ?? null });
const times = typed
  .map((text) => {
    const began = performance.now();
    auditAppearance({ ...first!, appearance: withWords(first!.appearance, text) }, live);
    return performance.now() - began;
  })
  .sort((a, b) => a - b);
process.stdout.write(
  `\nwhile one writes, 300 characters: median ${times[200]!.toFixed(2)} ms, 99 of 100 under ${times[396]!.toFixed(2)} ms, the slowest ${times.at(-1)!.toFixed(1)} ms\n`,
);
