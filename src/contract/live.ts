import type { RuleStyle } from '@/core/rules/audit';
import type { RuleContext } from '@/core/model/rule-context';
import type { Finding } from '@/core/model/finding';
import type { KeywordUse } from '@/core/words/keywords';
import type { Phrase } from '@/core/words/phrases';
import type { Stuffing } from '@/core/words/stuffing';

/** What the writing place asks of the worker that audits while one writes. */
export interface LiveTask {
  /** Rises with every task; an answer to an older one is of no interest. */
  id: number;
  style: RuleStyle;
  phrases: readonly Phrase[];
  /** Id of the collection, whose own words are asked for once. */
  collection: string;
  /** With the words as they stand in the writing place. */
  context: RuleContext;
}

export interface LiveAnswer {
  id: number;
  findings: Finding[];
  stuffing: Stuffing;
  keywords: KeywordUse[];
}
