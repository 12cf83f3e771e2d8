import type { DraftInput } from '@/core/draft/compose';
import type { Draft } from '@/core/draft/draft';
import type { PromptInput } from '@/core/draft/prompt';
import type { DraftOrigin } from '@/contract/drafting';

/** What a drafter is given for one place of a picture. */
export interface DraftRequest {
  appearanceId: number;
  /** What is known of the picture and around it. */
  known: DraftInput;
  /** What a prompt is composed from besides. */
  about: Omit<PromptInput, 'known' | 'hint' | 'faults' | 'wanted' | 'current'>;
  /** The text that stands there now; null for none. */
  current: string | null;
  /** SHA-256 of the picture's file; null where it has none. */
  sha256: string | null;
}

/** What is wanted of a drafter, besides the alt text of a picture. */
export interface DraftWish extends Pick<PromptInput, 'hint' | 'wanted' | 'current'> {
  /** The same for the same request: a service that knows it answers it once, however often it is sent. */
  key: string;
  /** The greater is asked first: somebody waits for a single draft, and nobody for one of a round. */
  priority: number;
}

/** A draft with where it came from. */
export interface DraftResult extends Draft {
  origin: DraftOrigin;
  /** Texts that were drafted before this one, and were worse. */
  alternatives: string[];
}

/** Proposes what could be said of a picture. A person accepts it, changes it or rejects it. */
export interface Drafter {
  /**
   * @param signal ends it early
   * @throws DraftingError when it cannot answer; the other pictures of a round are drafted all the same
   */
  draft(request: DraftRequest, wish: DraftWish, signal: AbortSignal): Promise<DraftResult>;
}

/** How much before a round a single request is asked. */
export const SINGLE = 10;

/** Where the drafts of the evidence drafter come from. */
export const OWN_ORIGIN: DraftOrigin = { service: null, model: null, prompt: null, cost: 0, currency: null };
