import { strings as english } from './en';
import { pseudo } from './pseudo';

/** The same keys with any words. */
type InAnyLanguage<T> = T extends string
  ? string
  : T extends (...given: infer Given) => infer Result
    ? (...given: Given) => InAnyLanguage<Result>
    : { readonly [Key in keyof T]: InAnyLanguage<T[Key]> };

/** All text of the interface and the command line in one language. */
export type Strings = InAnyLanguage<typeof english>;

/** A translation is one file with the keys of `en.ts`, and a line here. */
const LANGUAGES: Readonly<Record<string, () => Strings>> = {
  en: () => english,
  // Marks every letter, so that a test finds text that is not here; CLDR's tag for accented English.
  'en-XA': () => pseudo(english),
};

/** On the server as it was started; in the browser as the server made the page. */
const asked = typeof document === 'undefined' ? (process.env['DETTO_LANGUAGE'] ?? 'en') : document.documentElement.lang;

/** BCP 47 tag of the language in use. */
export const language = asked in LANGUAGES ? asked : 'en';

export const strings: Strings = LANGUAGES[language]!();
