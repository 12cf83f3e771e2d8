/** A web worker that audits the words of one appearance while they are written: the core itself, off the drawing thread. */
import type { LiveAnswer, LiveTask } from '@/contract/live';
import { activeRules, auditAppearance } from '@/core/rules/audit';
import { NO_KNOWLEDGE } from '@/core/rules/support/rule';
import { languagesFor } from '@/core/words/language/words';
import { languageOf } from '@/core/rules/support/words';
import { readable } from '@/core/rules/support/readable';
import { stuffingAt } from '@/core/rules/stuffed';
import { keywordUses } from '@/core/words/keywords';
import { createLanguageDetector } from '@/core/words/page-language';
import { recognise } from '@/core/words/recognise';
import { DICTIONARIES, promptly, spellerOf, type PromptSpeller, type Speller } from '@/core/words/spelling';
import { stemmerFor } from '@/core/words/stemmer';

const spellers = new Map<string, PromptSpeller | 'asked' | 'none'>();
const withLikelyLanguage = createLanguageDetector({ recognise });
let last: LiveTask | null = null;
let quiet: ReturnType<typeof setTimeout> | undefined;
/** Milliseconds without a keystroke before better words are looked for. */
const QUIET = 250;

/** The dictionary of a language once it is there; it is fetched when first asked for, and what was asked comes again. */
function speller(language: string): Speller | null {
  const key = language.split('-')[0]!;
  const known = spellers.get(key);
  if (known === undefined) {
    spellers.set(key, DICTIONARIES[key] ? 'asked' : 'none');
    if (DICTIONARIES[key]) void open(key);
  }
  return known === undefined || typeof known === 'string' ? null : known;
}

async function open(key: string): Promise<void> {
  try {
    const files = await Promise.all(
      DICTIONARIES[key]!.map(async (name) => {
        const answer = await fetch(`/api/dictionaries/${name}`);
        if (!answer.ok) throw new Error(String(answer.status));
        return new Uint8Array(await answer.arrayBuffer());
      }),
    );
    spellers.set(key, promptly(spellerOf(...files)));
    if (last) answer(last);
  } catch {
    spellers.set(key, 'none');
  }
}

const vocabularies = new Map<string, ReadonlySet<string>>();

/** The words of a collection's own text once they are there; fetched when first asked for, as a dictionary is. */
function vocabularyOf(collection: string): ReadonlySet<string> {
  const known = vocabularies.get(collection);
  if (known) return known;
  vocabularies.set(collection, NO_KNOWLEDGE.vocabulary);
  void fetch(`/api/collections/${encodeURIComponent(collection)}/vocabulary`)
    .then(async (response) => {
      if (!response.ok) return;
      vocabularies.set(collection, new Set((await response.text()).split(' ')));
      if (last) answer(last);
    })
    // Without them a word of the trade is doubted, and nothing else is wrong.
    .catch(() => undefined);
  return NO_KNOWLEDGE.vocabulary;
}

function answer(task: LiveTask): void {
  const { id, style, phrases, collection } = task;
  const [context] = withLikelyLanguage([readable(task.context)]);
  if (!context) return;
  const active = activeRules(style, {
    ...NO_KNOWLEDGE,
    speller,
    recognise,
    phrases,
    vocabulary: vocabularyOf(collection),
  });
  const stuffed = active.rules.find((r) => r.rule.id === 'stuffed');
  const house = (stuffed?.parameters as { keywords: string[] } | undefined)?.keywords ?? [];
  const language = languageOf(context);
  const answer: LiveAnswer = {
    id,
    findings: auditAppearance(context, active),
    stuffing: stuffingAt(context, house),
    keywords: keywordUses(context.appearance.accessible.name, context.page, house, {
      lists: languagesFor(context.page.lang ?? language),
      stem: stemmerFor(language),
    }),
  };
  self.postMessage(answer);
}

self.addEventListener('message', ({ data }: MessageEvent<LiveTask>) => {
  last = data;
  answer(data);
  clearTimeout(quiet);
  quiet = setTimeout(() => {
    let better = false;
    for (const s of spellers.values()) better = (typeof s !== 'string' && s.catchUp()) || better;
    if (better) answer(data);
  }, QUIET);
});
