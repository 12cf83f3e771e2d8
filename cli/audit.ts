import { positionOf } from '@/core/model/appearance';
import { readFile } from 'node:fs/promises';
import path from 'node:path';
import type { Picture } from '@/core/model/picture';
import { activeRules, auditCollection, phrasesOf, severity, wordsGroup, type RuleStyle } from '@/core/audit';
import { readHouseStyle } from '@/core/house-style/house-style';
import { targetPath } from '@/core/formats/html/target';
import { groupSimilar, stemOf } from '@/core/picture/similarity';
import { textOf, textShareOf, type TextLine } from '@/core/picture/recognised';
import type { PictureAnalysis } from '@/core/model/picture-analysis';
import { readingLanguages } from '@/server/analysis/recognition-languages';
import { analysisFrom } from '@/server/analysis/facts-for-rules';
import { proposePurpose } from '@/core/purpose/propose';
import { languageTeller } from '@/core/words/page-language';
import { RULES } from '@/core/rules';
import type { RuleContext } from '@/core/rules/support/rule';
import type { Finding } from '@/core/model/finding';
import { knowledge } from '@/server/language/dictionaries';
import { Recogniser, ReaderPool } from '@/server/workers/reader-pool';
import type { AnalysisResult } from '@/server/workers/tasks';
import { SurveyRun } from '@/server/survey/survey-run';
import { type Readers } from '@/server/survey/survey-run';
import { type GatheredPicture } from '@/server/survey/store';
import { FileSource } from '@/server/survey/file-source';
import { FolderTree } from '@/server/survey/folder-tree';
import { parseAllowed } from '@/server/net/allowed';
import { MemoryStore } from '@/server/survey/memory-store';
import { BrowserRenderer, type Renderer } from '@/server/survey/browser/browser';
import { findChromium } from '@/server/net/chromium';
import { SiteSource, userAgent } from '@/server/survey/site-source';
import type { Source } from '@/server/survey/source';
import type { AuditOptions } from './arguments';

const CONCURRENCY = 4;

export interface AuditReport {
  pages: { path: string; title: string; lang: string | null; rendered: boolean; note: string | null }[];
  pictures: (Pick<Picture, 'id' | 'sha256' | 'type' | 'bytes' | 'width' | 'height' | 'src'> & { reach: number })[];
  /** Icons of pages, and previews that others show of them. */
  apart: { page: string; kind: string; src: string | null; picture: string | null; alt: string | null }[];
  appearances: {
    id: string;
    page: string;
    line: number;
    column: number;
    element: string;
    src: string | null;
    picture: string | null;
    role: string;
    name: string;
    nameSource: string | null;
    hidden: boolean;
    state: string;
    purpose: string;
    origin: string;
    place: string;
    region: string | null;
    fold: string | null;
    shownWidth: number | null;
    shownHeight: number | null;
  }[];
  findings: {
    rule: string;
    outcome: string;
    page: string;
    line: number;
    column: number;
    appearance: string;
    picture: string | null;
    message: string;
    span: { start: number; end: number } | null;
  }[];
  summary: {
    pages: number;
    pictures: number;
    appearances: number;
    described: number;
    decorative: number;
    missing: number;
    failed: number;
    cantTell: number;
    advice: number;
    skipped: { address: string; reason: string }[];
  };
}

async function open(options: AuditOptions, cwd: string): Promise<Source> {
  if (/^https?:\/\//i.test(options.target))
    return new SiteSource(options.target, { allowed: options.allowHosts.map(parseAllowed) });
  return new FileSource(await FolderTree.open(path.resolve(cwd, options.target)));
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
  const style = options.style ? await styleIn(path.resolve(cwd, options.style)) : {};
  const source = await open(options, cwd);
  const pool = new ReaderPool(2);
  const looks = new Map<string, AnalysisResult>();
  const toRead = new Map<string, Buffer>();
  // Here nothing comes after the survey, so pictures are looked at as they come.
  const readers: Readers = {
    page: (...asked) => pool.page(...asked),
    rendered: (...asked) => pool.rendered(...asked),
    picture: async (bytes) => {
      const facts = await pool.picture(bytes);
      if (!facts.broken && !looks.has(facts.sha256)) {
        looks.set(facts.sha256, await pool.look(bytes));
        if (options.readText) toRead.set(facts.sha256, bytes);
      }
      return facts;
    },
  };
  const isSite = source instanceof SiteSource;
  const renderer = isSite ? rendererFor(options) : null;
  const store = new MemoryStore(isSite ? options.maxPages : Infinity, (s) =>
    progress(`${s.pages.length} pages read, ${s.waitingCount} waiting, ${s.pictures.size} pictures`),
  );
  try {
    await new SurveyRun(source, store, readers, {
      maxDepth: options.maxDepth,
      concurrency: CONCURRENCY,
      reading: options.reading,
      renderer,
    }).gather();
  } finally {
    await renderer?.close();
    pool.close();
    await source.close();
  }
  if (store.pages.length === 0) {
    const why = store.skipped[0];
    throw new Error(
      why ? `No page could be read. ${why.address}: ${why.reason}.` : `There is no HTML page in ${options.target}.`,
    );
  }
  const languages = readingLanguages(store.pages.map((p) => p.reading.lang));
  const texts = await readTexts(toRead, looks, languages, progress);
  return report(store, { looks, texts }, style, progress);
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
      const { lines } = await recogniser.recognise({ bytes, languages, photo: kind === 'photo', things: false });
      out.set(sha256, lines);
      progress(`${out.size} of ${toRead.size} pictures read`);
    }
  } finally {
    recogniser.close();
  }
  return out;
}

interface Analysis {
  looks: ReadonlyMap<string, AnalysisResult>;
  texts: ReadonlyMap<string, TextLine[]>;
}

/** @throws Error that names the file and what is wrong in it */
async function styleIn(file: string): Promise<RuleStyle> {
  try {
    return readHouseStyle(await readFile(file, 'utf8'));
  } catch (error) {
    throw new Error(`${file}: ${(error as Error).message}`);
  }
}

function report(
  store: MemoryStore,
  analysis: Analysis,
  style: RuleStyle,
  progress: (line: string) => void,
): AuditReport {
  const pictures = picturesOf(store.pictures, analysis);
  const pages = [...store.pages].sort((a, b) => (a.address < b.address ? -1 : 1));
  const contexts: RuleContext[] = [];
  const sources = new Map<string, string | null>();
  const titles = new Map(pages.map((p) => [p.address, p.reading.title]));
  for (const page of pages)
    for (const appearance of page.reading.appearances) {
      const address = page.pictureOf[appearance.order] ?? null;
      const picture = address === null ? null : (pictures.byAddress.get(address) ?? null);
      const id = `a${contexts.length + 1}`;
      const shown = address?.startsWith('inline:') ? null : address;
      sources.set(id, shown);
      contexts.push({
        id,
        page: {
          path: page.address,
          lang: page.reading.lang,
          title: page.reading.title,
          description: page.reading.description,
          headings: page.reading.headings,
          directives: page.directives,
        },
        picture,
        variants: appearance.markup.candidates
          .flatMap((c) => pictures.byAddress.get(c.address ?? '') ?? [])
          .filter((v) => v.id !== picture?.id),
        appearance,
        purpose: proposePurpose(appearance, picture).purpose,
        purposeSettled: false,
        targetTitle: titles.get(targetPath(page.address, appearance.context.control?.href ?? null) ?? '') ?? null,
      });
    }
  const reach = new Map<string, Set<string>>();
  for (const { page, picture } of contexts)
    if (picture) reach.set(picture.id, (reach.get(picture.id) ?? new Set()).add(page.path));
  const texts = contexts.map(wordsGroup).filter((words) => words !== null);
  const know = knowledge(phrasesOf(texts, style));
  const failures = new Map<string, string>();
  const active = activeRules(style, know, RULES, (rule, error) =>
    failures.set(rule, error instanceof Error ? error.message : String(error)),
  );
  const findings = auditCollection(languageTeller(know)(contexts), active);
  for (const [rule, message] of failures) progress(`The rule ${rule} failed (${message}); its findings are missing.`);
  const at = new Map(contexts.map((s) => [s.id, s]));
  const count = (test: (s: RuleContext) => boolean) => contexts.filter(test).length;
  const given = (outcome: Finding['outcome']) => findings.filter((f) => f.outcome === outcome).length;
  return {
    pages: pages.map(({ address, reading: { title, lang, rendered }, note }) => ({
      path: address,
      title,
      lang,
      rendered,
      note,
    })),
    apart: pages.flatMap((p) =>
      p.pagePictures.map(({ kind, src, alt }) => ({
        page: p.address,
        kind,
        src,
        picture: (src && pictures.byAddress.get(src)?.id) || null,
        alt,
      })),
    ),
    pictures: pictures.all.map(({ id, sha256, type, bytes, width, height, src }) => ({
      id,
      sha256,
      type,
      bytes,
      width,
      height,
      src,
      reach: reach.get(id)?.size ?? 0,
    })),
    appearances: contexts.map(({ id, page, picture, appearance: a, purpose }) => ({
      id,
      page: page.path,
      ...positionOf(a),
      element: a.element,
      src: sources.get(id) ?? null,
      picture: picture?.id ?? null,
      role: a.accessible.role,
      name: a.accessible.name,
      nameSource: a.accessible.nameSource,
      hidden: a.accessible.hidden !== null,
      state: a.state,
      purpose,
      origin: a.location.kind === 'script' ? 'script' : 'source',
      place: a.context.place,
      region: a.context.region,
      fold: a.layout.fold,
      shownWidth: a.layout.width,
      shownHeight: a.layout.height,
    })),
    findings: findings.map((f) => {
      const { page, appearance, picture } = at.get(f.context)!;
      return {
        rule: f.rule,
        outcome: f.outcome,
        page: page.path,
        ...positionOf(appearance),
        appearance: f.context,
        picture: picture?.id ?? null,
        message: f.message,
        span: f.span ?? null,
      };
    }),
    summary: {
      pages: pages.length,
      pictures: pictures.all.length,
      appearances: contexts.length,
      described: count((s) => s.appearance.state === 'described'),
      decorative: count((s) => s.appearance.state === 'decorative'),
      missing: count((s) => s.appearance.state === 'missing'),
      failed: given('failed'),
      cantTell: given('cantTell'),
      advice: given('advice'),
      skipped: store.skipped,
    },
  };
}

/** One picture for each content, whatever the number of addresses it has. */
function picturesOf(gathered: ReadonlyMap<string, GatheredPicture>, { looks, texts }: Analysis) {
  const all: Picture[] = [];
  const byAddress = new Map<string, Picture>();
  const byContent = new Map<string, Picture>();
  for (const g of [...gathered.values()].sort((a, b) => (a.address < b.address ? -1 : 1))) {
    const known = g.found ? byContent.get(g.reading.sha256) : undefined;
    if (known) {
      byAddress.set(g.address, known);
      continue;
    }
    const inline = /^(?:inline|data):/.test(g.address);
    const base = { id: `p${all.length + 1}`, src: inline ? null : g.address };
    const picture: Picture = g.found
      ? {
          ...base,
          sha256: g.reading.sha256,
          type: g.reading.type,
          bytes: g.reading.bytes,
          width: g.reading.width,
          height: g.reading.height,
          // Inline markup is drawn by the page, whatever a drawing library makes of it on its own.
          broken:
            g.reading.broken ??
            (g.address.startsWith('inline:') ? null : (looks.get(g.reading.sha256)?.broken ?? null)),
          unread: null,
          smallerCopyBytes: looks.get(g.reading.sha256)?.lighter ?? null,
          analysis: withText(analysisFrom(looks.get(g.reading.sha256)), texts.get(g.reading.sha256)),
        }
      : {
          ...base,
          sha256: null,
          type: null,
          bytes: null,
          width: null,
          height: null,
          broken: g.skipped.notLookedAt ? null : g.skipped.reason,
          unread: g.skipped.notLookedAt ? g.skipped.reason : null,
          smallerCopyBytes: null,
          analysis: null,
        };
    all.push(picture);
    byAddress.set(g.address, picture);
    if (picture.sha256) byContent.set(picture.sha256, picture);
  }
  group(all, looks);
  return { all, byAddress };
}

/** What was seen, with what was read. */
function withText(seen: PictureAnalysis | null, lines: readonly TextLine[] | undefined): PictureAnalysis | null {
  if (!seen || !lines) return seen;
  const photo = seen.kind === 'photo';
  return { ...seen, text: textOf(lines, photo), textShare: textShareOf(lines, photo) };
}

/** Tells which pictures are the same, and which look alike. */
function group(pictures: readonly Picture[], looks: ReadonlyMap<string, AnalysisResult>): void {
  const compared = pictures.flatMap(({ sha256, width, height, src }, id) => {
    const look = looks.get(sha256 ?? '');
    if (!look?.fingerprint) return [];
    const taken = look.details?.metadata.taken?.text ?? null;
    return [{ id, width: width ?? 1, height: height ?? 1, stem: stemOf(src), taken, ...look.fingerprint }];
  });
  const sizes = new Map<number, number>();
  const groups = groupSimilar(compared);
  for (const { similarGroup } of groups.values())
    if (similarGroup !== null) sizes.set(similarGroup, (sizes.get(similarGroup) ?? 0) + 1);
  for (const [id, { duplicateGroup, similarGroup }] of groups) {
    const { analysis: seen } = pictures[id]!;
    if (seen)
      Object.assign(seen, {
        duplicateGroup,
        similarGroup,
        similarCount: similarGroup === null ? 0 : sizes.get(similarGroup)!,
      });
  }
}

/** Whether the findings reach the level from which the exit code is 1. */
export function failsOn(report: AuditReport, level: AuditOptions['failOn']): boolean {
  if (level === 'none') return false;
  return report.findings.some((f) => severity(f.outcome as Finding['outcome']) <= severity(level));
}
