import type { DocumentFormat } from '../../model/document';
import { DocumentError } from '../document-error';
import { bufferOf } from '../heads';
import { ZipFile } from '../zip/zip-file';
import { readEpub } from './read-epub';
import { writeEpub } from './write-epub';

const open = (bytes: Uint8Array) => ZipFile.open(bufferOf(bytes));

/** EPUB 2 and 3 (EPUB 3.3, OCF and package document). */
export const epub: DocumentFormat = {
  id: 'epub',
  matches: ({ name, type }) => /\.epub$/i.test(name) || (type !== null && /^application\/epub\+zip\b/i.test(type)),
  async read(bytes) {
    const { chapters, notes } = readEpub(await open(bytes));
    return { pages: chapters.map(({ fragment, reading }) => ({ fragment, reading })), notes };
  },
  async picture(bytes, name) {
    return (await open(bytes)).read(name);
  },
  async markup(bytes, fragment) {
    const chapter = readEpub(await open(bytes)).chapters.find((c) => c.fragment === fragment);
    if (!chapter) throw new DocumentError({ id: 'document.no-part', values: { part: fragment ?? '' } });
    return chapter.part.text;
  },
  async write(bytes, edits, { modified, book: metadata } = {}) {
    const zip = await open(bytes);
    const book = readEpub(zip);
    if (book.isSigned) throw new DocumentError({ id: 'document.signed' });
    const { parts, ...told } = writeEpub(book, edits, modified, metadata);
    return { bytes: zip.withEntries(parts), ...told };
  },
};
