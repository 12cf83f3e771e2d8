import de from './de.json' with { type: 'json' };
import en from './en.json' with { type: 'json' };
import es from './es.json' with { type: 'json' };
import fr from './fr.json' with { type: 'json' };
import it from './it.json' with { type: 'json' };
import nl from './nl.json' with { type: 'json' };
import pt from './pt.json' with { type: 'json' };

/** One language's word lists as a translator writes them; a language is a file and a line here. */
interface WordFile {
  /** Regular expressions for what stands needlessly at the start of a text. */
  openings: string[];
  /** Whole texts that stand for no text at all; a number may follow. */
  placeholders: string[];
  /** Regular expressions for whole texts that say of themselves that the picture carries nothing. */
  decoration: string[];
}

export interface LanguageWords {
  /** Matches at the start of a text; the first group is the opening. */
  openings: RegExp[];
  placeholders: Set<string>;
  decoration: RegExp[];
}

function compile(file: WordFile): LanguageWords {
  return {
    openings: file.openings.map((o) => new RegExp(`^\\s*((?:${o}))\\s*`, 'iu')),
    placeholders: new Set(file.placeholders),
    decoration: file.decoration.map((d) => new RegExp(`^(?:${d})$`, 'iu')),
  };
}

const ENGLISH = compile(en);
const LANGUAGES: Record<string, LanguageWords> = {
  en: ENGLISH,
  de: compile(de),
  fr: compile(fr),
  es: compile(es),
  it: compile(it),
  nl: compile(nl),
  pt: compile(pt),
};

/**
 * The word lists that apply to a text: of its language, and English, which tools leave behind everywhere.
 * All of them where the language is not known.
 */
export function languagesFor(lang: string | null): LanguageWords[] {
  if (!lang) return Object.values(LANGUAGES);
  const own = LANGUAGES[lang.toLowerCase().split('-')[0]!];
  return own && own !== ENGLISH ? [own, ENGLISH] : [ENGLISH];
}
