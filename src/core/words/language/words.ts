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
  /** Words that join others and name nothing: articles, prepositions, pronouns, auxiliary verbs; parted by spaces. */
  functionWords: string;
  /** Whole texts of links that do not say where they lead. */
  emptyLinks: string[];
  /** Whole texts of links that say what they do, wherever they lead. */
  navigation: string[];
  /** Whole texts of links that say of what kind the target is, and not which one. */
  namelessTargets: string[];
  /** What sells or ranks rather than describes. */
  qualifiers: string[];
  /** Regular expressions for what pictures are called that hold more than a short text can say. */
  complex: string[];
  /** Parts of programs: what speaks of one is a picture of a screen, whatever it shows; parted by spaces. */
  screens: string;
}

export interface LanguageWords {
  /** Matches at the start of a text; the first group is the opening. */
  openings: RegExp[];
  placeholders: Set<string>;
  decoration: RegExp[];
  functionWords: ReadonlySet<string>;
  emptyLinks: ReadonlySet<string>;
  navigation: ReadonlySet<string>;
  namelessTargets: ReadonlySet<string>;
  qualifiers: readonly (readonly string[])[];
  /** One of them as whole words. */
  complex: RegExp;
  screens: ReadonlySet<string>;
}

function compile(file: WordFile): LanguageWords {
  return {
    openings: file.openings.map((o) => new RegExp(`^\\s*((?:${o}))\\s*`, 'iu')),
    placeholders: new Set(file.placeholders),
    decoration: file.decoration.map((d) => new RegExp(`^(?:${d})$`, 'iu')),
    functionWords: new Set(file.functionWords.split(' ')),
    emptyLinks: new Set(file.emptyLinks),
    navigation: new Set(file.navigation),
    namelessTargets: new Set(file.namelessTargets),
    qualifiers: file.qualifiers.map((q) => q.split(' ')),
    screens: new Set(file.screens.split(' ')),
    complex: new RegExp(`(?<![\\p{L}\\p{N}-])(?:${file.complex.join('|')})(?![\\p{L}\\p{N}-])`, 'iu'),
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

/** Languages that there are word lists for. */
export const LISTED = Object.keys(LANGUAGES);

/** The word lists of a language; null where there are none. */
export function wordsOfLanguage(lang: string | null): LanguageWords | null {
  return LANGUAGES[lang?.toLowerCase().split('-')[0] ?? ''] ?? null;
}
