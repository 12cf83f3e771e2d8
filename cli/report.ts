import { activeRules, auditCollection, phrasesOf, severity, wordsGroup, type RuleStyle } from '@/core/rules/audit';
import { targetPath } from '@/core/formats/html/target';
import { positionOf } from '@/core/model/appearance';
import type { FormatId } from '@/core/model/document';
import type { Outcome } from '@/core/model/finding';
import type { Message } from '@/core/model/message';
import type { Picture } from '@/core/model/picture';
import { proposePurpose } from '@/core/purpose/propose';
import { hrefOf, isThumbnailOf, mayBeThumbnail } from '@/core/purpose/thumbnail';
import { RULES } from '@/core/rules';
import { ruleContextOf, type RuleContext } from '@/core/model/rule-context';
import { commonTitles } from '@/core/words/page-title';
import { Vocabulary } from '@/core/words/vocabulary';
import { createLanguageDetector } from '@/core/words/page-language';
import { knowledge } from '@/server/language/dictionaries';
import type { MemoryStore } from '@/server/survey/memory-store';
import { sortKeyOf, type GatheredPage } from '@/server/survey/store';
import type { Knowledge } from '@/core/rules/support/rule';
import { strings } from '@/ui/strings';
import type { AuditOptions } from './arguments';
import { picturesOf, type Analysis } from './pictures';

export interface AuditReport {
  pages: {
    path: string;
    title: string;
    lang: string | null;
    rendered: boolean;
    note: string | null;
    format: FormatId;
    /** Path of the document that it is a page of; null where it is the document itself. */
    document: string | null;
  }[];
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
    title: string | null;
    /** The text that belongs to it on the page; null for none. */
    caption: string | null;
    /** Where it stands among the appearances of its page, from 0. */
    order: number;
    /** It is the only name of a link or a button. */
    namesControl: boolean;
    nameSource: string | null;
    hidden: boolean;
    state: string;
    purpose: string;
    origin: string;
    /** In documents it stands for this appearance alone; in web pages for all of a template. */
    place: string;
    /** In documents: where on its page it stands, in words. */
    spot: string | null;
    region: string | null;
    fold: string | null;
    shownWidth: number | null;
    shownHeight: number | null;
  }[];
  findings: {
    rule: string;
    outcome: Outcome;
    page: string;
    line: number;
    column: number;
    appearance: string;
    picture: string | null;
    /** In words, as the interface says it. */
    message: string;
    /** The message as data: its id, and what stands in it. */
    messageId: string;
    values: NonNullable<Message['values']>;
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
    /** What is to be known of documents, such as that one is signed. */
    notes: { address: string; note: string }[];
    skipped: { address: string; reason: string; reasonId: string; values: NonNullable<Message['values']> }[];
  };
}

/** Pages as people meet them: by their paths, those of a document or a course in its own order. */
export function inOrder(pages: readonly GatheredPage[]): GatheredPage[] {
  const key = (p: GatheredPage) => sortKeyOf(p) ?? p.address;
  return [...pages].sort((a, b) => (key(a) < key(b) ? -1 : 1));
}

/** What was surveyed, as rules and drafters see it. */
export interface Surveyed {
  pages: MemoryStore['pages'];
  pictures: ReturnType<typeof picturesOf>;
  contexts: RuleContext[];
  /** Address of the picture's file, by the id of the context; null for none. */
  sources: Map<string, string | null>;
  /** Paths of the pages that each picture stands on, by its id. */
  reach: Map<string, Set<string>>;
  know: Knowledge;
}

/** Brings what was gathered together: each appearance with its page, its picture and what the collection is like. */
export function surveyedFrom(store: MemoryStore, analysis: Analysis, style: RuleStyle): Surveyed {
  const pictures = picturesOf(store.pictures, analysis);
  const pages = inOrder(store.pages);
  const contexts: RuleContext[] = [];
  const sources = new Map<string, string | null>();
  const common = new Set(commonTitles(pages.map((p) => p.reading.title)));
  const titles = new Map(
    pages.flatMap((p) => (common.has(p.reading.title) ? [] : [[p.address, p.reading.title] as const])),
  );
  const shownOn = new Map(pages.map((p) => [p.address, [...new Set(Object.values(p.pictureOf))]]));
  const sized = (address: string | null) => {
    const known = address === null ? null : pictures.byAddress.get(address);
    return { src: address, width: known?.width ?? null, height: known?.height ?? null };
  };
  const vocabulary = new Vocabulary();
  for (const p of pages) vocabulary.add(p.reading.words);
  for (const page of pages)
    for (const appearance of page.reading.appearances) {
      const address = page.pictureOf[appearance.order] ?? null;
      const picture = address === null ? null : (pictures.byAddress.get(address) ?? null);
      const id = `a${contexts.length + 1}`;
      const target = targetPath(page.address, hrefOf(appearance));
      sources.set(id, address?.startsWith('inline:') ? null : address);
      contexts.push(
        ruleContextOf({
          id,
          page: { ...page.reading, path: page.address, format: page.format, directives: page.directives },
          picture,
          appearance,
          texts: { words: null, title: null, caption: null },
          target,
          purpose: proposePurpose(appearance, picture).purpose,
          purposeSettled: false,
          isThumbnail:
            target !== null &&
            target !== page.address &&
            mayBeThumbnail(appearance) &&
            isThumbnailOf(sized(address), (shownOn.get(target) ?? []).map(sized)),
          pictureAt: (at) => pictures.byAddress.get(at),
          titleAt: (path) => titles.get(path),
        }),
      );
    }
  const reach = new Map<string, Set<string>>();
  for (const { page, picture } of contexts)
    if (picture) reach.set(picture.id, (reach.get(picture.id) ?? new Set()).add(page.path));
  const texts = contexts.map(wordsGroup).filter((words) => words !== null);
  const know = knowledge({ phrases: phrasesOf(texts, style), vocabulary: vocabulary.words });
  return { pages, pictures, contexts, sources, reach, know };
}

/** What was surveyed and found, as data. @param progress hears of rules that failed */
export function report(
  store: MemoryStore,
  analysis: Analysis,
  style: RuleStyle,
  progress: (line: string) => void,
): AuditReport {
  const { pages, pictures, contexts, sources, reach, know } = surveyedFrom(store, analysis, style);
  const failures = new Map<string, string>();
  const active = activeRules(style, know, RULES, (rule, error) =>
    failures.set(rule, error instanceof Error ? error.message : String(error)),
  );
  const findings = auditCollection(createLanguageDetector(know)(contexts), active);
  for (const [rule, message] of failures) progress(strings.cli.ruleFailed(rule, message));
  const at = new Map(contexts.map((s) => [s.id, s]));
  const count = (test: (s: RuleContext) => boolean) => contexts.filter(test).length;
  const given = (outcome: Outcome) => findings.filter((f) => f.outcome === outcome).length;
  return {
    pages: pages.map(({ address, format, document, reading: { title, lang, rendered }, note }) => ({
      path: address,
      title,
      lang,
      rendered,
      note: note && strings.message(note),
      format,
      document,
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
      title: a.markup.title,
      caption: a.context.caption,
      order: a.order,
      namesControl: a.context.control?.text === '',
      nameSource: a.accessible.nameSource,
      hidden: a.accessible.hidden !== null,
      state: a.state,
      purpose,
      origin: a.location.kind === 'script' ? 'script' : 'source',
      place: a.context.place,
      spot: a.context.spot ? strings.message(a.context.spot) : null,
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
        message: strings.message(f.message),
        messageId: f.message.id,
        values: f.message.values ?? {},
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
      notes: store.notes.map(({ address, note }) => ({ address, note: strings.message(note) })),
      skipped: store.skipped.map(({ address, reason }) => ({
        address,
        reason: strings.message(reason),
        reasonId: reason.id,
        values: reason.values ?? {},
      })),
    },
  };
}

/** Whether the findings reach the level from which the exit code is 1. */
export function failsOn(report: AuditReport, level: AuditOptions['failOn']): boolean {
  if (level === 'none') return false;
  return report.findings.some((f) => severity(f.outcome) <= severity(level));
}
