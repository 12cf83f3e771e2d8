import { sql } from 'drizzle-orm';
import { database } from '../db/database';
import { picture } from '../db/schema';
import { isAnalysing } from '../jobs/progress';
import { analysable } from './analysable';
import { ANALYSIS_VERSION } from './analyse-pictures';
import { RECOGNITION_VERSION, recognisable } from './recognition';

export interface AnalysisProgress {
  /** Whether analysis, or what follows from it, is under way. */
  isAnalysing: boolean;
  /** Pictures that have been analysed, of those that can be. */
  analysed: number;
  toAnalyse: number;
  /** Pictures whose text and things have been read, of those where there may be any. */
  recognised: number;
  toRecognise: number;
}

export async function analysisProgress(collectionId: string): Promise<AnalysisProgress> {
  const db = await database();
  const [counts] = await db
    .select({
      toAnalyse: sql`count(*)`.mapWith(Number),
      analysed: sql`count(*) filter (where ${picture.analysisVersion} = ${ANALYSIS_VERSION})`.mapWith(Number),
      recognised:
        sql`count(*) filter (where ${picture.recognitionVersion} = ${RECOGNITION_VERSION} and ${recognisable})`.mapWith(
          Number,
        ),
      toRecognise: sql`count(*) filter (where ${recognisable})`.mapWith(Number),
    })
    .from(picture)
    .where(analysable(collectionId));
  return { isAnalysing: await isAnalysing(collectionId), ...counts! };
}
