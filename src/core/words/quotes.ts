/** Quotation marks around heard words, by language (Unicode CLDR, `quotationStart` and `quotationEnd`). */
const QUOTES: Record<string, readonly [string, string]> = {
  cs: ['„', '“'],
  da: ['“', '”'],
  de: ['„', '“'],
  es: ['«', '»'],
  fi: ['”', '”'],
  fr: ['«\u00a0', '\u00a0»'],
  it: ['«', '»'],
  ja: ['「', '」'],
  nb: ['«', '»'],
  nl: ['‘', '’'],
  pl: ['„', '”'],
  pt: ['“', '”'],
  ru: ['«', '»'],
  sv: ['”', '”'],
  uk: ['«', '»'],
  zh: ['“', '”'],
};
const ENGLISH: readonly [string, string] = ['“', '”'];

/** The opening and closing quotation mark of a language; English ones where it is not known. */
export function quotesFor(lang: string | null): readonly [string, string] {
  return QUOTES[lang?.toLowerCase().split('-')[0] ?? ''] ?? ENGLISH;
}
