import type { DraftEvidence } from '@/core/draft/draft';
import type { Message } from '@/core/model/message';
import { strings } from './index';

/** What a draft comes from, in words: “From: caption “Two boats””, or for a decorative picture “Why: 1 × 1 pixels”. */
export function draftEvidence(evidence: readonly { from: DraftEvidence['from']; text: string | Message }[]): string {
  const words = (text: string | Message) => (typeof text === 'string' ? text : strings.message(text));
  const s = strings.desk;
  const reasons: string[] = [];
  const sources: string[] = [];
  for (const { from, text } of evidence)
    if (from === 'purpose') reasons.push(words(text));
    else sources.push(`${s.evidence[from]} “${words(text)}”`);
  return [
    reasons.length > 0 ? `${s.evidenceWhy}: ${reasons.join(' · ')}` : '',
    sources.length > 0 ? `${s.evidenceFrom}: ${sources.join(' · ')}` : '',
  ]
    .filter(Boolean)
    .join(' · ');
}
