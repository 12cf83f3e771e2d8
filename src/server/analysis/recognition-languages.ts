/** Text recognition by language; what Detto ships. */
export const TEXT_DATA = {
  en: 'eng',
  de: 'deu',
  fr: 'fra',
  es: 'spa',
  it: 'ita',
  nl: 'nld',
  pt: 'por',
} as const;
export type TextLanguage = keyof typeof TEXT_DATA;

/** More languages at once make it slow and unsure. */
const MOST = 3;

/** The languages to read a collection's pictures in, those of its pages; English where none of them is known. */
export function readingLanguages(langs: readonly (string | null)[]): string[] {
  const counts = new Map<TextLanguage, number>();
  for (const lang of langs) {
    const primary = lang?.toLowerCase().split('-')[0] as TextLanguage;
    if (primary in TEXT_DATA) counts.set(primary, (counts.get(primary) ?? 0) + 1);
  }
  const most = [...counts]
    .sort((a, b) => b[1] - a[1])
    .slice(0, MOST)
    .map(([l]) => l);
  return most.length === 0 ? ['en'] : most.sort();
}
