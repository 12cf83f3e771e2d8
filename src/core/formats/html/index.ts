import type { DocumentFormat } from '../../model/document';
import { bufferOf } from '../heads';
import { charsetOf } from './charset';
import { patchPage } from './patch';
import { readPage } from './read-page';

/** HTML, as browsers read it (HTML Living Standard 13.2). */
export const html: DocumentFormat = {
  id: 'html',
  matches({ bytes, name, type }) {
    if (type !== null) return /^(?:text\/html|application\/xhtml\+xml)\b/i.test(type);
    const start = bufferOf(bytes).subarray(0, 512).toString('latin1');
    return (
      /^[\s\ufeff\u00ef\u00bb\u00bf]*(?:<!doctype html|<html|<!--|<head|<body)/i.test(start) || /\.x?html?$/i.test(name)
    );
  },
  async read(bytes, { transport, sheets } = {}) {
    return { pages: [{ fragment: null, reading: readPage(bufferOf(bytes), transport, sheets) }], notes: [] };
  },
  async write(bytes, edits, { transport, reading } = {}) {
    const { reading: after, ...written } = patchPage(bufferOf(bytes), edits, transport, reading?.pages[0]?.reading);
    if (!after) return written;
    const charset = charsetOf(written.bytes, transport);
    return { ...written, reading: { pages: [{ fragment: null, reading: { charset, ...after } }], notes: [] } };
  },
};
