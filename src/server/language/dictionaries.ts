import { readFileSync } from 'node:fs';
import { NO_KNOWLEDGE, type Knowledge } from '@/core/rules/support/rule';
import { recognise } from '@/core/words/recognise';
import { DICTIONARIES, spellerOf, type Speller } from '@/core/words/spelling';
import { isDictionary, packedFile } from './dictionary-files';

/**
 * The bytes of a dictionary, a word trie in the binary form of cspell-trie-lib.
 *
 * @throws Error when there is none of that name
 */
export function dictionaryBytes(name: string): Uint8Array<ArrayBuffer> {
  if (!isDictionary(name)) throw new Error(`There is no dictionary ${name}.`);
  return new Uint8Array(readFileSync(packedFile(name)));
}

const spellers = new Map<string, Speller>();

/** The dictionaries of a language tag; opened when first asked for. */
function speller(language: string): Speller | null {
  const names = dictionariesOf(language);
  if (names.length === 0) return null;
  const key = names.join(' ');
  const known = spellers.get(key);
  if (known) return known;
  const opened = spellerOf(...names.map(dictionaryBytes));
  spellers.set(key, opened);
  return opened;
}

/** Names of the dictionaries that a language tag is spelt by; `en-GB` by one, `en` by every English one. */
export function dictionariesOf(language: string): readonly string[] {
  const tag = language.toLowerCase();
  const own = DICTIONARIES[tag.split('-')[0]!] ?? [];
  return own.includes(tag) ? [tag] : own;
}

/** Everything that rules may have to know; heavy, so it belongs into a thread of its own. */
export function knowledge(collection: Partial<Pick<Knowledge, 'phrases' | 'vocabulary' | 'formulas'>> = {}): Knowledge {
  return { ...NO_KNOWLEDGE, speller, recognise, ...collection };
}
