import snowball from 'snowball-stemmers';

const ALGORITHMS: Record<string, string> = {
  en: 'english',
  de: 'german',
  fr: 'french',
  es: 'spanish',
  it: 'italian',
  nl: 'dutch',
  pt: 'portuguese',
};
const stemmers = new Map<string, (word: string) => string>();

/** What a word shares with its other forms (Snowball); the word itself in languages that have no stemmer here. */
export function stemmerFor(language: string | null): (word: string) => string {
  const key = language?.toLowerCase().split('-')[0] ?? '';
  const algorithm = ALGORITHMS[key];
  if (!algorithm) return (word) => word;
  let stem = stemmers.get(key);
  if (!stem) {
    const own = snowball.newStemmer(algorithm);
    const known = new Map<string, string>();
    stem = (word) => {
      let s = known.get(word);
      if (s === undefined) {
        if (known.size > MOST_KNOWN) known.clear();
        known.set(word, (s = own.stem(word)));
      }
      return s;
    };
    stemmers.set(key, stem);
  }
  return stem;
}

/** Stems that are remembered for each language. */
const MOST_KNOWN = 20_000;
