import informativeBackground from './informative-background';
import blankAlt from './blank-alt';
import boilerplate from './boilerplate';
import hotlinked from './hotlinked';
import brokenSource from './broken-source';
import decorationWithText from './decoration-with-text';
import echo from './echo';
import fileName from './file-name';
import formulaSource from './formula-source';
import groupSplit from './group-split';
import heavyFile from './heavy-file';
import hiddenButNamed from './hidden-but-named';
import hiddenFromSearch from './hidden-from-search';
import houseStyle from './house-style';
import brokenLongDescription from './broken-long-description';
import markupInText from './markup-in-text';
import misplacedAlt from './misplaced-alt';
import misspelt from './misspelt';
import mixedWords from './mixed-words';
import needlessOpening from './needless-opening';
import needsLongDescription from './needs-long-description';
import noAlt from './no-alt';
import otherLanguage from './other-language';
import overlong from './overlong';
import oversized from './oversized';
import placeholder from './placeholder';
import poorFileName from './poor-file-name';
import sameWords from './same-words';
import scriptOnly from './script-only';
import shouting from './shouting';
import emptyButInformative from './empty-but-informative';
import stuffed from './stuffed';
import objectUnnamed from './object-unnamed';
import groupWords from './group-words';
import layoutPictureWorded from './layout-picture-worded';
import figureUntagged from './figure-untagged';
import targetUnnamed from './target-unnamed';
import titleOnly from './title-only';
import tooBrief from './too-brief';
import unnamedControl from './unnamed-control';
import unnamedGraphic from './unnamed-graphic';
import textNotInAlt from './text-not-in-alt';
import uncredited from './uncredited';
import storedWordsUnused from './stored-words-unused';
import variantClash from './variant-clash';
import wordList from './word-list';
import { currentRuleId } from './support/former-ids';
import type { Rule } from './support/rule';

/** Every rule, in the order of the catalogue. A new rule is a new file and a line here. */
export const RULES: readonly Rule[] = [
  noAlt,
  blankAlt,
  unnamedControl,
  unnamedGraphic,
  objectUnnamed,
  figureUntagged,
  titleOnly,
  misplacedAlt,
  hiddenButNamed,
  decorationWithText,
  layoutPictureWorded,
  emptyButInformative,
  informativeBackground,
  targetUnnamed,
  textNotInAlt,
  needsLongDescription,
  brokenLongDescription,
  fileName,
  placeholder,
  needlessOpening,
  overlong,
  tooBrief,
  stuffed,
  wordList,
  formulaSource,
  markupInText,
  shouting,
  otherLanguage,
  misspelt,
  houseStyle,
  sameWords,
  mixedWords,
  echo,
  boilerplate,
  groupSplit,
  groupWords,
  variantClash,
  heavyFile,
  oversized,
  brokenSource,
  hotlinked,
  hiddenFromSearch,
  poorFileName,
  uncredited,
  scriptOnly,
  storedWordsUnused,
];

/** A rule by its id, or by one that it had in an earlier version of Detto. */
export const ruleById = (id: string): Rule | undefined => RULES.find((r) => r.id === currentRuleId(id));

/** Ids of the rules that look at what is in the picture or its file: they find more once somebody has looked. */
export const PICTURE_RULES: readonly string[] = RULES.filter((r) => r.sees || r.group === 'files').map((r) => r.id);

/**
 * Rules with all that find the same causes as they: one cannot be checked again without the others, since a cause is
 * counted once.
 */
export function withRelated(ids: readonly string[]): string[] {
  const related = new Set(ids);
  for (let size = 0; size !== related.size;) {
    size = related.size;
    for (const { id, subsumes = [] } of RULES)
      if (related.has(id) || subsumes.some((other) => related.has(other)))
        for (const one of [id, ...subsumes]) related.add(one);
  }
  return RULES.filter((r) => related.has(r.id)).map((r) => r.id);
}
