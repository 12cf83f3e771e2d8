import type { Appearance, Picture, Purpose, State } from '@/core/appearance';
import type { RuleStyle } from '@/core/audit';
import type { Draft } from '@/core/draft/draft';
import type { Mend, Outcome } from '@/core/rules/rule';

export interface DeskPlace {
  id: number;
  /** With its own title, without the site's name; its path where it has none. */
  page: { path: string; title: string; lang: string | null };
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
  findings: { rule: string; outcome: Outcome; message: string; mends: Mend[] }[];
  history: { id: number; text: string | null; by: string; state: string; act: string; at: string }[];
}

export interface DeskPicture {
  picture: Picture & { colours: string[]; unread: string | null; thumb: string | null };
  name: string;
  addresses: string[];
  /** The shown place first; of very many, the first ones. */
  places: DeskPlace[];
  placesTotal: number;
  /** For the place that is shown first, or asked for. */
  draft: Draft | null;
  style: RuleStyle;
}
