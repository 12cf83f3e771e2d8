import type { Message } from '../model/message';

/** What a draft was made from, one line each, for the person who reads it. */
export interface DraftEvidence {
  from:
    | 'link target'
    | 'caption'
    | 'file name'
    | 'heading'
    | 'colours'
    | 'title'
    | 'elsewhere'
    | 'look-alike'
    | 'in the file'
    | 'text'
    | 'things'
    | 'kind'
    | 'formula'
    | 'purpose'
    | 'picture';
  /** As it stands there; a message where it is in no language, such as the names of colours. */
  text: string | Message;
}

/** A part of a draft that only a person can fill: `‹who?›`. */
export interface Gap {
  /** UTF-16 code units from the start of the draft, half open; the marks ‹ and › belong to it. */
  start: number;
  end: number;
  /** What stands between the marks, such as `who?`, in the language of the draft. */
  question: string;
}

/** Texts beside the alt text that a drafter may propose; those that it says nothing about are not there. */
export interface OtherDrafts {
  title?: string;
  caption?: string;
  /** In CommonMark. */
  longDescription?: string;
  fileName?: string;
}

export interface Draft {
  /** Null when nothing is known that could be said honestly, and for a picture that is decorative. */
  text: string | null;
  /** It is proposed to mark the picture decorative; `evidence` says why. */
  decorative: boolean;
  evidence: DraftEvidence[];
  /** What only a person can add, as a question; null where nothing is missing. */
  missing: Message | null;
  /** How likely it says something right and useful, from 0 to 1. */
  confidence: number;
  /** Parts of the text, word for word, that the drafter is not sure of. */
  uncertain: string[];
  other: OtherDrafts;
}

/** A draft that says nothing. */
export const NOTHING_SAID: Draft = {
  text: null,
  decorative: false,
  evidence: [],
  missing: null,
  confidence: 0,
  uncertain: [],
  other: {},
};

/** A gap is a question between single angle quotation marks; a quotation ends in no question mark, mostly. */
const GAP = /‹[^‹›\n]{1,80}\?›/gu;

/** What has to be filled in a text before it can be anybody's words, in order. */
export function gapsIn(text: string): Gap[] {
  return [...text.matchAll(GAP)].map(({ 0: whole, index }) => ({
    start: index,
    end: index + whole.length,
    question: whole.slice(1, -1),
  }));
}

/** Whether a text has gaps, so that it cannot be accepted. */
export const hasGaps = (text: string): boolean => text.includes('‹') && gapsIn(text).length > 0;
