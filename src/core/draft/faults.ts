/**
 * The rules by which a draft is judged, with the correction that a model is sent when it broke one. Only rules about words are here: that a file
 * is heavy is no fault of a draft.
 */
const FAULTS: Readonly<Record<string, string>> = {
  boilerplate: 'It opens or closes as too many other texts of the collection do.',
  'decoration-with-text': 'It says of itself that the image carries nothing.',
  echo: 'It repeats the text beside the image or the caption, which is heard anyway.',
  'empty-but-informative': 'It leaves an image that informs without words.',
  'file-name': 'It is a file name.',
  'formula-source': 'It is the source of a formula, not the formula in words.',
  'house-style': 'It breaks the house style: a banned phrase, a spelling, a prefix, a suffix or a length.',
  'markup-in-text': 'It has markup or code in it.',
  misspelt: 'A word in it is misspelt.',
  'mixed-words': 'Words in it are run together or mixed with signs.',
  'needless-opening': 'It begins with "image of" or the like.',
  'other-language': 'It is in another language than the page.',
  overlong: 'It is longer than the limit.',
  placeholder: 'It is a placeholder that says nothing.',
  shouting: 'It is in capitals.',
  stuffed: 'It reads as a list of keywords.',
  'target-unnamed': 'It does not say where the link leads.',
  'text-not-in-alt': 'The text that is to be read in the image is missing.',
  'too-brief': 'It is too short to say anything.',
  'unnamed-control': 'It leaves a link or a button without a name.',
  'word-list': 'It is a list of words and no description.',
};

/** The ids of these rules. */
export const WORD_RULES: readonly string[] = Object.keys(FAULTS);

/** What is wrong, in words for a model. @param part the part of the text that it is about; null for all of it */
export function faultInWords(rule: string, part: string | null): string {
  const said = FAULTS[rule] ?? 'It breaks a rule.';
  return part ? `${said} This part: ${JSON.stringify(part)}.` : said;
}
