import { faultInWords, WORD_RULES } from '@/core/draft/faults';
import { withWords } from '@/core/model/wording';
import type { DraftFault } from '@/contract/drafting';
import { findingsOf } from '../audit/audit-worker';
import { ruleContexts, settingsOf } from '../audit/rule-contexts';
import { among } from '../db/bulk';
import type { Queryable } from '../db/database';
import { appearance } from '../db/schema';

/** A text that may come to stand at an appearance; `''` makes it decorative. */
export interface ProposedText {
  appearanceId: number;
  text: string;
}

/**
 * What the rules about words find in proposed texts, in the house style of the collection: a list for each text, in order.
 *
 * @param urgent an editor waits for it
 */
export async function faultsOf(
  tx: Queryable,
  collectionId: string,
  texts: readonly ProposedText[],
  urgent: boolean,
): Promise<DraftFault[][]> {
  if (texts.length === 0) return [];
  const ids = texts.map((t) => t.appearanceId);
  const contexts = new Map((await ruleContexts(tx, among(appearance.id, ids))).map((c) => [c.id, c]));
  const asked = texts.flatMap(({ appearanceId, text }, i) => {
    const context = contexts.get(String(appearanceId));
    return context ? [{ ...context, id: `${i}`, appearance: withWords(context.appearance, text) }] : [];
  });
  const findings = await findingsOf(
    { ...(await settingsOf(tx, collectionId)), only: WORD_RULES, contexts: asked, groups: [] },
    urgent,
  );
  const out: DraftFault[][] = texts.map(() => []);
  for (const { context, rule, outcome, message, span } of findings)
    out[Number(context)]!.push({ rule, outcome, message, span: span ?? null });
  return out;
}

/** Faults in words for a model, whatever their outcome: “Image of …” only could be better, and nobody wants it. */
export const inWordsForModel = (text: string, faults: readonly DraftFault[]): string[] =>
  faults.map((f) => faultInWords(f.rule, f.span && text.slice(f.span.start, f.span.end)));
