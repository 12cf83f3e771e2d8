import { readFileSync } from 'node:fs';
import path from 'node:path';
import { gunzipSync } from 'node:zlib';

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

export const DICTIONARY_NAMES = Object.keys(FILES);

export const isDictionary = (name: string): boolean => Object.hasOwn(FILES, name);

/** Where the build puts a dictionary in the form that opens at once. */
export const packedFile = (name: string): string => path.join(process.cwd(), 'dist', 'dictionaries', `${name}.btrie`);

/** The bytes of a dictionary as its package has them, uncompressed. */
export function publishedBytes(name: string): Uint8Array<ArrayBuffer> {
  const file = FILES[name]!;
  const bytes = readFileSync(path.join(process.cwd(), 'node_modules', '@cspell', file));
  return new Uint8Array(file.endsWith('.gz') ? gunzipSync(bytes) : bytes);
}
