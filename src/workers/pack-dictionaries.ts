/**
 * Writes the spelling dictionaries in the form that opens at once: that of their packages takes seconds of processor time
 * for a language with long words, each time that a process opens it.
 */
import { mkdirSync, writeFileSync } from 'node:fs';
import path from 'node:path';
import { decodeTrie, encodeITrieToBTrie } from 'cspell-trie-lib';
import { DICTIONARY_NAMES, packedFile, publishedBytes } from '@/server/language/dictionary-files';

for (const name of DICTIONARY_NAMES) {
  const file = packedFile(name);
  mkdirSync(path.dirname(file), { recursive: true });
  writeFileSync(file, encodeITrieToBTrie(decodeTrie(publishedBytes(name))));
}
