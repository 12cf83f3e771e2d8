import { normalise } from '../words/graphemes';

/** What a caption is numbered by: "Figure 4.2.", "Abb. 3:". */
const NUMBER =
  /^\W{0,2}(?:fig(?:ure|ura|uur)?|abb(?:ildung)?|afb(?:eelding)?|ill(?:ustration)?|table|tab(?:elle)?)[.:]?\s*[A-Z]?[\d.–-]*\d[a-z]?\s*[.:–—-]?\s+(?=\S)/iu;

/** Who is credited, wherever it stands in a caption, in the seven languages of the rules. */
const CREDIT =
  /(?:^|[\s(–—|/·-])(?:©|\(c\)\s|copyright|photo(?:graph)?(?:s|graphy|graphie|s?\s+by|\s+credit)?\s*[:©]|photo by\b|image\s*(?:credit|source|courtesy)?\s*:|picture\s*(?:credit)?\s*:|courtesy (?:of )?\b|credits?\s*:|source\s*:|foto(?:s|graf(?:ie|ía|ia)?)?\s*:|bild(?:quelle|nachweis)?\s*:|quelle\s*:|crédits?\s*(?:photo)?\s*:|crédito\s*:|fuente\s*:|fonte\s*:|bron\s*:|licen[cs]e\s*:|lizenz\s*:|CC[- ]BY\b|public domain\b).*$/iu;

/** What a caption says of the page's controls, not of the picture, in the seven languages of the rules. */
const CONTROL =
  /[\s(\[–—|·-]*(?:(?:click|tap|press|select)\s+(?:(?:on|here|the|this)\s+)*(?:\w+\s+)?(?:to|for)\b[^.)\]]*|(?:view|see|show|open|download)\s+(?:the\s+)?(?:full[- ]size|larger|large|original|enlarged)\b[^.)\]]*|(?:click to )?(?:enlarge|zoom)\b|(?:zum\s+)?vergrößern\b[^.)\]]*|(?:klicken|tippen) sie\b[^.)\]]*|(?:cliquez|cliquer|appuyez)\b[^.)\]]*|agrandir\b[^.)\]]*|(?:haga|haz)?\s*clic\b[^.)\]]*|ampliar\b[^.)\]]*|(?:fai|fare)?\s*clic\b[^.)\]]*|ingrandisci\b[^.)\]]*|klik\b[^.)\]]*|vergroten\b|clique\b[^.)\]]*)[.)\]]*\s*$/iu;

/** What a credit that was cut leaves: “… by”. */
const BY = /[\s,–—-]+(?:by|from|von|par|por|di|da|door|van)\s*$/iu;

export interface CaptionParts {
  /** The part that can say what is shown: its first sentence, without number, credit and controls; empty for none. */
  shows: string;
  /** What follows that: what the page has to say about it. */
  comment: string;
}

/** Characters from which a first sentence is no abbreviation. */
const SENTENCE = 12;

/**
 * Splits a caption into what it says is shown, and commentary. Credits and controls ("Photo: …", "Click to enlarge") are in
 * neither: they say nothing of what is shown (common practice).
 */
export function captionParts(caption: string): CaptionParts {
  let text = normalise(caption.replace(/[¶🔗]/gu, ' ')).replace(NUMBER, '');
  // A control may stand behind a credit and a credit behind a control.
  for (let i = 0; i < 2; i++) text = text.replace(CREDIT, '').replace(CONTROL, '').replace(BY, '');
  text = text.replace(/[\s–—|·(\[,;:-]+$/u, '').trim();
  for (const { index } of text.matchAll(/[.!?…](?=\s+[\p{Lu}\p{N}“"«‘(])/gu))
    if (
      index >= SENTENCE &&
      !/(?:\b\p{L}|\b(?:st|dr|mr|mrs|no|vol|approx|ca|vgl|bzw|etc))$/iu.test(text.slice(0, index))
    )
      return { shows: text.slice(0, index).trim(), comment: text.slice(index + 1).trim() };
  return { shows: text.replace(/[.\s]+$/u, ''), comment: '' };
}
