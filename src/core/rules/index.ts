import backgroundTelling from './informative-background';
import blankAlt from './blank-alt';
import boilerplate from './boilerplate';
import borrowedHost from './hotlinked';
import brokenSource from './broken-source';
import decorationDescribed from './decoration-with-text';
import echo from './echo';
import fileName from './file-name';
import groupSplit from './group-split';
import heavyFile from './heavy-file';
import hiddenButNamed from './hidden-but-named';
import hiddenFromSearch from './hidden-from-search';
import houseStyle from './house-style';
import lostLongDescription from './broken-long-description';
import markupLeak from './markup-in-text';
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
import silentButTelling from './empty-but-informative';
import stuffed from './stuffed';
import targetUnsaid from './target-unnamed';
import titleOnly from './title-only';
import tooBrief from './too-brief';
import unnamedControl from './unnamed-control';
import unnamedGraphic from './unnamed-graphic';
import textUnsaid from './text-not-in-alt';
import uncredited from './uncredited';
import unshownWords from './stored-words-unused';
import variantClash from './variant-clash';
import wordList from './word-list';
import type { Rule } from './support/rule';

/** Every rule, in the order of the catalogue. A new rule is a new file and a line here. */
export const RULES: readonly Rule[] = [
  noAlt,
  blankAlt,
  unnamedControl,
  unnamedGraphic,
  titleOnly,
  misplacedAlt,
  hiddenButNamed,
  decorationDescribed,
  silentButTelling,
  backgroundTelling,
  targetUnsaid,
  textUnsaid,
  needsLongDescription,
  lostLongDescription,
  fileName,
  placeholder,
  needlessOpening,
  overlong,
  tooBrief,
  stuffed,
  wordList,
  markupLeak,
  shouting,
  otherLanguage,
  misspelt,
  houseStyle,
  sameWords,
  mixedWords,
  echo,
  boilerplate,
  groupSplit,
  variantClash,
  heavyFile,
  oversized,
  brokenSource,
  borrowedHost,
  hiddenFromSearch,
  poorFileName,
  uncredited,
  scriptOnly,
  unshownWords,
];

export const ruleById = (id: string): Rule | undefined => RULES.find((r) => r.id === id);

/** Ids of the rules that look at what is in the picture or its file: they find more once somebody has looked. */
export const PICTURE_RULES: readonly string[] = RULES.filter((r) => r.sees || r.group === 'files').map((r) => r.id);
