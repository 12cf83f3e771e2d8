/** What Detto does in the background, with what each kind of job needs to know. */
export interface Payload {
  /** Gathers the pages and pictures of a collection. */
  survey: { collectionId: string; surveyId: number };
  /** Audits everything in a collection, after a survey or an update of Detto. */
  audit: { collectionId: string };
  /** Decodes each picture once; `surveyed` when appearances may be new although the pictures are known. */
  analysis: { collectionId: string; surveyed: boolean };
  /** Reads the text in pictures and finds things in photos. */
  recognition: { collectionId: string };
  /** Groups similar pictures and proposes purposes from what analysis and recognition found. */
  conclusions: { collectionId: string };
  /** Checks a collection again with some rules. */
  recheck: { collectionId: string; rules: readonly string[] };
  /** Counts the phrases that open or close too many texts. */
  phrases: { collectionId: string };
  /** Does what is left of an act on very many places. */
  bulk: { collectionId: string; act: string };
  /** Counts what the Brief of a large collection says. */
  brief: { collectionId: string };
  /** Does what is left of the rounds of drafts that run. */
  rounds: { collectionId: string };
  /** Works out what a delivery would do, as far as it is not known. */
  preview: { collectionId: string };
  /** Delivers the documents with their accepted texts. */
  delivery: { collectionId: string; delivery: number };
}
export type JobKind = keyof Payload;

interface KindSettings<K extends JobKind> {
  /** Jobs of the kind that run at a time, for different collections. */
  concurrency: number;
  /** Jobs of one collection with the same lane run one after the other. */
  lane: 'survey' | 'audit' | 'pictures' | 'bulk' | 'brief' | 'rounds' | 'delivery';
  /** One job that does what two of a collection would; null where there is none. */
  merge(one: Payload[K], other: Payload[K]): Payload[K] | null;
}

const either = <T>(_: T, other: T): T => other;

export const KINDS: { [K in JobKind]: KindSettings<K> } = {
  survey: { concurrency: 4, lane: 'survey', merge: either },
  audit: { concurrency: 2, lane: 'audit', merge: either },
  analysis: {
    concurrency: 2,
    lane: 'pictures',
    merge: (one, other) => ({ ...one, surveyed: one.surveyed || other.surveyed }),
  },
  recognition: { concurrency: 1, lane: 'pictures', merge: either },
  conclusions: { concurrency: 1, lane: 'pictures', merge: either },
  recheck: {
    concurrency: 1,
    lane: 'audit',
    merge: (one, other) => ({ ...one, rules: [...new Set([...one.rules, ...other.rules])] }),
  },
  phrases: { concurrency: 1, lane: 'audit', merge: either },
  // Each act is a job of its own.
  bulk: { concurrency: 1, lane: 'bulk', merge: (one, other) => (one.act === other.act ? other : null) },
  brief: { concurrency: 1, lane: 'brief', merge: either },
  rounds: { concurrency: 4, lane: 'rounds', merge: either },
  preview: { concurrency: 2, lane: 'delivery', merge: either },
  delivery: {
    concurrency: 2,
    lane: 'delivery',
    merge: (one, other) => (one.delivery === other.delivery ? other : null),
  },
};

export const JOB_KINDS = Object.keys(KINDS) as JobKind[];
