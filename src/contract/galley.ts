import { z } from 'zod';
import type { Message } from '@/core/model/message';
import { KINDS, type Kind } from '@/core/model/picture-analysis';
import { PURPOSES, type Purpose, type State } from '@/core/model/appearance';
import type { Fix, Outcome, SubsumedFinding } from '@/core/model/finding';
import { currentRuleId } from '@/core/rules/support/former-ids';

const FORMER_STATES: Readonly<Record<string, string>> = { said: 'described', silent: 'decorative', unsaid: 'missing' };

/** Addresses that were noted down when states, rules and groups had other names still lead where they did. */
function currentView(asked: unknown): unknown {
  if (typeof asked !== 'object' || asked === null) return asked;
  const { series, ...view } = asked as Record<string, unknown>;
  const { state, rule } = view;
  return {
    ...(series === undefined ? {} : { similarGroup: series }),
    ...view,
    ...(typeof state === 'string' && Object.hasOwn(FORMER_STATES, state) ? { state: FORMER_STATES[state] } : {}),
    ...(typeof rule === 'string' ? { rule: currentRuleId(rule) } : {}),
  };
}

/** Facets of which a view names one value each, `any` for no limit. */
const ANY = 'any';
const word = (most = 100) => z.string().trim().min(1).max(most).catch(ANY);

/** Bounds of weight in bytes, of shown width in CSS pixels, of use in pages; the upper one is not part of it. */
export const RANGES = {
  weight: {
    'under-10k': [0, 10_240],
    '10k-100k': [10_240, 102_400],
    'over-100k': [102_401, Infinity],
    'over-1m': [1_048_577, Infinity],
  },
  shown: { 'under-32': [0, 32], '32-200': [32, 200], '200-600': [200, 600], 'over-600': [600, Infinity] },
  uses: { '1': [0, 2], '2-9': [2, 10], '10-99': [10, 100], 'over-100': [100, Infinity] },
} as const satisfies Record<string, Record<string, readonly [number, number]>>;
const range = (facet: keyof typeof RANGES) => z.enum([ANY, ...Object.keys(RANGES[facet])]).catch(ANY);

const View = z.object({
  state: z.enum(['all', 'todo', 'doubtful', 'missing', 'described', 'decorative', 'draft', 'conflict']).catch('all'),
  rule: z.string().max(40).catch(ANY),
  kind: z.enum([ANY, ...KINDS]).catch(ANY),
  purpose: z.enum([ANY, ...PURPOSES]).catch(ANY),
  /** First part of the address of a page; empty for pages at the top. */
  section: z.string().max(200).catch(ANY),
  /** Id of a page; 0 for any. */
  page: z.coerce.number().int().nonnegative().catch(0),
  host: word(255),
  /** Media type of the file, without `image/`. */
  format: word(),
  weight: range('weight'),
  shown: range('shown'),
  uses: range('uses'),
  /** How many rules find something: `none`, `one` or `several`. */
  findings: z.enum([ANY, 'none', 'one', 'several']).catch(ANY),
  language: word(40),
  /** Who wrote what is heard; `nobody` where nothing is. */
  writer: z.enum([ANY, 'page', 'person', 'drafter', 'nobody']).catch(ANY),
  /** Found first by the last survey, or on a page that has changed since the one before. */
  since: z.enum([ANY, 'new', 'changed']).catch(ANY),
  q: z.string().trim().max(200).catch(''),
  /** Only what looks like one picture: the id of its similar group. */
  similarGroup: z.coerce.number().int().nonnegative().catch(0),
  sort: z.enum(['first', 'reach', 'weight', 'length', 'place', 'alike']).catch('reach'),
  /** What a line is: a picture, or one of its appearances under the page or template place where it stands. */
  group: z.enum(['picture', 'alike', 'page', 'place']).catch('picture'),
});

/** What the Galley shows, as its address says it. */
export const GalleyView = z.preprocess(currentView, View);
export type GalleyView = z.infer<typeof View>;

/** The view that limits nothing. */
export const EVERYTHING: GalleyView = GalleyView.parse({});

/** The facets that a view can be limited by, in the order in which they are offered. */
export const FACETS = [
  'state',
  'rule',
  'findings',
  'kind',
  'purpose',
  'section',
  'page',
  'host',
  'format',
  'weight',
  'shown',
  'uses',
  'language',
  'writer',
  'since',
] as const;
export type FacetName = (typeof FACETS)[number];

/** One choice of a facet, with how many pictures it would show. */
export interface FacetChoice {
  value: string;
  /** What people call it, where the value is not that. */
  label?: string;
  pictures: number;
}

/** A view that somebody saved under a name; `query` is that of its address. */
export interface SavedView {
  id: number;
  name: string;
  query: string;
}

export interface LineNote {
  rule: string;
  outcome: Outcome;
  message: Message;
  /** In how many of the picture's places the rule found it. */
  places: number;
  span: { start: number; end: number } | null;
  fixes: Fix[];
  /** What other rules found of the same cause. */
  also: SubsumedFinding[];
}

/** What a picture says at some of its places, where these do not all say the same. */
export interface LineText {
  /** One of the places. */
  appearanceId: number;
  state: State;
  heard: string;
  lang: string | null;
  places: number;
}

/** One line of the Galley: a picture with the words of the appearance that stands for it, or one appearance of it. */
export interface Line {
  /** Of the picture. */
  id: number;
  /** What the line stands under; null where lines are not grouped. */
  group: LineGroup | null;
  /** It is this one appearance, and what is done to it is done there. */
  isPlace: boolean;
  /** Where it can be shown from; null for what shows no file. */
  thumb: string | null;
  name: string | Message;
  type: string | null;
  bytes: number | null;
  width: number | null;
  height: number | null;
  /** Why it cannot be shown; null when it can. */
  broken: Message | null;
  /** What it looks like; null where that is not sure. */
  kind: Kind | null;
  /** The series of look-alikes it belongs to, and how many that has; null for one that stands alone. */
  similarGroup: { id: number; size: number } | null;
  /** Why it comes where it comes in the order of work; null where nothing is to be done. */
  reason: Message | null;
  reach: number;
  appearances: number;
  /** The appearance that the line shows. */
  appearanceId: number;
  state: State;
  heard: string;
  /** In how many of the picture's places it says this. */
  places: number;
  /** What it says elsewhere, what was searched for and then what stands in most places first; of very many the first ones. */
  texts: LineText[];
  /** How many different things it says, the shown one among them. */
  textsTotal: number;
  lang: string | null;
  purpose: Purpose;
  page: string;
  worded: boolean;
  draft: string | null;
  /** At one of its places somebody has to choose between two texts. */
  conflict: boolean;
  /** The state of the collection's words that the line shows; a save says that it began from it. */
  revision: number;
  notes: LineNote[];
}

export interface LineGroup {
  kind: 'alike' | 'page' | 'place';
  key: string;
  /** Title of the page or name of the template place; empty where there is none. */
  label: string;
}

export interface Lines {
  total: number;
  lines: Line[];
}

/** The pictures of a view in its order, as they are worked through at the Desk. */
export interface Queue {
  /** The picture that it was asked for is among them. */
  ids: number[];
  /** False where the view shows more than a queue takes: then these are the ones around that picture. */
  isWhole: boolean;
}

/** What the spine and the head of the Galley count, whatever the view. */
export interface Counts {
  pictures: number;
  appearances: number;
  pages: number;
  todo: number;
  conflicts: number;
  /** Places with a draft that nobody has read yet. */
  drafts: number;
  /** Texts that wait for delivery. */
  delivery: number;
  /** The state of the collection's words that was counted. */
  revision: number;
}

export interface Facets {
  all: number;
  todo: number;
  doubtful: number;
  conflict: number;
  missing: number;
  described: number;
  decorative: number;
  draft: number;
  rules: { rule: string; pictures: number }[];
  kinds: { kind: Kind; pictures: number }[];
  appearances: number;
  pages: number;
}
