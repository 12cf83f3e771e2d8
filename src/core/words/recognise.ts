import { eld } from 'eld/small';

export interface LanguageGuess {
  /** ISO 639-1. */
  language: string;
  /** How well the text fits this language, from 0 to 1. */
  score: number;
  /** The same for any language. */
  scoreOf(language: string): number;
}

/** The language that a text is most likely in, by its letters (n-grams); null where it has none to tell by. */
export function recognise(text: string): LanguageGuess | null {
  const result = eld.detect(text);
  if (!result.language) return null;
  const scores = result.getScores();
  return {
    language: result.language,
    score: scores[result.language] ?? 0,
    scoreOf: (language) => scores[language] ?? 0,
  };
}
