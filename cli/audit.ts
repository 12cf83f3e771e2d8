import { readFile } from 'node:fs/promises';
import path from 'node:path';
import type { RuleStyle } from '@/core/rules/audit';
import { documentContextOf, readHouseStyle } from '@/core/house-style/house-style';
import type { TextLine } from '@/core/picture/recognised';
import { readingLanguages } from '@/server/analysis/recognition-languages';
import { parseAllowed } from '@/server/net/allowed';
import { findChromium } from '@/server/net/chromium';
import { BrowserRenderer, type Renderer } from '@/server/survey/browser/browser';
import { FileSource } from '@/server/survey/file-source';
import { openTree } from '@/server/survey/open-tree';
import { MemoryStore } from '@/server/survey/memory-store';
import { userAgent } from '@/server/survey/request-headers';
import { SiteSource } from '@/server/survey/site-source';
import type { Source } from '@/server/survey/source';
import { SurveyRun, type Readers } from '@/server/survey/survey-run';
import { ReaderPool, Recogniser } from '@/server/workers/reader-pool';
import type { AnalysisResult } from '@/server/workers/tasks';
import { reasonOf } from '@/server/log';
import { strings } from '@/ui/strings';
import type { AuditOptions } from './arguments';
import type { Analysis } from './pictures';
import { report, type AuditReport } from './report';

const CONCURRENCY = 4;

async function open(options: AuditOptions, cwd: string): Promise<Source> {
  if (/^https?:\/\//i.test(options.target))
    return new SiteSource(options.target, { allowed: options.allowHosts.map(parseAllowed) });
  return new FileSource(await openTree(path.resolve(cwd, options.target)));
}

function rendererFor(options: AuditOptions): Renderer {
  return new BrowserRenderer({
    executable: findChromium(process.env.DETTO_CHROMIUM || null),
    allowed: options.allowHosts.map(parseAllowed),
    userAgent: userAgent(''),
  });
}

/**
 * Surveys and audits without a database.
 *
 * @throws Error in words when the target cannot be read at all
 */
export async function audit(
  options: AuditOptions,
  cwd: string,
  progress: (line: string) => void,
): Promise<AuditReport> {
  const { store, analysis, style } = await gather(options, cwd, progress);
  return report(store, analysis, style, progress);
}

/** What a survey without a database has gathered. */
export interface Gathered {
  store: MemoryStore;
  analysis: Analysis;
  style: RuleStyle;
  /** The files of pictures, by their SHA-256; only where they are kept. */
  files: ReadonlyMap<string, Buffer>;
}

/**
 * Surveys, and looks at the pictures.
 *
 * @param wanted `files`: the files of the pictures are wanted afterwards; `places`: only where pictures stand
 * @throws Error in words when the target cannot be read at all
 */
export async function gather(
  options: AuditOptions,
  cwd: string,
  progress: (line: string) => void,
  wanted: 'report' | 'files' | 'places' = 'report',
): Promise<Gathered> {
  const style = options.style ? await styleIn(path.resolve(cwd, options.style)) : {};
  const source = await open(options, cwd);
  const pool = new ReaderPool(2);
  const looks = new Map<string, AnalysisResult>();
  const toRead = new Map<string, Buffer>();
  // Here nothing comes after the survey, so pictures are looked at as they come.
  const readers: Readers = {
    page: (...asked) => pool.page(...asked),
    rendered: (...asked) => pool.rendered(...asked),
    document: (...asked) => pool.document(...asked),
    // Of pictures, only their addresses are wanted then.
    held: (...asked) => (wanted === 'places' ? Promise.resolve(Buffer.alloc(0)) : pool.held(...asked)),
    picture: async (bytes) => {
      const facts = await pool.picture(bytes);
      if (wanted === 'places') return facts;
      if (!facts.broken && !looks.has(facts.sha256)) {
        looks.set(facts.sha256, await pool.look(bytes));
        if (options.readText || wanted === 'files') toRead.set(facts.sha256, bytes);
      }
      return facts;
    },
  };
  const isSite = source instanceof SiteSource;
  const renderer = isSite ? rendererFor(options) : null;
  const store = new MemoryStore(isSite ? options.maxPages : Infinity, (s) =>
    progress(strings.cli.gathered(s.pages.length, s.waitingCount, s.pictures.size)),
  );
  try {
    await new SurveyRun(source, store, readers, {
      maxDepth: options.maxDepth,
      concurrency: CONCURRENCY,
      reading: options.reading,
      renderer,
      frontMatter: documentContextOf(style).frontMatter,
    }).gather();
  } finally {
    await renderer?.close();
    pool.close();
    await source.close();
  }
  if (store.pages.length === 0 && wanted !== 'places') {
    const [noted] = store.notes;
    const why = store.skipped[0] ?? (noted && { address: noted.address, reason: noted.note });
    throw new Error(
      why ? strings.message({ id: 'survey.nothing-read', values: { ...why } }) : strings.cli.noPage(options.target),
    );
  }
  const languages = readingLanguages(store.pages.map((p) => p.reading.lang));
  const texts =
    options.readText && wanted !== 'places'
      ? await readTexts(toRead, looks, languages, progress)
      : new Map<string, TextLine[]>();
  return { store, analysis: { looks, texts }, style, files: toRead };
}

/** What is written in the pictures, by their SHA-256. */
async function readTexts(
  toRead: ReadonlyMap<string, Buffer>,
  looks: ReadonlyMap<string, AnalysisResult>,
  languages: string[],
  progress: (line: string) => void,
): Promise<Map<string, TextLine[]>> {
  const out = new Map<string, TextLine[]>();
  const recogniser = new Recogniser();
  try {
    for (const [sha256, bytes] of toRead) {
      const kind = looks.get(sha256)?.kind?.kind;
      if (!kind || kind === 'separator') continue;
      // One picture that takes too long costs its own text, and no other's.
      const read = await recogniser
        .recognise({ bytes, languages, photo: kind === 'photo', things: false })
        .catch((error: unknown) => {
          progress(strings.cli.notRead(sha256.slice(0, 12), strings.message(reasonOf(error))));
          return { lines: [] };
        });
      out.set(sha256, read.lines);
      progress(strings.cli.recognised(out.size, toRead.size));
    }
  } finally {
    recogniser.close();
  }
  return out;
}

/** @throws Error that names the file and what is wrong in it */
async function styleIn(file: string): Promise<RuleStyle> {
  try {
    return readHouseStyle(await readFile(file, 'utf8'));
  } catch (error) {
    throw new Error(`${file}: ${(error as Error).message}`);
  }
}
