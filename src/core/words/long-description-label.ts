/** "Long description" in the languages of the word lists, as links to one are called (WCAG technique G73; common practice). */
const LABELS: Readonly<Record<string, string>> = {
  en: 'Long description',
  de: 'Ausführliche Beschreibung',
  fr: 'Description détaillée',
  es: 'Descripción detallada',
  it: 'Descrizione estesa',
  nl: 'Lange beschrijving',
  pt: 'Descrição detalhada',
};

/** What leads to a long description: of which picture, in the language of its place. @param lang BCP 47 tag */
export function longDescriptionLabel(name: string, lang: string | null): string {
  const language = lang?.toLowerCase().split('-')[0] ?? 'en';
  const label = LABELS[language] ?? LABELS.en!;
  // In French, a colon stands apart.
  return name === '' ? label : `${label}${language === 'fr' ? '\u00a0:' : ':'} ${name}`;
}
