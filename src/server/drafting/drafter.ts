import type { Draft, DraftInput } from '@/core/draft/draft';

/** What a drafter is given for one place of a picture. */
export interface DraftRequest {
  /** What is known of the picture and around it. */
  known: DraftInput;
  /** The language the text is to be in, BCP 47; null where the page does not say. */
  language: string | null;
  /** The picture's file; null where it has none, or the drafter does not need it. */
  pixels: Buffer | null;
}

export type DraftResult = Draft;

/** Proposes what could be said of a picture. A person accepts it, changes it or rejects it. */
export interface Drafter {
  readonly id: string;
  /** Whether it looks at the picture itself, and so has to be given its file. */
  readonly needsPixels: boolean;
  /**
   * @param signal ends it early
   * @throws Error when it cannot answer; the other pictures of a round are drafted all the same
   */
  draft(request: DraftRequest, signal: AbortSignal): Promise<DraftResult>;
}
