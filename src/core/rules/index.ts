import blankAlt from './blank-alt';
import brokenSource from './broken-source';
import decorationDescribed from './decoration-described';
import echo from './echo';
import fileName from './file-name';
import heavyFile from './heavy-file';
import mixedWords from './mixed-words';
import needlessOpening from './needless-opening';
import noAlt from './no-alt';
import overlong from './overlong';
import placeholder from './placeholder';
import type { Rule } from './rule';
import sameWords from './same-words';
import titleOnly from './title-only';
import unnamedControl from './unnamed-control';

/** Every rule, in the order of the catalogue. A new rule is a new file and a line here. */
export const RULES: readonly Rule[] = [
  noAlt,
  blankAlt,
  unnamedControl,
  titleOnly,
  decorationDescribed,
  fileName,
  placeholder,
  needlessOpening,
  overlong,
  sameWords,
  mixedWords,
  echo,
  heavyFile,
  brokenSource,
];

export const ruleById = (id: string): Rule | undefined => RULES.find((r) => r.id === id);
