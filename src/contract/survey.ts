import type { Message } from '@/core/model/message';

/** Why an address was not read. */
export const CAUSES = [
  'robots',
  'nofollow',
  'other-host',
  'left-out',
  'depth',
  'limit',
  'not-found',
  'server',
  'no-answer',
  'not-a-page',
  'not-a-picture',
  'size',
  'refused',
  'redirect',
  'same-page',
  'elsewhere',
  'unreadable',
] as const;
export type Cause = (typeof CAUSES)[number];

/** What a survey found beside the one before. */
export interface SurveySummary {
  pages: number;
  pictures: number;
  newPages: number;
  changedPages: number;
  gonePages: number;
  described: number;
  decorative: number;
  missing: number;
}

/** How far a survey is. */
export interface SurveyProgress {
  id: number;
  state: 'running' | 'stopped' | 'done' | 'failed';
  phase: 'gathering' | 'auditing' | 'over';
  /** How it ended, where it did not end as it should. */
  message: Message | null;
  startedAt: string;
  finishedAt: string | null;
  pagesDone: number;
  pagesWaiting: number;
  pagesSkipped: number;
  pictures: number;
  picturesSkipped: number;
  /** Pages read in each second of late; null when there is nothing to go by. */
  perSecond: number | null;
  /** Pages in hand, then the latest that were read. */
  recent: { address: string; state: 'reading' | 'done' }[];
  /** Pictures that Detto has looked at (thumbnail, colours, whether they decode), of those that can be. */
  analysed: number;
  toAnalyse: number;
  /** Whether that, or what follows from it, is under way. */
  isAnalysing: boolean;
  /** Pictures whose text and things have been read, of those where there may be any. */
  recognised: number;
  toRecognise: number;
}

export interface PastSurvey {
  id: number;
  state: SurveyProgress['state'];
  startedAt: string;
  summary: SurveySummary | null;
}

export interface LogLine {
  address: string;
  kind: 'page' | 'picture' | 'stylesheet';
  state: 'waiting' | 'done' | 'skipped';
  reason: Message | null;
  cause: Cause | null;
  /** HTTP status, where there was an answer. */
  status: number | null;
  /** The page that led to it first. */
  foundOn: string | null;
  /** It was opened in a browser. */
  rendered: boolean;
}

/** A picture that stands for pages elsewhere. */
export interface PagePictureLine {
  kind: 'icon' | 'preview';
  src: string;
  alt: string | null;
  pages: number;
  width: number | null;
  height: number | null;
  /** Why it is not to be seen; null when it is. */
  problem: Message | null;
}

/** One page of the account of every address that a survey has met. */
export interface SurveyLog {
  lines: LogLine[];
  total: number;
  /** How many there are of each: `read`, `waiting`, and each cause. */
  counts: Partial<Record<Cause | 'read' | 'waiting', number>>;
}
