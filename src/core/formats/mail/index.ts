import type { DocumentFormat } from '../../model/document';
import { DocumentError } from '../document-error';
import { bufferOf } from '../heads';
import { decodeText } from '../html/charset';
import { mailPicture, readMail, writeMail } from './mail-file';

/** Mail with HTML in it (RFC 5322, MIME). */
export const mail: DocumentFormat = {
  id: 'mail',
  matches: ({ name, type }) => /\.eml$/i.test(name) || (type !== null && /^message\/rfc822\b/i.test(type)),
  async read(bytes) {
    const { pages, notes } = readMail(bufferOf(bytes));
    return { pages: pages.map(({ fragment, reading }) => ({ fragment, reading })), notes };
  },
  async picture(bytes, name) {
    return mailPicture(bufferOf(bytes), name);
  },
  async markup(bytes, fragment) {
    const part = readMail(bufferOf(bytes)).pages.find((p) => p.fragment === fragment);
    if (!part) throw new DocumentError({ id: 'document.no-part', values: { part: fragment ?? '' } });
    return decodeText(part.data, part.charset, { keepMark: false });
  },
  async write(bytes, edits) {
    return writeMail(bufferOf(bytes), edits);
  },
};
