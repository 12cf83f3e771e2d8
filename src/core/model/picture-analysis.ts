/** What Detto sees in a picture itself, as the rules, the purpose and the order of work need it. */
export const KINDS = [
  'photo',
  'drawing',
  'icon',
  'logo',
  'chart',
  'diagram',
  'map',
  'screenshot',
  'poster',
  'pattern',
  'separator',
] as const;
/** A poster is any picture that is mostly set text: a banner, a leaflet, a timetable; a separator any spacer or rule. */
export type Kind = (typeof KINDS)[number];

export interface PictureAnalysis {
  kind: Kind | null;
  /** From 0 to 1. */
  sure: number;
  /** Recognised text whose confidence suffices, line by line; null where the picture was not read. */
  text: string | null;
  /** Share of the picture's area under recognised text, 0 to 1. */
  textShare: number;
  /** Of the first of all pictures that are the same but for encoding, size or a narrow crop; null for one that stands alone. */
  duplicateGroup: number | null;
  /** Of the first of a series of look-alikes, the family included; null for one that stands alone. */
  similarGroup: number | null;
  /** How many pictures the series has. */
  similarCount: number;
  /** Mean colours of its fields (`Likeness.fields`). */
  fields: string | null;
  /** Words in the file's metadata that are meant to be heard: the alt text, else the description or the title. */
  words: string | null;
  /** Which field they stand in, as the standard calls it. */
  wordsFrom: string | null;
  /** Who made it, who is to be credited, under what licence, as far as the file says. */
  rights: Rights | null;
}

export interface Rights {
  creator: string | null;
  credit: string | null;
  copyright: string | null;
  licence: string | null;
}

/** A picture that nobody has looked at yet. */
export const NOT_ANALYSED: PictureAnalysis = {
  kind: null,
  sure: 0,
  text: null,
  textShare: 0,
  duplicateGroup: null,
  similarGroup: null,
  similarCount: 0,
  fields: null,
  words: null,
  wordsFrom: null,
  rights: null,
};

/** From here on a kind counts as evidence (measured in docs/pictures.md). */
export const SURE = 0.6;

/** Whether a picture is surely one of some kinds. */
export const isSurely = (seen: PictureAnalysis | null | undefined, ...kinds: readonly Kind[]): boolean =>
  !!seen && seen.kind !== null && seen.sure >= SURE && kinds.includes(seen.kind);
