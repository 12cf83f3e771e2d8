import { composeDraft } from '@/core/draft/compose';
import type { WantedText } from '@/core/draft/prompt';
import { OWN_ORIGIN, type Drafter, type DraftRequest, type DraftResult } from './drafter';

/** Composes from captions, links, file names, and what was recognised; it says nothing where that is not enough. */
export const evidenceDrafter: Drafter = {
  draft: async (request, { wanted }) => evidenceDraft(request, wanted),
};

/** What the evidence drafter says; nothing is sent anywhere. */
export function evidenceDraft({ known }: DraftRequest, wanted: readonly WantedText[] = []): DraftResult {
  const draft = composeDraft(known);
  const { longDescription } = draft.other;
  const other = longDescription && wanted.includes('longDescription') ? { longDescription } : {};
  return { ...draft, other, origin: OWN_ORIGIN, alternatives: [] };
}
