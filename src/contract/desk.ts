import type { Message } from '@/core/model/message';
import type { Conflict } from './conflict';
import type { Appearance, Purpose, State } from '@/core/model/appearance';
import type { Picture } from '@/core/model/picture';
import type { RuleStyle } from '@/core/rules/audit';
import type { Credit } from '@/core/model/credit';
import type { TextLine, Thing } from '@/core/picture/recognised';
import type { Placement } from '@/core/model/texts';
import type { MetadataField } from '@/core/picture/metadata';
import type { Kind } from '@/core/model/picture-analysis';
import type { Orientation } from '@/core/picture/details';
import type { Answers } from '@/core/purpose/decision-tree';
import type { Draft } from '@/core/draft/draft';
import type { DraftRecord } from './drafting';
import type { ContextPage } from '@/core/model/rule-context';
import type { Finding, Fix } from '@/core/model/finding';
import type { Phrase } from '@/core/words/phrases';

export interface DeskPlace {
  id: number;
  page: ContextPage;
  /** The page's own title, without the site's name; its path where it has none. */
  pageName: string;
  targetTitle: string | null;
  /** The page that it leads to shows it larger. */
  isThumbnail: boolean;
  /** As surveyed, without the words kept since. */
  reading: Appearance;
  /** As it will be heard. */
  heard: string;
  state: State;
  purpose: Purpose;
  purposeSettled: boolean;
  /** From 0 to 1, of the proposal. */
  purposeSure: number;
  evidence: Message[];
  /** What the evidence answers to the questions of the decision tree. */
  answers: Answers;
  /** Kept words wait for delivery. */
  worded: boolean;
  /** A draft that waits to be taken or refused. */
  waitingDraft: string | null;
  title: FieldText;
  caption: FieldText;
  /** Whether the credit line of the picture is to stand below it here, and why it cannot. */
  creditLine: { isShown: boolean; refused: Message | null };
  findings: (Pick<Finding, 'rule' | 'outcome' | 'message' | 'span' | 'also'> & { fixes: Fix[] })[];
  /** Ignored findings on the words as they are saved. */
  ignored: { rule: string; reason: string; by: string; at: string }[];
  history: {
    id: number;
    text: string | null;
    by: string;
    state: string;
    /** The draft that it came from; null of what nobody drafted. */
    draft: DraftRecord | null;
    act: string;
    at: string;
  }[];
}

/** One text that a field was given. */
export interface TextVersion {
  id: number;
  /** `''` took the text away; null gave back what the page or the file says. */
  text: string | null;
  by: 'person' | 'page';
  state: 'accepted' | 'undone';
  act: string;
  at: string;
}

/** The outcome of a text that was to be kept in a field. */
export interface FieldAnswer {
  /** What somebody else has saved since the text that this one was written from; null when this one stands. */
  theirs: string | null;
  /** Places that have it now. */
  places: number;
}

/** A text of a picture other than its alt text. */
export interface FieldText {
  /** As it will be once it is delivered; `''` for none. */
  text: string;
  /** What the page or the file says. */
  found: string;
  /** The latest first. */
  history: TextVersion[];
  /** Why it cannot be put there; null when it can. */
  refused: Message | null;
}

/** What Detto saw in the picture; null parts were not looked for, or not yet. */
export interface DeskDetails {
  kind: { kind: Kind; sure: boolean; reasons: Message[] } | null;
  frames: number;
  clear: boolean;
  orientation: Orientation;
  metadata: { field: MetadataField; text: string; by: string }[];
  /** Lines of recognised text that count, in reading order. */
  lines: TextLine[];
  things: Thing[];
  faces: number | null;
  /** Text and things are still to be read. */
  waits: boolean;
}

/** One that looks like the shown picture. */
export interface DeskLike {
  id: number;
  name: string | Message;
  thumb: string | null;
  heard: string;
  state: State;
  lang: string | null;
  /** Of the same picture, encoded otherwise. */
  same: boolean;
  /** In what it differs from the shown one, a few words each. */
  differs: Message[];
}

export interface DeskPicture {
  /** The state of the collection's words that is shown; a save says that it began from it. */
  revision: number;
  /** Between which texts somebody has to choose, at the places that are listed. */
  conflicts: Conflict[];
  picture: Picture & { colours: string[] };
  details: DeskDetails | null;
  /** Those that look alike, the best to begin with first; of many, the first ones. */
  similar: { similarGroup: number; total: number; members: DeskLike[] } | null;
  /** As a person recorded it, completed by what the file says; and what was recorded, the latest first. */
  credit: Credit;
  creditHistory: { id: number; credit: Credit; isUndone: boolean; at: string }[];
  /** In CommonMark. It is refused where none of the listed places takes it; `places` is how many of them do. */
  longDescription: FieldText & { placement: Placement; places: number };
  /** The name of its file, and one made from its words; null where these make none. */
  fileName: FieldText & { proposal: string | null };
  name: string | Message;
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
