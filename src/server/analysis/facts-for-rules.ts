import { rightsIn, wordsIn } from '@/core/picture/metadata';
import { NOT_ANALYSED, type PictureAnalysis } from '@/core/model/picture-analysis';
import type { AnalysisResult } from '../workers/tasks';

/** What rules need to know of a look; null where there was none. */
export function analysisFrom(look: AnalysisResult | undefined): PictureAnalysis | null {
  if (!look) return null;
  const words = look.details ? wordsIn(look.details.metadata) : null;
  return {
    ...NOT_ANALYSED,
    kind: look.kind?.kind ?? null,
    sure: look.kind?.sure ?? 0,
    fields: look.fingerprint?.fields ?? null,
    words: words?.words ?? null,
    wordsFrom: words?.from ?? null,
    rights: look.details ? rightsIn(look.details.metadata) : null,
  };
}
