import { z } from 'zod';
import type { Message } from '@/core/model/message';
import { KINDS, type Kind } from '@/core/model/picture-analysis';
import type { Purpose, State } from '@/core/model/appearance';
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

const View = z.object({
  state: z.enum(['all', 'todo', 'doubtful', 'missing', 'described', 'decorative', 'draft', 'conflict']).catch('all'),
  rule: z.string().max(40).catch('any'),
  kind: z.enum(['any', ...KINDS]).catch('any'),
  q: z.string().trim().max(200).catch(''),
  /** Only what looks like one picture: the id of its similar group. */
  similarGroup: z.coerce.number().int().nonnegative().catch(0),
  sort: z.enum(['first', 'reach', 'weight', 'length', 'place', 'alike']).catch('reach'),
});

/** What the Galley shows, as its address says it. */
export const GalleyView = z.preprocess(currentView, View);
export type GalleyView = z.infer<typeof View>;

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

/** One line of the Galley: a picture with the words of the appearance that stands for it. */
export interface Line {
  id: number;
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
  missing: number;
  /** The appearance that the line shows. */
  appearanceId: number;
  state: State;
  heard: string;
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

export interface Lines {
  total: number;
  lines: Line[];
}

/** Where a picture stands among those that a view shows. */
export interface Queue {
  /** From 1. */
  position: number;
  total: number;
  previous: number | null;
  next: number | null;
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
