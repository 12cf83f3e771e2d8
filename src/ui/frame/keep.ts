import type { Conflict } from '@/contract/conflict';
import type { FieldAnswer } from '@/contract/desk';
import type { Target } from '@/contract/target';
import type { TextField } from '@/core/model/texts';
import { FetchError } from '../data/queries';
import { noteOwnAct, ownActs } from './own-acts';

/** The answer to a request that saves words. */
export interface KeepAnswer {
  /** Places that have them now. */
  places: number;
  /** Those that somebody else has worded meanwhile; a person has to choose there. */
  conflicts: Conflict[];
  /** The state of the collection's words now. */
  revision: number;
}

interface Asked {
  collection: string;
  target: Target;
  /** `''` for decorative; null gives back what the page says. */
  text: string | null;
  act: string;
  by?: 'person' | 'drafter';
  /** The revision that the text was written from. */
  since?: number;
}

/**
 * Keeps words by a request that outlives the page: who goes on at once loses nothing.
 *
 * @throws FetchError when they could not be kept
 */
export const keepWords = ({ collection, ...asked }: Asked): Promise<KeepAnswer> =>
  keep(`/api/collections/${collection}/wordings`, asked);

interface AskedText {
  collection: string;
  field: TextField;
  picture: number;
  /** For a title or a caption: the places that it is for. */
  places: readonly number[];
  text: string | null;
  act: string;
  /** The text that it was written from. */
  base?: string;
}

/**
 * Keeps a text other than the alt text in the same way.
 *
 * @throws FetchError when it could not be kept
 */
export const keepText = ({ collection, ...asked }: AskedText): Promise<FieldAnswer> =>
  keep(`/api/collections/${collection}/texts`, asked);

async function keep<Answer>(address: string, asked: { act: string }): Promise<Answer> {
  const body = JSON.stringify({ ...asked, after: ownActs() });
  noteOwnAct(asked.act);
  const response = await fetch(address, {
    method: 'PUT',
    body,
    // Browsers let no more than 64 KB outlive a page (Fetch Standard, HTTP-network-or-cache fetch).
    keepalive: body.length < 60_000,
  }).catch((error: Error) => {
    throw new FetchError(0, error.message);
  });
  const answer = (await response.json()) as Answer & { error?: string };
  if (!response.ok && response.status !== 409) throw new FetchError(response.status, answer.error ?? '');
  return answer;
}

/** One of the two texts of a conflict, or one that was made of both. */
export type Choice = 'ours' | 'theirs' | { text: string };

/** Chooses between the two texts of a conflict; false when somebody has chosen already. */
export type Choose = (collection: string, conflict: number, choice: Choice, act: string) => Promise<boolean>;

/** At how many places somebody has to choose. */
export const clashingPlaces = ({ conflicts }: KeepAnswer): number => conflicts.reduce((sum, c) => sum + c.places, 0);
