import type { Picture } from '@/core/model/picture';
import type { PictureAnalysis } from '@/core/model/picture-analysis';
import { textOf, textShareOf, type TextLine } from '@/core/picture/recognised';
import { groupSimilar, stemOf } from '@/core/picture/similarity';
import { analysisFrom } from '@/server/analysis/facts-for-rules';
import type { GatheredPicture } from '@/server/survey/store';
import type { AnalysisResult } from '@/server/workers/tasks';

/** What was found by looking at the pictures, by their SHA-256. */
export interface Analysis {
  looks: ReadonlyMap<string, AnalysisResult>;
  texts: ReadonlyMap<string, TextLine[]>;
}

/** One picture for each content, whatever the number of addresses it has. */
export function picturesOf(gathered: ReadonlyMap<string, GatheredPicture>, { looks, texts }: Analysis) {
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
