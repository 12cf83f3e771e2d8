import { readFileSync } from 'node:fs';
import path from 'node:path';
import { gunzipSync } from 'node:zlib';
import { NO_KNOWLEDGE, type Knowledge } from '@/core/rules/support/rule';
import { recognise } from '@/core/words/recognise';
import { DICTIONARIES, spellerOf, type Speller } from '@/core/words/spelling';

/** Where the packages of the registry keep each dictionary. */
const FILES: Readonly<Record<string, string>> = {
  'en-gb': 'dict-en-gb/en_GB.trie.gz',
  'en-us': 'dict-en_us/en_US.trie.gz',
  de: 'dict-de-de/de_DE.trie.gz',
  fr: 'dict-fr-fr/fr-fr.trie.gz',
  es: 'dict-es-es/Spanish.trie.gz',
  it: 'dict-it-it/dict/it-it.trie',
  nl: 'dict-nl-nl/Dutch.trie.gz',
  'pt-pt': 'dict-pt-pt/dict/Portuguese-European.trie.gz',
  'pt-br': 'dict-pt-br/pt_BR.trie.gz',
};

export const isDictionary = (name: string): boolean => Object.hasOwn(FILES, name);

/**
 * The bytes of a dictionary, uncompressed.
 *
 * @throws Error when there is none of that name
 */
export function dictionaryBytes(name: string): Uint8Array<ArrayBuffer> {
  const file = FILES[name];
  if (!file) throw new Error(`There is no dictionary ${name}.`);
  const bytes = readFileSync(path.join(process.cwd(), 'node_modules', '@cspell', file));
  return new Uint8Array(file.endsWith('.gz') ? gunzipSync(bytes) : bytes);
}

const spellers = new Map<string, Speller>();

/** The dictionaries of a language tag; opened when first asked for, which takes up to a second. */
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
