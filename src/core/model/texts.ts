import type { Appearance } from './appearance';

/** The texts of a picture besides its alt text. Title and caption belong to a place, the others to the picture. */
export const TEXT_FIELDS = ['title', 'caption', 'long-description', 'file-name'] as const;
export type TextField = (typeof TEXT_FIELDS)[number];

/** Fields that each place of a picture has its own text for. */
export const PLACE_FIELDS = ['title', 'caption'] as const satisfies readonly TextField[];
export type PlaceField = (typeof PLACE_FIELDS)[number];

export const isPlaceField = (field: TextField): field is PlaceField =>
  (PLACE_FIELDS as readonly TextField[]).includes(field);

/** Where a long description can stand: below the picture, there in `details`, or on a page of its own with a link there. */
export const STANDS = ['below', 'details', 'page'] as const;
export type Stand = (typeof STANDS)[number];

/** By what a picture is tied to a long description on its page (WAI-ARIA 1.2). */
export const TIES = ['aria-details', 'aria-describedby'] as const;
export type Tie = (typeof TIES)[number];

/** Where a long description stands, and how the picture is to be tied to it. */
export interface Placement {
  stand: Stand;
  /** Of interest for one that stands below the picture; see {@link tieOf}. */
  tie: Tie;
}

/**
 * What ties a picture to its long description. Browsers compute no description from what is folded (Chromium 156 leaves
 * out all of it), and a description read out in one go would lose a link; `aria-details` leads to both (WAI-ARIA 1.2, 6.6).
 */
export const tieOf = ({ stand, tie }: Placement): Tie => (stand === 'below' ? tie : 'aria-details');

/** `aria-details` keeps headings, lists and tables; `details` takes no room from those who see the picture. */
export const DEFAULT_PLACEMENT: Placement = { stand: 'details', tie: 'aria-details' };

/** What a page itself says in a field at a place; `''` for nothing. */
export const pageText = (a: Appearance, field: PlaceField): string =>
  (field === 'title' ? a.markup.title : a.context.caption) ?? '';
