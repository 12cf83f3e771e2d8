import path from 'node:path';
import type sre from 'speech-rule-engine';
import type temml from 'temml';
import type { FormulaSpeech } from '@/core/rules/support/rule';
import { speakable } from '@/core/words/tex';

/** The rules by which a language's formulas are said: ClearSpeak where there are some, as it is nearer to how people talk. */
const DOMAINS: Readonly<Record<string, string>> = {
  en: 'clearspeak',
  de: 'clearspeak',
  fr: 'clearspeak',
  it: 'clearspeak',
  es: 'mathspeak',
};
/** Texts that are remembered: the same formula stands in many places. */
const MOST_REMEMBERED = 5_000;

const opened = new Set<string>();
const remembered = new Map<string, string | null>();
let libraries: { sre: typeof sre; temml: typeof temml } | null = null;

const settings = (language: string) => ({
  locale: language,
  domain: DOMAINS[language]!,
  style: 'default',
  modality: 'speech',
  json: path.join(process.cwd(), 'node_modules/speech-rule-engine/lib/mathmaps'),
});

/** The language of a tag, where formulas are spoken in it; null elsewhere. */
export function formulaLanguage(tag: string): string | null {
  const language = tag.toLowerCase().split('-')[0]!;
  return Object.hasOwn(DOMAINS, language) ? language : null;
}

/**
 * Formulas in words and as MathML, in the languages asked for. Loading takes about half a second and 60 MB once, so that
 * it is done where there are formulas only.
 *
 * @throws Error when a library cannot be loaded
 */
export async function openFormulaSpeech(languages: Iterable<string>): Promise<FormulaSpeech> {
  const [sre, temml] = await Promise.all([import('speech-rule-engine'), import('temml')]);
  libraries ??= { sre: sre.default, temml: temml.default };
  for (const language of languages) {
    if (opened.has(language)) continue;
    await libraries.sre.setupEngine(settings(language));
    await libraries.sre.engineReady();
    opened.add(language);
  }
  return { speech, mathml: (tex) => mathml(tex, true) };
}

function speech(tex: string, tag: string): string | null {
  const language = formulaLanguage(tag);
  if (language === null || !opened.has(language) || !libraries) return null;
  const key = `${language} ${tex}`;
  const known = remembered.get(key);
  if (known !== undefined) return known;
  const math = mathml(speakable(tex), false);
  // A language whose rules are loaded is at work as soon as it is asked for, before the promise settles.
  if (math) void libraries.sre.setupEngine(settings(language));
  const said = math ? libraries.sre.toSpeech(math).trim() || null : null;
  if (remembered.size >= MOST_REMEMBERED) remembered.clear();
  remembered.set(key, said);
  return said;
}

/** Expansions of macros and pixels of a size beyond which a formula is an attack. */
const LIMITS = { maxExpand: 200, maxSize: [20, 20] as [number, number] };

function mathml(tex: string, annotate: boolean): string | null {
  // What is aligned with others stands in no environment of its own where tools cut it into pieces.
  const known = tex.replace(/\\mbox(?=\s*\{)/g, String.raw`\text`);
  for (const source of [known, String.raw`\begin{aligned}${known}\end{aligned}`])
    try {
      return libraries!.temml.renderToString(source, {
        annotate,
        xml: annotate,
        throwOnError: true,
        trust: false,
        ...LIMITS,
      });
    } catch {
      // Not a formula that the library knows: nothing is offered.
    }
  return null;
}
