import type { Appearance, Picture, Purpose, State } from '@/core/appearance';
import type { RuleStyle } from '@/core/audit';
import type { Draft } from '@/core/draft/draft';
import type { Finding, Mend, SpotPage } from '@/core/rules/rule';
import type { Phrase } from '@/core/words/phrases';

export interface DeskPlace {
  id: number;
  page: SpotPage;
  /** The page's own title, without the site's name; its path where it has none. */
  pageName: string;
  targetTitle: string | null;
  /** As surveyed, without the words kept since. */
  reading: Appearance;
  /** As it will be heard. */
  heard: string;
  state: State;
  purpose: Purpose;
  purposeSettled: boolean;
  evidence: string[];
  /** Kept words wait for delivery. */
  worded: boolean;
  /** A draft that waits to be taken or refused. */
  waitingDraft: string | null;
  findings: (Pick<Finding, 'rule' | 'outcome' | 'message' | 'span'> & { mends: Mend[] })[];
  /** What was set aside of the words as they are kept. */
  asides: { rule: string; reason: string; by: string; at: string }[];
  history: { id: number; text: string | null; by: string; state: string; act: string; at: string }[];
}

export interface DeskPicture {
  picture: Picture & { colours: string[]; unread: string | null };
  name: string;
  addresses: string[];
  /** The shown place first; of very many, the first ones. */
  places: DeskPlace[];
  placesTotal: number;
  /** For the place that is shown first, or asked for. */
  draft: Draft | null;
  style: RuleStyle;
  phrases: readonly Phrase[];
  /** Titles of the rules, and of which only their own appearance matters. */
  rules: Readonly<Record<string, { title: string; alone: boolean }>>;
  /** Graphemes from which the rule `overlong` tells. */
  limit: number;
}
