/** How far a survey is, and the account of what it passed over. */
export interface SurveyProgress {
  id: number;
  state: 'running' | 'stopped' | 'done' | 'failed';
  phase: 'gathering' | 'auditing' | 'over';
  message: string | null;
  startedAt: string;
  finishedAt: string | null;
  pagesDone: number;
  pagesWaiting: number;
  pagesSkipped: number;
  pictures: number;
  picturesSkipped: number;
  /** The latest first. */
  recent: { address: string; kind: string; state: string }[];
  skipped: { address: string; kind: string; reason: string }[];
}
