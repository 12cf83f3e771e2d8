import { composeDraft } from '@/core/draft/draft';
import type { Drafter } from './drafter';

/** Composes from captions, links, file names, and what was recognised; it says nothing where that is not enough. */
export const evidenceDrafter: Drafter = {
  id: 'evidence',
  needsPixels: false,
  draft: async ({ known }) => composeDraft(known),
};
