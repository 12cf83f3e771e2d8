import path from 'node:path';
import type { Picture } from '@/core/appearance';
import { activeRules, auditCollection, severity } from '@/core/audit';
import { proposePurpose } from '@/core/purpose/propose';
import type { Finding, Spot } from '@/core/rules/rule';
import { ReaderPool } from '@/server/analysis/reader-pool';
import { runSurvey, type GatheredPicture } from '@/server/survey/engine';
import { FileSource } from '@/server/survey/file-source';
import { FolderTree } from '@/server/survey/folder-tree';
import { parseAllowed } from '@/server/survey/guard';
import { MemoryStore } from '@/server/survey/memory-store';
import { SiteSource } from '@/server/survey/site-source';
import type { Source } from '@/server/survey/source';
import type { AuditOptions } from './arguments';

const CONCURRENCY = 4;

export interface AuditReport {
  pages: { path: string; title: string; lang: string | null }[];
  pictures: Pick<Picture, 'id' | 'sha256' | 'type' | 'bytes' | 'width' | 'height' | 'src'>[];
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
    said: number;
    silent: number;
    unsaid: number;
    failed: number;
    cantTell: number;
    advice: number;
    skipped: { address: string; reason: string }[];
  };
}

async function open(options: AuditOptions, cwd: string): Promise<Source> {
  if (/^https?:\/\//i.test(options.target)) return new SiteSource(options.target, options.allowHosts.map(parseAllowed));
  return new FileSource(await FolderTree.open(path.resolve(cwd, options.target)));
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
  const source = await open(options, cwd);
  const readers = new ReaderPool(2);
  const isSite = source instanceof SiteSource;
  const store = new MemoryStore(isSite ? options.maxPages : Infinity, (s) =>
    progress(`${s.pages.length} pages read, ${s.waitingCount} waiting, ${s.pictures.size} pictures`),
  );
  try {
    await runSurvey(source, store, readers, { maxDepth: options.maxDepth, concurrency: CONCURRENCY });
  } finally {
    readers.close();
    await source.close();
  }
  if (store.pages.length === 0) {
    const why = store.skipped[0];
    throw new Error(
      why ? `No page could be read. ${why.address}: ${why.reason}.` : `There is no HTML page in ${options.target}.`,
    );
  }
  return report(store);
}

function report(store: MemoryStore): AuditReport {
  const pictures = picturesOf(store.pictures);
  const pages = [...store.pages].sort((a, b) => (a.address < b.address ? -1 : 1));
  const spots: Spot[] = [];
  const sources = new Map<string, string | null>();
  for (const page of pages)
    for (const appearance of page.reading.appearances) {
      const address = page.pictureOf[appearance.order] ?? null;
      const picture = address === null ? null : (pictures.byAddress.get(address) ?? null);
      const id = `a${spots.length + 1}`;
      const shown = address?.startsWith('inline:') ? null : address;
      sources.set(id, shown);
      spots.push({
        id,
        page: { path: page.address, lang: page.reading.lang },
        picture,
        appearance,
        purpose: proposePurpose(appearance, picture).purpose,
        purposeSettled: false,
      });
    }
  const findings = auditCollection(spots, activeRules());
  const at = new Map(spots.map((s) => [s.id, s]));
  const count = (test: (s: Spot) => boolean) => spots.filter(test).length;
  const given = (outcome: Finding['outcome']) => findings.filter((f) => f.outcome === outcome).length;
  return {
    pages: pages.map((p) => ({ path: p.address, title: p.reading.title, lang: p.reading.lang })),
    pictures: pictures.all.map(({ id, sha256, type, bytes, width, height, src }) => ({
      id,
      sha256,
      type,
      bytes,
      width,
      height,
      src,
    })),
    appearances: spots.map(({ id, page, picture, appearance: a, purpose }) => ({
      id,
      page: page.path,
      line: a.line,
      column: a.column,
      element: a.element,
      src: sources.get(id) ?? null,
      picture: picture?.id ?? null,
      role: a.role,
      name: a.name,
      nameSource: a.nameSource,
      hidden: a.hidden !== null,
      state: a.state,
      purpose,
    })),
    findings: findings.map((f) => {
      const { page, appearance, picture } = at.get(f.spot)!;
      return {
        rule: f.rule,
        outcome: f.outcome,
        page: page.path,
        line: appearance.line,
        column: appearance.column,
        appearance: f.spot,
        picture: picture?.id ?? null,
        message: f.message,
        span: f.span ?? null,
      };
    }),
    summary: {
      pages: pages.length,
      pictures: pictures.all.length,
      appearances: spots.length,
      said: count((s) => s.appearance.state === 'said'),
      silent: count((s) => s.appearance.state === 'silent'),
      unsaid: count((s) => s.appearance.state === 'unsaid'),
      failed: given('failed'),
      cantTell: given('cantTell'),
      advice: given('advice'),
      skipped: store.skipped,
    },
  };
}

/** One picture for each content, whatever the number of addresses it has. */
function picturesOf(gathered: ReadonlyMap<string, GatheredPicture>) {
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
          broken: g.reading.broken,
          lighter: g.reading.lighter,
        }
      : {
          ...base,
          sha256: null,
          type: null,
          bytes: null,
          width: null,
          height: null,
          broken: g.skipped.notLookedAt ? null : g.skipped.reason,
          lighter: null,
        };
    all.push(picture);
    byAddress.set(g.address, picture);
    if (picture.sha256) byContent.set(picture.sha256, picture);
  }
  return { all, byAddress };
}

/** Whether the findings reach the level from which the exit code is 1. */
export function failsOn(report: AuditReport, level: AuditOptions['failOn']): boolean {
  if (level === 'none') return false;
  return report.findings.some((f) => severity(f.outcome as Finding['outcome']) <= severity(level));
}
